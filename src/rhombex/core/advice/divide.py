"""Reasons to divide a part that the bed would take whole, each with what it gains: a face that comes out smooth, another filament, an end that wears."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Literal

from rhombex.core.advice.seam_ways import cuts_joined
from rhombex.core.analysis import Analysis
from rhombex.core.case.faces import Wall
from rhombex.core.case.parts import Seat
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.joins import COME_APART
from rhombex.core.cuts.pieces import PartCuts, wanted_holds
from rhombex.core.cuts.places import CutPlace
from rhombex.core.cuts.strips import INDEX, Axis
from rhombex.core.design import Direction, JoinKind, PinnedCut
from rhombex.core.edits import Edit, LayPart, PutCuts, Together
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Intersection, block
from rhombex.core.hardware.reach import reaches
from rhombex.core.hardware.seam_joints import of_bridges, of_cuts
from rhombex.core.openings.opening import Opening
from rhombex.core.reference import val
from rhombex.core.space import Box
from rhombex.core.trail import Frozen
from rhombex.core.words import duration

if TYPE_CHECKING:
    from rhombex.core.advice.cuts import CutWay, OneMore

FACE_LEAST_MM = 15.0  # of a wall that is worth it
FACE_MOST_MM = 40.0  # a piece that is to lie on a face is no deeper: it would be a tower
END_SHARE = 0.35  # of the part that an end is at most
ENDS: dict[Axis, tuple[Direction, Direction]] = {"x": ("left", "right"), "y": ("front", "back")}


class Reason(Frozen):
    """Why a part may be divided: what it gains in words, what its button says, and the edit that does it."""

    kind: Literal["face down", "another filament", "an end that wears"]
    words: str
    label: str
    edit: Edit


def reasons(
    a: Analysis, c: PartCuts, seat: Seat, ways: tuple[CutWay, ...], more: tuple[OneMore, ...]
) -> tuple[Reason, ...]:
    """All reasons that a part gives which is one piece now. One that is cut already has its pieces, and what may be done with each is at Print plan."""
    if c.cuts or c.no_place or len(c.pieces) != 1 or seat.bar:
        return ()
    return (*_faces(a, c, ways), *_filaments(a, c, more), *_ends(a, c, seat, ways))


def _faces(a: Analysis, c: PartCuts, ways: tuple[CutWay, ...]) -> Iterator[Reason]:
    """Walls that could lie on the bed: cut off behind all that is fixed near them, at the first place where a cut may run."""
    down = a.case.part(c.part).down
    for way in ways:
        for k, face in enumerate(ENDS.get(way.axis, ())):
            if face == down or not any(w.part == c.part and w.face == face and _high(w) for w in a.case.walls):
                continue
            at = _first(c, way, k)
            if at is None:
                continue
            spans = _spans(a, c.part, face)
            over = (
                f", and its {_openings(len(spans))} without a bridge ({max(spans):.0f} mm the widest now)"
                if spans
                else ""
            )
            lies = LayPart(part=f"{c.part}-{k + 1}", down=face)
            yield Reason(
                kind="face down",
                words=f"Its {face} face lies on the bed: it comes out smooth{over}.",
                label=f"Cut the {face} off and lay it on its face",
                edit=Together(
                    edits=(_put(a, c, way.axis, at.at_mm), lies), said=f"the {face} of the {c.part} lies on its face"
                ),
            )


def _high(w: Wall) -> bool:
    """Whether a wall is more than a rim."""
    return w.hi_mm[1] - w.lo_mm[1] >= FACE_LEAST_MM


def _first(c: PartCuts, way: CutWay, end: int) -> CutPlace | None:
    """The free place nearest to one end of a part: 0 the low one, 1 the high one."""
    i = INDEX[way.axis]
    free = [p for p in way.prices if p.price is not None]
    if not free:
        return None
    found = free[-1] if end else free[0]
    far = c.hi_mm[i] - found.at_mm if end else found.at_mm - c.lo_mm[i]
    return found if far <= FACE_MOST_MM else None


def _spans(a: Analysis, part: str, face: Direction) -> list[float]:
    """How wide the openings of a wall are whose upper edge is a bridge as the part lies, mm."""
    return [o.size_mm[0] for o in a.openings.openings if o.face == face and part in o.parts and _bridged(o)]


def _bridged(o: Opening) -> bool:
    """Whether the upper edge of an opening is a bridge: a round one's is an arch."""
    return o.size_mm[0] > val("printing.feature.bridge_clean") / 2


