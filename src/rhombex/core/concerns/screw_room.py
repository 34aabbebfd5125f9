"""Walls moved out so that the screws of a case find a place, or most of them."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.concerns.before_cuts import of_walls
from rhombex.core.concerns.registry import Remedy, searched
from rhombex.core.edits import MoveWall
from rhombex.core.faults import Faults
from rhombex.core.plain import DesignError
from rhombex.core.shell.build import walled
from rhombex.core.space import Face

GROWTHS = (2.0, 4.0, 7.0, 10.0, 15.0)
NEAR_MM = 2.0  # so far a wall may go from a port that looks through it
FEW = 2  # with fewer screws nothing is held
MOST = 0.5  # of the screws that are wanted
_SIDE_WALLS: tuple[Face, ...] = ("left", "right", "front", "back")
_WORDS: dict[Face, str] = {
    "back": "deeper at the back",
    "left": "wider on the left",
    "right": "wider on the right",
    "top": "higher",
}


@searched
def room_for_screws(a: Analysis, now: int) -> tuple[Remedy, ...]:
    """The smallest growth on one side that gives every screw a place, tried on the shell alone; else on several; else what gives most of them one. Walls that
    no port looks through go first: the others leave their plugs behind."""
    return of_walls(a, "room for screws", lambda: _roomy(a, now))


def _roomy(a: Analysis, now: int) -> tuple[Remedy, ...]:
    open_ = wanted_ports(a.design)
    looked = {p.face for t in a.things for p in t.ports if p.ref in open_}
    alone = sorted(_by_one(a, now, looked), key=lambda f: f[:2])
    if alone and not alone[0][0]:
        return tuple(r for *_, r in alone[:2])
    free = tuple(w for w in _SIDE_WALLS if w not in looked)
    kept = _by_several(a, now, free) if looked else ()
    rest = tuple(r for *_, r in alone[:2]) or _by_several(a, now, _SIDE_WALLS)
    if kept or not (now < FEW and (looked or not rest)):
        return (*kept, *(r for r in rest if r not in kept))
    return (*(_most(a, now, free) or (() if rest else _most(a, now, _SIDE_WALLS))), *rest)


def _by_one(a: Analysis, now: int, looked: set[Face]) -> Iterator[tuple[bool, float, Remedy]]:
    """Every one wall that does it: whether it leaves a port behind, how far it goes, and the way."""
    for face, word in _WORDS.items():
        # what the farthest does not give the nearer ones do not either
        if _screws_if(a, GROWTHS[-1], face)[0] <= now:
            continue
        for by in GROWTHS:
            got, wanted = _screws_if(a, by, face)
            if got > now and got >= wanted:
                label = f"Make the case {by:g} mm {word}"
                yield face in looked and by > NEAR_MM, by, Remedy(label=label, edits=(MoveWall(face=face, by_mm=by),))
                break


def _by_several(a: Analysis, now: int, walls: tuple[Face, ...]) -> tuple[Remedy, ...]:
    """The same by the front wall, or by several where one alone does not do: components that stand tight against all of them."""

    def enough(by: float, some: tuple[Face, ...]) -> bool:
        got, wanted = _screws_if(a, by, *some)
        return got > now and got >= wanted

    ways: list[tuple[Face, ...]] = [w for n in (2, 3, 4) for w in itertools.combinations(walls, n)]
    if "front" in walls:
        ways.insert(0, ("front",))
    # columns along a flat case want height as well
    ways += [(*w, "top") for w in (("left", "right"), ("front", "back")) if {*w} <= {*walls}]
    for n, some in itertools.groupby(sorted(ways, key=len), len):
        # what all of them together do not give some do not either: a dozen cases less to try
        if n == 2 and all(_screws_if(a, by, *walls, "top")[0] <= now for by in (GROWTHS[2], GROWTHS[-1])):
            return ()
        # what the farthest does not give the nearer ones do not either
        way = next((w for w in some if enough(GROWTHS[-1], w)), None)
        if way is not None:
            by = next((x for x in GROWTHS[1:-1] if enough(x, way)), GROWTHS[-1])
            return (_moved_out(way, by),)
    return ()


def _most(a: Analysis, now: int, walls: tuple[Face, ...]) -> tuple[Remedy, ...]:
    """The walls that give most of the screws a place where none give it to all, and the nearest that do."""
    ways = [w for n in (1, 2, 3, 4) for w in itertools.combinations(walls, n)]
    tried = [(*_screws_if(a, GROWTHS[-1], *w), w) for w in ways]
    got, wanted, way = max(tried, key=lambda x: (x[0], -len(x[2])), default=(0, 0, ()))
    if got < max(FEW, MOST * wanted, now + 1):
        return ()
    by = next(x for x in GROWTHS if _screws_if(a, x, *way)[0] >= got)
    r = _moved_out(way, by)
    return (r.model_copy(update={"label": f"{r.label}: {got} of {wanted} have a place then"}),)


def _moved_out(walls: tuple[Face, ...], by: float) -> Remedy:
    words = " and the ".join(x for x in (", the ".join(walls[:-1]), walls[-1]) if x)
    label = f"Move the {words} {'wall' if len(walls) == 1 else 'walls'} out by {by:g} mm"
    return Remedy(label=label, edits=tuple(MoveWall(face=w, by_mm=by) for w in walls))


def _screws_if(a: Analysis, by: float, *walls: Face) -> tuple[int, int]:
    """How many screws find a place once walls are moved out, and how many are wanted then; none where the case is as large as a case can be."""
    design = a.design
    try:
        for wall in walls:
            design = apply(design, MoveWall(face=wall, by_mm=by))
    except DesignError:
        return 0, 0
    case = walled(design, a.printer, arrange(design), Faults()).case
    return len(case.fastened), case.wanted_joints
