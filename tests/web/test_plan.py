"""The print plan, the workshop and the simulated printer over HTTP."""

from __future__ import annotations

import io
import time
from pathlib import Path
from typing import Any

import pytest

from rhombex.core.memo import forget_all
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import read_workshop
from rhombex.demo.scenario import heron_panels, heron_sliding
from rhombex.devices.printer import PrintIn, SimulatedPrinter, device_app
from rhombex.store.designs import Designs
from rhombex.store.workshops import WorkshopConflict, Workshops

from .conftest import HOST, Calls


def test_settled_hours_follow_the_preview(call: Calls, at: str) -> None:
    state = call.get(at).json
    edit = {"do": "set", "path": "process.infill", "value": 0.21375}
    state = call.post(f"{at}/edits", {"base_version": state["version"], "edits": [edit]}).json
    assert {p["estimate"]["level"] for p in state["view"]["pieces"]} == {"preview"}
    settled = call.get(f"{at}/settled").json
    assert settled["version"] == state["version"]
    assert {p["estimate"]["level"] for p in settled["view"]["pieces"]} == {"settled"}
    assert {p["estimate"]["level"] for p in call.get(at).json["view"]["pieces"]} == {"settled"}


def test_ways_materials_sides_and_fill(call: Calls, at: str) -> None:
    forget_all()  # ways that were tried before are all told as the best so far
    tried = wait(call, start(call, at, "what-if").json)
    ways = tried["result"]["ways"]
    assert tried["state"] == "done" and start(call, at, "what-if").json["id"] == tried["id"]
    best = tried["best"]["ways"]
    assert {w["group"] for w in best} == {"now", "as stiff"} and all(w in ways for w in best)
    assert ways[0]["group"] == "now" and {w["group"] for w in ways} == {"now", "as stiff", "one change", "purpose"}
    advice = call.get(f"{at}/materials").json["advice"]
    assert {a["part"] for a in advice} == {"base", "lid"} and len(advice[0]["candidates"]) == 8
    sides = call.get(f"{at}/sides/lid").json["sides"]
    assert len(sides) == 6 and sides[0]["down"] == "top"
    assert len(call.get(f"{at}/trade/base").json["trades"]) == 2
    assert call.get(f"{at}/sides/roof").status_code == 404
    version = call.get(at).json["version"]
    done = call.post(f"{at}/edits", {"base_version": version, "edits": ways[1]["edits"], "said": ways[1]["label"]})
    assert done.status_code == 200


def test_joints_are_told_as_they_would_be_and_nothing_is_kept(call: Calls, at: str) -> None:
    now = call.get(f"{at}/hardware").json
    lid = next(r for r in now["rows"] if r["joint"]["name"] == "lid")
    edit = next(h["edit"] for h in lid["holdings"] if h["holding"] == "insert")
    tried = call.post(f"{at}/hardware/tried", {"edits": [edit]}).json
    assert next(r for r in tried["rows"] if r["joint"]["name"] == "lid")["joint"]["holding"] == "insert"
    assert call.get(f"{at}/hardware").json == now
    version = call.get(at).json["version"]
    call.post(f"{at}/edits", {"base_version": version, "edits": [edit], "said": "inserts"})
    assert call.get(f"{at}/hardware").json == tried
    refused = call.post(f"{at}/hardware/tried", {"edits": [{"do": "remove", "id": "nobody"}]})
    assert refused.status_code == 422 and "nobody" in refused.json["error"]["message"]


def start(call: Calls, at: str, kind: str, **more: str) -> Any:
    return call.post("/api/jobs", {"ask": {"kind": kind, "design": at.rsplit("/", 1)[-1], **more}})


def wait(call: Calls, job: Any) -> Any:
    for _ in range(600):
        if job["state"] not in ("waiting", "running"):
            return job
        time.sleep(0.1)
        job = call.get(f"/api/jobs/{job['id']}").json
    raise AssertionError(job)


