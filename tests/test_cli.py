"""The command line as a contract: what it prints, what it writes, how it ends."""

from __future__ import annotations

import json
import signal
import subprocess
import sys
from pathlib import Path
from urllib.request import Request, urlopen

import pytest
from typer.testing import CliRunner

from rhombex.cli import app
from rhombex.core.apply import apply
from rhombex.core.design import Adapter, Design, OwnJoint, read_design
from rhombex.core.edits import PutAdapter, PutJoint, Set
from rhombex.core.exchange.design_json import design_json
from rhombex.demo.scenario import heron_sliding

from .core.test_files_in import EMN, EMP
from .step_boards import random_board

run = CliRunner()
KEPT = Path(__file__).parent / "kept"


@pytest.fixture
def file(tmp_path: Path) -> Path:
    target = tmp_path / "wren.json"
    assert run.invoke(app, ["scenario", "wren", "--out", str(target)]).exit_code == 0
    return target


@pytest.fixture
def clean(tmp_path: Path, good_wren: Design) -> Path:
    target = tmp_path / "good.json"
    target.write_text(design_json(good_wren))
    return target


def test_check_reports_concerns_tally_and_parts(file: Path) -> None:
    r = run.invoke(app, ["check", str(file), "--json"])
    assert r.exit_code == 1
    found = json.loads(r.stdout)
    for c in found["concerns"]:
        assert {"code", "severity", "measured", "limit", "unit", "subjects", "remedies"} <= set(c)
        for remedy in c["remedies"]:
            assert remedy["edits"] and "effect" not in remedy
    assert {"mass_g", "time_h", "pieces", "wall_c"} <= set(found["tally"])
    for p in found["parts"]:
        assert {"name", "bbox_mm", "volume_mm3", "watertight", "fits_bed", "pieces", "mass_g", "time_s"} <= set(p)
        assert p["watertight"] and p["fits_bed"]


def test_remedies_are_tried_where_that_is_asked(file: Path) -> None:
    for c in json.loads(run.invoke(app, ["check", str(file), "--json", "--try"]).stdout)["concerns"]:
        for remedy in c["remedies"]:
            assert {"clears", "gone", "new", "tally", "refused"} == set(remedy["effect"])
    said = run.invoke(app, ["check", str(file), "--try"]).stdout
    assert "- Move Button 23.7 mm right: resolves it" in said
    plain = run.invoke(app, ["check", str(file)]).stdout
    assert "- Move Button 23.7 mm right\n" in plain and "resolves" not in plain


def test_a_clean_design_ends_with_0(clean: Path) -> None:
    r = run.invoke(app, ["check", str(clean)])
    assert r.exit_code == 0 and "advice" in r.stdout


def test_a_remedys_edits_can_be_applied_from_a_file(file: Path, tmp_path: Path) -> None:
    found = json.loads(run.invoke(app, ["check", str(file), "--json"]).stdout)
    first = found["concerns"][0]
    edit, out = tmp_path / "edit.json", tmp_path / "next.json"
    edit.write_text(json.dumps(first["remedies"][0]["edits"]))
    assert run.invoke(app, ["apply", str(file), "--edit", str(edit), "--out", str(out)]).exit_code == 0
    after = json.loads(run.invoke(app, ["check", str(out), "--json"]).stdout)
    assert first["key"] not in {c["key"] for c in after["concerns"]}


def test_export_writes_the_files_it_is_asked_for(clean: Path, tmp_path: Path) -> None:
    out = tmp_path / "files"
    r = run.invoke(app, ["export", str(clean), "--out", str(out), "--formats", "3mf,stl"])
    assert r.exit_code == 0
    assert {p.name for p in out.iterdir()} == {
        "base.3mf",
        "lid.3mf",
        "plate-1.3mf",
        "plate-2.3mf",
        "set.3mf",
        "base.stl",
        "lid.stl",
        "bill-of-materials.csv",
        "design.json",
    }
    assert (out / "design.json").read_bytes() == clean.read_bytes()


