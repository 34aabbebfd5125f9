"""The tables of Cuts and Hardware over HTTP: what is proposed is taken with the edit that comes along, and what is refused names its field."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from rhombex.web.app import make_app

from .conftest import HOST, Calls


def edited(call: Calls, at: str, *edits: dict[str, Any]) -> Any:
    version = call.get(at).json["version"]
    return call.post(f"{at}/edits", {"base_version": version, "edits": list(edits)})


def seam(call: Calls, at: str, part: str) -> Any:
    return next(p for p in call.get(f"{at}/cuts").json["parts"] if p["cuts"]["part"] == part)["seams"][0]


def test_a_proposed_joint_is_taken_and_bought(call: Calls, at: str) -> None:
    """The lid of Wren on the small bed: bolts are proposed, taken, and stand in the table of joints and on the shopping list."""
    assert edited(call, at, {"do": "set", "path": "printer", "value": "bench-180"}).status_code == 200
    before = seam(call, at, "lid")
    choice = before["choice"]
    bolts = next(w for w in choice["ways"] if w["by"] == "bolts")
    assert choice["proposed"] == "bolts" and bolts["takes"] == f"{bolts['places']} bolts M3 x 14 and nuts"
    cut = {"part": "lid", "axis": before["cut"]["axis"], "at_mm": before["cut"]["inside_mm"], "by": choice["proposed"]}
    assert edited(call, at, {"do": "put-cuts", "part": "lid", "cuts": [cut]}).status_code == 200
    after = seam(call, at, "lid")
    assert (after["cut"]["joined"], len(after["cut"]["dowels"])) == ("bolts", bolts["places"])
    hardware = call.get(f"{at}/hardware").json
    row = next(r for r in hardware["rows"] if r["joint"]["key"] == "cut/lid")
    assert row["joint"]["count"] == bolts["places"] and row["screw"] == "M3 x 14"
    bought = {(x["item"], x["size"]): x["need"] for x in hardware["shopping"]["lines"]}
    assert bought[("screw, socket cap", "M3 x 14")] == bolts["places"]
    assert bought[("nut", "M3")] == bolts["places"] + 4  # the fan's


def test_cuts_too_near_to_one_another_are_refused_by_their_field(call: Calls, at: str) -> None:
    near = [{"part": "lid", "axis": "y", "at_mm": x} for x in (60.0, 66.0)]
    r = edited(call, at, {"do": "put-cuts", "part": "lid", "cuts": near})
    e = r.json["error"]
    assert r.status_code == 422 and e["field"] == "cuts.lid.y" and "unchanged" in e["kept"]
    assert "the cuts at 60 and 66 mm are 6 mm apart; joined by steel pins they are at least 17" in e["message"]
    assert "farther apart" in e["do"] and call.get(at).json["design"]["cuts"] == []


@pytest.mark.parametrize("mm", [168.5, -3.0])
def test_a_cut_beside_its_part_is_refused_by_its_field(call: Calls, at: str, mm: float) -> None:
    """*Wren*'s lid goes from the outside of one wall of 2.89 to that of the other, 171.38 farther."""
    r = edited(call, at, {"do": "put-cuts", "part": "lid", "cuts": [{"part": "lid", "axis": "x", "at_mm": mm}]})
    e = r.json["error"]
    assert r.status_code == 422 and e["field"] == "cuts.lid.x" and "unchanged" in e["kept"]
    assert e["message"] == f"a cut at {mm:g} mm lies outside the lid, which goes from -2.89 to 168.49 there"
    assert call.get(at).json["design"]["cuts"] == []
    near = {"do": "put-cuts", "part": "lid", "cuts": [{"part": "lid", "axis": "x", "at_mm": 167.0}]}
    assert edited(call, at, near).status_code == 200  # so near to its end it is told that nothing comes of it
    thicker = {"do": "set", "path": "shell.inner_mm.0", "value": 150.0}
    assert edited(call, at, thicker).status_code == 200
    more = [*near["cuts"], {"part": "lid", "axis": "x", "at_mm": 70.0}]  # beside it now, and kept
    assert edited(call, at, {"do": "put-cuts", "part": "lid", "cuts": more}).status_code == 200


def test_a_cut_beside_what_another_window_made_smaller_is_refused(call: Calls, at: str, tmp_path: Path) -> None:
    """150 wide within, and the wall of 2.89 beside it: the other server on the same folder has not seen this part as it is."""
    other = Calls(make_app(tmp_path, {HOST}).test_client())
    cut = {"do": "put-cuts", "part": "lid", "cuts": [{"part": "lid", "axis": "x", "at_mm": 167.0}]}
    assert edited(other, at, {"do": "set", "path": "name", "value": "seen wide"}).status_code == 200
    narrow = edited(call, at, {"do": "set", "path": "shell.inner_mm.0", "value": 150.0}).json["version"]
    e = other.post(f"{at}/edits", {"base_version": narrow, "edits": [cut]}).json["error"]
    assert e["field"] == "cuts.lid.x" and "from -2.89 to 152.89 there" in e["message"]


