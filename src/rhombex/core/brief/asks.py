"""The wishes of the brief that are no ports: each met, unmet, or not to be told yet."""

from __future__ import annotations

from typing import Literal

from rhombex.core.analysis import Analysis
from rhombex.core.case.joints import MagnetPair, Snap
from rhombex.core.constructions import CLEAR
from rhombex.core.reference import val
from rhombex.core.trail import Frozen


class Ask(Frozen):
    """Any other wish of the brief: met (where), unmet (why), or not to be told yet."""

    key: str
    wish: str
    state: Literal["met", "unmet", "cannot tell yet"]
    finding: str


def asks(a: Analysis) -> tuple[Ask, ...]:
    """The wishes of the brief that are no ports."""
    b = a.design.brief
    out: list[Ask] = []

    def ask(key: str, wish: str, met: bool | None, finding: str) -> None:
        out.append(
            Ask(
                key=key,
                wish=wish,
                state="cannot tell yet" if met is None else "met" if met else "unmet",
                finding=finding,
            )
        )

    if b.size_limit_mm is not None:
        stood = a.case.stood_mm
        over = [o - m for o, m in zip(stood, b.size_limit_mm, strict=True)]
        size = " x ".join(f"{x:.1f}" for x in stood)
        fits = max(over) <= 1e-6
        ask("size", f"At most {' x '.join(f'{x:g}' for x in b.size_limit_mm)} mm", fits, f"it is {size}")
    if b.buttons:
        buttons = [t for t in a.things if t.component.family == "button"]
        where = ", ".join(f"{t.name} on the {t.face}" for t in buttons)
        ask("buttons", f"{b.buttons} buttons", len(buttons) >= b.buttons, where or "no button is on the bench yet")
    if b.display:
        displays = [t for t in a.things if t.component.family == "display"]
        where = ", ".join(f"{t.name} on the {t.face}" for t in displays)
        ask("display", "A display", bool(displays), where or "no display is on the bench yet")
    if b.window is not None:
        clear = [f"{x.part} of {x.material}" for x in a.sheets if b.window in x.faces and x.material in CLEAR]
        finding = f"the {', '.join(clear)}" if clear else "nothing there is clear"
        under = b.window == a.case.stands_on and b.stands != "wall"
        ask(
            "window",
            f"A window in the {b.window}",
            bool(clear) and not under,
            "the case stands on it" if clear and under else finding,
        )
    for key in b.reuse:
        c = a.design.component(key)
        there = [t for t in a.things if t.component.key == key]
        ask(
            f"reuse {key}",
            f"{c.label if c else key} from the library",
            bool(there),
            ", ".join(t.name for t in there) if there else "it is not on the bench",
        )
    if b.budget is not None:
        cost = sum(e.money for _, e in a.estimated())
        ask(
            "budget",
            f"At most {b.budget:g} for filament",
            cost <= b.budget,
            f"filament costs {cost:.2f}; screws and components are not in it",
        )
    if b.around != "adults":
        guard = val("limits.guard.opening")
        wide = [v for v in a.openings.vents if v.across_mm > guard]
        finding = ", ".join(f"{v.label}: {v.across_mm:.1f} mm" for v in wide)
        ask(
            "around",
            f"Safe with {b.around} about",
            not wide,
            f"openings wider than {guard:g} mm: {finding}" if wide else f"no vent is wider than {guard:g} mm",
        )
    if b.stands == "wall":
        ask(
            "wall",
            "Hangs on a wall",
            None,
            "mounts for a wall are not planned yet: fix it into structure, with a margin",
        )
    joint = next((j for j in a.case.fastened if j.opened), None)
    if b.opened in ("monthly", "weekly") and joint is not None:
        holding = "magnets" if isinstance(joint, MagnetPair) else "snaps" if isinstance(joint, Snap) else joint.holding
        lasts = holding != "cut in plastic"
        held = "threads cut in plastic" if not lasts else holding if holding in ("magnets", "snaps") else f"{holding}s"
        ask("opened", f"Opened {b.opened}", lasts, f"the {joint.name} is held by {held}")
    return tuple(out)
