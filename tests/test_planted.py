"""The planted faults still fit the code: each is found where it was, and changes something there."""

from __future__ import annotations

import tomllib
from pathlib import Path

ROOT = Path(__file__).parents[1]


def test_what_a_planted_fault_replaces_stands_once_in_its_file() -> None:
    faults = tomllib.loads((ROOT / "tests" / "planted.toml").read_text())["fault"]
    assert len(faults) > 150
    texts = {f["file"]: (ROOT / "src" / "rhombex" / f["file"]).read_text() for f in faults}
    assert [(f["file"], f["old"]) for f in faults if texts[f["file"]].count(f["old"]) != 1] == []
    assert [f["old"] for f in faults if f["old"] == f["new"] or not f["why"] or not f["tests"]] == []