def test_only_what_is_wanted_is_exported(clean: Path, tmp_path: Path) -> None:
    """The files of one piece are byte for byte those of the whole export, and nothing of the whole case is among them."""
    out, whole = tmp_path / "lid", tmp_path / "whole"
    formats = ["--formats", "3mf,stl,glb,drawings"]
    r = run.invoke(app, ["export", str(clean), "--out", str(out), "--only", "lid", *formats])
    assert r.exit_code == 0, r.output
    assert {p.name for p in out.iterdir()} == {"lid.3mf", "lid.stl", "lid.svg"}
    run.invoke(app, ["export", str(clean), "--out", str(whole), *formats])
    assert all((out / n).read_bytes() == (whole / n).read_bytes() for n in ("lid.stl", "lid.svg"))
    bad = run.invoke(app, ["export", str(clean), "--out", str(tmp_path / "none"), "--only", "roof"])
    assert bad.exit_code == 2 and "no piece 'roof'" in bad.stderr and "base, lid" in bad.stderr
    assert not (tmp_path / "none").exists()


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "not whole JSON"),
        ("[]", "not a Rhombex design"),
        ('{"schema_version": 99, "name": "x"}', "newer Rhombex"),
        ("[" * 100_000, "not whole JSON"),
        ("\x00\xff", "not whole JSON"),
        ('{"name": "x", "shell": {"inner_mm": [1, 1, 1], "joint_mm": "a"}}', "shell"),
    ],
)
def test_bad_files_end_with_2_and_a_clear_line(tmp_path: Path, text: str, said: str) -> None:
    bad = tmp_path / "bad.json"
    bad.write_bytes(text.encode("latin-1"))
    for args in (["check", str(bad)], ["export", str(bad), "--out", str(tmp_path / "o")]):
        r = run.invoke(app, args)
        assert r.exit_code == 2
        assert said in r.stderr
        assert "Traceback" not in r.output


def test_missing_files_and_names(tmp_path: Path, file: Path) -> None:
    assert run.invoke(app, ["check", str(tmp_path / "none.json")]).exit_code == 2
    assert run.invoke(app, ["scenario", "swan", "--out", str(tmp_path / "x")]).exit_code == 2
    assert run.invoke(app, ["export", str(file), "--out", str(tmp_path), "--formats", "dwg"]).exit_code == 2
    unknown = json.loads(file.read_text()) | {"printer": "elsewhere"}
    (tmp_path / "u.json").write_text(json.dumps(unknown))
    r = run.invoke(app, ["check", str(tmp_path / "u.json")])
    assert r.exit_code == 1 and "The printer “Elsewhere” is not in this workshop" in r.stdout


def test_an_edit_that_is_refused_writes_nothing(file: Path, tmp_path: Path) -> None:
    edit, out = tmp_path / "edit.json", tmp_path / "next.json"
    edit.write_text('{"do": "set", "path": "shell.wall_mm", "value": 99}')
    out.write_text("what was there")
    r = run.invoke(app, ["apply", str(file), "--edit", str(edit), "--out", str(out)])
    assert r.exit_code == 2 and "shell.wall_mm" in r.stderr
    assert out.read_text() == "what was there"