def _openings(count: int) -> str:
    return "opening prints" if count == 1 else f"{count} openings print"


def _filaments(a: Analysis, c: PartCuts, more: tuple[OneMore, ...]) -> Iterator[Reason]:
    """Two colours or filaments side by side: in one print both are laid in every layer, and are changed there and back."""
    if not more:
        return
    layers = round(c.bbox_mm[2] / a.design.process_of(c.part).layer_mm)
    hours = duration(2 * layers * val("printing.feature.colour_minutes") * 60)
    yield Reason(
        kind="another filament",
        words=f"Two colours or filaments: each piece prints alone in its own. Side by side in one print they would be changed {2 * layers} times, "
        f"{hours} by hand.",
        label="Cut it for another filament",
        edit=more[0].edit,
    )


def _ends(a: Analysis, c: PartCuts, seat: Seat, ways: tuple[CutWay, ...]) -> Iterator[Reason]:
    """An end that is knocked or worn, held so that it comes off: the smallest that a cut leaves."""
    piece = next((p for p in a.pieces if p.part == c.part), None)
    if piece is None or piece.estimate is None or seat.bare:
        return
    best: tuple[float, Axis, CutPlace, JoinKind] | None = None
    for way in ways:
        i = INDEX[way.axis]
        for end in (0, 1):
            at = _first_joined(a, c, seat, way, end)
            if at is None:
                continue
            lo, hi = list(c.lo_mm), list(c.hi_mm)
            (lo if end else hi)[i] = at[0].at_mm
            cell = Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])).grown(1e-3)
            mine = mesh_kernel.evaluate(Intersection(a.recipes[c.part], block(cell))).volume()
            share = mine / mesh_kernel.evaluate(a.recipes[c.part]).volume()
            if share <= END_SHARE and (best is None or share < best[0]):
                best = (share, way.axis, *at)
    if best is None:
        return
    share, axis, place, by = best
    grams, seconds = piece.estimate.mass_g.value, piece.estimate.time_s.value
    yield Reason(
        kind="an end that wears",
        words=f"An end that is knocked or worn comes off: about {grams * share:.0f} g and {duration(seconds * share)} to print again "
        f"instead of {grams:.0f} g and {duration(seconds)}, held by {by}.",
        label="Cut off an end that comes off",
        edit=_put(a, c, axis, place.at_mm, by),
    )


def _first_joined(a: Analysis, c: PartCuts, seat: Seat, way: CutWay, end: int) -> tuple[CutPlace, JoinKind] | None:
    """The free place nearest to an end where what comes apart finds enough places, and what that is."""
    free = [p for p in way.prices if p.price is not None]
    i = INDEX[way.axis]
    for p in reversed(free) if end else free:
        cut = Cut(
            axis=way.axis,
            at_mm=p.at_mm,
            inside_mm=p.at_mm - c.from_mm[i],
            joined="glue alone",
            pin=None,
            dowels=(),
            pinned=True,
            crosses=(),
        )
        held = [x for x in cuts_joined(a, c, cut, seat) if x.joined in COME_APART and x.joined != "magnets"]
        by = next((x.joined for x in held if len(x.dowels) >= wanted_holds(c, cut.axis) and _reached(a, c, x)), None)
        if by is not None:
            return p, by
    return None


def _reached(a: Analysis, c: PartCuts, cut: Cut) -> bool:
    """Whether a key reaches every screw of a cut."""
    cuts = (c.model_copy(update={"cuts": (cut,)}),)
    groups = (*of_cuts(a.design, a.case, cuts), *of_bridges(a.design, cuts))
    return all(r.free for r in reaches(groups, a.things, a.case))


def _put(a: Analysis, c: PartCuts, axis: Axis, at_mm: float, by: JoinKind | None = None) -> PutCuts:
    at = round(at_mm - c.from_mm[INDEX[axis]], 3)
    return PutCuts(part=c.part, cuts=(PinnedCut(part=c.part, axis=axis, at_mm=at, by=by),))
