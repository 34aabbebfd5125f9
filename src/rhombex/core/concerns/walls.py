"""What meets walls, rim and carrier from the side that other rules do not look at: depth of what sits on a face, plugs and cables before
a wall, the rim's thickening."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import beyond, cavity, hard
from rhombex.core.case.faces import Bulge
from rhombex.core.concerns.bench import EPS, cheapest, clear_of_all, up
from rhombex.core.concerns.brief import needed_ports
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.edits import MoveWall, Set
from rhombex.core.reference import ref
from rhombex.core.space import FACES, Face, normal_axis
from rhombex.core.trail import given

_OPPOSITE: dict[Face, Face] = {
    "front": "back",
    "back": "front",
    "left": "right",
    "right": "left",
    "top": "bottom",
    "bottom": "top",
}


@concern("too-deep-for-case", "bench", needs=("walls",), hits=True)
def too_deep_for_case(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5: what is fixed to a wall is deeper than the case, and stands in or out of the wall across."""
    room = cavity(a.design)
    limit = ref("limits.gap.wall")
    for t in a.things:
        if t.face is None or not hard(t):
            continue
        across = _OPPOSITE[t.face]
        if not a.case.face(across).whole:
            continue
        deep = max(hard(t), key=lambda s: beyond(s.box, room, across))
        over = beyond(deep.box, room, across)
        if over <= EPS:
            continue
        need = up(over + limit.value)
        yield say(
            "stop",
            f"{t.name} is too deep: it reaches into the {across} wall",
            measured=-over,
            limit=0.0,
            how="room across the case less how far it reaches in",
            of=(
                given("reaches in", deep.inside_mm),
                given("too far by", over),
            ),
            reason=f"With its {deep.name} it reaches {deep.inside_mm:.1f} mm in from the {t.face} wall; the room there is "
            f"{deep.inside_mm - over:.1f} mm.",
            source="geometry",
            subjects=(t.id, across),
            remedies=tuple(
                Remedy(label=f"Move the {f} wall out by {need:g} mm", edits=(MoveWall(face=f, by_mm=need),))
                for f in _fewest_ports_first(a, t, (across, t.face))
            ),
        )


def _fewest_ports_first(a: Analysis, t: Thing, faces: tuple[Face, ...]) -> list[Face]:
    """Walls in the order in which they are best moved out: the ports of others on a wall are left behind it."""
    looks = [p.face for x, p in needed_ports(a) if x.id != t.id]
    return sorted(faces, key=looks.count)


@concern("plug-meets-wall", "bench", needs=("walls",))
def plug_meets_wall(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 6: a plug, cable or hose has less room before a wall than it needs."""
    room = cavity(a.design)
    standing = [f for f in FACES if a.case.face(f).whole]
    for t in a.things:
        own = t.face
        for s in t.solids:
            if s.role not in ("plug", "keepout") or s.name == "filling room":  # that one has a rule of its own
                continue
            face = max((f for f in standing if f != own), key=lambda f: beyond(s.box, room, f), default=None)
            over = beyond(s.box, room, face) if face is not None else 0.0
            if face is None or over <= EPS:
                continue
            size = s.box.size[normal_axis(face)]
            yield say(
                "stop",
                f"The {s.name} of {t.name} has too little room before the {face} wall",
                measured=max(size - over, 0.0),
                limit=size,
                how="room before the wall; wanted: the room of the plug and its lead",
                of=(
                    given("wanted", size),
                    given("in the wall", over),
                ),
                reason=f"It needs {size:.1f} mm there; {max(size - over, 0.0):.1f} are left.",
                source=next(f"{x.source} ({x.mark})" for x in t.component.solids if x.name == s.name),
                subjects=(t.id, s.name, face),
                remedies=_room_before(a, t, face, over),
            )


@searched
def _room_before(a: Analysis, t: Thing, face: Face, over: float) -> tuple[Remedy, ...]:
    by = up(over)
    label = f"Raise the lid by {by:g} mm" if face == "top" else f"Move the {face} wall out by {by:g} mm"
    wall = (2 * by, Remedy(label=label, edits=(MoveWall(face=face, by_mm=by),)))
    along = face not in ("top", "bottom") and (t.face is None or normal_axis(t.face) != normal_axis(face))
    return cheapest([*(clear_of_all(a, t) if along else []), wall])


@concern("part-in-rim", "bench", needs=("walls",), hits=True)
def part_in_rim(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5: something keeps clear of the wall, but not of its thickening at the rim."""
    room = cavity(a.design)
    for t in a.things:
        if t.face is not None:
            continue
        worst: tuple[float, PlacedSolid, Face, Bulge] | None = None
        for bulge in a.case.bulges:
            for s in hard(t):
                for face in bulge.faces:
                    gap = -beyond(s.box, room, face) - bulge.inward_mm(s.box.lo[2], s.box.hi[2])
                    # what is already in the plain wall is told by the rule about walls
                    if gap < -EPS and beyond(s.box, room, face) < EPS and (worst is None or gap < worst[0]):
                        worst = (gap, s, face, bulge)
        if worst is None:
            continue
        gap, s, face, bulge = worst
        by = up(-gap + 0.1)
        wall = Remedy(label=f"Move the {face} wall out by {by:g} mm", edits=(MoveWall(face=face, by_mm=by),))
        remedies = list(cheapest([*clear_of_all(a, t), (2 * by, wall)]))
        # the rim goes over the highest of all that it reaches
        near = (x for x in hard(t) if any(-beyond(x.box, room, f) < bulge.mm for f in bulge.faces))
        rise = up(max(x.box.hi[2] for x in near) - bulge.from_mm + 0.1)
        seam = next((x for x in a.case.seams if x.axis == 2 and x.path), None)
        if seam is not None and bulge.from_mm < seam.at_mm and rise < 30:
            joint = round(seam.at_mm - a.case.cavity.lo[2] + rise, 2)
            lifted = (MoveWall(face="top", by_mm=rise), Set(path=seam.path, value=joint))
            remedies.append(Remedy(label=f"Raise joint and lid by {rise:g} mm", edits=lifted))
        yield say(
            "stop",
            f"{t.name} stands in the thickened rim of the {face} wall",
            measured=gap,
            limit=0.0,
            how="inside of the thickened wall to the component",
            of=(given("thicker by", bulge.mm),),
            reason=f"Between {bulge.from_mm - room.lo[2]:.1f} and {bulge.to_mm - room.lo[2]:.1f} mm above the floor the wall is up to "
            f"{bulge.mm:.1f} mm thicker inside, for tongue and groove; the {s.name} reaches into it.",
            source="geometry",
            subjects=(t.id, face, "rim"),
            remedies=tuple(remedies),
        )
