"""The server: who may call, what it answers, what it never does."""

from __future__ import annotations

import io
import json
import struct
import time
import zipfile
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from rhombex.core.design import Design
from rhombex.demo.scenario import heron_sliding
from rhombex.web.guard import MAX_UPLOAD_BYTES

from .conftest import HOST, Calls


def test_other_hosts_and_origins_are_turned_away(client: FlaskClient) -> None:
    assert client.get("/api/designs", base_url="http://evil.example").status_code == 421
    r = client.get("/api/designs", base_url=f"http://{HOST}", headers={"Origin": "http://evil.example"})
    assert r.status_code == 403
    r = client.post(
        "/api/designs", json={"name": "x"}, base_url=f"http://{HOST}", headers={"Sec-Fetch-Site": "cross-site"}
    )
    assert r.status_code == 403
    assert client.get("/api/designs", base_url=f"http://{HOST}").json == {"designs": [], "bin": []}


def test_a_design_at_a_glance(call: Calls, state: Any) -> None:
    """Outer size by hand: the cavity and twice the wall; the mended one has nothing open."""
    look = call.get(f"/api/designs/{state['id']}/glance").json
    shell = state["design"]["shell"]
    size = [shell["inner_mm"][i] + 2 * shell["wall_mm"] for i in (0, 1)]
    assert look["size_mm"][:2] == pytest.approx(size)
    assert (look["stops"], look["weigh"], look["begun"]) == (0, 0, True)
    kinds = [p["kind"] for p in look["patches"]]
    assert kinds[0] == "case" and {"board", "drive", "fan"} <= set(kinds)


def test_what_settled_hours_tell_is_on_the_shelf_as_well(call: Calls) -> None:
    """*Heron* in sliding panels: the half of its back that has the card's boss hangs free, which previews do not tell."""
    id = call.upload("/api/designs/read", "d.json", heron_sliding().model_dump_json().encode()).json["id"]
    first, last = (call.get(f"/api/designs/{id}/glance{q}").json for q in ("", "?settled=true"))
    assert (first["settled"], first["stops"]) == (False, 0)
    assert (last["settled"], last["stops"]) == (True, 1)
    assert call.get(f"/api/designs/{id}/glance").json == last  # once known it is told at once
    assert call.get(f"/api/designs/{id}/glance?settled=perhaps").status_code == 422


def test_a_design_beside_a_copy_and_beside_itself_before(call: Calls, state: Any) -> None:
    at = f"/api/designs/{state['id']}"
    copy = call.post(f"{at}/copy", {"name": "Wren two"}).json
    edit = {"base_version": state["version"], "edits": [{"do": "set", "path": "shell.wall_mm", "value": 3.72}]}
    now = call.post(f"{at}/edits", edit).json
    for query in (f"other={copy['id']}", f"revision={state['revision']}"):
        both = call.get(f"{at}/beside?{query}").json
        assert both["there"]["design"]["shell"]["wall_mm"] == state["design"]["shell"]["wall_mm"]
        walls = [d for d in both["differences"] if d["what"] == "walls"]
        assert [(d["of"], d["here"], d["there"]) for d in walls] == [("case", "3.72 mm", "2.89 mm")]
    assert call.get(f"{at}/beside?revision={state['revision']}").json["name"] == f"Wren, revision {state['revision']}"
    assert call.get(f"{at}/beside").json["differences"] == []
    assert call.get(at).json["version"] == now["version"]  # nothing was kept
    assert call.get(f"{at}/beside?revision=99").status_code == 404
    assert call.get(f"{at}/beside?other=000000000000").status_code == 404


def test_a_copy_has_another_name_and_its_own_life(call: Calls, state: Any) -> None:
    copy = call.post(f"/api/designs/{state['id']}/copy", {"name": "Wren two"}).json
    assert copy["design"] == state["design"] | {"name": "Wren two"} and copy["id"] != state["id"]
    edit = {"base_version": copy["version"], "edits": [{"do": "set", "path": "process.infill", "value": 0.4}]}
    assert call.post(f"/api/designs/{copy['id']}/edits", edit).status_code == 200
    assert call.get(f"/api/designs/{state['id']}").json["design"] == state["design"]


def test_a_design_that_is_there_is_not_read_in_twice_unasked(call: Calls, state: Any) -> None:
    data = json.dumps(state["design"]).encode()
    told = call.upload("/api/designs/read", "d.json", data)
    assert told.status_code == 409 and told.json == {"id": state["id"], "name": state["design"]["name"]}
    asked = {"file": (io.BytesIO(data), "d.json"), "again": "true"}
    again = call.client.post("/api/designs/read", data=asked, base_url=f"http://{HOST}")
    assert again.status_code == 201 and again.json["id"] != state["id"]
    call.client.delete(f"/api/designs/{state['id']}", base_url=f"http://{HOST}")
    call.client.delete(f"/api/designs/{again.json['id']}", base_url=f"http://{HOST}")
    assert call.upload("/api/designs/read", "d.json", data).status_code == 201  # those in the bin do not count


