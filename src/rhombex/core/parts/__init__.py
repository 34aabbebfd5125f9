"""The library: components and port kinds from the tables beside this file."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources

from rhombex.core.parts.component import Component, PortKind
from rhombex.core.parts.families import components
from rhombex.core.parts.families.cards import UPRIGHT


@cache
def library() -> dict[str, Component]:
    """Every component that ships with Rhombex, by key."""
    found: dict[str, Component] = {}
    for file in sorted(resources.files(__package__).joinpath("library").iterdir(), key=lambda f: f.name):
        if file.name.endswith(".toml") and file.name != "ports.toml":
            key = file.name.removesuffix(".toml")
            found[key] = Component.model_validate({"key": key, **tomllib.loads(file.read_text("utf-8"))})
    for c in components():
        found[c.key] = c
    return dict(sorted(found.items()))


@cache
def port_kinds() -> dict[str, PortKind]:
    """Every kind of port, by name; a bracket's also as it is once its card stands upright."""
    text = resources.files(__package__).joinpath("library/ports.toml").read_text("utf-8")
    known = {k: PortKind.model_validate({"kind": k, **row}) for k, row in tomllib.loads(text).items()}
    brackets = [q for k, q in known.items() if k.startswith("bracket-")]
    return known | {q.kind + UPRIGHT: _upright(q) for q in brackets}


def _upright(q: PortKind) -> PortKind:
    return q.model_copy(
        update={
            "kind": q.kind + UPRIGHT,
            "label": f"{q.label}, upright",
            "width_mm": q.height_mm,
            "height_mm": q.width_mm,
            "plug_width_mm": q.plug_height_mm,
            "plug_height_mm": q.plug_width_mm,
        }
    )
