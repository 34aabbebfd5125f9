"""A row of a family's table: values by column, each with its source and mark."""

from __future__ import annotations

from typing import Any

from rhombex.core.parts.component import Air, Draw, Mark, Mount, Port, Rail, Role, Solid, Thread
from rhombex.core.space import Vec2, Vec3

Box = tuple[Vec3, Vec3]


class Row:
    """Values of one component. `source` maps a column to [source, mark]; a row's `doubt` lists the columns it doubts all the same."""

    def __init__(self, key: str, values: dict[str, Any], sources: dict[str, list[str]]) -> None:
        self.key, self.values, self.sources = key, values, sources

    def __getitem__(self, column: str) -> Any:
        return self.values[column]

    def get(self, column: str, otherwise: Any = None) -> Any:
        return self.values.get(column, otherwise)

    def source(self, column: str) -> tuple[str, Mark]:
        source, mark = self.sources[column]
        return source, "doubtful" if column in self.values.get("doubt", ()) else mark  # type: ignore[return-value]

    def solid(self, name: str, role: Role, lo: Vec3, hi: Vec3, column: str, round: bool = False) -> Solid:
        source, mark = self.source(column)
        return Solid(name=name, role=role, lo=lo, hi=hi, round=round, source=source, mark=mark)

    def mounts(self, at: list[Vec2], thread: Thread, hole_mm: float, column: str, **more: Any) -> tuple[Mount, ...]:
        source, mark = self.source(column)
        return tuple(
            Mount(name=chr(65 + k), at=p, thread=thread, hole_mm=hole_mm, source=source, mark=mark, **more)
            for k, p in enumerate(at)
        )

    def port(self, name: str, kind: str, centre: Vec3, facing: Any, column: str) -> Port:
        source, mark = self.source(column)
        return Port(name=name, kind=kind, centre=centre, facing=facing, source=source, mark=mark)

    def draw(self, rail: Rail, watts: list[float], plug: str, column: str = "power") -> Draw:
        source, mark = self.source(column)
        return Draw(
            rail=rail, idle_w=watts[0], typical_w=watts[1], peak_w=watts[2], plug=plug, source=source, mark=mark
        )

    def air(self, flow: float, pressure: float, opening: float, column: str) -> Air:
        source, mark = self.source(column)
        return Air(free_flow_cfm=flow, static_mmh2o=pressure, opening_mm=opening, source=source, mark=mark)

    def about(self) -> dict[str, Any]:
        """Heat, mass, key, label, source and mark, as every component has them."""
        source, mark = self.source("component")
        return {
            "key": self.key,
            "label": self["label"],
            "heat_w": self["heat_w"],
            "mass_g": self["mass_g"],
            "source": source,
            "mark": mark,
        }


def square(pitch: float) -> list[Vec2]:
    """Four holes on a square round the origin."""
    h = pitch / 2
    return [(-h, -h), (h, -h), (-h, h), (h, h)]