def test_every_answer_carries_the_strict_headers(call: Calls) -> None:
    for path in ("/", "/api/designs", "/nothing", "/assets/none.js"):
        h = call.get(path).headers
        assert "default-src 'none'" in h["Content-Security-Policy"]
        assert "unsafe" not in h["Content-Security-Policy"]
        assert h["X-Content-Type-Options"] == "nosniff"


@pytest.mark.parametrize(
    "path",
    [
        "/assets/../app.py",
        "/assets/%2e%2e/app.py",
        "/assets/..%2fapp.py",
        "/..%2f..%2fetc/passwd",
        "/api/jobs/..%2f..%2fx/file",
    ],
)
def test_no_path_leads_out(call: Calls, path: str) -> None:
    r = call.get(path)
    assert b"make_app" not in r.data and b"root:" not in r.data


def test_uploads_have_a_limit(call: Calls) -> None:
    r = call.upload("/api/jobs/read", "x.stl", b"\0" * (MAX_UPLOAD_BYTES + 1))
    assert r.status_code == 413 and "64 MB" in r.json["error"]["message"]


def test_edit_undo_redo_keep_and_list(call: Calls, state: Any) -> None:
    at = f"/api/designs/{state['id']}"
    edit = {"do": "set", "path": "shell.floor_mm", "value": 4.0}
    r = call.post(f"{at}/edits", {"base_version": state["version"], "edits": [edit]}).json
    assert r["design"]["shell"]["floor_mm"] == 4.0 and r["can_undo"]
    r = call.post(f"{at}/undo", {"base_version": r["version"]}).json
    assert r["design"]["shell"]["floor_mm"] == 3.0 and r["can_redo"]
    r = call.post(f"{at}/redo", {"base_version": r["version"]}).json
    r = call.post(f"{at}/keep", {"number": 1, "name": "before"}).json
    assert r["view"]["kept_tally"]["mass_g"] > 0
    steps = call.get(f"{at}/revisions").json["steps"]
    assert [s["kept_name"] for s in steps] == [None, "before"]
    assert call.post(f"{at}/goto", {"base_version": r["version"], "number": 1}).json["revision"] == 1


def test_the_second_writer_gets_409_and_how_it_stands(call: Calls, state: Any) -> None:
    at = f"/api/designs/{state['id']}/edits"
    for value, status in ((4.0, 200), (5.0, 409)):
        edit = {"do": "set", "path": "shell.floor_mm", "value": value}
        r = call.post(at, {"base_version": state["version"], "edits": [edit]})
        assert r.status_code == status
    assert r.json["now"]["design"]["shell"]["floor_mm"] == 4.0


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"base_version": 1, "edits": [{"do": "set", "path": "shell.wall_mm", "value": "x"}]}, "shell.wall_mm"),
        ({"base_version": 1, "edits": [{"do": "set", "path": "shell.wall_mm", "value": 99}]}, "shell.wall_mm"),
        ({"base_version": 1, "edits": []}, "edits"),
        ({"base_version": 1, "edits": [{"do": "fly"}]}, "edits"),
        ({"edits": [{"do": "fit-cavity"}]}, "base_version"),
    ],
)
def test_bad_edits_name_the_field_and_what_is_kept(call: Calls, state: Any, body: Any, field: str) -> None:
    r = call.post(f"/api/designs/{state['id']}/edits", body)
    assert r.status_code == 422
    e = r.json["error"]
    assert field in e["field"] and "unchanged" in e["kept"]
    assert call.get(f"/api/designs/{state['id']}").json["version"] == state["version"]


def test_broken_json_and_unknown_designs(call: Calls, client: FlaskClient) -> None:
    r = client.post("/api/designs", data=b"{", content_type="application/json", base_url=f"http://{HOST}")
    assert r.status_code in (400, 422) and r.json["error"]
    assert call.get("/api/designs/000000000000").status_code == 404
    assert call.get("/api/designs/../../etc").status_code in (404, 422)
    assert call.upload("/api/designs/read", "d.json", b'{"name"').status_code == 422
    assert call.upload("/api/designs/read", "d.json", b"[" * 200_000).status_code == 422


