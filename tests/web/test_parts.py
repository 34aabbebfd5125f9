"""Parts over HTTP: library, own components, files read in, notebook, caliper, power."""

from __future__ import annotations

import io
import struct
import time
from random import Random
from typing import Any

import pytest

from rhombex.core.exchange.write_mesh import stl
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.parts import library
from rhombex.devices import caliper

from ..step_boards import random_board
from .conftest import HOST, Calls


def read(call: Calls, name: str, data: bytes, **fields: Any) -> Any:
    form = {"file": (io.BytesIO(data), name), **fields}
    out = call.client.post("/api/jobs/read", data=form, base_url=f"http://{HOST}").json
    for _ in range(600):
        if out.get("state") not in ("waiting", "running"):
            return out | (out["result"] or {"found": None})
        time.sleep(0.05)
        out = call.get(f"/api/jobs/{out['id']}").json
    raise AssertionError("it never ends")


CUBE = stl(mk.Manifold.cube((10.0, 20.0, 30.0)))


def test_the_library_tells_all_parts_and_a_glance_at_each(call: Calls) -> None:
    out = call.get("/api/library").json
    assert len(out["components"]) == len(out["overviews"]) == len(library())
    assert [c["key"] for c in out["components"]] == [o["key"] for o in out["overviews"]]
    assert any(k["kind"] == "usb-c" for k in out["kinds"])
    found = [o["key"] for o in out["overviews"] if "58 x 49" in o["words"]]
    assert {"sbc-85x56", "shield-drive", "shield-power"} <= set(found)


def test_a_body_is_read_looked_at_confirmed_and_kept(call: Calls, at: str) -> None:
    out = read(call, "../../odd name.stl", CUBE)
    assert out["state"] == "done" and out["found"]["kind"] == "body" and out["found"]["unit_from"] == "assumed"
    assert sorted(out["found"]["size_mm"]) == [10, 20, 30]
    shape = call.get(f"/api/shapes/{out['found']['shape']}")
    assert len(shape.data) == 12 * 36 and struct.unpack("<f", shape.data[:4])[0] >= 0
    confirmed = out["proposal"] | {"label": "Odd", "heat_w": 3}
    part = call.post("/api/library/confirm", {"job": out["id"], "confirmed": confirmed}).json["component"]
    assert part["label"] == "Odd" and part["heat_w"] == 3 and part["shape"] == out["found"]["shape"]
    kept = call.post("/api/library/own", {"component": part}).json
    assert kept["overviews"][0]["own"] and kept["components"][0]["label"] == "Odd"
    # turned by hand, the picture and the mesh go along
    tipped = call.post(f"/api/jobs/{out['id']}/turn", {"about": "x"}).json["result"]
    x, y, z = out["found"]["size_mm"]
    assert tipped["found"]["size_mm"] == pytest.approx([x, z, y])
    assert len(call.get(f"/api/shapes/{tipped['found']['shape']}").data) == 12 * 36
    assert call.post(f"/api/jobs/{out['id']}/turn", {"about": "up"}).status_code == 422
    # all designs can use it; a design that has it keeps its copy
    place = {"id": "odd", "component": part["key"], "name": "Odd", "at_mm": [20, 20, 6]}
    version = call.get(at).json["version"]
    edit = {"do": "add", "placement": place, "custom": part}
    assert call.post(f"{at}/edits", {"base_version": version, "edits": [edit]}).status_code == 200
    gone = call.client.delete(f"/api/library/own/{part['key']}", base_url=f"http://{HOST}")
    assert gone.status_code == 200 and not any(o["own"] for o in gone.json["overviews"])
    assert any(t["id"] == "odd" for t in call.get(at).json["view"]["things"])
    assert call.client.delete(f"/api/library/own/{part['key']}", base_url=f"http://{HOST}").status_code == 404


def test_a_step_board_is_read_in_a_process_of_its_own(call: Calls) -> None:
    b = random_board(3)
    out = read(call, "made up.step", b.data)
    assert out["state"] == "done", out["message"]
    assert out["found"]["size_mm"] == pytest.approx(b.size, abs=0.01) and len(out["found"]["holes"]) == 4
    assert len(out["proposal"]["holes"]) == 4


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("x.stl", CUBE[:90], "cut short"),
        ("x.exe", CUBE, "not a kind that is read"),
        ("x.step", b"solid", "STEP"),
        ("x.emp", b"x", "library"),
    ],
)
def test_a_wrong_file_is_refused_with_what_to_do(call: Calls, name: str, data: bytes, said: str) -> None:
    out = read(call, name, data)
    assert out["state"] == "failed" and said in out["message"] and out["do"] and out["found"] is None


