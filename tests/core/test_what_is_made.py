"""What is made is what was looked at: pieces that close and hold together, nothing in another's place, sizes as told."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise
from math import prod
from random import Random

import numpy as np
import pytest

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_of
from rhombex.core.concerns import RULES, judge, judge_bare
from rhombex.core.concerns.bench import clear_of_all
from rhombex.core.concerns.registry import heard, told_to_hit
from rhombex.core.constructions import Construction, CoreAndWrap, FrameAndCovers, TwoHalves
from rhombex.core.design import Design, PlacedOpening, Placement, Shell, Stand
from rhombex.core.edits import (
    Add,
    Construct,
    FitCavity,
    Move,
    MoveWall,
    PlaceNew,
    PutOpening,
    Remove,
    Set,
    StackOn,
    Together,
)
from rhombex.core.exchange.package import ExportError, package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.meets import clear_of, overlap_mm3
from rhombex.core.geometry.recipe import Difference, Extrude, Profile, Union, block, circle, prism, rect
from rhombex.core.geometry.weld import closed_in_file
from rhombex.core.openings.opening import opening_loop
from rhombex.core.space import Box, Face
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren

from ..examples import examples
from ..made import broken, random_design
from ..rough import shaped

LUMPS = 12  # the random designs, a test for each lump of them


@pytest.mark.parametrize("lump", range(LUMPS))
def test_random_designs_are_made_as_they_are_told(lump: int) -> None:
    """Careful and wild: they close, are one body, lie as large as told, do not overlap one another or a component, openings are
    open, screws have their way and their plastic, parts pass one another as they are put on; whatever is otherwise is said."""
    for k in range(examples(10_000, suite=300) // LUMPS):
        name = f"suite/{lump}/{k}"
        assert list(broken(random_design(Random(name)), ways_out=k % 3 == 0)) == [], name


def test_a_prism_the_wrong_way_round_is_nothing() -> None:
    """A post that would end under the floor takes nothing out of it."""
    upside_down = Extrude(Profile((rect(0, 0, 10, 10),)), -3.0)
    assert mk.evaluate(upside_down).is_empty()
    box = block(Box((0, 0, 0), (10, 10, 10)))
    assert mk.evaluate(Union((box, upside_down))).volume() == pytest.approx(1000)
    assert mk.evaluate(Difference(box, (prism(circle(5, 5, 4), 8, 2),))).volume() == pytest.approx(1000)


def test_lower_floors_keep_the_base(good_wren: Design) -> None:
    for by in (-4.33, -10.0, -15.0):
        a = analyse(apply(good_wren, MoveWall(face="bottom", by_mm=by)), ARCHIVE_WORKSHOP, "preview")
        base = next(p for p in a.pieces if p.name == "base")
        assert base.watertight and base.bodies == 1 and base.volume_mm3 > 90_000


def test_what_touches_in_an_edge_does_not_close_and_is_not_exported(good_wren: Design) -> None:
    """Two cubes on one edge: the kernel takes them for closed, a file has an edge of four triangles."""
    a, b = block(Box((0, 0, 0), (10, 10, 10))), block(Box((10, 10, 0), (20, 20, 10)))
    two = mk.evaluate(Union((a, b)))
    assert mk.watertight(two) and not closed_in_file(two)
    assert closed_in_file(mk.evaluate(a))
    whole = analyse(good_wren, ARCHIVE_WORKSHOP, "preview")
    open_ = tuple(p.model_copy(update={"watertight": p.name != "lid"}) for p in whole.pieces)
    found = [f for f in judge(replace(whole, pieces=open_)) if f.code == "piece-not-closed"]
    assert [(f.title, f.severity, f.measured, f.limit) for f in found] == [
        ("The lid does not close to a solid", "stop", 0.0, 1.0)
    ]
    touching = replace(whole, piece_recipes={**whole.piece_recipes, "lid": Union((a, b))})
    with pytest.raises(ExportError, match="lid is not watertight"):
        package(touching, ("stl",))


def test_a_post_past_the_joint_is_in_the_size_of_the_base(good_wren: Design) -> None:
    """The drive's posts end at 3 + 6; with the joint 5 over the floor they stand a millimetre over the rim at 8."""
    low = apply(good_wren, Set(path="shell.construction.joint_mm", value=5.0))
    base = next(p for p in analyse(low, ARCHIVE_WORKSHOP, "preview").pieces if p.name == "base")
    assert base.bbox_mm == pytest.approx((171.38, 143.78, 9.0), abs=1e-3)


