"""Documents as older versions wrote them are read by every reader; a component or printer that is no longer there is a concern."""

from __future__ import annotations

import json
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from rhombex.cli import app
from rhombex.core import migrations
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, Placement, read_design
from rhombex.core.edits import Add, Move, Remove, Rename, Swap
from rhombex.core.migrations import DESIGN_VERSION, WORKSHOP_VERSION, brought_up
from rhombex.core.plain import DesignError
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stored import read_stored
from rhombex.core.workshop.workshop import read_workshop
from rhombex.store.designs import Designs
from rhombex.web.look import view_of
from tests.conftest import findings

KEPT = Path(__file__).parents[1] / "kept"
DESIGNS, WORKSHOPS = sorted(KEPT.glob("design-*.json")), sorted(KEPT.glob("workshop-*.json"))


def test_a_document_of_every_version_is_kept() -> None:
    for files, newest in ((DESIGNS, DESIGN_VERSION), (WORKSHOPS, WORKSHOP_VERSION)):
        assert {int(f.name.split("-")[1].split(".")[0]) for f in files} == set(range(1, newest + 1))


@pytest.mark.parametrize("file", DESIGNS, ids=lambda f: f.stem)
def test_an_older_design_is_read_by_every_reader(file: Path, tmp_path: Path) -> None:
    data = json.loads(file.read_text())
    d = read_design(data)
    assert d.schema_version == DESIGN_VERSION and d.name == data["name"]
    assert [p.model_dump()["at_mm"] for p in d.placements] == [tuple(p["at_mm"]) for p in data["placements"]]
    assert d.shell.wall_mm == data["shell"]["wall_mm"]
    assert read_design(json.loads(d.model_dump_json())) == d
    assert analyse(d, ARCHIVE_WORKSHOP, "preview").faults == ()
    # the database
    shelf = Designs(tmp_path / "rhombex.db")
    s = shelf.create(d)
    c = sqlite3.connect(tmp_path / "rhombex.db")
    c.execute("UPDATE revision SET document = ?", (json.dumps(data),))
    c.commit()
    c.close()
    assert shelf.state(s.id).design == d and shelf.shelf()[0][0].trouble == ""
    # the command line
    assert CliRunner().invoke(app, ["power", str(file), "--json"]).exit_code in (0, 1)


def test_what_was_propped_rests_on_a_post() -> None:
    """Up to 16 a free end was propped or not."""
    data = json.loads((KEPT / "design-11-wren.json").read_text())
    (old,) = [p["id"] for p in data["placements"] if p["propped"]]
    assert {p.id: p.rests_on for p in read_design(data).placements if p.rests_on} == {old: "post"}


@pytest.mark.parametrize("file", WORKSHOPS, ids=lambda f: f.stem)
def test_an_older_workshop_is_read_by_every_reader(file: Path) -> None:
    data = json.loads(file.read_text())
    w = read_workshop(json.loads(file.read_text()))
    assert [p.key for p in w.printers] == [p["key"] for p in data["printers"]]
    assert read_stored(file.read_text()) == (w, ())
    wren = str(KEPT / "design-1-shape-1-wren.json")
    r = CliRunner().invoke(app, ["power", wren, "--workshop", str(file), "--json"])
    assert r.exit_code in (0, 1), r.output


def test_the_first_diaries_lose_what_the_curves_replace() -> None:
    data = json.loads(WORKSHOPS[0].read_text())
    data["printers"][0]["paced"] = [{"what": "lid", "planned_s": 60, "real_s": 70, "rush_s": 3}]
    assert read_workshop(data).printers[0].paced[0].real_s == 70


def test_steps_are_taken_one_after_another_from_the_documents_own_version() -> None:
    steps = tuple((lambda d, k=k: {**d, "seen": [*d.get("seen", []), k]}) for k in (1, 2, 3))
    assert brought_up({}, steps, "x") == {"seen": [1, 2, 3], "schema_version": 4}
    assert brought_up({"schema_version": 3}, steps, "x")["seen"] == [3]
    assert "seen" not in brought_up({"schema_version": 4}, steps, "x")
    with pytest.raises(DesignError, match="newer Rhombex"):
        brought_up({"schema_version": 5}, steps, "x")