def test_remedies_that_take_a_search_come_after_the_edit(call: Calls, wren: Design) -> None:
    """An edit is answered without them; asked for they are those of the design as it is; with settled hours they are there."""
    state = call.upload("/api/designs/read", "d.json", wren.model_dump_json().encode()).json
    at = f"/api/designs/{state['id']}"
    edit = {
        "base_version": state["version"],
        "edits": [{"do": "set", "path": "brief.room_c", "value": 28.5}],
        "said": "",
    }
    view = call.post(f"{at}/edits", edit).json["view"]
    assert not view["remedies_known"]
    told = {c["key"]: c for c in view["concerns"]}
    found = call.get(f"{at}/concerns").json
    assert found["version"] == state["version"] + 1 and [c["key"] for c in found["concerns"]] == list(told)
    first = found["concerns"][0]
    assert first["remedies"][0]["label"] == "Move Button 23.7 mm right" and told[first["key"]]["remedies"] == []
    assert first | {"remedies": []} == told[first["key"]]
    again = call.get(at).json["view"]  # they are at hand now
    assert again["remedies_known"] and again["concerns"] == found["concerns"]
    settled = call.get(f"{at}/settled").json["view"]
    assert settled["remedies_known"] and settled["concerns"][0]["remedies"] == first["remedies"]


def test_gaps_and_effects_keep_nothing(call: Calls, state: Any) -> None:
    at = f"/api/designs/{state['id']}"
    board = next(t for t in state["view"]["things"] if t["id"] == "board")
    to = [board["at_mm"][0] - 1, *board["at_mm"][1:]]
    gaps = {g["side"]: g for g in call.post(f"{at}/gaps", {"thing": "board", "to_mm": to}).json["gaps"]}
    assert gaps["right"]["gap_mm"] == pytest.approx(2.0, abs=0.01)  # 165.6 - (120.1 - 1 + 44.5)
    e = call.post(f"{at}/effect", {"key": "x", "edits": [{"do": "set", "path": "process.infill", "value": 0.5}]}).json
    assert any(c["key"] == "mass_g" and c["after"] > c["before"] for c in e["tally"])
    assert call.get(at).json["version"] == state["version"]


def test_meshes_sections_and_outlines_are_those_of_the_parts(call: Calls, state: Any) -> None:
    base = next(p for p in state["view"]["pieces"] if p["name"] == "base")
    data = call.get(f"/api/meshes/{base['case_digest']}").data
    tris, edges = struct.unpack_from("<II", data)
    assert len(data) == 8 + tris * 36 + edges * 24 and tris > 1000 and 0 < edges < tris
    at = f"/api/designs/{state['id']}"
    for axis, span in (("x", (143.8, 37.0)), ("y", (171.4, 37.0)), ("z", (171.4, 143.8))):
        pieces = call.get(f"{at}/section?axis={axis}&at=15").json["pieces"]
        points = [p for piece in pieces for loop in piece["loops"] for p in loop]
        for i in (0, 1):
            assert max(p[i] for p in points) - min(p[i] for p in points) == pytest.approx(span[i], abs=0.3)
    loops = call.get(f"/api/outlines/{base['digest']}").json["loops"]
    assert max(p[0] for loop in loops for p in loop) == pytest.approx(base["bbox_mm"][0], abs=0.1)
    assert call.get(f"/api/meshes/{'0' * 32}").status_code == 404


def test_a_new_design_starts_empty_and_whole(call: Calls) -> None:
    r = call.post("/api/designs", {"name": "Dunlin"})
    assert r.status_code == 201
    assert [p["fits_bed"] for p in r.json["view"]["pieces"]] == [True, True]


def _wait(call: Calls, job: str, until: set[str]) -> Any:
    for _ in range(300):
        j = call.get(f"/api/jobs/{job}").json
        if j["state"] in until:
            return j
        time.sleep(0.1)
    raise AssertionError(j)


def test_an_export_is_made_in_the_background(call: Calls, state: Any) -> None:
    asked = {"kind": "export", "design": state["id"], "formats": ["stl"]}
    job = call.post("/api/jobs", {"ask": asked}).json
    assert (job["kind"], job["state"], job["result"]) == ("export", "waiting", None)
    done = _wait(call, job["id"], {"done", "failed"})
    assert (done["state"], done["share"], done["result"]["name"]) == ("done", 1.0, "Wren")
    data = call.get(f"/api/jobs/{job['id']}/file").data
    z = zipfile.ZipFile(io.BytesIO(data))
    assert json.loads(z.read("design.json")) == state["design"]


def test_an_export_can_be_stopped_and_leaves_nothing(call: Calls, state: Any, tmp_path: Path) -> None:
    job = call.post("/api/jobs", {"ask": {"kind": "export", "design": state["id"], "formats": ["step"]}}).json
    assert call.post(f"/api/jobs/{job['id']}/stop").json["state"] == "stopped"
    time.sleep(0.5)
    assert list((tmp_path / "exports").iterdir()) == []
    assert call.get(f"/api/jobs/{job['id']}").json["state"] == "stopped"
    assert call.get(f"/api/jobs/{job['id']}/file").status_code == 404