def test_every_layer_can_be_walked(call: Calls, at: str) -> None:
    job = wait(call, start(call, at, "layers", piece="lid").json)
    hours = job["result"]
    assert job["state"] == "done" and hours["estimate"]["level"] == "exact"
    assert len(hours["seconds"]) == hours["estimate"]["layers"]
    spent = sum(hours["seconds"]) + ARCHIVE_WORKSHOP.printers[1].heat_up_s
    assert spent == pytest.approx(hours["estimate"]["time_s"]["value"], rel=1e-3)
    layer = call.get(f"/api/jobs/{job['id']}/layers/4").json
    assert layer["paths"] and all(len(p["points"]) >= 2 for p in layer["paths"])
    assert sum(layer["by_kind"].values()) == pytest.approx(hours["seconds"][4], abs=0.5)
    assert sum(sum(x) for x in hours["by_kind"].values()) == pytest.approx(sum(hours["seconds"]), rel=1e-3)
    assert call.get(f"/api/jobs/{job['id']}/layers/99999").status_code == 404
    assert start(call, at, "layers", piece="lid").json["id"] == job["id"]  # not laid out twice
    assert start(call, at, "layers", piece="roof").status_code == 404
    assert call.post(f"/api/jobs/{'0' * 12}/stop").status_code == 404


def test_laying_out_can_be_stopped(call: Calls) -> None:
    d = heron_panels()
    id = call.upload("/api/designs/read", "d.json", d.model_dump_json().encode()).json["id"]
    job = start(call, id, "layers", piece="left").json
    stopped = call.post(f"/api/jobs/{job['id']}/stop").json
    assert stopped["state"] in ("stopped", "done")


def test_trying_other_ways_can_be_stopped(call: Calls) -> None:
    d = heron_panels()
    id = call.upload("/api/designs/read", "d.json", d.model_dump_json().encode()).json["id"]
    job = start(call, id, "what-if").json
    assert job["state"] == "waiting"
    assert call.post(f"/api/jobs/{job['id']}/stop").json["state"] == "stopped"
    again = start(call, id, "what-if").json
    assert again["id"] != job["id"]
    call.post(f"/api/jobs/{again['id']}/stop")
    assert call.get(f"/api/jobs/{'0' * 12}").status_code == 404


def test_hours_are_held_against_hours_of_the_same_level(call: Calls, at: str) -> None:
    """A change of level is no saving: what is tried has no settled hours, so that the design as it stands is told as the preview knows it where the other is."""
    call.post(f"{at}/keep", {"number": 1, "name": "as it was"})
    settled = call.get(f"{at}/settled").json
    at_mm = next(p["at_mm"] for p in settled["design"]["placements"] if p["id"] == "button")
    edits = [{"do": "move", "id": "button", "to_mm": [at_mm[0] + 0.01, at_mm[1], at_mm[2]]}]
    there = call.post(f"{at}/tried", {"edits": edits}).json["view"]

    def sums(view: Any) -> dict[str, float]:
        return {t["key"]: t["trail"]["value"] for t in view["tally"]}

    rough = [p["part"] for p in there["pieces"] if p["estimate"]["level"] == "preview"]
    assert rough == ["base"]  # the lid stays as it was
    now, then, kept = sums(settled["view"]), sums(there), there["kept_tally"]
    assert abs(now["time_h"] - then["time_h"]) > 0.02  # what the levels differ by, and what is told: nothing
    assert abs(kept["time_h"] - then["time_h"]) < 0.002 and abs(kept["mass_g"] - then["mass_g"]) < 0.02
    # given, it is held against the last kept revision in the same way, until its own settled hours are there
    given = call.post(f"{at}/edits", {"base_version": settled["version"], "edits": edits}).json["view"]
    assert abs(given["kept_tally"]["time_h"] - sums(given)["time_h"]) < 0.002
    after = call.get(f"{at}/settled").json["view"]
    assert (
        abs(after["kept_tally"]["time_h"] - now["time_h"]) < 1e-9 and abs(sums(after)["time_h"] - now["time_h"]) < 0.002
    )


def test_parts_are_planned_together(call: Calls) -> None:
    """*Heron* between posts on the bed of 180: another order costs less; asked for twice it is worked out once, and taken it is kept."""
    made = call.upload("/api/designs/read", "d.json", heron_sliding().model_dump_json().encode()).json
    at = f"/api/designs/{made['id']}"
    small = {"base_version": made["version"], "edits": [{"do": "set", "path": "printer", "value": "bench-180"}]}
    version = call.post(f"{at}/edits", small).json["version"]
    job = start(call, at, "cut-order").json
    done = wait(call, job)
    order = done["result"]["order"]
    assert done["state"] == "done" and order["proven"] and order["orders"] == order["looked_at"] == 24
    assert order["price"] < order["price_now"] - 0.3 and order["pieces"] == order["pieces_now"] == 21
    assert done["best"]["order"]["edits"] and start(call, at, "cut-order").json["id"] == job["id"]
    taken = {"base_version": version, "edits": order["edits"]}
    assert call.post(f"{at}/edits", taken).json["design"]["cut_first"] == order["best"]


