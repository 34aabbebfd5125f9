"""What no tool reaches, and screws that hide one another."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.concerns.bench import cheapest, free_place, move_words, moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.edits import MoveWall
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.hardware.reach import aside
from rhombex.core.reference import ref
from rhombex.core.space import FACES, OUTWARD, Face, Vec3, normal_axis
from rhombex.core.trail import looked_up


@concern("joint-not-reached", "hardware")
def joint_not_reached(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Rows 5 and 32: a screw or nut that no tool can reach."""
    shaft = ref("fasteners.rule.driver_length")
    for g, r in zip(a.joints, a.reach, strict=True):
        if r.free and r.shaft_mm > shaft.value + 1e-6:
            yield say(
                "weigh",
                f"The {g.name} screws need a driver with a shaft of {r.shaft_mm:.0f} mm",
                measured=shaft.value,
                limit=r.shaft_mm,
                how="shaft of a long slim driver; wanted: from the screw's head to where there is room for the handle",
                reason="What stands beside the screw is higher than a usual driver is long, and nearer than its handle is thick.",
                source=str(shaft),
                subjects=(g.key, "shaft"),
            )
        if r.free or (g.holds == "standoff" and g.engaged_mm > g.most_mm + 1e-6):
            continue  # a standoff that stands in the floor is told as such
        t = next((t for t in a.things if t.id == g.of), None)
        remedies: tuple[Remedy, ...] = ()
        if t is not None and t.placement.on is None and r.blocked_by.endswith(" wall"):
            remedies = _off_walls(a, t, g, r.needs_mm)
        yield say(
            "stop",
            f"The {g.name} screws cannot be reached with a {r.tool}",
            measured=r.room_mm,
            limit=r.needs_mm,
            how="from the axis of the screw to what is beside the tool; wanted: half of the tool's diameter",
            of=(looked_up("shaft of the driver", shaft),),
            reason=f"{r.blocked_by[:1].upper()}{r.blocked_by[1:]} is in the way of driver, hand or nut.",
            source="geometry",
            subjects=(g.key, *((g.of,) if g.of else ())),
            remedies=remedies,
        )


def _off_walls(a: Analysis, t: Thing, g: JointGroup, needs_mm: float) -> tuple[Remedy, ...]:
    """A component moved off every wall of the part that it is screwed to which is nearer to one of its screws than a tool is thick; or those walls moved out."""
    own = {w.face for w in a.case.walls if w.part == g.part}
    short: dict[Face, float] = {}
    for f in FACES:
        i = normal_axis(f)
        if f in own and f != t.face and all(abs(s.along[i]) < 0.5 for s in g.seats):
            low, high = a.case.cavity.lo[i], a.case.cavity.hi[i]
            # less than nothing where a screw's axis is in the wall
            by = needs_mm - min(high - s.at[i] if OUTWARD[f][i] > 0 else s.at[i] - low for s in g.seats)
            if by > 1e-6:
                short[f] = up(by)
    if not short:
        return ()
    inward: Vec3 = tuple(-sum(OUTWARD[f][k] * by for f, by in short.items()) + 0.0 for k in range(3))  # type: ignore[assignment]
    words = " and ".join(
        f"{by:g} mm {'away ' if k == 0 else ''}from the {f} wall" for k, (f, by) in enumerate(short.items())
    )
    walls = " and ".join(f"the {f} wall out by {by:g} mm" for f, by in short.items())
    out = Remedy(label=f"Move {walls}", edits=tuple(MoveWall(face=f, by_mm=by) for f, by in short.items()))
    if any(OUTWARD[f] == tuple(-x for x in OUTWARD[e]) for f in short for e in short):
        return (out,)  # between two walls it is moved from the one to the other
    return (Remedy(label=f"Move {t.name} {words}", edits=(moved(t, inward),)), out)


@concern("screws-wait-for-one-another", "hardware")
def screws_wait(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 32: of several components each must be screwed in before the others, so that none can be the first."""
    before: dict[str, set[str]] = {}
    for g, r in zip(a.joints, a.reach, strict=True):
        if g.of:
            before.setdefault(g.of, set()).update(r.wait)
    names = {t.id: t.name for t in a.things}
    # what waits for nothing that is left is put in and goes; what then is left goes round in a ring
    left = {x: {y for y in later if y in before} for x, later in before.items()}
    while True:
        free = [x for x in left if not any(x in later for y, later in left.items() if y != x)]
        if not free:
            break
        for x in free:
            del left[x]
    ring = sorted(x for x in left if any(y in left for y in left[x]))
    if len(ring) > 1:
        yield say(
            "stop",
            f"{' and '.join(names[x] for x in ring)} cover one another's screws: none of them can go in first",
            measured=0,
            limit=1,
            unit="that can be first",
            how="those of them whose screws nothing has to be put in before",
            reason="Whichever is screwed in first hides the screws of the next from the driver.",
            source="geometry",
            subjects=(*ring, "order"),
            remedies=_out_of_the_ring(a, ring),
        )


@searched
def _out_of_the_ring(a: Analysis, ring: list[str]) -> tuple[Remedy, ...]:
    """Moves of one of them off the screws of all the others, so that they can go in before it; the shortest first."""
    found: list[tuple[float, Remedy]] = []
    for t in (t for t in a.things if t.id in ring):
        ways: dict[tuple[int, int], float] = {}
        lines = [aside(g, t) for g, r in zip(a.joints, a.reach, strict=True) if g.of in ring and t.id in r.wait]
        for axis, way in (k for k in lines[0] if all(k in x for x in lines)) if lines else ():
            ways[axis, way] = up(max(x[axis, way] for x in lines))
        held = normal_axis(t.face) if t.face else 2  # it stays on its wall, or where it stands
        for (axis, way), mm in ways.items():
            by: Vec3 = tuple(way * mm if k == axis else 0.0 for k in range(3))  # type: ignore[assignment]
            if axis != held and free_place(a.design, t, by):
                found.append((mm, Remedy(label=move_words(t, by), edits=(moved(t, by),))))
    return cheapest(found, 2)
