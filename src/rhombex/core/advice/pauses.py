"""Where a print pauses: after the layer that leaves the pockets of magnets open for the last time, so that a hand puts these in."""

from __future__ import annotations

from collections import Counter
from math import floor

from rhombex.core.analysis import Analysis
from rhombex.core.case.joints import MagnetPair
from rhombex.core.fit.laying import TURNS, bbox
from rhombex.core.geometry.recipe import Move
from rhombex.core.hardware.bill import magnet_words
from rhombex.core.process.settings import settings
from rhombex.core.space import Vec3
from rhombex.core.trail import Frozen, Shown


class Pause(Frozen):
    """A pause of the print of a piece after so many layers, the last of which ends `at_mm` over the bed. `north_up`, `south_up`: how many magnets are put in
    with which pole to the ceiling; `words`: all of it."""

    piece: str
    after_layer: int
    at_mm: Shown
    magnet: str
    north_up: int
    south_up: int
    words: str


def pauses(a: Analysis) -> tuple[Pause, ...]:
    """Every pause of every piece, from the bed up. Pockets that print lying are left out: nothing can be put into them from above (a rule says so)."""
    found: Counter[tuple[str, int, str, bool]] = Counter()
    tops: dict[tuple[str, int], float] = {}
    for p in a.case.magnets:
        if not p.cover_mm:
            continue
        back: Vec3 = (-p.along[0], -p.along[1], -p.along[2])
        sides = ((p.holds, back, "S" if p.pole == "N" else "N"), (p.into, p.along, p.pole))
        for part, way, out in sides[: p.magnets]:
            at = _lying(a, p, part, way)
            if at is None:
                continue
            piece, ceiling, joint_up = at
            s = settings(a.design.process_of(a.design.printed_as(part, piece)), a.printer)
            # a layer is cut half way up: the ceiling begins with the first whose middle is over it
            layers = max(1, floor((ceiling - s.first_mm + s.layer_mm / 2) / s.layer_mm + 1e-6) + 1)
            tops[piece, layers] = s.first_mm + (layers - 1) * s.layer_mm
            found[piece, layers, magnet_words(p.d_mm, p.high_mm, p.grade, p.long_mm), (out == "N") == joint_up] += 1
    return tuple(
        _pause(*key, tops[key[:2]], found[*key, True], found[*key, False]) for key in sorted({k[:3] for k in found})
    )


def _pause(piece: str, layers: int, magnet: str, at_mm: float, north_up: int, south_up: int) -> Pause:
    ways = [f"{n} with {pole} up" for n, pole in ((north_up, "north"), (south_up, "south")) if n]
    return Pause(
        piece=piece,
        after_layer=layers,
        at_mm=at_mm,
        magnet=magnet,
        north_up=north_up,
        south_up=south_up,
        words=f"after layer {layers} ({at_mm:.2f} mm) put in {north_up + south_up} x {magnet}: {', '.join(ways)}",
    )


def _lying(a: Analysis, p: MagnetPair, part: str, way: Vec3) -> tuple[str, float, bool] | None:
    """The piece that a pocket is in, how high over the bed its ceiling is as it prints, and whether the joint is above it; None where it lies on its
    side, or no piece has it."""
    whole = next((x for x in a.case.parts if x.name == part), None)
    names = [(x.name, x.down) for x in a.pieces if x.part == part]
    if whole is None:
        return None
    for name, down in names:
        turn = TURNS[down]
        near, middle, far = (
            turn.vector(_along(p.at, way, mm)) for mm in (p.cover_mm, (p.cover_mm + p.deep_mm) / 2, p.deep_mm)
        )
        joint = -turn.vector(way)[2]
        lo, size = bbox(Move(a.pieces_in_case[name], turn))
        if all(lo[k] <= middle[k] <= lo[k] + size[k] for k in range(3)):
            return None if abs(joint) < 0.5 else (name, max(near[2], far[2]) - lo[2], joint > 0)
    return None


def _along(at: Vec3, way: Vec3, mm: float) -> Vec3:
    return (at[0] + way[0] * mm, at[1] + way[1] * mm, at[2] + way[2] * mm)
