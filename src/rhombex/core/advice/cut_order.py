"""The cuts of all parts planned together: which part is cut first decides which others keep out of line with it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from math import factorial

from rhombex.core.analysis import Analysis
from rhombex.core.cuts.bed import usable_bed
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.places import InLine, in_line, lines_at
from rhombex.core.cuts.plan import Plan, ToCut
from rhombex.core.cuts.strips import NAMES, Axis, PartName
from rhombex.core.edits import Edit, OrderCuts
from rhombex.core.progress import Progress, silent
from rhombex.core.space import Box
from rhombex.core.trail import Frozen, Shown

NOT_WORSE = 1e-9
Found = Callable[["CutOrder"], None]
Lines = tuple[InLine, ...]
Cost = tuple[int, float]


class CutOrder(Frozen):
    """What the planned cuts of all parts cost together, in the order in which they are planned now and in the cheapest order that was found. `looked_at`: of
    `orders` that there are, those that were tried or are shown to be no cheaper by their beginning; `edits`: none where no other order is cheaper."""

    parts: tuple[PartName, ...]
    pieces_now: int
    price_now: Shown
    best: tuple[PartName, ...]
    pieces: int
    price: Shown
    looked_at: int
    orders: int
    proven: bool
    edits: tuple[Edit, ...]


def planned(a: Analysis) -> tuple[PartCuts, ...]:
    """The parts whose cuts the planner put, in the order in which it does."""
    return tuple(c for c in a.cuts if c.seat is not None and c.cuts and not any(x.pinned for x in c.cuts))


def cut_order(a: Analysis, progress: Progress = silent, found: Found = lambda o: None) -> CutOrder:
    """The cheapest order in which the parts of a design can be planned, the fewest pieces first. Every cheaper one that is found is told to `found`."""
    parts = sorted(planned(a), key=lambda c: a.design.turn_to_cut(c.part))
    byhand = tuple(c.part for c in a.cuts if any(x.pinned for x in c.cuts))
    fixed = tuple(x for c in a.cuts for x in c.cuts if x.pinned)
    names = tuple(c.part for c in parts)
    now = (sum(len(c.pieces) for c in parts), _price(a, parts))
    search = _Search(a, {c.part: c for c in parts}, now, names, progress, found, byhand)
    if len(parts) > 1:
        search.go((), _lines(fixed), (0, 0.0))
    return search.told(len(parts) < 2 or search.done >= search.orders)


def _price(a: Analysis, parts: list[PartCuts]) -> float:
    """What the cuts cost as they are planned now: each part's, out of line with those that were planned before it."""
    total = 0.0
    before: list[Cut] = []
    for c in sorted(a.cuts, key=lambda c: a.design.turn_to_cut(c.part)):
        if any(c is p for p in parts):
            plan = _to_cut(a, c, _lines(tuple(before))).plan()
            total += plan.price if plan else 0.0
        before += c.cuts
    return total


def _lines(cuts: tuple[Cut, ...]) -> Lines:
    axes: tuple[Axis, ...] = ("x", "y", "z")
    return tuple((axis, lo, hi) for axis in axes for lo, hi in in_line(cuts, axis))


def _to_cut(a: Analysis, c: PartCuts, lines: Lines) -> ToCut:
    usable = usable_bed(a.design.process_of(c.part), a.printer)
    return ToCut(a.design, a.case, a.things, a.openings, a.case.part(c.part), Box(c.lo_mm, c.hi_mm), usable, (), lines)


@dataclass
class _Search:
    """Best first over the parts that are left, by what is certain: what is planned so far, and the rest as if it stood alone."""

    a: Analysis
    parts: dict[PartName, PartCuts]
    now: Cost
    names: tuple[PartName, ...]
    progress: Progress
    found: Found
    byhand: tuple[PartName, ...]
    done: int = 0
    best: tuple[PartName, ...] = ()
    cost: Cost = (0, 0.0)
    _plans: dict[tuple[PartName, Lines], Plan | None] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.best, self.cost = self.names, self.now

    @property
    def orders(self) -> int:
        """How many orders there are."""
        return factorial(len(self.names))

    def go(self, first: tuple[PartName, ...], lines: Lines, cost: Cost) -> None:
        """Every order that begins so and may be cheaper than the best so far."""
        left = [n for n in self.names if n not in first]
        alone = [self._plan(n, ()) for n in left]
        pieces = cost[0] + sum(p.pieces for p in alone if p)
        price = cost[1] + sum(p.price for p in alone if p)
        if not left or not _cheaper((pieces, price), self.cost):
            self.done += factorial(len(left))
            self.progress(min(self.done / self.orders, 1.0), f"{self.done} of {self.orders} orders looked at")
            if not left and _cheaper(cost, self.cost):
                self.best, self.cost = first, cost
                self.found(self.told(False))
            return
        ways = [(n, self._plan(n, lines)) for n in left]
        for n, plan in sorted(ways, key=lambda w: _cost(w[1])):
            here = _cost(plan)
            mine = _at(plan, self.parts[n])
            self.go((*first, n), (*lines, *mine), (cost[0] + here[0], cost[1] + here[1]))

    def _plan(self, name: PartName, lines: Lines) -> Plan | None:
        c = self.parts[name]
        mine = tuple(sorted({x for x in lines if x[0] in c.flat}))
        key = name, mine
        if key not in self._plans:
            self._plans[key] = _to_cut(self.a, c, mine).plan()
        return self._plans[key]

    def told(self, proven: bool) -> CutOrder:
        """What was found so far."""
        better = _cheaper(self.cost, self.now)
        edits: tuple[Edit, ...] = (OrderCuts(parts=(*self.byhand, *self.best)),) if better else ()
        return CutOrder(
            parts=self.names,
            pieces_now=self.now[0],
            price_now=self.now[1],
            best=self.best,
            pieces=self.cost[0],
            price=self.cost[1],
            looked_at=min(self.done, self.orders),
            orders=self.orders,
            proven=proven,
            edits=edits,
        )


def _cost(plan: Plan | None) -> Cost:
    return (plan.pieces, plan.price) if plan else (0, 0.0)


def _cheaper(one: Cost, other: Cost) -> bool:
    return one[0] < other[0] or (one[0] == other[0] and one[1] < other[1] - NOT_WORSE)


def _at(plan: Plan | None, c: PartCuts) -> Lines:
    """The lines of a plan's own cuts."""
    return tuple((NAMES[i], *lines_at(at)) for i, ats in (plan.at_mm if plan else {}).items() for at in ats)