def test_a_full_disk_leaves_what_was_there(file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    out = tmp_path / "next.json"
    out.write_text("what was there")

    def full(_fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    r = run.invoke(app, ["scenario", "wren", "--out", str(out)])
    assert r.exit_code == 2 and "No space left" in r.stderr
    assert out.read_text() == "what was there"
    assert [p.name for p in tmp_path.glob(".*part")] == []


EXAMPLES = Path(__file__).parents[1] / "docs/examples"


def test_estimate_of_a_mesh_with_example_printer_and_process(clean: Path, tmp_path: Path) -> None:
    out = tmp_path / "files"
    run.invoke(app, ["export", str(clean), "--out", str(out), "--formats", "stl,3mf"])
    args = ["--printer", str(EXAMPLES / "printer-bench-300.json"), "--process", str(EXAMPLES / "process-coarse.json")]
    found = {}
    for level in ("preview", "settled", "exact"):
        r = run.invoke(app, ["estimate", str(out / "lid.stl"), *args, "--level", level, "--json"])
        assert r.exit_code == 0, r.output
        found[level] = json.loads(r.stdout)["parts"][0]
        part = found[level]
        assert part["time_low_s"] < part["time_s"] < part["time_high_s"]
        assert {"mass_g", "filament_m", "support_g", "purge_g", "by_feature", "layers"} <= set(part)
    assert found["settled"]["time_s"] == pytest.approx(found["exact"]["time_s"], rel=0.03)
    assert found["settled"]["mass_g"] == pytest.approx(found["exact"]["mass_g"], rel=0.015)
    again = json.loads(run.invoke(app, ["estimate", str(out / "lid.3mf"), *args, "--json"]).stdout)["parts"][0]
    assert again["mass_g"] == pytest.approx(found["settled"]["mass_g"], rel=1e-3)


def test_estimate_of_a_design_is_its_own_plan(clean: Path) -> None:
    checked = json.loads(run.invoke(app, ["check", str(clean), "--json"]).stdout)
    found = json.loads(run.invoke(app, ["estimate", str(clean), "--json"]).stdout)
    assert found["total"]["mass_g"] == pytest.approx(checked["tally"]["mass_g"]["value"], abs=0.01)
    assert "outer perimeter" in run.invoke(app, ["estimate", str(clean)]).stdout


@pytest.mark.parametrize("file", sorted(EXAMPLES.glob("*.json")), ids=lambda p: p.stem)
def test_examples_are_whole(file: Path) -> None:
    from rhombex.core.design import read_process
    from rhombex.core.parts.notebook import read_notebook
    from rhombex.core.workshop.printer import read_printer

    readers = {"printer": read_printer, "process": read_process, "readings": read_notebook}
    readers[file.stem.split("-")[0]](json.loads(file.read_text()))


def test_gcode_on_the_command_line(tmp_path: Path) -> None:
    file = tmp_path / "a.gcode"
    file.write_text("G90\nM83\nG1 X10 Y10 F3000\nG1 X60 E2\n")
    r = run.invoke(app, ["gcode", str(file), "--printer", str(EXAMPLES / "printer-bench-220.json"), "--json"])
    assert r.exit_code == 0 and json.loads(r.stdout)["filament_m"] == pytest.approx(0.002)
    file.write_text("G90\nG1 X10 Y10 F3000\nG33\n")
    r = run.invoke(app, ["gcode", str(file)])
    assert r.exit_code == 2 and "line 3" in r.stderr and "G33" in r.stderr


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.stl", b"solid x\nendsolid", "triangles"),
        ("a.stl", b"", "not a whole STL"),
        ("a.3mf", b"PK\x03\x04", "cannot be opened"),
        ("a.stl", b"\0" * 80 + b"\xff\xff\xff\x7f" + b"\0" * 50, "cut short"),
    ],
)
def test_estimates_of_bad_meshes_end_with_2(tmp_path: Path, name: str, data: bytes, said: str) -> None:
    bad = tmp_path / name
    bad.write_bytes(data)
    r = run.invoke(app, ["estimate", str(bad)])
    assert r.exit_code == 2 and said in r.stderr and "Traceback" not in r.output


