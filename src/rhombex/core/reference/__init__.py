"""Reference values: every number of the trade lives in a table here, with unit, source and mark."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

MARKS = (
    "standard",
    "handbook",
    "common practice",
    "memory",
    "doubtful",
    "measured",
    "arithmetic",
)


@dataclass(frozen=True)
class Ref:
    """One looked-up number: what it is, in which unit, and who says so."""

    key: str
    value: float
    unit: str
    source: str
    mark: str

    def __str__(self) -> str:
        return f"{self.source} ({self.mark})"


@cache
def table(name: str) -> dict[str, Any]:
    """Return a whole table (`fasteners`, `materials`, `printing`, `air`, `limits`) as nested dicts."""
    text = resources.files(__package__).joinpath(f"{name}.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


def _leaf(key: str) -> dict[str, Any]:
    name, *path = key.split(".")
    node: Any = table(name)
    for step in path:
        node = node[step]
    if not isinstance(node, dict) or "v" not in node:
        raise KeyError(f"{key} is not a reference value")
    return node


@cache
def ref(key: str) -> Ref:
    """Look up a number by `table.row.column`, for example `fasteners.M3.clearance_medium`.

    Raises KeyError where there is no such value.
    """
    leaf = _leaf(key)
    return Ref(key, float(leaf["v"]), leaf["unit"], leaf["source"], leaf["mark"])


def val(key: str) -> float:
    """Return only the number of `ref(key)`."""
    return ref(key).value


def series(key: str) -> tuple[float, ...]:
    """Look up a row of numbers, for example the stock lengths of screws."""
    return tuple(float(v) for v in _leaf(key)["v"])
