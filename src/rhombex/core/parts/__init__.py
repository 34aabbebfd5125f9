"""The library: components and port kinds from the tables beside this file."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources

from rhombex.core.parts.component import Component, PortKind
from rhombex.core.parts.families import components


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
    """Every kind of port, by name."""
    text = resources.files(__package__).joinpath("library/ports.toml").read_text("utf-8")
    return {k: PortKind.model_validate({"kind": k, **row}) for k, row in tomllib.loads(text).items()}