def test_bad_printers_processes_and_levels_are_named(clean: Path, tmp_path: Path) -> None:
    bad = tmp_path / "q.json"
    bad.write_text('{"layer_mm": 0}')
    r = run.invoke(app, ["estimate", str(clean), "--process", str(bad)])
    assert r.exit_code == 2 and "process.layer_mm" in r.stderr
    bad.write_text('{"key": "x", "name": "X", "bed_mm": [1, 2], "nozzle_mm": 0.4, "enclosed": false}')
    r = run.invoke(app, ["estimate", str(clean), "--printer", str(bad)])
    assert r.exit_code == 2 and "printer.bed_mm" in r.stderr
    assert run.invoke(app, ["estimate", str(clean), "--level", "best"]).exit_code == 2
    assert run.invoke(app, ["estimate", str(tmp_path / "none.stl")]).exit_code == 2


# components


def test_a_board_is_read_on_the_command_line(tmp_path: Path) -> None:
    b = random_board(2)
    file = tmp_path / "made up.step"
    file.write_bytes(b.data)
    r = run.invoke(app, ["component", "read", str(file), "--json"])
    assert r.exit_code == 0, r.stderr
    found = json.loads(r.stdout)
    assert found["kind"] == "board" and found["size_mm"] == pytest.approx(b.size, abs=0.01)
    assert found["slab"]["thickness_mm"] == pytest.approx(b.size[2], abs=0.01) and found["up"]
    assert len(found["holes"]) == 4 and all(h["diameter_mm"] > 2 for h in found["holes"])
    over = sorted(c["overhang_mm"] for c in found["connectors"])
    assert over == pytest.approx(sorted(b.overhangs.values()), abs=0.01)
    heights = [c["box_mm"]["hi"][2] for c in found["tall"]]
    assert heights == sorted(heights, reverse=True)
    assert "over the" in run.invoke(app, ["component", "read", str(file)]).stdout
    # the name of before goes on
    assert json.loads(run.invoke(app, ["part", "read", str(file), "--json"]).stdout) == found


def test_a_library_beside_its_board_is_found(tmp_path: Path) -> None:
    (tmp_path / "b.emn").write_text(EMN)
    (tmp_path / "b.emp").write_text(EMP)
    found = json.loads(run.invoke(app, ["component", "read", str(tmp_path / "b.emn"), "--json"]).stdout)
    assert len(found["tall"]) == 2


@pytest.mark.parametrize(
    ("name", "data", "extra", "said"),
    [
        ("x.step", b"ISO-10303-21;\nDATA;\n#1=", [], "STEP"),
        ("x.txt", b"hello", [], "not a kind that is read"),
        ("x.stl", b"solid", ["--unit", "ell"], "'ell' is not known"),
        ("x.dxf", b"0", [], "DXF"),
    ],
)
def test_a_part_file_that_is_none_ends_with_2(
    tmp_path: Path, name: str, data: bytes, extra: list[str], said: str
) -> None:
    (tmp_path / name).write_bytes(data)
    r = run.invoke(app, ["component", "read", str(tmp_path / name), *extra])
    assert r.exit_code == 2 and said in r.stderr
    assert run.invoke(app, ["component", "read", str(tmp_path / "none.step")]).exit_code == 2


def test_readings_on_the_command_line(tmp_path: Path) -> None:
    r = run.invoke(app, ["measure", str(EXAMPLES / "readings.json"), "--json"])
    found = json.loads(r.stdout)
    assert r.exit_code == 1 and found["suspects"] == ["21"] and found["next"]["of"]
    assert "contradicts" in run.invoke(app, ["measure", str(EXAMPLES / "readings.json")]).stdout
    good = json.loads((EXAMPLES / "readings.json").read_text())
    good["readings"] = [x for x in good["readings"] if x["id"] != "21"]
    file = tmp_path / "r.json"
    file.write_text(json.dumps(good))
    assert run.invoke(app, ["measure", str(file)]).exit_code == 0
    good["readings"][0]["value"] = "broad"
    file.write_text(json.dumps(good))
    r = run.invoke(app, ["measure", str(file)])
    assert r.exit_code == 2 and "readings.1.value" in r.stderr