def test_a_unit_that_is_none_is_refused(call: Calls) -> None:
    r = call.client.post(
        "/api/jobs/read", data={"file": (io.BytesIO(CUBE), "a.stl"), "unit": "yd"}, base_url=f"http://{HOST}"
    )
    assert r.status_code == 422
    assert sorted(read(call, "a.stl", CUBE, unit="in")["found"]["size_mm"]) == pytest.approx([254, 508, 762])


def test_reading_can_be_stopped_and_forgotten_jobs_are_said(call: Calls) -> None:
    form = {"file": (io.BytesIO(random_board(4).data), "b.step")}
    out = call.client.post("/api/jobs/read", data=form, base_url=f"http://{HOST}").json
    assert call.post(f"/api/jobs/{out['id']}/stop").json["state"] in ("stopped", "done")
    assert call.get(f"/api/jobs/{'0' * 12}").status_code == 404
    empty = {"label": "x", "holes": [], "ports": [], "left_out": []}
    assert call.post("/api/library/confirm", {"job": "0" * 12, "confirmed": empty}).status_code == 404
    assert call.get(f"/api/shapes/{'0' * 32}").status_code == 404


def test_parts_go_out_and_come_in_again(call: Calls) -> None:
    r = call.get("/api/library/sbc-85x56/json")
    assert "attachment" in r.headers["Content-Disposition"]
    back = call.upload("/api/library/file", "p.json", r.data).json["component"]
    assert back["key"].startswith("own-") and back["label"] == library()["sbc-85x56"].label
    # what is in the library of the workshop already, just so, is told
    assert call.upload("/api/library/file", "p.json", r.data).json["twin"] == ""
    call.post("/api/library/own", {"component": back | {"key": "own-twin"}})
    assert call.upload("/api/library/file", "p.json", r.data).json["twin"] == back["label"]
    assert call.upload("/api/library/file", "p.json", b"{}").status_code == 422
    assert call.get("/api/library/sbc-85x56/step").data.startswith(b"ISO-10303-21")
    assert call.get("/api/library/nothing/json").status_code == 404


def test_the_caliper_types_and_the_notebook_brings_it_together(call: Calls, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        caliper, "_draw", Random(3)
    )  # its hand trembles: now and then a hole reads as the next smaller thread's
    book = call.get("/api/devices/caliper/board").json["notebook"]
    todo = [("edges", ["left", "right"], "x"), ("edges", ["front", "back"], "y")]
    for h in "ABCD":
        todo += [("diameter", [h], "x"), ("outside", ["left", h], "x"), ("inside", [h, "right"], "x")]
        todo += [("outside", ["front", h], "y"), ("inside", [h, "back"], "y")]
    book["readings"] = []
    for k, (how, of, along) in enumerate(todo):
        typed = call.post("/api/devices/caliper/type", {"how": how, "of": of, "along": along}).json["keys"]
        assert typed.endswith("\n")
        book["readings"].append({"id": str(k), "how": how, "of": of, "along": along, "value": typed.strip()})
    solved = call.post("/api/notebook", {"notebook": book}).json
    at = {p["name"]: p for p in solved["features"]}
    assert at["B"]["x_mm"] == pytest.approx(61.49, abs=0.15) and at["right"]["x_mm"] == pytest.approx(85.13, abs=0.15)
    part = call.post("/api/notebook/component", {"notebook": book}).json["component"]
    assert [m["thread"] for m in part["mounts"]] == ["M2_5"] * 4
    inches = call.post("/api/devices/caliper/type", {"how": "edges", "of": ["left", "right"], "unit": "in"}).json[
        "keys"
    ]
    assert float(inches) == pytest.approx(85.13 / 25.4, abs=0.01)
    assert call.post("/api/devices/caliper/type", {"how": "edges", "of": ["left", "moon"]}).status_code == 422
    book["readings"][0]["value"] = "wide"
    wrong = call.post("/api/notebook", {"notebook": book})
    assert wrong.status_code == 422 and "readings.0" in wrong.json["error"]["field"]


def test_power_and_stack_of_a_design(call: Calls, at: str) -> None:
    b = call.get(f"{at}/power").json
    assert b["sources"][0]["kind"] == "adapter" and b["components"]["peak"] == pytest.approx(17.3)
    shield = {"id": "shield", "component": "shield-drive", "name": "Shield", "at_mm": [0, 0, 0]}
    edit = {"do": "stack-under", "id": "board", "placement": shield, "stand": {"standoff_mm": 12}}
    version = call.get(at).json["version"]
    view = call.post(f"{at}/edits", {"base_version": version, "edits": [edit]}).json["view"]
    board = next(t for t in view["things"] if t["id"] == "board")
    assert board["stand"]["standoff_mm"] == 12 and board["height_sure"]["value"] > 0.2
    assert call.get(f"{at}/power").json["components"]["peak"] == pytest.approx(23.3)