def test_constructions_are_tried_and_taken(call: Calls, at: str) -> None:
    tried = wait(call, start(call, at, "constructions").json)
    assert tried["state"] == "done" and tried["kind"] == "constructions"
    ways = {w["kind"]: w for w in tried["result"]["ways"]}
    assert tried["best"]["ways"] and len(ways) == 7
    version = call.get(at).json["version"]
    edits = ways["corners and sheet"]["edits"]
    beside = call.post(f"{at}/tried", {"edits": edits}).json
    assert beside["design"]["shell"]["construction"]["kind"] == "corners and sheet" and beside["view"]["sheets"]
    assert beside["view"]["kept_tally"]["pieces"] == 2 and call.get(at).json["version"] == version  # nothing is kept
    assert call.get(f"/api/meshes/{beside['view']['pieces'][0]['case_digest']}").status_code == 200
    wrong = [{"do": "set", "path": "shell.wall_mm", "value": -1}]
    refused = call.post(f"{at}/tried", {"edits": wrong})
    assert refused.status_code == 422 and "wall_mm" in str(refused.json)
    state = call.post(f"{at}/edits", {"base_version": version, "edits": edits, "said": "sheet"}).json
    view = state["view"]
    assert {x["part"] for x in view["sheets"]} == {f"sheet-{f}" for f in ("front", "back", "left", "right", "top")}
    assert {t["id"]: t["comes_with"] for t in view["things"]}["fan"] == "sheet-top"
    # a sheet has a mesh to look at and is cut by sections, though it is not printed
    digest = next(x["case_digest"] for x in view["sheets"] if x["part"] == "sheet-top")
    assert call.get(f"/api/meshes/{digest}").status_code == 200
    cut = call.get(f"{at}/section?axis=x&at=90").json["pieces"]
    assert {"sheet-top", "floor"} <= {p["part"] for p in cut}


def test_the_table_of_joints_follows_drawer_and_design(call: Calls, at: str) -> None:
    table = call.get(f"{at}/hardware").json
    assert [r["joint"]["key"] for r in table["rows"]] == ["case/lid", "posts/board", "posts/drive", "face/fan"]
    lid = table["rows"][0]
    assert lid["reach"]["free"] and lid["bears"]["low_n"] > 500 and lid["screw"] == "M3 x 8"
    put = {"do": "put-stock", "stock": {"item": "nut", "size": "M3", "count": 40}}
    assert call.post("/api/workshop/edits", {"edits": [put]}).status_code == 200
    nuts = next(x for x in call.get(f"{at}/hardware").json["shopping"]["lines"] if x["item"] == "nut")
    assert (nuts["need"], nuts["have"], nuts["packs"]) == (4, 40, 0)
    for size, said in (("M9", "like M3"), ("", "like M3")):
        bad = {"do": "put-stock", "stock": {"item": "nut", "size": size, "count": 1}}
        refused = call.post("/api/workshop/edits", {"edits": [bad]})
        assert refused.status_code == 422 and said in str(refused.json)
    version = call.get(at).json["version"]
    longer = next(x["edit"] for x in table["rows"][1]["lengths"] if x["length_mm"] == 6)
    state = call.post(f"{at}/edits", {"base_version": version, "edits": [longer], "said": "longer"}).json
    assert state["design"]["joints"] == [{"of": "posts/board", "holding": None, "screw_mm": 6, "standoff_mm": None}]
    assert [x["size"] for x in state["view"]["bill"] if x["item"] == "screw, socket cap" and x["use"] == "Board"] == [
        "M2.5 x 6"
    ]


def gcode(call: Calls, text: str, printer: str = "bench-300") -> Any:
    return call.client.post(
        "/api/gcode",
        data={"file": (io.BytesIO(text.encode()), "a.gcode"), "printer": printer},
        base_url=f"http://{HOST}",
    )


def test_gcode_is_read_on_a_printer(call: Calls) -> None:
    r = gcode(call, "G90\nM83\nG1 X250 Y20 F3000\nG1 X290 E2\n").json
    assert r["on_bed"] and r["moves"] == 2
    assert not gcode(call, "G90\nM83\nG1 X250 Y20 F3000\nG1 X290 E2\n", "bench-180").json["on_bed"]
    bad = gcode(call, "G1 X1 F100\nG5 X2\n")
    assert bad.status_code == 422 and bad.json["error"]["field"] == "line 2"


