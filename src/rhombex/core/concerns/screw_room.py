"""Walls moved out so that the screws of a case find a place, or most of them."""

from __future__ import annotations

import itertools

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


class _Tried:
    """How many screws find a place once walls are moved out, each way tried once: a case is made for it."""

    def __init__(self, a: Analysis, now: int) -> None:
        self.a, self.now = a, now
        self.looked = {p.face for t in a.things for p in t.ports if p.ref in wanted_ports(a.design)}
        self._known: dict[tuple[float, tuple[Face, ...]], tuple[int, int]] = {}

    def __call__(self, by: float, *walls: Face) -> tuple[int, int]:
        """How many, and how many are wanted then; none where the case is as large as a case can be."""
        if (by, walls) not in self._known:
            self._known[by, walls] = self._anew(by, walls)
        return self._known[by, walls]

    def _anew(self, by: float, walls: tuple[Face, ...]) -> tuple[int, int]:
        design = self.a.design
        try:
            for wall in walls:
                design = apply(design, MoveWall(face=wall, by_mm=by))
        except DesignError:
            return 0, 0
        case = walled(design, self.a.printer, arrange(design), Faults()).case
        return len(case.fastened), case.wanted_joints

    def more(self, by: float, *walls: Face) -> bool:
        return self(by, *walls)[0] > self.now

    def all(self, by: float, *walls: Face) -> bool:
        got, wanted = self(by, *walls)
        return got > self.now and got >= wanted


def _roomy(a: Analysis, now: int) -> tuple[Remedy, ...]:
    screws = _Tried(a, now)
    looked = screws.looked
    if not _hope(screws, _SIDE_WALLS):
        return ()
    alone = _by_one(screws)
    if alone and not alone[0][0]:
        return tuple(r for *_, r in alone[:2])
    free = tuple(w for w in _SIDE_WALLS if w not in looked)
    kept = _by_several(screws, free) if looked else ()
    rest = tuple(r for *_, r in alone[:2]) or _by_several(screws, _SIDE_WALLS)
    if kept or not (now < FEW and (looked or not rest)):
        return (*kept, *(r for r in rest if r not in kept))
    return (*(_most(screws, free) or (() if rest else _most(screws, _SIDE_WALLS))), *rest)


def _hope(screws: _Tried, walls: tuple[Face, ...]) -> bool:
    """Whether all of some walls together give more screws a place: where they do not, some of them do not either, and a dozen cases are not tried."""
    return any(screws.more(by, *walls, "top") for by in (GROWTHS[-1], GROWTHS[2]))


def _by_one(screws: _Tried) -> list[tuple[bool, float, Remedy]]:
    """One wall that does it: whether it leaves a port behind, how far it goes, and the way; those that leave none first, then the nearest. Two that
    leave none are enough."""
    # what the farthest does not give the nearer ones do not either
    hopeful = [face for face in _WORDS if screws.more(GROWTHS[-1], face)]
    found: list[tuple[bool, float, Remedy]] = []
    for by in GROWTHS:
        for face in [f for f in hopeful if screws.all(by, f)]:
            hopeful.remove(face)
            label = f"Make the case {by:g} mm {_WORDS[face]}"
            way = Remedy(label=label, edits=(MoveWall(face=face, by_mm=by),))
            found.append((face in screws.looked and by > NEAR_MM, by, way))
        if sum(not leaves for leaves, *_ in found) > 1:
            break
    return sorted(found, key=lambda f: f[:2])


def _by_several(screws: _Tried, walls: tuple[Face, ...]) -> tuple[Remedy, ...]:
    """The same by the front wall, or by several where one alone does not do: components that stand tight against all of them."""

    ways: list[tuple[Face, ...]] = [w for n in (2, 3, 4) for w in itertools.combinations(walls, n)]
    if "front" in walls:
        ways.insert(0, ("front",))
    # columns along a flat case want height as well
    ways += [(*w, "top") for w in (("left", "right"), ("front", "back")) if {*w} <= {*walls}]
    for n, some in itertools.groupby(sorted(ways, key=len), len):
        if n == 2 and not _hope(screws, walls):
            return ()
        # what the farthest does not give the nearer ones do not either
        way = next((w for w in some if screws.all(GROWTHS[-1], *w)), None)
        if way is not None:
            by = next((x for x in GROWTHS[1:-1] if screws.all(x, *way)), GROWTHS[-1])
            return (_moved_out(way, by),)
    return ()


def _most(screws: _Tried, walls: tuple[Face, ...]) -> tuple[Remedy, ...]:
    """The walls that give most of the screws a place where none give it to all, and the nearest that do."""
    ways = [w for n in (1, 2, 3, 4) for w in itertools.combinations(walls, n)]
    tried = [(*screws(GROWTHS[-1], *w), w) for w in ways]
    got, wanted, way = max(tried, key=lambda x: (x[0], -len(x[2])), default=(0, 0, ()))
    if got < max(FEW, MOST * wanted, screws.now + 1):
        return ()
    by = next(x for x in GROWTHS if screws(x, *way)[0] >= got)
    r = _moved_out(way, by)
    return (r.model_copy(update={"label": f"{r.label}: {got} of {wanted} have a place then"}),)


def _moved_out(walls: tuple[Face, ...], by: float) -> Remedy:
    words = " and the ".join(x for x in (", the ".join(walls[:-1]), walls[-1]) if x)
    label = f"Move the {words} {'wall' if len(walls) == 1 else 'walls'} out by {by:g} mm"
    return Remedy(label=label, edits=tuple(MoveWall(face=w, by_mm=by) for w in walls))
