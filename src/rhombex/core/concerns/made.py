"""What is made, looked at by the kernel behind the rules: pieces that close and hold together, nothing in another's place."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache, partial
from itertools import combinations, takewhile
from math import log, prod

from manifold3d import Manifold

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse, made_whole
from rhombex.core.apply import apply
from rhombex.core.bench.apart import apart_from_box
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.bodies import all_of, standing_in
from rhombex.core.bench.gaps import hard
from rhombex.core.concerns.bench import clear_of_all, up
from rhombex.core.concerns.document import mildest, named, ways_to_make
from rhombex.core.concerns.openings import plugs_lost
from rhombex.core.concerns.own_posts import THINNER, thinner
from rhombex.core.concerns.registry import Finding, Maker, Remedy, Told, concern, searched
from rhombex.core.constructions import OpenBench
from rhombex.core.edits import Edit, FreeCuts, MoveWall, Remove, Set, Together
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.meets import shared_mm3
from rhombex.core.geometry.recipe import Solid
from rhombex.core.plain import DesignError
from rhombex.core.shell.build import case_of

MET_MM3 = 0.02  # roundings of both kernels over a whole rim; a wall's line is far more
GUSSETS_MM = (15.0, 12.0, 10.0, 8.0, 6.0, 4.0, 0.0)  # that are offered
TOUCH_MM = 0.01
MOST_MADE = 3  # ways that are tried by making the case anew


@concern("piece-not-closed", "shell")
def piece_not_closed(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A piece whose mesh would not close in a file: two surfaces touch in an edge or a point. It cannot be exported."""
    for p in a.pieces:
        if p.watertight:
            continue
        yield say(
            "stop",
            f"The {named(a, p.name)} does not close to a solid",
            measured=0,
            limit=1,
            unit="",
            how="0: edges that more than two surfaces share, 1: every edge shared by two",
            reason="Two of its surfaces touch along an edge or in a point and share no wall. No file of it is made, since programs read such "
            "a shape each in their own way.",
            source="geometry of the mesh that is exported",
            subjects=(p.name,),
            remedies=_whole_ways(a, p.part),
        )


@concern("piece-in-bodies", "shell")
def piece_in_bodies(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A piece that is more than one body: what is loose falls off on the bed, or is not there at all."""
    ways = cache(partial(_whole_ways, a))  # several pieces of one part ask for the same
    for p in a.pieces:
        wanted = a.case.part(p.part).bodies
        if p.bodies <= wanted:
            continue
        yield say(
            "stop",
            f"The {named(a, p.name)} falls into {p.bodies} bodies",
            measured=p.bodies,
            limit=wanted,
            unit="bodies",
            sense="at most",
            how="bodies that share no surface",
            reason="They are not joined to one another: an opening or a cut goes right through, or a post or column stands clear of floor and walls.",
            source="geometry of the mesh that is exported",
            subjects=(p.name,),
            remedies=(*_by_the_planner(a, p.part), *ways(p.part)),
        )


@searched
def _by_the_planner(a: Analysis, part: str) -> tuple[Remedy, ...]:
    """The cuts of a hand given back, where those of the planner leave nothing loose."""
    if not any(c.part == part for c in a.design.cuts):
        return ()
    edit = FreeCuts(part=part)
    made = analyse(apply(a.design, edit), a.workshop, "preview")
    if any(p.bodies > a.case.part(part).bodies for p in made.pieces if p.part == part):
        return ()
    return (Remedy(label="Give the cut back to the planner", edits=(edit,)),)


def _whole_ways(a: Analysis, part: str) -> tuple[Remedy, ...]:
    before = takewhile(lambda x: x.part != part, a.cuts)
    elsewhere = tuple(c for x in before for c in x.cuts)
    return mildest(a, ways_to_make(a, part), lambda d: made_whole(d, a.workshop, part, elsewhere))


@concern("parts-overlap", "shell", needs=("walls",))
def parts_overlap(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Two printed parts of the case in one place: they do not go together."""
    for (one, r), (other, q) in combinations(a.in_place().items(), 2):
        v = shared_mm3(r, q)
        if v <= MET_MM3:
            continue
        seam = next((s for s in a.case.seams if set(s.parts) == {one, other} and s.path), None)
        remedies: list[Remedy] = []
        if seam is not None:
            tops = [p.top_mm for p in a.case.mounts if p.part in (one, other)]
            rise = up(
                max([(mesh_kernel.evaluate(r) ^ mesh_kernel.evaluate(q)).bounding_box()[5], *tops]) - seam.at_mm + 0.1
            )
            joint = round(seam.at_mm - a.case.cavity.lo[2] + rise, 2)
            if 0 < rise < a.case.cavity.hi[2] - seam.at_mm - 1:
                remedies.append(
                    Remedy(label=f"Raise the joint by {rise:g} mm", edits=(Set(path=seam.path, value=joint),))
                )
            if 0 < rise < 100:
                lifted = (MoveWall(face="top", by_mm=rise), Set(path=seam.path, value=joint))
                remedies.append(Remedy(label=f"Raise joint and lid by {rise:g} mm", edits=lifted))
        if any(t.face is None for t in a.things):  # else there is nothing to draw them round
            remedies.append(Remedy(label="Draw the walls round the components", edits=(walls_round(a),)))
        yield say(
            "stop",
            f"The {named(a, one)} and the {named(a, other)} stand in one another",
            measured=v,
            limit=0.0,
            unit="mm3",
            sense="at most",
            how="volume that both take, by the kernel",
            reason="They cannot be put together as they are: a post, column or thickened rim of the one reaches into the other.",
            source="geometry",
            subjects=(one, other),
            remedies=tuple(remedies),
        )


@concern("component-in-part", "bench", needs=("walls",), hits=True, unless_told=True)
def component_in_part(a: Analysis, say: Maker, told: Told) -> Iterator[Finding]:
    """Something of the case stands in a component, and no rule has said why."""
    parts = a.in_place()
    for t in (t for t in a.things if (t.id, None) not in told):
        known = {w.part for w in a.case.walls if (t.id, w.face) in told}
        for part, recipe in ((p, r) for p, r in parts.items() if p not in known):
            found = standing_in(recipe, t)
            v = sum(x for _, x in found)
            if v <= MET_MM3:
                continue
            solid, most = max(found, key=lambda f: f[1])
            own = _own_posts(a, t, part, recipe)
            reason = f"Most of it is its {solid.name}, {most:.1f} mm3. Printed so, it does not go in."
            if own:
                reason += " These are its own posts: its holes lie too near to what hangs under it for posts so thick, wherever it stands."
            yield say(
                "stop",
                f"{t.name} stands in the {named(a, part)}",
                measured=v,
                limit=0.0,
                unit="mm3",
                sense="at most",
                how="volume of the component's solids that is in the part, by the kernel",
                reason=reason,
                source="geometry",
                subjects=(t.id, part),
                remedies=(
                    *(r for r in _smaller_gussets(a, t) if _stands_free(a, t.id, r.edits)),
                    *(_on_thinner(a, t) if own else _out_of_plastic(a, t)),
                    Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),)),
                ),
            )


