"""Parts: the drawer, the notebook and a STEP board, each beside a plain alternative in the same run."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from manifold3d import Manifold as M
from manifold3d import OpType
from OCP.IFSelect import IFSelect_RetDone
from OCP.STEPControl import STEPControl_Reader
from scipy.optimize import least_squares
from scipy.spatial import ConvexHull

from rhombex.core.exchange.read_step import recognise_step
from rhombex.core.parts import drawer
from rhombex.core.parts.convex import convex_cells
from rhombex.core.parts.notebook import Notebook, solve, true_reading
from rhombex.core.parts.overview import overview
from tests.core.test_notebook import notebook
from tests.step_boards import random_board


@pytest.mark.benchmark(group="the whole drawer, with a glance at each part")
def test_drawer_at_hand(benchmark: Any) -> None:
    benchmark(lambda: [overview(c, False).model_dump_json() + c.model_dump_json() for c in drawer().values()])


@pytest.mark.benchmark(group="the whole drawer, with a glance at each part")
def test_drawer_from_its_tables(benchmark: Any) -> None:
    def anew() -> int:
        drawer.cache_clear()
        return len(drawer())

    assert benchmark(anew) > 80


def by_scipy(book: Notebook) -> Any:
    """The same places by a general solver: the plain alternative."""
    by_name = {f.name: f for f in book.features}
    names = [("right", "x"), ("back", "y"), *((h, c) for h in "ABCD" for c in "xyd")]

    def left(v: Any) -> Any:
        at: dict[str, dict[str, float]] = {"left": {"x": 0.0}, "front": {"y": 0.0}}
        for (n, c), x in zip(names, v, strict=True):
            at.setdefault(n, {})[c] = float(x)
        return np.array(
            [
                (float(r.value) - true_reading(r.how, r.of, r.along, at, by_name)) / ((r.sure_mm or 0.05) / 2)  # type: ignore[arg-type]
                for r in book.readings
            ]
        )

    return least_squares(left, np.array([80.0, 60.0, *(40.0, 30.0, 3.0) * 4]))


@pytest.mark.benchmark(group="a notebook of 38 readings")
def test_notebook(benchmark: Any) -> None:
    book = notebook(1, wrong=True)[0]
    assert benchmark(lambda: solve(book)).features


@pytest.mark.benchmark(group="a notebook of 38 readings")
def test_notebook_by_a_general_solver(benchmark: Any) -> None:
    book = notebook(1, wrong=True)[0]
    benchmark(lambda: by_scipy(book))


@pytest.mark.benchmark(group="a STEP board of 30 solids")
def test_step_recognised(benchmark: Any) -> None:
    data = random_board(1).data
    assert benchmark.pedantic(lambda: recognise_step(data), rounds=3).holes


@pytest.mark.benchmark(group="a STEP board of 30 solids")
def test_step_only_read(benchmark: Any) -> None:
    data = random_board(1).data

    def read() -> int:
        with tempfile.TemporaryDirectory() as room:
            path = Path(room) / "b.step"
            path.write_bytes(data)
            reader = STEPControl_Reader()
            assert reader.ReadFile(str(path)) == IFSelect_RetDone
            return int(reader.TransferRoots())

    assert benchmark.pedantic(read, rounds=3) > 0


def cooler() -> np.ndarray:
    fins = [M.cube((2, 60, 25)).translate((i * 6.4, 0, 5)) for i in range(10)]
    mesh = M.batch_boolean([M.cube((60, 60, 5)), *fins, M.cylinder(14, 18, 18, 48).translate((30, 30, 30))], OpType.Add)
    out = mesh.to_mesh()
    return np.asarray(out.vert_properties, dtype=float)[:, :3][np.asarray(out.tri_verts)]


@pytest.mark.benchmark(group="a cooler of fins as convex cells")
def test_convex_parts(benchmark: Any) -> None:
    assert len(benchmark(lambda: convex_cells(cooler()))[0]) == 12


@pytest.mark.benchmark(group="a cooler of fins as convex cells")
def test_one_hull(benchmark: Any) -> None:
    """The plain alternative: one hull, which fills the fins and calls the cooler twice its size."""
    benchmark(lambda: ConvexHull(cooler().reshape(-1, 3)))
