"""Remedies are tried before they are offered: apply, analyse again, compare."""

from __future__ import annotations

from rhombex.core.analysis import Hours, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.concerns.registry import SETTLED, Finding
from rhombex.core.design import Design
from rhombex.core.edits import Edit, Together
from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import TallyItem, tally
from rhombex.core.shop_edits import ShopEdit, apply_shop
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.workshop import Workshop


class Change(Frozen):
    key: str
    label: str
    unit: str
    before: Shown
    after: Shown
    digits: int


class Effect(Frozen):
    """What a remedy does: whether its concern goes, which others go or come, and what moves in the tally."""

    clears: bool
    gone: tuple[str, ...]
    new: tuple[str, ...]
    tally: tuple[Change, ...]
    refused: str = ""


Looked = tuple[dict[str, Finding], tuple[TallyItem, ...]]
_before: Memo[tuple[Design, Workshop, Hours], Looked] = Memo(8)


def looked_at(design: Design, workshop: Workshop, hours: Hours) -> Looked:
    """Concerns by key and the tally of a design that remedies are compared with; remembered."""

    def look() -> Looked:
        a = analyse(design, workshop, hours)
        return {f.key: f for f in judge(a)}, tally(a)

    return _before.make((design, workshop, hours), look)


def effect_of(
    design: Design, workshop: Workshop, key: str, edits: tuple[Edit, ...], shop: tuple[ShopEdit, ...] = ()
) -> Effect:
    """Try edits of design and workshop and compare concerns and tally before and after. `key` is the concern they are meant
    for."""
    # rules of support and filament look at settled estimates; the rest is told as fast as an edit is
    hours: Hours = "settled" if key.split(":", 1)[0] in SETTLED else "preview"
    old, before = looked_at(design, workshop, hours)
    try:
        changed = workshop
        for e in shop:
            changed = apply_shop(changed, e)
        after = analyse(apply(design, Together(edits=edits)), changed, hours)
    except DesignError as err:
        return Effect(clears=False, gone=(), new=(), tally=(), refused=str(err))
    new = {f.key: f for f in judge(after)}
    moved = []
    for x, y in zip(before, tally(after), strict=True):
        if abs(x.trail.value - y.trail.value) >= 0.5 * 10**-x.digits:
            moved.append(
                Change(
                    key=x.key,
                    label=x.label,
                    unit=x.trail.unit,
                    before=x.trail.value,
                    after=y.trail.value,
                    digits=x.digits,
                )
            )
    return Effect(
        clears=key not in new,
        gone=tuple(f.title for k, f in old.items() if k not in new),
        new=tuple(f.title for k, f in new.items() if k not in old and f.severity != "advice"),
        tally=tuple(moved),
    )