def test_what_stands_in_a_part_is_measured_by_slices(good_wren: Design) -> None:
    """The button raised by 6 against slices of 0.1 mm through its barrel and the lid, areas added up."""
    d = apply(good_wren, Move(id="button", to_mm=(63.7, 0.0, 18.0)))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    told = next(f for f in judge(a) if f.code == "component-in-part")
    lid = mk.evaluate(a.recipes["lid"])
    step, inside = 0.1, 0.0
    for s in next(t for t in a.things if t.id == "button").solids:
        if s.role not in ("body", "connector", "board", "pins"):
            continue
        lying, mine = (m.rotate((90, 0, 0)) for m in (lid, body_of(s)))  # y becomes the height
        for y in np.arange(s.box.lo[1] + step / 2, s.box.hi[1], step):
            inside += (lying.slice(float(y)) ^ mine.slice(float(y))).area() * step
    assert told.measured == pytest.approx(inside, rel=0.02)


def test_a_rule_behind_the_rules_leaves_to_others_what_they_have_stopped(good_wren: Design) -> None:
    """The drive in the left wall is told as such; its volume in the base, which is behind that wall, is not told again. It would be in the lid."""
    a = analyse(apply(good_wren, Move(id="drive", to_mm=(26.6, 78.0, 6.0))), ARCHIVE_WORKSHOP, "preview")
    found = judge(a)
    codes = {f.code for f in found}
    assert "component-hits-wall" in codes and "component-in-part" not in codes
    assert told_to_hit(a, found) == {("drive", "left")}

    def told(*hits: tuple[str, Face | None]) -> list[tuple[str, ...]]:
        return [f.subjects for f in RULES["component-in-part"](a, frozenset(hits))]

    assert told(("drive", "left")) == told(("drive", None)) == told(("drive", "bottom")) == []
    assert told() == told(("drive", "top")) == told(("board", "left"), ("board", None)) == [("drive", "base")]


def test_a_lip_that_meets_the_floor_hides_nothing_that_is_no_floor() -> None:
    """A board too low, and another stacked over it on standoffs that are printed through its socket: both are told, and raising it brings nothing new."""
    upper = Placement(id="upper", component="sbc-85x56", name="Upper", at_mm=(0, 0, 0), on="board")
    stacked = StackOn(placement=upper, stand=Stand(standoff_mm=20, made="printed"))
    d = apply(wren(), Together(edits=(stacked, Move(id="board", to_mm=(120.1, 30.0, 2.6)))))
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    found = judge(a)
    (lip,) = [f for f in found if f.code == "underside-meets-floor"]
    assert told_to_hit(a, [lip]) == {("board", "bottom")}
    assert ("board", "spacers-upper") in [f.subjects for f in found if f.code == "component-in-part"]
    then = judge_bare(analyse(apply(d, Together(edits=lip.remedies[0].edits)), ARCHIVE_WORKSHOP, "none"))
    assert {f.key for f in then if f.severity == "stop"} < {f.key for f in found if f.severity == "stop"}


def test_branches_looked_at_alone_give_the_whole_answer() -> None:
    """A plate with posts and a hole, against boxes: in the air, in the hole, in a post, in the plate."""
    plate = Union((block(Box((0, 0, 0), (40, 40, 3))), prism(circle(10, 10, 6), 1, 9), prism(circle(30, 30, 6), 1, 9)))
    holed = Difference(plate, (prism(circle(30, 10, 8), -1, 4), prism(circle(10, 10, 2), 4, 10)))
    for k, (box, v) in enumerate(
        (
            (Box((15, 15, 3), (25, 25, 9)), 0.0),
            (Box((28, 8, 0.5), (32, 12, 2)), 0.0),
            (Box((9.5, 9.5, 5), (10.5, 10.5, 8)), 0.0),
            (Box((29, 29, 5), (31, 31, 8)), 12.0),
            (Box((18, 18, 1), (20, 20, 5)), 8.0),
        )
    ):
        other = mk.evaluate(block(box))
        assert overlap_mm3(holed, other, ("test", k)) == pytest.approx(v, abs=1e-6)
        assert clear_of(holed, other, ("test", k)) == (v == 0)


def test_a_socket_in_a_wall_has_a_hole_for_all_of_its_body() -> None:
    """A USB-C socket of 10.8 x 5 goes through with its body, though its plug needs only 9 x 3.2."""
    d = Design(name="T", shell=Shell(inner_mm=(120, 90, 40), construction=TwoHalves(joint_mm=34)))
    d = apply(
        d, Add(placement=Placement(id="p", component="usb-c-panel", name="Socket", face="right", at_mm=(0, 45, 15)))
    )
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    hole = next(o for o in a.openings.openings if o.id == "p/opening")
    assert hole.nominal_mm == pytest.approx((10.8, 5.0))
    assert not [f for f in judge(a) if f.severity == "stop"]


