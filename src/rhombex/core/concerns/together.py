"""Going together: whether every part reaches its place, past all that is there before it."""

from __future__ import annotations

from collections.abc import Iterator

from manifold3d import Manifold

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.bodies import swept
from rhombex.core.bench.gaps import cavity, hard
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Part, PutOn
from rhombex.core.concerns.bench import free_place, moved, up
from rhombex.core.concerns.document import named
from rhombex.core.concerns.elsewhere import with_room
from rhombex.core.concerns.registry import Finding, Maker, Remedy, Told, concern, searched
from rhombex.core.edits import Construct, MoveWall, Remove
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.meets import clear_of
from rhombex.core.shell.carrier import carrier
from rhombex.core.shell.offers import usual
from rhombex.core.space import FACES, OUTWARD, Box, Vec3, hull, normal_axis
from rhombex.core.trail import given

TOUCH_MM = 0.05  # what only slides along a surface meets nothing


@concern("cannot-be-put-on", "shell", needs=("walls",), unless_told=True)
def cannot_be_put_on(a: Analysis, say: Maker, told: Told) -> Iterator[Finding]:
    """Row 32: a part that meets something before it is in its place."""
    stopped = frozenset(id for id, _ in told)
    there: list[str] = []
    on = {t.id: carrier(a.case, a.things, t) for t in a.things}
    for part in (p for p in a.case.parts if p.in_place):
        if part.put_on is not None and part.name in a.recipes and there:
            yield from _on_its_way(a, say, part, part.put_on, there, on, stopped)
        there.append(part.name)


def _on_its_way(
    a: Analysis,
    say: Maker,
    part: Part,
    put: PutOn,
    there: list[str],
    on: dict[str, str | None],
    stopped: frozenset[str],
) -> Iterator[Finding]:
    far = put.travel_mm
    back: Vec3 = (-put.along[0] * far, -put.along[1] * far, -put.along[2] * far)
    way: Vec3 = (put.along[0] * far, put.along[1] * far, put.along[2] * far)
    moving, standing = a.recipes[part.name], [a.recipes[p] for p in there if p in a.recipes]
    for t in a.things:
        if t.id in stopped or on[t.id] is None or (part.rides and on[t.id] == part.rides):
            continue
        comes = on[t.id] == part.name
        if not comes and on[t.id] not in there:
            continue
        for s in hard(t):
            # what stands still passes through the moving part the other way
            sweep = swept(_slimmer(s), back if comes else way)
            met = next((r for r in (standing if comes else [moving]) if not clear_of(r, sweep, (s, comes, put))), None)
            if met is None:
                continue
            left = _still_to_go(mesh_kernel.evaluate(met), sweep, s, put, comes)
            yield say(
                "stop",
                f"The {named(a, part.name)} cannot be put on: it meets {t.name}",
                measured=far - left,
                limit=far,
                how="way that it goes before it meets something; wanted: all of it",
                of=(given("way left", left),),
                reason=f"Moved {_words(put)}, it meets the {s.name} of {t.name} after {far - left:.1f} mm, {left:.1f} mm before its place.",
                source="geometry: the solids of components swept along the way",
                subjects=(part.name, t.id),
                remedies=_free_way(a, t, s),
            )
            break
    for m in (m for m in a.case.mounts if m.part in there and m.of not in stopped):
        if not clear_of(moving, swept(_post(m, a.case.cavity.lo[2]), way), (m, put)):
            mine = next(t for t in a.things if t.id == m.of)
            posts = hull([x.box for x in a.case.mounts if x.of == m.of])
            yield say(
                "stop",
                f"The {named(a, part.name)} cannot be put on: it meets a post",
                measured=0.0,
                limit=far,
                how="way that it goes before it meets something; wanted: all of it",
                reason=f"Moved {_words(put)}, it meets a post of {mine.name}.",
                source="geometry: posts swept along the way",
                subjects=(part.name, m.of, "post"),
                remedies=_free_way(a, mine, PlacedSolid("posts", "body", posts, None, 0.0)),
            )
            return


def _words(put: PutOn) -> str:
    way = next(f for f in FACES if OUTWARD[f] == tuple(round(c) for c in put.along))
    return {"bottom": "down", "top": "up"}.get(way, f"towards the {way}")


def _slimmer(s: PlacedSolid) -> PlacedSolid:
    """A solid a hair smaller, so that what only slides along it does not count."""
    size = s.box.size
    by = [min(TOUCH_MM, x / 4) for x in size]
    lo, hi = s.box.lo, s.box.hi
    box = Box((lo[0] + by[0], lo[1] + by[1], lo[2] + by[2]), (hi[0] - by[0], hi[1] - by[1], hi[2] - by[2]))
    return PlacedSolid(s.name, s.role, box, s.round_axis, s.inside_mm, s.sure_mm, s.corners)


def _post(m: Mount, floor: float) -> PlacedSolid:
    """A post over the floor that it stands on."""
    r = m.od_mm / 2 - TOUCH_MM
    box = Box(
        (m.at[0] - r, m.at[1] - r, floor + TOUCH_MM),
        (m.at[0] + r, m.at[1] + r, max(m.box.hi[2], floor + 0.2) - TOUCH_MM),
    )
    return PlacedSolid("post", "body", box, 2, 0.0)


def _still_to_go(part: Manifold, sweep: Manifold, s: PlacedSolid, put: PutOn, comes: bool) -> float:
    """How much of its way is left when the two first meet."""
    box = (part ^ sweep).bounding_box()
    i = next(k for k in range(3) if put.along[k])
    forward = (put.along[i] > 0) != comes
    left = box[i + 3] - s.box.lo[i] if forward else s.box.hi[i] - box[i]
    return float(max(0.0, min(left, put.travel_mm)))


@searched
def _free_way(a: Analysis, t: Thing, s: PlacedSolid) -> tuple[Remedy, ...]:
    """What stands out into a wall is brought in, or the wall moved out; else the component is moved."""
    room = cavity(a.design)
    out: list[Remedy] = []
    for f in FACES:
        i = normal_axis(f)
        over = s.box.hi[i] - room.hi[i] if OUTWARD[f][i] > 0 else room.lo[i] - s.box.lo[i]
        if over <= 0 or f == t.face or f in ("top", "bottom"):
            continue
        by = up(over + 0.1)
        inward: Vec3 = tuple(-OUTWARD[f][k] * by for k in range(3))  # type: ignore[assignment]
        if t.face is None and free_place(a.design, t, inward):
            out.append(Remedy(label=f"Move {t.name} {by:g} mm in from the {f} wall", edits=(moved(t, inward),)))
        out.append(Remedy(label=f"Move the {f} wall out by {by:g} mm", edits=(MoveWall(face=f, by_mm=by),)))
    return (*out, *_otherwise(a), Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),)))


@searched
def _otherwise(a: Analysis) -> tuple[Remedy, ...]:
    """A lid that comes straight down passes nothing on its way that it does not meet in its place."""
    if a.case.kind == "two halves":
        return ()
    edits = (Construct(construction=usual(a.design, "two halves")),)
    return (with_room(a, Remedy(label="Make the case in two halves", edits=edits)),)
