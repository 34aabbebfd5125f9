"""The package as it is handed out: whole, and working without what only developers install."""

from __future__ import annotations

import shutil
import subprocess
import sys
import zipfile
from importlib import metadata
from pathlib import Path

import pytest
from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

ROOT = Path(__file__).parents[1]


def closure(extra: str = "") -> set[str]:
    """The distributions that Rhombex needs to run, and all that these need."""
    found: set[str] = set()
    left = [("rhombex", extra)]
    while left:
        name, wanted = left.pop()
        if name in found and not wanted:
            continue
        found.add(name)
        try:
            needs = metadata.requires(name) or []
        except metadata.PackageNotFoundError:
            continue
        for line in needs:
            r = Requirement(line)
            if r.marker is None or any(r.marker.evaluate({"extra": e}) for e in {"", wanted}):
                left += [(canonicalize_name(r.name), "")] + [(canonicalize_name(r.name), e) for e in r.extras]
    return found


def modules_of_others() -> set[str]:
    """Top-level modules that only developers have."""
    ours = closure()
    by_module = metadata.packages_distributions()
    return {m for m, names in by_module.items() if not {canonicalize_name(n) for n in names} & ours}


WITHOUT = """
import sys
blocked = set(sys.argv[1].split(","))
class Wall:
    def find_spec(self, name, path=None, target=None):
        if name.split(".")[0] in blocked:
            raise ModuleNotFoundError(f"No module named {name!r} without the extras for developers")
sys.meta_path.insert(0, Wall())
import importlib, io, pkgutil, rhombex
for m in pkgutil.walk_packages(rhombex.__path__, "rhombex."):
    if "migrations" not in m.name:
        importlib.import_module(m.name)
from pathlib import Path
from rhombex.core.analysis import analyse
from rhombex.core.design import Design, read_design
from rhombex.core.exchange.formats import FORMATS
from rhombex.core.exchange.gcode import read_gcode
from rhombex.core.exchange.package import package
from rhombex.core.exchange.recognise import recognise
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
import json
shell = {"inner_mm": [60, 50, 30], "construction": {"kind": "two halves", "joint_mm": 15}}
small = Design.model_validate({"name": "Small", "shell": shell, "process": {}})  # files of a large case take their time
found = analyse(small, ARCHIVE_WORKSHOP, "preview")
assert found.pieces
files = package(found, FORMATS)
assert {"base.3mf", "lid.stl", "base.step", "set.3mf", "bill-of-materials.csv"} <= set(files)
assert read_design(json.loads(files["design.json"])) == small
for name in ("base.step", "base.stl", "base.3mf"):
    found, _ = recognise(files[name], name, "mm" if name.endswith("stl") else None)
    assert found.found and max(found.size_mm) > 60, name
obj = b"v 0 0 0\\nv 20 0 0\\nv 0 20 0\\nv 0 0 20\\nf 1 3 2\\nf 1 2 4\\nf 2 3 4\\nf 3 1 4\\n"
assert recognise(obj, "corner.obj", "mm")[0].found
import ezdxf
drawing = ezdxf.new(units=4)
space = drawing.modelspace()
space.add_lwpolyline([(0, 0), (80, 0), (80, 50), (0, 50)], close=True)
for x, y in ((4, 4), (76, 4), (4, 46), (76, 46)):
    space.add_circle((x, y), 1.35)
out = io.StringIO()
drawing.write(out)
assert recognise(out.getvalue().encode(), "board.dxf")[0].holes
gcode = io.BytesIO(b"G28\\nG1 X10 Y10 F3000\\nG1 X50 E2 F1200\\n")
assert read_gcode(gcode, ARCHIVE_WORKSHOP.printers[0]).time_s > 0
print("works")
"""


def test_it_works_without_what_only_developers_install() -> None:
    blocked = modules_of_others()
    assert {"trimesh", "hypothesis", "build123d", "playwright"} & blocked, "developers have more than users"
    assert not {"shapely", "ezdxf", "OCP", "numpy"} & blocked
    r = subprocess.run(
        [sys.executable, "-c", WITHOUT, ",".join(sorted(blocked))],
        capture_output=True,
        text=True,
        timeout=300,
        check=False,
    )
    assert r.stdout.strip().endswith("works"), r.stderr[-2000:]


def test_the_wheel_holds_tables_migrations_and_the_front_end(tmp_path: Path) -> None:
    tree = tmp_path / "tree"
    shutil.copytree(ROOT / "src", tree / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copy(ROOT / "pyproject.toml", tree)
    r = subprocess.run(
        [sys.executable, "-m", "pip", "wheel", "--no-deps", "--no-build-isolation", "--quiet", "-w", str(tmp_path), str(tree)],
        capture_output=True, text=True, timeout=300, check=False,
    )  # fmt: skip
    assert r.returncode == 0, r.stderr[-2000:]
    names = set(zipfile.ZipFile(next(tmp_path.glob("*.whl"))).namelist())
    source = ROOT / "src"
    for pattern in ("core/reference/*.toml", "core/parts/library/**/*.toml", "store/migrations/**/*.py"):
        for f in (source / "rhombex").glob(pattern):
            assert str(f.relative_to(source)) in names
    assert any(n.endswith("web/static/index.html") for n in names)


@pytest.mark.parametrize("line", [x for x in (ROOT / "requirements.lock").read_text().splitlines() if "==" in x])
def test_no_release_in_the_lock_is_a_pre_release(line: str) -> None:
    from packaging.version import Version

    assert not Version(line.split("==")[1].split(maxsplit=1)[0]).is_prerelease, line


@pytest.mark.xdist_group("together")
def test_what_shares_its_work_goes_to_one_worker(request: pytest.FixtureRequest) -> None:
    """The distributor reads a test's group from its id: a pytest that builds ids another way shares nothing, and says nothing."""
    if not hasattr(request.config, "workerinput"):
        pytest.skip("in one process all is shared")
    assert request.node.nodeid.endswith("@together")