@searched
def _out_of_plastic(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """What takes a component out of the parts: what leaves no more plugs behind comes first, then the smallest case, then the nearest place. Each is made,
    since what goes along with a wall, or is put elsewhere for it, may stand in it again."""
    ways = [r for _, r in clear_of_all(a, t)[:MOST_MADE]]
    ways.append(Remedy(label="Draw the walls round the components", edits=(walls_round(a),)))
    made = [(r, then) for r, then in ((r, _stands_free(a, t.id, r.edits)) for r in ways) if then]
    lost = plugs_lost(a)

    def brings(then: Analysis) -> tuple[int, float]:
        return max(plugs_lost(then) - lost, 0), round(log(prod(then.case.box_mm)), 2)

    return tuple(r for r, then in sorted(made, key=lambda x: brings(x[1])))


def _stands_free(a: Analysis, id: str, edits: tuple[Edit, ...]) -> Analysis | None:
    """What there is once edits are done, where a component stands in none of the parts."""
    try:
        then = analyse(apply(a.design, Together(edits=edits)), a.workshop, "none")
    except DesignError:
        return None
    t = next(t for t in then.things if t.id == id)
    free = all(sum(v for _, v in standing_in(r, t)) <= MET_MM3 for r in then.in_place().values())
    return then if free else None


@searched
def _smaller_gussets(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The longest gussets of an open bench's uprights that a component does not stand in; none where it stands in an upright itself."""
    made = a.design.shell.construction
    if not isinstance(made, OpenBench) or not a.case.uprights:
        return ()
    for long_mm in (x for x in GUSSETS_MM if x < made.gusset_mm):
        edit = Set(path="shell.construction.gusset_mm", value=long_mm)
        there = case_of(apply(a.design, edit), a.printer, a.things).uprights
        if all(apart_from_box(s, b) > -TOUCH_MM for s in hard(t) for b in there):
            return (Remedy(label=f"Gussets of {long_mm:g} mm" if long_mm else "No gussets", edits=(edit,)),)
    return ()


@searched
def _on_thinner(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """Its posts held so that they are thin enough."""
    found = thinner(a, a.design, t.id)
    return (Remedy(label=f"Stand {t.name} {THINNER}", edits=found),) if found else ()


def _own_posts(a: Analysis, t: Thing, part: str, recipe: Solid) -> bool:
    """Whether all that stands in a component is its own posts, which go wherever it goes."""
    posts = [m for m in a.case.mounts if m.of == t.id and m.part == part]
    if not posts:
        return False
    met = mesh_kernel.evaluate(recipe) ^ all_of(t)
    for m in posts:
        (x, y), r = m.at, m.od_mm / 2 + 0.1  # a hair round its chords
        met -= Manifold.cylinder(m.box.hi[2] + 2.0, r, r, 64).translate((x, y, -1.0))
    return bool(met.volume() <= MET_MM3)