@pytest.mark.parametrize("version", [0, -1, "2", None, 1.5, True, [2], 10**30])
def test_a_version_that_is_none_is_refused_by_name(wren: Design, version: Any) -> None:
    with pytest.raises(DesignError, match="schema_version"):
        read_design(wren.model_dump() | {"schema_version": version})
    with pytest.raises(DesignError, match="schema_version"):
        read_workshop(ARCHIVE_WORKSHOP.model_dump() | {"schema_version": version})


def test_a_step_that_has_landed_is_there_for_good() -> None:
    assert len(migrations.DESIGN_STEPS) >= 1 and len(migrations.WORKSHOP_STEPS) >= 1


# a component that the library no longer has


def without_library(design: Design, id: str, key: str) -> Design:
    """A design whose component is of a kind that the library does not have."""
    data = design.model_dump()
    for p in data["placements"]:
        if p["id"] == id:
            p["component"] = key
    return read_design(data)


def test_a_component_that_is_no_longer_there_is_a_concern_with_ways_out(good_wren: Design) -> None:
    lost = without_library(good_wren, "board", "sbc-85x58")
    a = analyse(lost, ARCHIVE_WORKSHOP, "preview")
    view_of(a, judge(a), {}).model_dump_json()
    assert [t.id for t in a.things] == ["drive", "cooler", "fan", "button"] and a.faults == ()
    f = findings(lost, "component-not-here")[0]
    assert f.severity == "stop" and "sbc-85x58" in f.reason and (f.measured, f.limit) == (0, 1)
    assert f.remedies[0].label == "Take Single-board computer 85 x 56 in its place"
    assert f.remedies[-1].label == "Take Board out"
    for r in f.remedies:
        assert effect_of(lost, ARCHIVE_WORKSHOP, f.key, r.edits).clears, r.label
    assert apply(lost, f.remedies[0].edits[0]) == good_wren
    assert findings(good_wren, "component-not-here") == []


@pytest.mark.parametrize("id", ["board", "drive", "cooler", "fan", "button"])
def test_any_component_may_be_gone_and_the_design_goes_on(good_wren: Design, id: str) -> None:
    lost = without_library(good_wren, id, "gone-1")
    for edit in (Move(id=id, to_mm=(50, 50, 5)), Rename(id=id, name="Gone"), Remove(id=id)):
        after = apply(lost, edit)
        a = analyse(after, ARCHIVE_WORKSHOP, "preview")
        assert not [f for f in judge(a) if f.code == "rule-broke"]


def test_nobody_puts_in_what_there_is_not(good_wren: Design) -> None:
    new = Placement(id="new", component="gone-1", name="New", at_mm=(50, 50, 5))
    for edit in (Add(placement=new), Swap(id="board", component="gone-1")):
        with pytest.raises(DesignError, match="no component 'gone-1'"):
            apply(good_wren, edit)


def test_what_was_called_a_part_is_a_component() -> None:
    """Design 7 named what a feed feeds, workshop 5 its own components, by the word that a printed part has now."""
    wren = json.loads((KEPT / "design-8-wren.json").read_text())
    (feed,), (own,) = wren["feeds"], wren["custom"]
    assert (feed["component"], own["family"]) == ("drive", "own component")
    old = wren | {
        "schema_version": 7,
        "feeds": [{"part": "drive", "rail": feed["rail"], "source": feed["source"]}],
        "custom": [own | {"family": "own part"}],
    }
    assert read_design(old) == read_design(wren)
    shop = json.loads((KEPT / "workshop-6.json").read_text())
    before = {k: v for k, v in shop.items() if k != "components"} | {"schema_version": 5}
    before["parts"] = [shop["components"][0] | {"family": "own part"}]
    assert read_workshop(before) == read_workshop(shop) and read_workshop(shop).components[0].label == "My own"
    # a family of another name stays, and what is broken is left to the reader
    assert read_design(old | {"custom": [own | {"family": "drive"}]}).custom[0].family == "drive"
    with pytest.raises(DesignError):
        read_design(old | {"feeds": [7]})
