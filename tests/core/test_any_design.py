"""Every valid design gives parts that are watertight, whole, and go together: over boards, walls, gaps, printers."""

from __future__ import annotations

from operator import attrgetter

import numpy as np
import pytest
from hypothesis import given, reject, settings
from hypothesis import strategies as st

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.gaps import cavity
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Brief, Design, Placement, Process, Shell, VentField
from rhombex.core.edits import FitCavity, MoveWall, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.parts.component import Component, Mount, Port, Solid
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples

FACTS = {"source": "made by the test", "mark": "sample"}


@st.composite
def boards(draw: st.DrawFn) -> Component:
    """A board of any reasonable size with four holes, a tall part and a port."""
    w, d = draw(st.floats(30, 190)), draw(st.floats(25, 150))
    tall, inset = draw(st.floats(4, 30)), draw(st.floats(3.5, 8))
    kind = draw(st.sampled_from(["usb-c", "hdmi-a", "rj45", "jack"]))
    x = draw(st.floats(0.35, 0.65)) * w
    return Component(
        key="made",
        label="made board",
        family="board",
        mounting="posts",
        pivot=(w / 2, d / 2),
        heat_w=draw(st.floats(0, 30)),
        mass_g=40,
        solids=(
            Solid(name="board", role="board", lo=(0, 0, 0), hi=(w, d, 1.6), **FACTS),
            Solid(name="pins", role="pins", lo=(9, 9, -2), hi=(w - 9, d - 9, 0), **FACTS),
            Solid(name="tall", role="body", lo=(w / 3, d / 3, 1.6), hi=(w / 2, d / 2, 1.6 + tall), **FACTS),
            Solid(name="plug", role="connector", lo=(x - 8, -1, 1.6), hi=(x + 8, 9, 8), **FACTS),
        ),
        mounts=tuple(
            Mount(name=n, at=at, thread=draw(st.sampled_from(["M2_5", "M3"])), hole_mm=3.0, **FACTS)
            for n, at in zip(
                "ABCD", [(inset, inset), (w - inset, inset), (inset, d - inset), (w - inset, d - inset)], strict=True
            )
        ),
        ports=(Port(name="port", kind=kind, centre=(x, -1.0, 5.0), facing="-y", **FACTS),),
        **FACTS,
    )


@st.composite
def designs(draw: st.DrawFn) -> Design:
    board = draw(boards())
    turn = draw(st.sampled_from([0, 90, 180, 270]))
    wall = draw(st.floats(1.2, 6.0))
    placed = [
        Placement(id="board", component="made", name="Board", at_mm=(0, 0, draw(st.floats(3.2, 12))), turn=turn),
    ]
    if draw(st.booleans()):
        placed.append(Placement(id="fan", component="fan-40x10", name="Fan", at_mm=(0, 0, 0), face="top"))
    design = Design(
        name="Made",
        brief=Brief(needs=("board/port",), opened=draw(st.sampled_from(["once", "weekly"]))),
        custom=(board,),
        placements=tuple(placed),
        shell=Shell(
            inner_mm=(250, 250, 60),
            wall_mm=wall,
            floor_mm=draw(st.floats(1.2, 5)),
            lid_mm=draw(st.floats(1.2, 5)),
            corner_radius_mm=draw(st.floats(0, 16)),
            construction=TwoHalves(joint_mm=52, joint_thread=draw(st.sampled_from(["insert", "cut in plastic"]))),
            post_thread=draw(st.sampled_from(["insert", "cut in plastic"])),
            feet=draw(st.booleans()),
        ),
        vents=(
            VentField(
                id="vents",
                face=draw(st.sampled_from(["left", "back", "right", "top", "bottom"])),
                at_mm=(draw(st.floats(5, 120)), draw(st.floats(5, 60))),
                size_mm=(draw(st.floats(10, 60)), draw(st.floats(8, 30))),
                follow_heat=draw(st.booleans()),
            ),
        ),
        printer=draw(st.sampled_from([p.key for p in ARCHIVE_WORKSHOP.printers])),
        process=Process(layer_mm=draw(st.sampled_from([0.16, 0.2, 0.28]))),
    )
    try:
        design = apply(design, FitCavity())
    except DesignError:  # corners too round for so small a case: a refusal, not a design
        reject()
    grow = tuple(
        MoveWall(face=f, by_mm=draw(st.floats(0, 12)))  # type: ignore[arg-type]
        for f in ("left", "right", "front", "back", "top")
    )
    return apply(design, Together(edits=grow))


