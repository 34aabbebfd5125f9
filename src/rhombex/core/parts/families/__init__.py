"""Components that come in sizes: one table a family in `library/families`, one builder a family here."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Iterator
from importlib import resources
from typing import Any

from rhombex.core.parts.component import Component
from rhombex.core.parts.families import (
    boards,
    cards,
    coolers,
    displays,
    drives,
    fans,
    panel,
    radiators,
    supplies,
    wiring,
)
from rhombex.core.parts.families.rows import Row

BUILDERS: dict[str, Callable[[Row], Component | tuple[Component, ...]]] = {
    "boards": boards.build,
    "supplies": supplies.build,
    "cards": cards.build,
    "drives": drives.build,
    "fans": fans.build,
    "radiators": radiators.build,
    "coolers": coolers.build,
    "displays": displays.build,
    "panel": panel.build,
    "wiring": wiring.build,
}


def tables() -> Iterator[tuple[str, dict[str, Any]]]:
    """Every family's table, by name."""
    folder = resources.files("rhombex.core.parts").joinpath("library/families")
    for name in BUILDERS:
        yield name, tomllib.loads(folder.joinpath(f"{name}.toml").read_text("utf-8"))


def components() -> Iterator[Component]:
    """Every component of every family."""
    for name, table in tables():
        sources = table["source"]
        for key, values in table["rows"].items():
            built = BUILDERS[name](Row(key, values, sources))
            yield from built if isinstance(built, tuple) else (built,)