def test_power_on_the_command_line(tmp_path: Path, good_wren: Design) -> None:
    file = tmp_path / "d.json"
    file.write_text(design_json(good_wren))
    r = run.invoke(app, ["power", str(file), "--json"])
    found = json.loads(r.stdout)
    assert r.exit_code == 0 and found["components"]["peak"] == pytest.approx(17.3) and found["concerns"] == []
    small = apply(good_wren, PutAdapter(adapter=Adapter(port="board/power", rail="5 V", watts=10)))
    file.write_text(design_json(small))
    r = run.invoke(app, ["power", str(file)])
    assert r.exit_code == 1 and "too small" in r.stdout


def test_hardware_on_the_command_line(clean: Path, tmp_path: Path) -> None:
    r = run.invoke(app, ["hardware", str(clean), "--json"])
    found = json.loads(r.stdout)
    assert r.exit_code == 0 and found["concerns"] == []
    assert [x["joint"]["key"] for x in found["rows"]] == ["case/lid", "posts/board", "posts/drive", "face/fan"]
    assert found["fewest"]["proven"] and [k["words"] for k in found["fewest"]["least"]] == [
        "M2.5 x 5",
        "M3 x 8",
        "M3 x 16",
    ]
    assert {x["item"] for x in found["shopping"]["lines"]} >= {"nut", "heat-set insert", "foot, stick-on"}
    said = run.invoke(app, ["hardware", str(clean)]).stdout
    assert "kinds of screws: 3 now, least 3 (proven)" in said and "to buy: " in said
    # what the drawer has is not bought
    shop = json.loads((KEPT / "workshop-4.json").read_text()) | {"stock": [{"item": "nut", "size": "M3", "count": 4}]}
    file = tmp_path / "shop.json"
    file.write_text(json.dumps(shop))
    less = json.loads(run.invoke(app, ["hardware", str(clean), "--json", "--workshop", str(file)]).stdout)["shopping"]
    assert less["money"] == pytest.approx(found["shopping"]["money"] - 2.5)
    # a screw that is too long ends with 1
    long = apply(read_design(json.loads(clean.read_text())), PutJoint(joint=OwnJoint(of="face/fan", screw_mm=40)))
    file.write_text(design_json(long))
    r = run.invoke(app, ["hardware", str(file)])
    assert r.exit_code == 1 and "The screws of Fan are too long by 19.1 mm" in r.stdout


def test_cuts_on_the_command_line(clean: Path, tmp_path: Path) -> None:
    r = run.invoke(app, ["cuts", str(clean)])
    assert r.exit_code == 0 and "base: 171.4 x 143.8 x 29.8 mm, 1 piece" in r.stdout
    small = apply(read_design(json.loads(clean.read_text())), Set(path="printer", value="bench-180"))
    file = tmp_path / "d.json"
    file.write_text(design_json(small))
    parts = json.loads(run.invoke(app, ["cuts", str(file), "--json"]).stdout)["parts"]
    assert {p["part"]: len(p["pieces"]) for p in parts} == {"base": 2, "lid": 2}
    assert all(c["dowels"] for p in parts for c in p["cuts"])
    for p in parts:  # every place has its price or why not, every seam what bends it
        assert all(x["price"] is not None or x["why"] for w in p["ways"] for x in w["prices"])
        assert len(p["seams"]) == len(p["cuts"]) and all(x["holds"]["load_nm"]["value"] >= 0 for x in p["seams"])
        assert all(len(x["choice"]["ways"]) == 12 for x in p["seams"])
    said = run.invoke(app, ["cuts", str(file)]).stdout
    assert "proposed: bolts. 2.1 N m bend the seam and glue bears 0.8 at least" in said
    assert "proposed: filament pins. Glue bears what bends it" in said
    said = run.invoke(app, ["cuts", str(file), "--together"]).stdout
    assert said.startswith("no other order of the parts is cheaper: 4 pieces, price 0.") and "2 looked at" in said


