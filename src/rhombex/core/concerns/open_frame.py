"""What has no wall: components that would be fixed to one, and who is near an open frame."""

from __future__ import annotations

from collections.abc import Iterator
from math import copysign

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.case.mounts import Mount
from rhombex.core.concerns.bench import free_place, move_words, moved, up
from rhombex.core.concerns.document import named
from rhombex.core.concerns.elsewhere import with_room
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.concerns.sheet_floor import print_floor
from rhombex.core.edits import Construct, MoveWall, Remove, Set
from rhombex.core.reference import ref, val
from rhombex.core.shell.offers import usual
from rhombex.core.space import Face, Vec3
from rhombex.core.trail import given, looked_up


@concern("no-wall-to-hold", "shell", needs=("walls",))
def no_wall_to_hold(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: something that is fixed to a wall where this construction has none."""
    for t in a.things:
        if t.face is None or a.case.wall_at(t.face, t.frame.origin):
            continue
        yield say(
            "stop",
            f"{t.name} has no wall to hold it",
            measured=0,
            limit=1,
            unit="walls",
            how="walls behind it",
            reason=f"It is fixed to the {t.face}, where a case made as {a.case.kind} has no wall.",
            source="geometry",
            subjects=(t.id, t.face),
            remedies=(
                *(print_floor(a) if a.case.floor_sheet and t.face != "top" else ()),
                *_in_halves(a),
                Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),)),
            ),
        )


def _in_halves(a: Analysis) -> tuple[Remedy, ...]:
    """The construction that has walls all round, where this one has not."""
    if a.case.has("cavity"):
        return ()  # it is fixed where no case reaches
    whole = Construct(construction=usual(a.design, "two halves"))
    return (with_room(a, Remedy(label="Make the case in two halves", edits=(whole,))),)


ENDS: tuple[tuple[Face, Face], ...] = (("left", "right"), ("front", "back"))
FARTHER_MM = (0.0, 1.0, 2.0, 4.0, 8.0, 16.0)


@concern("post-off-the-plate", "shell", needs=("mounts",))
def post_off_the_plate(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: a post over the edge of a floor without walls, where it would stand in the air: as much of it is made as stands on the floor. Or a hole so near
    to the edge of one of sheet that this breaks there."""
    if a.case.has("cavity"):
        return  # a wall is there, and says so
    sheet = a.case.floor_sheet
    around = ref(f"sheet.{sheet.material}.edge" if sheet else "fasteners.rule.hole_wall")
    seen: set[str] = set()
    for m in sorted(a.case.mounts, key=lambda m: min(_edges(a, m).values())):
        edges = _edges(a, m)
        need = around.value * val(f"fasteners.{m.thread}.d") if sheet else m.hole_mm / 2 + around.value
        if m.of in seen or min(edges.values()) >= need - 1e-6:
            continue
        seen.add(m.of)
        t = next(x for x in a.things if x.id == m.of)
        short = {f: up(need - x) for f, x in edges.items() if x < need}
        remedies = [
            Remedy(
                label=f"Make the {named(a, m.part)} {' and '.join(f'{x:g} mm larger at the {f}' for f, x in short.items())}",
                edits=tuple(MoveWall(face=f, by_mm=x) for f, x in short.items()),
            )
        ]
        if sheet:
            yield say(
                "stop" if min(edges.values()) <= m.hole_mm else "weigh",
                f"A hole for {t.name} is too near the edge of the {named(a, m.part)}",
                measured=min(edges.values()),
                limit=need,
                how="middle of the hole to the edge of the sheet; wanted: its screw's diameter x factor",
                of=(given("diameter", val(f"fasteners.{m.thread}.d")), looked_up("factor", around)),
                reason=f"{sheet.material.capitalize()} drilled so near to its edge cracks, or tears out there.",
                source=str(around),
                subjects=(t.id, m.part),
                remedies=(*_moved_back(a, t, short), *remedies),
            )
            continue
        yield say(
            "stop",
            f"A post of {t.name} stands over the edge of the {named(a, m.part)}",
            measured=min(edges.values()),
            limit=need,
            how="from the screw to the nearest edge; wanted: half its hole, and plastic round it",
            of=(given("hole", m.hole_mm), looked_up("plastic round it", around)),
            reason=f"Nothing is under it there: of this post only what stands on the {named(a, m.part)} is made, and its screw holds nothing.",
            source=str(around),
            subjects=(t.id, m.part),
            remedies=(*_moved_back(a, t, short), *remedies),
        )


@searched
def _moved_back(a: Analysis, t: Thing, short: dict[Face, float]) -> tuple[Remedy, ...]:
    """The component moved on to the floor, no farther than to where it meets nothing."""
    x, y = (_back(a, t, short, i, faces) for i, faces in enumerate(ENDS))
    for more in FARTHER_MM:
        by: Vec3 = (x + copysign(more, x) if x else 0.0, y + copysign(more, y) if y else 0.0, 0.0)
        if free_place(a.design, t, by):
            return (Remedy(label=move_words(t, by), edits=(moved(t, by),)),)
    return ()


def _back(a: Analysis, t: Thing, short: dict[Face, float], axis: int, faces: tuple[Face, Face]) -> float:
    """How far a component is moved along an axis so that its posts, and all of it, stand on the floor."""
    low, high = faces
    if low in short:
        return up(max(short[low], a.case.cavity.lo[axis] - t.bounds.lo[axis]))
    return -up(max(short[high], t.bounds.hi[axis] - a.case.cavity.hi[axis])) if high in short else 0.0


def _edges(a: Analysis, m: Mount) -> dict[Face, float]:
    """How far within the case's outline the screw of a post is, mm, by side; less than nothing outside."""
    (w, d, _), (x, y) = a.case.box_mm, m.at
    return {"left": x, "right": w - x, "front": y, "back": d - y}


@concern("caution-open-frame", "shell", needs=("walls",))
def caution_open_frame(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Section 6: an open frame, and who is about."""
    if a.case.has("cavity"):
        return
    around = a.design.brief.around
    fans = [t.name for t in a.things if t.component.air is not None]
    guard = f" Guard {' and '.join(fans)}, so that no finger reaches a blade." if fans else ""
    yield say(
        "advice" if around == "adults" else "stop",
        "An open frame guards nothing" if around == "adults" else f"An open frame, with {around} about",
        measured=sum(f.whole for f in a.case.faces),
        limit=6,
        unit="walls",
        how="sides that a wall closes; all six keep hands, drinks and drops out",
        reason="Live parts, edges and blades can be touched, and what falls in lies on the boards. Keep it from children, animals and drinks, "
        "and off where it can be knocked." + guard,
        source="common practice",
        subjects=("case", around),
        remedies=()
        if around == "adults"
        else (
            *_in_halves(a),
            Remedy(label="Only adults are about", edits=(Set(path="brief.around", value="adults"),)),
        ),
    )
