"""Remedies are tried before they are offered: apply, analyse again, compare."""

from __future__ import annotations

from rhombex.core.analysis import Hours, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge_bare
from rhombex.core.concerns.printing import OF_OVERHANGS
from rhombex.core.concerns.registry import SETTLED
from rhombex.core.design import Design
from rhombex.core.edits import Edit, LayPart, Together
from rhombex.core.looked import Look, look_bare
from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import tally
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


_effects: Memo[tuple[Design, Workshop, str, tuple[Edit, ...], tuple[ShopEdit, ...]], Effect] = Memo(400)


def effect_of(
    design: Design, workshop: Workshop, key: str, edits: tuple[Edit, ...], shop: tuple[ShopEdit, ...] = ()
) -> Effect:
    """Try edits of design and workshop and compare concerns and tally before and after; remembered. `key` is the concern they are
    meant for."""
    return _effects.make((design, workshop, key, edits, shop), lambda: _tried(design, workshop, key, edits, shop))


def _lays(edits: tuple[Edit, ...]) -> bool:
    """Whether some of the edits lay a part or a piece on another side."""
    return any(isinstance(e, LayPart) or (isinstance(e, Together) and _lays(e.edits)) for e in edits)


def _tried(design: Design, workshop: Workshop, key: str, edits: tuple[Edit, ...], shop: tuple[ShopEdit, ...]) -> Effect:
    # rules of support and filament look at settled estimates, and so does what is laid on another side; the rest is told as fast as an edit is
    hours: Hours = "settled" if key.split(":", 1)[0] in SETTLED or _lays(edits) else "preview"
    was, thought = look_bare(design, workshop, hours)
    try:
        changed = workshop
        for e in shop:
            changed = apply_shop(changed, e)
        after = analyse(apply(design, Together(edits=edits)), changed, hours)
    except DesignError as err:
        return Effect(clears=False, gone=(), new=(), tally=(), refused=str(err))
    return compared(key, (was, thought), (after, judge_bare(after)))


def compared(key: str, before: Look, then: Look) -> Effect:
    """What is otherwise between two looks at a design, of whose concerns one has a key."""
    (was, thought), (after, told) = before, then
    old, new = {f.key: f for f in thought}, {f.key: f for f in told}
    # overhangs may have become known between the two looks, or be known of the design alone: no doing of the edits
    if any(p.estimate is not None and p.estimate.level != "settled" for p in (*was.pieces, *after.pieces)):
        old, new = ({k: f for k, f in told.items() if k == key or f.code not in OF_OVERHANGS} for told in (old, new))
    moved = []
    for x, y in zip(tally(was), tally(after), strict=True):
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
