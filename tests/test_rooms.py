"""The rooms of the core import one way: each only what stands before it in this list."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

CORE = Path(__file__).parents[1] / "src" / "rhombex" / "core"
ROOMS = (
    *("reference", "plain", "space", "stance", "trail", "words", "progress", "memo", "compiled", "geometry"),
    *("parts", "constructions", "migrations", "design", "case", "workshop"),
    *("bench", "faults", "fit", "shell", "air", "openings", "process", "cuts", "hardware", "analysis"),
    *("edits", "apply", "shop_edits", "power", "advice", "brief", "concerns", "plan", "exchange"),
    *("looked", "versions", "remedies", "choices", "diary", "begun", "wishes", "report"),
)


def _rooms_used(file: Path) -> set[str]:
    used: set[str] = set()
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.ImportFrom) and (node.module or "").split(".")[:2] == ["rhombex", "core"]:
            rest = (node.module or "").split(".")[2:]
            used |= {rest[0]} if rest else {a.name for a in node.names}
        if isinstance(node, ast.Import):
            used |= {a.name.split(".")[2] for a in node.names if a.name.startswith("rhombex.core.")}
    return used


def _room(file: Path) -> str:
    return file.relative_to(CORE).with_suffix("").parts[0]


FILES = [f for f in sorted(CORE.rglob("*.py")) if f != CORE / "__init__.py"]


def test_every_room_has_its_place() -> None:
    assert {_room(f) for f in FILES} == set(ROOMS) and len(ROOMS) == len(set(ROOMS))


@pytest.mark.parametrize("room", ROOMS)
def test_a_room_imports_only_what_stands_before_it(room: str) -> None:
    before = set(ROOMS[: ROOMS.index(room) + 1])
    later = {(f.name, r) for f in FILES if _room(f) == room for r in _rooms_used(f) - before}
    assert later == set()


def test_the_core_knows_nothing_of_web_database_or_devices() -> None:
    outside = ("rhombex.web", "rhombex.store", "rhombex.jobs", "rhombex.devices", "rhombex.demo", "flask", "sqlalchemy")
    for f in FILES:
        for node in ast.walk(ast.parse(f.read_text())):
            names = [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            names += [a.name for a in node.names] if isinstance(node, ast.Import) else []
            assert not [n for n in names if n.startswith(outside)], f.name