@settings(max_examples=examples(75))
@given(designs())
def test_parts_are_sound_and_fit_together(design: Design) -> None:
    a = analyse(design, ARCHIVE_WORKSHOP, "preview")
    for p in a.pieces:
        assert p.watertight, p.name
        assert p.volume_mm3 > 0
        assert p.bodies == 1, f"{p.name} falls into {p.bodies}"
        assert p.estimate.mass_g.value > 0 and p.estimate.time_s.value > 0
    base, lid = (mk.evaluate(a.recipes[n]) for n in ("base", "lid"))
    # the halves go together: nothing of one is where the other is
    assert (base ^ lid).volume() < 0.02
    # nothing sticks out of the case
    w, d, h = a.case.box_mm
    for m in (base, lid):
        x0, y0, z0, x1, y1, z1 = m.bounding_box()
        assert min(x0, y0, z0) > -1e-3 and x1 < w + 1e-3 and y1 < d + 1e-3 and z1 < h + 1e-3
    # pieces of a part add up to it, and to no more than their dowel blocks besides
    for cut in a.cuts:
        pieces = [p for p in a.pieces if p.part == cut.part]
        if len(pieces) > 1:
            whole = mk.evaluate(a.recipes[cut.part]).volume()
            parts = sum(p.volume_mm3 for p in pieces)
            assert -60 < parts - whole < 1600 * len(cut.cuts)
            for c in cut.cuts:
                assert (len(c.dowels) >= 2 and not c.crosses) or all("vent" in x for x in c.crosses)


@settings(max_examples=examples(60))
@given(boards(), st.integers(0, 3), st.floats(2, 15))
def test_walls_drawn_round_the_parts_keep_the_usual_gaps(board: Component, quarter: int, z: float) -> None:
    design = Design(
        name="Made",
        brief=Brief(unneeded=("b/port",)),  # a port that is wanted stands nearer
        custom=(board,),
        placements=(
            Placement(id="b", component="made", name="B", at_mm=(40, 30, z), turn=quarter * 90),  # type: ignore[arg-type]
        ),
        shell=Shell(inner_mm=(300, 300, 80), construction=TwoHalves(joint_mm=60)),
    )
    fitted = apply(design, FitCavity())
    room = cavity(fitted)
    solids = [s.box for t in analyse(fitted, ARCHIVE_WORKSHOP, "preview").things for s in t.solids]
    for axis in (0, 1):
        # 1 mm to a wall; a square corner in one rounded with 4.85 inside needs 4.85 (1 - 1 / sqrt 2) = 1.42, and 0.05 to spare
        for gap in (min(b.lo[axis] for b in solids) - room.lo[axis], room.hi[axis] - max(b.hi[axis] for b in solids)):
            assert 1.0 - 0.011 <= gap <= 1.471 + 0.011
    met = {f.code for f in judge(analyse(fitted, ARCHIVE_WORKSHOP, "preview"))}
    assert not {"component-hits-wall", "component-hits-lid"} & met
    assert room.hi[2] - max(b.hi[2] for b in solids) == pytest.approx(3.0, abs=0.011)
    again = apply(fitted, FitCavity())
    assert again == fitted


@settings(max_examples=examples(200))
@given(
    st.sampled_from(["wall_mm", "floor_mm", "lid_mm", "corner_radius_mm", "construction.joint_mm"]),
    st.one_of(st.floats(-1e6, 1e6), st.sampled_from([float("nan"), float("inf"), 0.0, -1.0])),
)
def test_any_number_is_taken_or_refused_by_name(field: str, value: float) -> None:
    design = Design(name="x", shell=Shell(inner_mm=(100, 80, 40), construction=TwoHalves(joint_mm=30)))
    try:
        changed = apply(
            design,
            Set(path=f"shell.{field}", value=value)
            if np.isfinite(value)
            else Set.model_construct(do="set", path=f"shell.{field}", value=value),
        )
    except DesignError as e:
        assert field.rsplit(".", maxsplit=1)[-1] in e.field or field.rsplit(".", maxsplit=1)[-1] in str(e)
        return
    assert np.isfinite(attrgetter(field)(changed.shell))
    assert all(p.watertight and p.bodies == 1 for p in analyse(changed, ARCHIVE_WORKSHOP, "preview").pieces)