def test_a_round_opening_that_is_stretched_is_a_slot(good_wren: Design) -> None:
    """38.5 x 7 in the wall: a slot of that size, by the area that goes, and no circle of 38.5."""
    jack = next(o for o in analyse(good_wren, ARCHIVE_WORKSHOP, "preview").openings.openings if o.round and o.plug)
    stretched = apply(good_wren, PutOpening(opening=PlacedOpening(port=jack.id, size_mm=(38.5, 7.0))))
    cut = next(o for o in analyse(stretched, ARCHIVE_WORKSHOP, "preview").openings.openings if o.id == jack.id)
    assert not cut.round and cut.corner_mm == pytest.approx(3.5)
    region = mk.cross_section(Profile((opening_loop(cut),)), mk.FILE_TOL)
    x0, y0, x1, y1 = region.bounds()
    assert (x1 - x0, y1 - y0) == pytest.approx((38.5, 7.0), abs=1e-3)
    assert region.area() == pytest.approx(31.5 * 7 + math.pi * 3.5**2, rel=1e-3)


@pytest.mark.parametrize("nozzle", [0.4, 0.6, 0.8])
def test_walls_drawn_round_the_parts_leave_room_for_the_rim(good_wren: Design, nozzle: float) -> None:
    """A wide nozzle makes the rim 1.8 + 2 x play + 4 lines: more than the wall. Connectors beside it keep clear, where nothing in a wall keeps it higher."""
    wide = apply(apply(good_wren, Set(path="process.nozzle_mm", value=nozzle)), Remove(id="button"))
    fitted = apply(wide, walls_round(analyse(wide, ARCHIVE_WORKSHOP, "preview")))
    a = analyse(fitted, ARCHIVE_WORKSHOP, "preview")
    assert not {"part-in-rim", "component-hits-wall", "component-in-part", "parts-overlap"} & {f.code for f in judge(a)}
    assert apply(fitted, walls_round(a)) == fitted
    wider = fitted.shell.inner_mm[0] - apply(wide, FitCavity()).shell.inner_mm[0]
    band = max((b.mm for b in a.case.bulges), default=0.0)
    assert wider == pytest.approx(0 if nozzle == 0.4 else band, abs=1.0) and wider >= 0


@pytest.mark.parametrize("nozzle", [0.4, 0.6, 0.8])
def test_what_is_fixed_to_a_wall_stays_under_its_thickening(good_wren: Design, nozzle: float) -> None:
    """A wide nozzle makes the rim 1.8 + 2 x play + 4 lines: more than the wall, which thickens farther down."""
    wide = apply(good_wren, Set(path="process.nozzle_mm", value=nozzle))
    fitted = apply(wide, walls_round(analyse(wide, ARCHIVE_WORKSHOP, "preview")))
    a = analyse(fitted, ARCHIVE_WORKSHOP, "preview")
    assert not {"part-in-rim", "component-hits-wall", "component-in-part", "parts-overlap"} & {f.code for f in judge(a)}
    assert apply(fitted, walls_round(a)) == fitted  # pressing it twice is pressing it once
    # the button in the front reaches up to 24.5: the wall begins to thicken 0.05 over it, so that its nut lies on a flat wall, and the connectors stand under that, too
    (bulge,), (seam,) = a.case.bulges, a.case.seams
    assert bulge.from_mm == pytest.approx(24.55, abs=0.01)
    plain = apply(wide, FitCavity())
    assert fitted.shell.inner_mm[:2] == plain.shell.inner_mm[:2]
    higher = fitted.shell.inner_mm[2] - plain.shell.inner_mm[2]
    assert higher == pytest.approx({0.4: 0.36, 0.6: 2.36, 0.8: 4.36}[nozzle], abs=0.01)
    assert seam.at_mm - bulge.from_mm == pytest.approx(5.4 + higher, abs=0.01)


@pytest.mark.parametrize("made", [FrameAndCovers(), CoreAndWrap()], ids=lambda c: c.kind)
def test_what_takes_a_component_out_of_the_plastic_was_made_before_it_is_offered(made: Construction) -> None:
    """A supply in the back wall over a board: a frame's beams go along with the wall that is moved for it, and it would stand in them again; in a core a step of
    1 mm aside leaves it in the plastic. Neither is offered; what makes the smallest case is first."""
    d = Design(
        name="x",
        shell=Shell(inner_mm=(120, 90, 40), wall_mm=2.89, construction=TwoHalves(joint_mm=32)),
        printer="bench-300",
    )
    for key in ("board-mini-itx", "supply-flex"):
        d = apply(d, PlaceNew(component=key))
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    d = apply(d, Construct(construction=made))
    a = shaped(d)
    f = next(f for f in heard("component-in-part", a, frozenset()) if f.subjects[0] == "supply")
    supply = next(t for t in a.things if t.id == "supply")
    ways = [r.label for _, r in clear_of_all(a, supply)]
    litres = []
    for r in f.remedies[:-1]:
        then = shaped(apply(d, Together(edits=r.edits)))
        assert not [x for x in heard("component-in-part", then, frozenset()) if x.subjects[0] == "supply"], r.label
        litres.append(prod(then.case.box_mm) / 1e6)
    assert litres and all(x <= 1.02 * y for x, y in pairwise(litres)), litres
    assert set(ways[:2]) - {r.label for r in f.remedies}  # one of them moves it and leaves it in the plastic
    assert f.remedies[-1].label == "Take Supply out"