# the diary


def test_real_hours_of_a_piece_are_noted_with_its_curves(call: Calls, at: str) -> None:
    name = call.get(at).json["view"]["pieces"][0]["name"]
    before = call.get("/api/workshop").json
    after = call.post(f"{at}/diary/{name}", {"real_s": 30_000}).json
    assert after["version"] == before["version"] + 1
    [entry] = next(p for p in after["workshop"]["printers"] if p["key"] == "bench-220")["paced"]
    assert entry["real_s"] == 30_000 and entry["what"] == f"Wren, {name}"
    slow, fast = entry["curves"]["seconds"][0], entry["curves"]["seconds"][3]
    assert slow > entry["planned_s"] > fast  # half and double the acceleration
    assert after["paces"]["bench-220"]["factor"] == pytest.approx(30_000 / entry["planned_s"])
    assert call.post(f"{at}/diary/nothing", {"real_s": 1}).status_code == 404
    assert call.post(f"{at}/diary/{name}", {"real_s": 0}).status_code == 422


def test_real_hours_of_a_file_are_noted_on_top_of_other_changes(call: Calls) -> None:
    def note(text: str, real_s: float = 4.0, printer: str = "bench-300") -> Any:
        return call.client.post(
            f"/api/printers/{printer}/diary",
            data={"file": (io.BytesIO(text.encode()), "a.gcode"), "what": "a.gcode", "real_s": str(real_s)},
            base_url=f"http://{HOST}",
        )

    text = "G90\nM83\nG1 X250 Y20 F3000\nG1 X290 E2\n"
    assert note(text).status_code == 200
    done = note(text, 5.0).json
    paced = next(p for p in done["workshop"]["printers"] if p["key"] == "bench-300")["paced"]
    assert [p["real_s"] for p in paced] == [4.0, 5.0]
    assert done["learned"]["bench-300"]["prints"] == 2 and done["learned"]["bench-300"]["printer"] is None
    assert note("G5 X2\n").status_code == 422
    assert note("; nothing\n").json["error"]["field"] == "file"
    assert note(text, 5.0, "bench-9").status_code == 404
    assert note(text, -5.0).status_code == 422
    assert call.get("/api/workshop").json["version"] == done["version"]


# the workshop


def put(call: Calls, version: int, workshop: Any) -> Any:
    return call.post(
        "/api/workshop/edits", {"base_version": version, "edits": [{"do": "put-workshop", "workshop": workshop}]}
    )


def test_the_workshop_is_kept_and_used_by_all_designs(call: Calls, at: str) -> None:
    out = call.get("/api/workshop").json
    w = out["workshop"]
    before = call.get(f"{at}/settled").json["view"]["pieces"][0]["estimate"]["time_s"]["value"]
    mine = next(p for p in w["printers"] if p["key"] == "bench-220")
    mine["paced"] = [
        {"what": "lid", "planned_s": 1000, "real_s": 1200},
        {"what": "base", "planned_s": 2000, "real_s": 2400},
    ]
    out = put(call, out["version"], w).json
    assert out["paces"]["bench-220"]["factor"] == pytest.approx(1.2)
    after = call.get(f"{at}/settled").json["view"]["pieces"][0]["estimate"]["time_s"]["value"]
    assert after == pytest.approx(1.2 * before, rel=1e-3)


def test_two_windows_on_the_workshop(call: Calls) -> None:
    w = call.get("/api/workshop").json["workshop"]
    w["spools"] = w["spools"][:2]
    assert put(call, 0, w).status_code == 200
    r = put(call, 0, w)
    assert r.status_code == 409 and len(r.json["workshop"]["spools"]) == 2


def test_a_bad_workshop_names_its_field(call: Calls, at: str) -> None:
    w = call.get("/api/workshop").json["workshop"]
    broken = {**w, "printers": [{**w["printers"][0], "nozzle_mm": 0}]}
    r = put(call, 0, broken)
    assert r.status_code == 422 and "nozzle_mm" in r.json["error"]["field"]
    gone = {**w, "printers": w["printers"][:1]}
    r = put(call, 0, gone)
    assert r.status_code == 422 and "Bench 220" in r.json["error"]["message"] and "Wren" in r.json["error"]["message"]
    twice = {**w, "spools": [w["spools"][0], w["spools"][0]]}
    assert put(call, 0, twice).status_code == 422