def test_a_board_without_holes_is_in_the_table_of_joints(call: Calls, at: str) -> None:
    board = next(c for c in call.get("/api/library").json["components"] if c["key"] == "sbc-85x56")
    plain = board | {"key": "own-plain", "family": "own component", "mounts": [], "ports": []}
    r = edited(
        call,
        at,
        {"do": "swap", "id": "board", "component": "own-plain", "custom": plain},
        {"do": "move-wall", "face": "front", "by_mm": 4.5},
    )
    assert r.status_code == 200 and "nothing-holds" not in [f["code"] for f in r.json["view"]["concerns"]]
    row = next(r for r in call.get(f"{at}/hardware").json["rows"] if r["joint"]["key"] == "posts/board")
    assert row["joint"]["beside"] and row["joint"]["count"] == 5
    assert row["joint"]["layers"][0]["what"] == "edge of Board"
    assert [h["holding"] for h in row["holdings"]] == ["insert", "cut in plastic"]
    # the wall put back, two of its edges are without
    r = edited(call, at, {"do": "move-wall", "face": "front", "by_mm": -4.5})
    (f,) = [f for f in r.json["view"]["concerns"] if f["code"] == "nothing-holds"]
    assert (f["severity"], f["measured"], f["limit"]) == ("weigh", 2.0, 3.0)


def test_sheet_is_held_in_slots_by_edits_that_are_asked_for(call: Calls, at: str) -> None:
    r = call.get(f"{at}/sheet-held?by=slots")
    assert r.status_code == 422 and r.json["error"]["field"] == "by"
    made = {"do": "construct", "construction": {"kind": "corners and sheet"}}
    assert edited(call, at, made).json["view"]["sheet_held"] == "screws"
    edits = call.get(f"{at}/sheet-held?by=slots").json["edits"]
    assert call.get(at).json["view"]["sheet_held"] == "screws"  # nothing is kept by asking
    assert edited(call, at, *edits).json["view"]["sheet_held"] == "slots"
    assert call.get(f"{at}/sheet-held?by=glue").status_code == 422


def test_a_cut_under_the_hand_is_told_as_it_would_be_and_nothing_is_kept(call: Calls, at: str) -> None:
    """What is shown while it is dragged is what letting it go there makes."""
    before = call.get(at).json
    put = {"do": "put-cuts", "part": "base", "cuts": [{"part": "base", "axis": "x", "at_mm": 44.0}]}
    shown = call.post(f"{at}/cuts/tried", {"edit": put}).json
    assert call.get(at).json == before
    whole = next(p for p in call.get(f"{at}/cuts").json["parts"] if p["cuts"]["part"] == "base")["cuts"]
    wide = whole["hi_mm"][0] - whole["lo_mm"][0]  # the wall of 2.89 and 44
    assert [c["piece"]["bbox_mm"][0] for c in shown["part"]["cells"]] == pytest.approx([46.89, wide - 46.89])
    there = [c["code"] for c in shown["there"]["view"]["concerns"]]
    assert there == ["cut-not-needed", *(c["code"] for c in before["view"]["concerns"])]
    now = {t["key"]: t["trail"]["value"] for t in before["view"]["tally"]}
    against = shown["there"]["view"][
        "kept_tally"
    ]  # the design as it stands, its base as the preview knows it, as that of the other is
    assert {k: against[k] for k in ("litres", "pieces", "wall_c")} == {
        k: now[k] for k in ("litres", "pieces", "wall_c")
    }
    assert against == pytest.approx(now, rel=0.02)
    kept = edited(call, at, put).json
    for told in ("tally", "concerns", "pieces"):
        assert shown["there"]["view"][told] == kept["view"][told]
    made = next(p for p in call.get(f"{at}/cuts").json["parts"] if p["cuts"]["part"] == "base")
    assert shown["part"] == {k: made[k] for k in ("cuts", "seams", "cells")}
    through = {**put, "cuts": [{"part": "base", "axis": "x", "at_mm": 88.0}]}
    shown = call.post(f"{at}/cuts/tried", {"edit": through}).json["there"]["view"]["concerns"]
    keys = {x["key"] for x in before["view"]["concerns"]}
    assert [c["title"] for c in shown if c["key"] not in keys and c["severity"] != "advice"] == [
        "The cut of the base goes through the opening USB-C"
    ]
    assert edited(call, at, through).json["view"]["concerns"] == shown


def test_a_cut_under_the_hand_is_refused_as_if_it_were_let_go(call: Calls, at: str) -> None:
    beside = {"do": "put-cuts", "part": "lid", "cuts": [{"part": "lid", "axis": "x", "at_mm": 400.0}]}
    r = call.post(f"{at}/cuts/tried", {"edit": beside})
    assert r.status_code == 422 and r.json["error"]["field"] == "cuts.lid.x"
    nowhere = {"do": "put-cuts", "part": "roof", "cuts": [{"part": "roof", "axis": "x", "at_mm": 40.0}]}
    r = call.post(f"{at}/cuts/tried", {"edit": nowhere})
    assert r.status_code == 200 and r.json["part"] is None  # as when it is let go: a concern tells of it
    lid = {**beside, "cuts": [{"part": "lid", "axis": "x", "at_mm": 80.0}]}
    shown = call.post(f"{at}/cuts/tried", {"edit": lid}).json["part"]
    assert shown["cuts"]["part"] == "lid" and len(shown["cells"]) == 2
    assert call.get(at).json["design"]["cuts"] == []
