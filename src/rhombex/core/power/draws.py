"""The power budget: watts by rail from every component, what feeds them, slots, plugs and ratings with their margins.

Every component takes its watts from a source of that rail: the one the design names, the adapter at its own port, else the first supply
or converter that has the rail. A converter takes what it gives, divided by its efficiency, from the source of its own input.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from rhombex.core.bench.arrange import Thing
from rhombex.core.design import Design
from rhombex.core.memo import MemoOfThese
from rhombex.core.parts.component import Draw, Rail
from rhombex.core.reference import ref, table, val
from rhombex.core.trail import Frozen, Shown

Load = Literal["idle", "typical", "peak"]
LOADS: tuple[Load, ...] = ("idle", "typical", "peak")


LEAST_W = 1e-3  # a source of less is told by how much it is too small as one of so much


class Watts(Frozen):
    idle: Shown
    typical: Shown
    peak: Shown


class Branch(Frozen):
    """One line of the diagram: a component on a rail, through a plug, from a source (None: nothing feeds it)."""

    component: str
    name: str
    rail: Rail
    plug: str
    watts: Watts
    source: str | None
    plug_limit_w: Shown | None


class RailLoad(Frozen):
    rail: Rail
    watts: Watts
    rating_w: Shown


class Source(Frozen):
    """A supply, converter or adapter: what hangs on it by rail, in all, and what it takes in itself."""

    id: str
    name: str
    kind: Literal["supply", "converter", "adapter"]
    rails: tuple[RailLoad, ...]
    watts: Watts
    rating_w: Shown
    margin: Shown
    wanted_margin: Shown
    needs: str
    fed_by: str | None
    intake: Watts
    plugs_missing: tuple[str, ...]


class Cable(Frozen):
    """A cable that is needed: from a source to a component, by plug."""

    source: str
    component: str
    plug: str
    rail: Rail


class Budget(Frozen):
    """The whole budget; `wall`: watts taken from outside."""

    branches: tuple[Branch, ...]
    sources: tuple[Source, ...]
    cables: tuple[Cable, ...]
    components: Watts
    wall: Watts


ON_BOARD = (
    "slot",
    "slot-x1",
    "m2-slot",
    "fan",
    "header-5v",
)  # fed over the board they sit on, without a cable of their own


@dataclass
class _Node:
    id: str
    name: str
    kind: Literal["supply", "converter", "adapter"]
    rails: dict[Rail, float]
    total: float
    needs: Rail | None
    efficiency: float
    plugs: dict[str, int]
    load: dict[Rail, list[float]] = field(default_factory=dict)
    used: dict[str, int] = field(default_factory=dict)

    def take(self, rail: Rail, watts: list[float]) -> None:
        have = self.load.setdefault(rail, [0.0, 0.0, 0.0])
        for k in range(3):
            have[k] += watts[k]


def _nodes(d: Design, things: tuple[Thing, ...]) -> list[_Node]:
    nodes = []
    for t in things:
        s = t.component.supply
        if s is not None:
            outside = s.needs == "mains"
            nodes.append(
                _Node(
                    t.id,
                    t.name,
                    "supply" if outside else "converter",
                    dict(s.rails),
                    s.total_w,
                    None if outside else s.needs,
                    s.efficiency,
                    dict(s.plugs),
                )
            )
    names = {p.ref: f"Adapter at {t.name}, {p.name}" for t in things for p in t.ports}
    for a in d.adapters:
        nodes.append(
            _Node(
                a.port, names.get(a.port, f"Adapter at {a.port}"), "adapter", {a.rail: a.watts}, a.watts, None, 1.0, {}
            )
        )
    return nodes


def _source(d: Design, nodes: list[_Node], component: str, rail: Rail) -> _Node | None:
    """The node that feeds a component on a rail."""
    named = next((f.source for f in d.feeds if f.component == component and f.rail == rail), None)
    for n in nodes:
        if n.id == named and rail in n.rails:
            return n
    own = [n for n in nodes if n.kind == "adapter" and n.id.split("/", 1)[0] == component and rail in n.rails]
    able = [n for n in nodes if rail in n.rails and n.id != component]
    # a component's own adapter, then supplies, then converters, then somebody else's adapter
    order = {"supply": 0, "converter": 1, "adapter": 2}
    able.sort(key=lambda n: order[n.kind])
    return next(iter(own + able), None)


def _three(values: list[float]) -> Watts:
    return Watts(idle=values[0], typical=values[1], peak=values[2])


def _plug_limit(plug: str) -> float | None:
    return val(f"power.plug.{plug}") if plug in table("power")["plug"] else None


_budgets: MemoOfThese[Budget] = MemoOfThese(8)


def budget(d: Design, things: tuple[Thing, ...]) -> Budget:
    """Add everything up. Remembered by who is there: it is the same wherever they stand."""
    asked = (tuple((t.id, t.name, tuple((p.ref, p.name) for p in t.ports)) for t in things), d.adapters, d.feeds)
    return _budgets.make(tuple(t.component for t in things), asked, lambda: _added_up(d, things))


def _added_up(d: Design, things: tuple[Thing, ...]) -> Budget:
    nodes = _nodes(d, things)
    branches: list[Branch] = []
    cables: list[Cable] = []
    sums = [0.0, 0.0, 0.0]
    for t in things:
        for draw in t.component.power:
            watts = [draw.idle_w, draw.typical_w, draw.peak_w]
            sums = [a + b for a, b in zip(sums, watts, strict=True)]
            n = _source(d, nodes, t.id, draw.rail)
            if n is not None:
                n.take(draw.rail, watts)
                if n.kind != "adapter" and draw.plug not in ON_BOARD:
                    n.used[draw.plug] = n.used.get(draw.plug, 0) + _count(t, draw, cables)
                    if not any(
                        c.component == t.id and c.plug == draw.plug and draw.plug in ("atx-24",) for c in cables
                    ):
                        cables.append(Cable(source=n.id, component=t.id, plug=draw.plug, rail=draw.rail))
            branches.append(
                Branch(
                    component=t.id,
                    name=t.name,
                    rail=draw.rail,
                    plug=draw.plug,
                    watts=_three(watts),
                    source=n.id if n else None,
                    plug_limit_w=_plug_limit(draw.plug),
                )
            )
    sources, wall = _sources(d, nodes, cables)
    return Budget(
        branches=tuple(branches), sources=sources, cables=tuple(cables), components=_three(sums), wall=_three(wall)
    )


def _count(t: Thing, draw: Draw, cables: list[Cable]) -> int:
    """Plugs that a draw adds: a component's second rail through the same plug adds none."""
    return 0 if any(c.component == t.id and c.plug == draw.plug and c.rail != draw.rail for c in cables) else 1