def test_the_workshop_outlives_its_server(tmp_path: Path) -> None:
    shelf = Designs(tmp_path / "rhombex.db")
    version, w = Workshops(shelf.engine).read()
    assert (version, w) == (0, ARCHIVE_WORKSHOP)
    less = read_workshop({**w.model_dump(), "spools": []})
    Workshops(shelf.engine).write(0, less)
    shelf.close()
    again = Workshops(Designs(tmp_path / "rhombex.db").engine)
    assert again.read() == (1, less)
    with pytest.raises(WorkshopConflict):
        again.write(0, w)
    assert again.undo(1).workshop == ARCHIVE_WORKSHOP  # undo outlives it too


def test_the_workshop_is_changed_by_edits_and_undone(call: Calls, at: str) -> None:
    spool = {"id": "pla-sand", "filament": "PLA", "colour": "sand", "left_g": 900}
    printer = call.get("/api/workshop").json["workshop"]["printers"][0]
    steps: list[tuple[dict[str, Any], str]] = [
        ({"do": "put-spool", "spool": spool}, "spool of PLA sand"),
        ({"do": "put-spool", "spool": spool | {"left_g": 850}}, "spool of PLA sand"),
        ({"do": "put-printer", "printer": printer | {"nozzle_mm": 0.5}}, "change Bench 180"),
        ({"do": "add-printer", "printer": printer | {"key": "loft", "name": "Loft"}}, "add Loft"),
        ({"do": "set-standoffs", "lengths_mm": [5, 10]}, "set standoffs"),
        ({"do": "remove-printer", "key": "loft"}, "remove printer loft"),
        ({"do": "remove-spool", "id": "pla-sand"}, "remove spool pla-sand"),
    ]
    seen = [call.get("/api/workshop").json]
    for edit, said in steps:
        seen.append(call.post("/api/workshop/edits", {"base_version": seen[-1]["version"], "edits": [edit]}).json)
        assert seen[-1]["undoes"] == said
    assert [s["left_g"] for s in seen[2]["workshop"]["spools"] if s["id"] == "pla-sand"] == [850]
    assert (
        seen[3]["workshop"]["printers"][0]["nozzle_mm"] == 0.5 and seen[4]["workshop"]["printers"][-1]["key"] == "loft"
    )
    assert seen[7]["workshop"]["standoffs_mm"] == [5, 10] and len(seen[7]["workshop"]["printers"]) == 3
    now = seen[-1]
    for older in reversed(seen[:-1]):
        now = call.post("/api/workshop/undo", {"base_version": now["version"]}).json
        assert now["workshop"] == older["workshop"]
    r = call.post("/api/workshop/undo", {"base_version": now["version"]})
    assert r.status_code == 422 and "nothing before" in r.json["error"]["message"]
    assert now["redoes"] == "spool of PLA sand"
    for newer in seen[1:]:
        now = call.post("/api/workshop/redo", {"base_version": now["version"]}).json
        assert now["workshop"] == newer["workshop"]
    assert call.post("/api/workshop/redo", {"base_version": now["version"]}).status_code == 422
    assert call.post("/api/workshop/undo", {"base_version": 0}).status_code == 409


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (
            {
                "do": "put-printer",
                "printer": {"key": "attic", "name": "A", "bed_mm": [9, 9, 9], "nozzle_mm": 0.4, "enclosed": False},
            },
            "no printer 'attic'",
        ),
        ({"do": "remove-printer", "key": "attic"}, "no printer 'attic'"),
        ({"do": "remove-printer", "key": "bench-220"}, "“Wren” is printed on it"),
        ({"do": "remove-spool", "id": "none"}, "no spool 'none'"),
        ({"do": "remove-own-component", "key": "none"}, "no own component 'none'"),
        (
            {"do": "note-print", "printer": "bench-220", "entry": {"what": "x", "planned_s": 60, "real_s": 6000}},
            "cannot be",
        ),
        ({"do": "set-standoffs", "lengths_mm": [-1]}, "more than 0"),
        ({"do": "fly"}, "not a known edit"),
    ],
)
def test_an_edit_of_the_workshop_that_cannot_be_is_refused(call: Calls, at: str, edit: Any, said: str) -> None:
    r = call.post("/api/workshop/edits", {"edits": [edit]})
    assert r.status_code == 422 and said in r.json["error"]["message"]
    assert call.get("/api/workshop").json["version"] == 0


