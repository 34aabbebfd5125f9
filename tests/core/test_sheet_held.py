"""Bought sheet on all sides, by screws or in slots: from one to the other and back."""

from __future__ import annotations

import pytest

from rhombex.core.advice.sheet_held import held_by, sheet_held
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import outer_size
from rhombex.core.choices import made_so
from rhombex.core.concerns.registry import judge_bare
from rhombex.core.constructions import CornersAndSheet, SlidingPanels
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Set, Together
from rhombex.core.fit.allowance import fit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.plain import DesignError
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def stops(a: Analysis) -> set[str]:
    return {f.title for f in judge_bare(a) if f.severity == "stop"}


@pytest.fixture(scope="module")
def corners() -> Design:
    from ..conftest import read_good_wren

    good = read_good_wren()
    return apply(good, Together(edits=made_so(good, ARCHIVE_WORKSHOP, "corners and sheet")))


def test_in_slots_only_the_top_is_drilled(corners: Design) -> None:
    """Sheet as thick as it was; the left side, which nothing is cut into, is one plain outline. It brings no stop."""
    before = looked(corners)
    d = apply(corners, Together(edits=sheet_held(corners, ARCHIVE_WORKSHOP, "slots")))
    a = looked(d)
    assert held_by(d.shell.construction) == "slots" and stops(a) <= stops(before)
    assert {x.thick_mm for x in a.sheets if x.part != "top"} == {corners.shell.wall_mm} == {3.0}
    assert {j.holds for j in a.case.joints} == {"top"} and len(a.case.fastened) == a.case.wanted_joints == 4
    (was,) = (x for x in before.sheets if x.part == "sheet-left")
    (left,) = (x for x in a.sheets if x.part == "panel-left")
    assert (len(was.loops), len(left.loops)) == (
        3,
        1,
    )  # a corner piece from floor to top at either end, a screw in each


def test_a_slot_is_as_wide_as_sheet_and_its_play(corners: Design) -> None:
    """A needle across the end of the left sheet meets the cheek before it and the post behind it, and between them the slot."""
    d = apply(corners, Together(edits=sheet_held(corners, ARCHIVE_WORKSHOP, "slots")))
    a = looked(d)
    sheet = mk.evaluate(a.in_place()["panel-left"]).bounding_box()
    base = mk.evaluate(a.in_place()["base"], mk.FILE_TOL)
    y, z = sheet[1] + 0.5, (sheet[2] + sheet[5]) / 2
    needle = mk.evaluate(block(Box((-1, y - 0.05, z - 0.05), (sheet[3] + 4, y + 0.05, z + 0.05))))
    cheek, post = sorted((m.bounding_box() for m in (base ^ needle).decompose()), key=lambda b: b[0])
    play = fit(d, a.printer, "tongue_side", ("base",), max(outer_size(d))).value  # along it, it grows and shrinks
    assert post[0] - cheek[3] == pytest.approx(3.0 + 2 * play, abs=0.01)
    assert sheet[3] - sheet[0] == pytest.approx(3.0)
    assert cheek[3] - cheek[0] >= 0.8  # two lines


def test_walls_that_move_out_for_the_posts_are_thick_enough_for_their_longer_panels() -> None:
    """*Curlew* wants 5.3 mm more for its posts: 0.02 more of play, which the cheeks would lack."""
    d = apply(curlew(), Together(edits=made_so(curlew(), ARCHIVE_WORKSHOP, "corners and sheet")))
    then = apply(d, Together(edits=sheet_held(d, ARCHIVE_WORKSHOP, "slots")))
    assert then.shell.inner_mm[1] > d.shell.inner_mm[1]
    cheek = {f.code for f in judge_bare(looked(then))} & {"groove-cheek-thin"}
    assert cheek == set()


def test_it_is_screwed_again_as_it_was(corners: Design) -> None:
    slots = apply(corners, Together(edits=sheet_held(corners, ARCHIVE_WORKSHOP, "slots")))
    back = apply(slots, Together(edits=sheet_held(slots, ARCHIVE_WORKSHOP, "screws")))
    assert back.shell == corners.shell
    assert sheet_held(slots, ARCHIVE_WORKSHOP, "slots") == () == sheet_held(corners, ARCHIVE_WORKSHOP, "screws")


def test_a_floor_of_sheet_and_its_material_stay_and_a_bend_goes(corners: Design) -> None:
    made = CornersAndSheet(material="aluminium", floor="sheet", wrap="left to right", bend_mm=4.0)
    d = apply(corners, Together(edits=(Construct(construction=made), Set(path="shell.floor_mm", value=3.0))))
    slots = apply(d, Together(edits=sheet_held(d, ARCHIVE_WORKSHOP, "slots")))
    kind = slots.shell.construction
    assert isinstance(kind, SlidingPanels) and kind.material == "aluminium" and "bottom" in kind.sheet
    assert {x.part for x in looked(slots).sheets} == {
        *("panel-front", "panel-back", "panel-left", "panel-right", "top", "floor")
    }
    back = apply(slots, Together(edits=sheet_held(slots, ARCHIVE_WORKSHOP, "screws"))).shell.construction
    assert isinstance(back, CornersAndSheet)
    assert (back.material, back.floor, back.wrap) == ("aluminium", "sheet", "none")


def test_what_is_not_all_of_sheet_is_refused_by_name(good_wren: Design) -> None:
    one = apply(good_wren, Construct(construction=SlidingPanels(sheet=("left",))))
    for d in (good_wren, one):
        assert held_by(d.shell.construction) is None
        with pytest.raises(DesignError, match="not all sides") as e:
            sheet_held(d, ARCHIVE_WORKSHOP, "slots")
        assert e.value.field == "by"