def test_parts_are_planned_together_on_the_command_line(tmp_path: Path) -> None:
    file = tmp_path / "h.json"
    file.write_text(design_json(apply(heron_sliding(), Set(path="printer", value="bench-180"))))
    order = json.loads(run.invoke(app, ["cuts", str(file), "--together", "--json"]).stdout)["order"]
    assert order["proven"] and order["edits"][0]["parts"] == order["best"] and len(order["best"]) == 4
    said = run.invoke(app, ["cuts", str(file), "--together"]).stdout.splitlines()[0]
    assert said == f"cheaper cut in this order: {', '.join(order['best'])}: 21 pieces, price 1.91 instead of 21, 2.24"


def test_constructions_on_the_command_line(clean: Path, tmp_path: Path) -> None:
    r = run.invoke(app, ["constructions", str(clean), "--json"])
    assert r.exit_code == 0
    rows = json.loads(r.stdout)["constructions"]
    assert {x["kind"] for x in rows} >= {"two halves", "tray in a sleeve", "sliding panels", "open bench"}
    assert [x["kind"] for x in rows if x["now"]] == ["two halves"] and sum(x["recommended"] for x in rows) == 1
    for x in rows:
        assert {"suits", "why", "litres", "pieces", "mass_g", "time_h", "money", "screws", "bend_mm", "edits"} <= set(x)
    said = run.invoke(app, ["constructions", str(clean)]).stdout
    assert "Does not suit" in said and "Recommended: " in said

    out = tmp_path / "tray.json"
    assert run.invoke(app, ["construct", str(clean), "--as", "tray in a sleeve", "--out", str(out)]).exit_code == 0
    assert json.loads(out.read_text())["shell"]["construction"]["kind"] == "tray in a sleeve"
    rows = json.loads(run.invoke(app, ["compare", str(clean), str(out), "--json"]).stdout)["differences"]
    assert {"of": "case", "what": "construction", "here": "two halves", "there": "tray in a sleeve"} in rows
    assert (
        "case       construction: two halves -> tray in a sleeve"
        in run.invoke(app, ["compare", str(clean), str(out)]).stdout
    )
    found = json.loads(run.invoke(app, ["check", str(out), "--json"]).stdout)
    assert [p["name"] for p in found["parts"]] == ["tray", "sleeve"] and all(p["watertight"] for p in found["parts"])
    before = out.read_bytes()
    r = run.invoke(app, ["construct", str(clean), "--as", "egg", "--out", str(out)])
    assert r.exit_code == 2 and "no construction 'egg'" in r.stderr and "core and wrap" in r.stderr
    assert out.read_bytes() == before


def test_a_server_that_is_stopped_says_no_more_than_where_it_was(tmp_path: Path) -> None:
    """The mesh kernel counts what it held as a process ends; that is no use to anybody."""
    # a suite that was started in the background passes on that interrupts are not listened to
    listen = (
        "import signal; signal.signal(signal.SIGINT, signal.default_int_handler); from rhombex.cli import app; app()"
    )
    args = [sys.executable, "-c", listen, "serve", "--demo", "--port", "0", "--data", str(tmp_path)]
    with subprocess.Popen(args, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as server:
        assert server.stdout is not None
        line = server.stdout.readline()
        address = line.split()[3]
        with urlopen(f"{address}api/designs", timeout=60) as listed:
            id = json.load(listed)["designs"][0]["id"]
        ask = {"ask": {"kind": "constructions", "design": id}}
        head = {"Content-Type": "application/json"}
        with urlopen(Request(f"{address}api/jobs", json.dumps(ask).encode(), head), timeout=60) as begun:
            assert json.load(begun)["state"] in ("waiting", "running")
        server.send_signal(signal.SIGINT)
        try:
            said, trouble = server.communicate(timeout=60)
        finally:
            server.kill()
    assert (server.returncode, said, trouble) == (0, "", "")