def test_only_the_newest_revisions_of_the_workshop_are_kept(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from rhombex.core.shop_edits import SetStandoffs
    from rhombex.store import workshops

    monkeypatch.setattr(workshops, "KEPT", 5)
    shops = Workshops(Designs(tmp_path / "rhombex.db").engine)
    for k in range(12):
        state = shops.edit((SetStandoffs(lengths_mm=(k + 1.0,)),))
    back = 0
    while state.undoes:
        state, back = shops.undo(state.version), back + 1
    assert back == 4 and state.workshop.standoffs_mm == (8.0,)


# the simulated printer


class Clock:
    now = 0.0

    def __call__(self) -> float:
        return self.now


def order(**changes: Any) -> PrintIn:
    return PrintIn(**({"what": "plate", "planned_s": 36_000, "mass_g": 100, "spool_g": 0, "fault": "none"} | changes))


def test_a_simulated_printer_prints_a_thousand_times_faster() -> None:
    clock = Clock()
    p = SimulatedPrinter("bench-220", clock)
    assert p.state().state == "idle"
    assert p.begin(order()).state == "heating"
    clock.now = 18.0
    half = p.state()
    assert half.state == "printing" and half.real_s == pytest.approx(18_000, rel=0.01)
    assert half.used_g == pytest.approx(100 * half.share, abs=0.1)
    clock.now = 60.0
    done = p.state()
    assert done.state == "done" and done.share == 1
    assert 1.0 < done.real_s / 36_000 < 1.35  # its own pace, for a diary to find out


def test_faults_spools_that_run_out_and_stops() -> None:
    clock = Clock()
    p = SimulatedPrinter("bench-180", clock)
    p.begin(order(fault="clog"))
    clock.now = 100.0
    assert p.state().state == "failed" and "clogged" in p.state().message and p.state().share < 0.95
    p.begin(order(spool_g=40))
    clock.now = 200.0
    out = p.state()
    assert out.state == "failed" and "ran out" in out.message and out.used_g == pytest.approx(40)
    p.begin(order())
    clock.now = 205.0
    assert p.stop().state == "stopped"
    clock.now = 400.0
    assert p.state().share < 0.5


def test_the_simulated_printer_speaks_http(call: Calls) -> None:
    device = device_app().test_client()
    body = order().model_dump()
    assert device.post("/api/devices/printers/bench-300/print", json=body).json["what"] == "plate"
    assert device.get("/api/devices/printers/bench-300").json["state"] in ("heating", "printing")
    assert call.post("/api/devices/printers/bench-300/stop").json["state"] in ("idle", "stopped", "heating")
    assert device.post("/api/devices/printers/bench-300/print", json={"what": "x", "planned_s": -1}).status_code == 422


def test_a_filament_that_a_design_is_printed_in_stays(call: Calls, at: str) -> None:
    matt = {"kind": "PLA", "key": "pla-matt", "name": "PLA matt", "price_per_kg": 42}
    call.post("/api/workshop/edits", {"edits": [{"do": "put-filament", "filament": matt}]})
    assert call.get("/api/workshop").json["printed_in"] == {}
    process = call.get(at).json["design"]["process"] | {"own_filament": "pla-matt"}

    def printed(lid: dict[str, Any] | None) -> Any:
        body = {
            "base_version": call.get(at).json["version"],
            "edits": [{"do": "print-part", "part": "lid", "process": lid}],
        }
        return call.post(f"{at}/edits", body).json

    assert {p["part"]: p["filament"] for p in printed(process)["view"]["pieces"]} == {"base": "PLA", "lid": "PLA matt"}
    assert call.get("/api/workshop").json["printed_in"] == {"pla-matt": ["Wren"]}
    gone = {"edits": [{"do": "remove-filament", "key": "pla-matt"}]}
    r = call.post("/api/workshop/edits", gone)
    assert r.status_code == 422 and "PLA matt cannot go: “Wren” is printed in it" in r.json["error"]["message"]
    printed(None)
    assert call.post("/api/workshop/edits", gone).json["workshop"]["filaments"] == []


def test_the_workshop_tells_which_designs_are_printed_on_a_printer(call: Calls, at: str) -> None:
    assert call.get("/api/workshop").json["printed_on"] == {"bench-220": ["Wren"]}
    edits = [{"do": "remove-printer", "key": "bench-220"}]
    r = call.post("/api/workshop/edits", {"edits": edits})
    assert r.status_code == 422 and "“Wren” is printed on it" in r.json["error"]["message"]
    assert (
        call.post("/api/workshop/edits", {"edits": [{"do": "remove-printer", "key": "bench-180"}]}).status_code == 200
    )
