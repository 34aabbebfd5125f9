"""STEP in: a board or a component, and a component as one thing however many solids it has."""

from __future__ import annotations

import math
import tempfile
from pathlib import Path
from random import Random
from typing import Any

import pytest
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopoDS import TopoDS_Compound

from rhombex.core.exchange.read_step import recognise_step
from rhombex.core.exchange.step_slab import _flats, _largest_mm2
from rhombex.core.geometry.write_step import StepBody, write_step
from rhombex.core.parts.recognised import overhang
from rhombex.core.plain import DesignError
from rhombex.jobs.apart import MOST_SECONDS, SECONDS, seconds_for

from ..examples import examples
from ..step_boards import step_bytes
from ..step_components import BOARDS, BODIES, board, box

pytestmark = pytest.mark.xdist_group("step")
DOUBTFUL = {"driver with a cooler"}  # nothing in it tells a board from a base plate: the user says so


def test_components_and_boards_are_told_apart_without_names() -> None:
    for kind, models in (("body", BODIES), ("board", BOARDS)):
        for name, made in models.items():
            r = recognise_step(step_bytes(made()), "model")
            assert r.kind == kind or name in DOUBTFUL, name


def test_the_user_says_which_it_is() -> None:
    data = step_bytes(BOARDS["driver with a cooler"]())
    assert recognise_step(data, "model").kind == "body"
    told = recognise_step(data, "model", as_kind="board")
    assert told.kind == "board" and told.size_mm == pytest.approx((20.3, 15.2, 1.6), abs=0.01)
    assert recognise_step(step_bytes(BOARDS["bare board"]()), "model", as_kind="body").kind == "body"
    with pytest.raises(DesignError, match="flat as a board"):
        recognise_step(step_bytes(BODIES["capacitor"]()), "model", as_kind="board")


def test_a_name_decides_where_the_shape_does_not() -> None:
    assert (
        recognise_step(
            _named({"pcb": BOARDS["driver with a cooler"]()[:1], "cooler": BOARDS["driver with a cooler"]()[1:2]})
        ).kind
        == "board"
    )
    tab = BODIES["large transistor"]()
    assert recognise_step(_named({"tab": tab[:1], "body": tab[1:]})).kind == "body"


def _compound(shapes: list[Any]) -> Any:
    both, build = TopoDS_Compound(), BRep_Builder()
    build.MakeCompound(both)
    for s in shapes:
        build.Add(both, s)
    return both


def _named(products: dict[str, list[Any]]) -> bytes:
    with tempfile.TemporaryDirectory() as room:
        path = Path(room) / "a.step"
        bodies = [StepBody(n, _compound(s) if len(s) > 1 else s[0], (90, 90, 90)) for n, s in products.items()]
        write_step(bodies, str(path), "thing")
        return path.read_bytes()


def _moved(shapes: list[Any], x: float, y: float, z: float, quarter: int = 0) -> list[Any]:
    turn, shift = gp_Trsf(), gp_Trsf()
    turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), quarter * math.pi / 2)
    shift.SetTranslation(gp_Vec(x, y, z))
    return [BRepBuilderAPI_Transform(s, shift.Multiplied(turn), True).Shape() for s in shapes]


def test_boards_keep_each_connector_as_one_thing_on_its_edge() -> None:
    """Connectors of many solids at random places on three edges; 0.2 mm of centre and width, and the right edge."""
    kinds = {
        "usb-c": ("usb-c receptacle", 8.94),
        "usb-a": ("usb-a receptacle", 13.1),
        "network": ("network jack", 16.5),
    }
    right = wanted = 0
    for seed in range(examples(48)):
        r = Random(seed)
        w, d = r.uniform(75, 110), r.uniform(50, 70)
        products: dict[str, list[Any]] = {"main": [board(w, d, 1.6, 4)]}
        truth: dict[str, tuple[str, float, float]] = {}
        for edge, quarter in (("front", 0), ("right", 1), ("left", 3)):
            kind = r.choice(list(kinds))
            model, wide = kinds[kind]
            room = (w if edge == "front" else d) - wide - 20
            at, over = 10 + r.uniform(0, max(room, 1)), r.uniform(0.5, 2)
            place = {
                "front": (at, -over),
                "right": (w + over, at),
                "left": (-over, at + wide),
            }[edge]
            products[f"J{len(truth)} {kind}"] = _moved(BODIES[model](), *place, 1.6, quarter)
            truth[f"J{len(truth)} {kind}"] = (edge, at + wide / 2, wide)
        for k in range(30):  # many small components
            x, y = 25 + 1.9 * (k % 15), d / 2 + 2.2 * (k // 15)
            products[f"R{k}"] = [box(x, y, 1.6, x + 1, y + 0.5, 2.1)]
        found = recognise_step(_named(products), "board")
        assert found.kind == "board" and found.size_mm[:2] == pytest.approx((w, d), abs=0.02)
        assert len(found.found) <= len(truth) + 6  # small components are drawn together
        for name, (edge, middle, wide) in truth.items():
            wanted += 1
            f = next((f for f in found.found if f.name == name), None)
            if f is None:
                continue
            i = 0 if edge == "front" else 1
            right += (
                f.edge == edge and abs((f.lo[i] + f.hi[i]) / 2 - middle) < 0.2 and abs(f.hi[i] - f.lo[i] - wide) < 0.2
            )
    assert right >= 30 / 32 * wanted, f"{right} of {wanted}"


def test_a_connector_wider_than_its_board_looks_over_the_end() -> None:
    """A board of 12 wide under a jack of 16.5: it stands over three sides, and looks at the one that it reaches over alone."""
    assert overhang((-2.25, -1.0, 1.6), (14.25, 20.0, 15.1), (12.0, 40.0, 1.6)) == ("front", pytest.approx(1.0))
    # over the front by little and over one side by more: that side, as before
    assert overhang((-2.0, -0.5, 1.6), (8.0, 10.0, 5.0), (12.0, 40.0, 1.6)) == ("left", pytest.approx(2.0))


def test_a_larger_file_may_take_more_work() -> None:
    assert seconds_for(100_000) == pytest.approx(SECONDS, abs=0.1)
    assert seconds_for(20_000_000) == MOST_SECONDS == seconds_for(100_000_000)


def test_no_flat_face_is_larger_than_what_decides_whether_a_solid_is_looked_at() -> None:
    """Plates, pins and bodies as they are and tilted: what could be a board is never passed over."""
    solids = [s for made in (*BODIES.values(), *BOARDS.values()) for s in made()]
    for tilt in (0.0, 0.3, math.pi / 4):
        turn = gp_Trsf()
        turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 2, 3)), tilt)
        for solid in solids:
            there = BRepBuilderAPI_Transform(solid, turn, True).Shape()
            most = max((f.area for f in _flats(there)), default=0.0)
            assert most <= _largest_mm2(there) + 1e-6