def _sources(d: Design, nodes: list[_Node], cables: list[Cable]) -> tuple[tuple[Source, ...], list[float]]:
    wall = [0.0, 0.0, 0.0]
    fed: dict[str, str | None] = {}
    intake: dict[str, list[float]] = {}

    def total(n: _Node) -> list[float]:
        return [sum(v[k] for v in n.load.values()) for k in range(3)]

    # converters hand their load on to what feeds them; a ring of converters is cut after as many rounds as there are
    order = [n for n in nodes if n.kind == "converter"]
    pending = list(order)
    for _ in range(len(order) + 1):
        ready = [
            n
            for n in pending
            if not any(_source(d, nodes, m.id, m.needs or "mains") is n for m in pending if m is not n)
        ]
        if not ready:
            ready = pending[:1]
        for n in ready:
            taken = [w / n.efficiency for w in total(n)]
            intake[n.id] = taken
            up = _source(d, nodes, n.id, n.needs) if n.needs else None
            fed[n.id] = up.id if up else None
            if up is not None and n.needs is not None:
                up.take(n.needs, taken)
                cables.append(Cable(source=up.id, component=n.id, plug="screw-terminal", rail=n.needs))
            pending.remove(n)
        if not pending:
            break
    out = []
    for n in nodes:
        t = total(n)
        if n.kind != "converter":
            intake[n.id] = [w / n.efficiency for w in t]
            wall = [a + b for a, b in zip(wall, intake[n.id], strict=True)]
        wanted = val("power.margin.converter" if n.kind == "converter" else "power.margin.supply")
        missing = tuple(
            f"{count - n.plugs.get(plug, 0)} x {plug}"
            for plug, count in n.used.items()
            if n.kind != "adapter" and n.plugs and count > n.plugs.get(plug, 0)
        )
        out.append(
            Source(
                id=n.id,
                name=n.name,
                kind=n.kind,
                rails=tuple(
                    RailLoad(rail=r, watts=_three(n.load.get(r, [0.0, 0.0, 0.0])), rating_w=w)
                    for r, w in n.rails.items()
                ),
                watts=_three(t),
                rating_w=n.total,
                margin=1 - t[2] / max(n.total, LEAST_W),
                wanted_margin=wanted,
                needs=n.needs or "mains",
                fed_by=fed.get(n.id),
                intake=_three(intake.get(n.id, [0.0, 0.0, 0.0])),
                plugs_missing=missing,
            )
        )
    return tuple(out), wall


def margin_source(kind: str) -> str:
    """Where the wanted margin comes from."""
    return str(ref("power.margin.converter" if kind == "converter" else "power.margin.supply"))
