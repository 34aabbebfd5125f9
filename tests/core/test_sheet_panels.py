"""Panels of bought sheet that slide between printed posts, measured in the mesh; on a *Wren* with walls of 4.4 and acrylic of 2 mm, so that the sheet
lies 2.4 to 4.4 mm behind the outside of its posts."""

from __future__ import annotations

from io import StringIO
from math import pi

import ezdxf
import pytest
from manifold3d import Manifold

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.advice.panels import panels
from rhombex.core.advice.sheeted import with_printed_floor
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.constructions import CornersAndSheet, FrameAndCovers, Magnets, OpenBench, SlidingPanels
from rhombex.core.design import Brief, Design, Handle, Placement
from rhombex.core.edits import Add, CarryBy, Construct, MoveWall, Remove, Set, StandOn, Together
from rhombex.core.exchange.write_flat import flat_dxf
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import loop_points
from rhombex.core.hardware.face_screws import face_screw
from rhombex.core.hardware.shopping import shopping
from rhombex.core.plain import DesignError
from rhombex.core.shell.offers import usual
from rhombex.core.space import Vec3
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import alone
from tests.made import broken

SIDES = ("front", "back", "left", "right")
ALL = (*SIDES, "top")


def of_sheet(d: Design, sheet: tuple[str, ...] = ALL, **change: object) -> Design:
    made = SlidingPanels.model_validate({"sheet": sheet, **change})
    return apply(apply(d, Construct(construction=made)), Set(path="shell.wall_mm", value=4.4))


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


@pytest.fixture(scope="module")
def made(good_wren: Design) -> Analysis:
    return looked(of_sheet(good_wren))


@pytest.fixture(scope="module")
def solids(made: Analysis) -> dict[str, Manifold]:
    return {n: mk.evaluate(r, mk.FILE_TOL) for n, r in made.in_place().items()}


def at(m: Manifold, p: Vec3) -> bool:
    """Whether a point is in a solid."""
    return bool((Manifold.sphere(0.01, 8).translate(p) ^ m).volume() > 0)


def test_the_sheet_lies_at_the_inside_of_the_wall(made: Analysis, solids: dict[str, Manifold]) -> None:
    """174.4 x 146.8 outside; posts take 10 of the room, 14.4 with the wall; tongues of 4; above the floor of 3, under the top of 3 by the gap."""
    w, d, h = made.case.box_mm
    assert (w, d, h) == pytest.approx((174.4, 146.8, 37.0))
    gap = made.case.part("panel-front").put_on.travel_mm - 31.0  # type: ignore[union-attr]
    assert -0.5 < gap < -0.3
    top = 34.0 + gap
    boxes = {
        "panel-front": (10.4, 2.4, 3.0, 164.0, 4.4, top),
        "panel-back": (10.4, 142.4, 3.0, 164.0, 144.4, top),
        "panel-left": (2.4, 10.4, 3.0, 4.4, 136.4, top),
        "panel-right": (170.0, 10.4, 3.0, 172.0, 136.4, top),
        "top": (0.0, 0.0, 34.0, 174.4, 146.8, 37.0),
    }
    for name, box in boxes.items():
        assert solids[name].bounding_box() == pytest.approx(box, abs=1e-3), name
    assert all(len(m.decompose()) == 1 for m in solids.values())


def test_its_grooves_keep_their_gap_and_a_cheek_before_it(made: Analysis, solids: dict[str, Manifold]) -> None:
    """Lifted off the floor a panel stands free in its grooves by the allowance of sliding parts; 2.4 mm less that is the cheek before it."""
    base, gap = solids["base"], 34.0 - solids["panel-front"].bounding_box()[5]
    for name in (f"panel-{f}" for f in SIDES):
        assert (solids[name] ^ base).volume() < 1e-6
        assert solids[name].translate((0, 0, 1)).min_gap(base, 2.0) == pytest.approx(gap, abs=1e-3), name
        assert (solids[name] ^ solids["top"]).volume() < 1e-6
    cheek = 2.4 - gap
    for x in (11.0, 163.4):  # within the tongues
        for y, inside in ((0.05, True), (cheek - 0.05, True), (cheek + 0.05, False), (4.4 + gap - 0.05, False)):
            assert at(base, (x, y, 20.0)) is inside, (x, y)
            assert at(base, (x, 146.8 - y, 20.0)) is inside, (x, y)
        assert at(base, (x, 4.4 + gap + 0.05, 20.0))
    # between the posts nothing is before it
    assert not at(base, (80.0, 1.2, 20.0)) and at(base, (80.0, 1.2, 1.5))


def test_a_printed_panel_beside_it_is_flush_as_ever(good_wren: Design) -> None:
    a = looked(of_sheet(good_wren, ("left",)))
    m = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    assert m["panel-front"].bounding_box()[1] == pytest.approx(0.0, abs=1e-6)
    assert m["panel-left"].bounding_box()[0] == pytest.approx(2.4)
    assert [x.part for x in a.sheets] == ["panel-left"]
    for n in ("panel-front", "panel-left"):
        assert (m[n] ^ m["base"]).volume() < 1e-6


def test_what_is_fixed_to_it_lies_on_it(made: Analysis, good_wren: Design) -> None:
    """The flange of a button lies on the sheet's outside, 2.4 mm behind that of the posts; the screws of a fan pass 2 mm of it, and their lengths follow."""
    button = next(t for t in made.things if t.id == "button")
    flange = [s for s in button.solids if s.box.lo[1] < 2.4 - 1e-6]
    assert flange and max(s.box.hi[1] for s in flange if s.box.hi[1] <= 2.4 + 1e-6) == pytest.approx(2.4)
    assert made.case.face("front").frame.origin[1] == pytest.approx(2.4)
    assert made.case.face("front").thick_mm == pytest.approx(2.0)
    fan = Placement(id="side", component="fan-40x10", name="Side fan", at_mm=(40, 0, 12), face="left")
    d = apply(apply(good_wren, MoveWall(face="top", by_mm=30)), Add(placement=fan))
    walls = []
    for sheet in ((), ("left",)):
        a = looked(of_sheet(d, sheet))
        screw = face_screw(a.design, next(t for t in a.things if t.id == "side"), a.case)
        assert screw is not None
        walls.append(screw.wall_mm)
    assert walls == pytest.approx([4.4, 2.0])


def test_ports_are_open_through_it(made: Analysis, solids: dict[str, Manifold]) -> None:
    """A line through the middle of every opening of a panel meets nothing of it."""
    seen = 0
    for o in made.openings.openings:
        for part in o.parts:
            if made.case.part(part).sheet is None or o.pane is not None:
                continue
            face = made.case.face(o.face)
            u, v = o.at_mm
            for deep in (0.1, 1.0, 1.9):
                assert not at(solids[part], face.frame.point((u, v, -deep))), (o.id, deep)
            beside = face.frame.point((u + o.size_mm[0] / 2 + 0.3, v, -1.0))
            assert at(solids[part], beside), o.id
            seen += 1
    assert seen >= 3


def test_a_top_of_sheet_is_drilled_for_its_screws_alone(made: Analysis, solids: dict[str, Manifold]) -> None:
    tops = [j for j in made.case.joints if j.name == "top"]
    assert len(tops) == 4 and all(j.head_depth_mm == 0 and j.screw_mm for j in tops)
    for j in tops:
        x, y, _ = j.at
        assert not at(solids["top"], (x, y, 35.5))
        assert at(solids["top"], (x + j.clearance_mm / 2 + 0.1, y, 36.9))  # no recess for a head


def test_it_is_read_back_as_it_is_bought(made: Analysis) -> None:
    front = next(x for x in made.sheets if x.part == "panel-front")
    doc = ezdxf.read(StringIO(flat_dxf(front.loops).decode()))
    outline = doc.modelspace().query('LWPOLYLINE[layer=="CUT"]').first
    assert outline is not None
    xs, ys = zip(*((p[0], p[1]) for p in outline.get_points()), strict=True)
    high = mk.evaluate(made.in_place()["panel-front"], mk.FILE_TOL).bounding_box()[5] - 3.0
    assert (max(xs) - min(xs), max(ys) - min(ys)) == pytest.approx((153.6, high), abs=1e-3)
    assert (front.thick_mm, front.material) == (2.0, "acrylic")
    volume = mk.evaluate(made.in_place()["panel-front"], mk.FILE_TOL).volume()
    assert front.mass_g == pytest.approx(volume / 1000 * 1.19, rel=2e-3)  # acrylic, 1.19 g/cm3
    assert not {x.part for x in made.sheets} & {
        p.part for p in analyse(made.design, ARCHIVE_WORKSHOP, "preview").pieces
    }


def test_it_is_on_the_shopping_list(good_wren: Design) -> None:
    """153.6 x 30.6 mm, 2 mm thick, at 45 EUR/m2 of 3 mm, a figure from memory: 0.14; and so for all five."""
    a = analyse(of_sheet(good_wren), ARCHIVE_WORKSHOP, "preview")
    found = shopping(a.bill, a.workshop.stock, a.sheets)
    small = shopping(a.bill, a.workshop.stock, ())
    front = next(x for x in found.sheets if x.part == "panel-front")
    assert front.money.value == pytest.approx(0.1536 * front.size_mm[1] / 1000 * 45 * 2 / 3, abs=1e-4)
    assert (front.material, front.thick_mm, front.bends) == ("acrylic", 2.0, 0)
    assert len(found.sheets) == 5 and small.sheets == ()
    assert found.money == pytest.approx(small.money + sum(x.money.value for x in found.sheets))


def test_how_far_it_gives_way_is_that_of_the_sheet(made: Analysis) -> None:
    """A plate of 165.6 x 31, acrylic of 3.2 GPa, 2 mm: alpha 0.01160 (Timoshenko, simply supported, long) x 50 N x 31^2 / D."""
    front = next(p for p in panels(made) if p.face == "front")
    thick = next(i.value for i in front.bend.inputs if i.name == "thickness")
    modulus = next(i.value for i in front.bend.inputs if i.name == "modulus")
    assert thick == pytest.approx(2.0)
    d_nmm = modulus * 2.0**3 / 12 / (1 - 0.35**2)
    assert front.bend.value == pytest.approx(0.01695 * 50 * 31.0**2 / d_nmm, rel=0.05)


def test_magnets_hold_no_top_of_sheet(good_wren: Design) -> None:
    """And the notch of a printed top that they hold is cut into a panel that is printed."""
    screwed = looked(of_sheet(good_wren, ("top",), magnets=Magnets(d_mm=6)))
    assert not screwed.case.magnets and len(screwed.case.joints) == 4
    lifted = looked(of_sheet(good_wren, ("front",), magnets=Magnets(d_mm=6)))
    assert lifted.case.magnets and [x.part for x in lifted.case.lifts] == ["panel-right"]
    assert not looked(of_sheet(good_wren, SIDES, magnets=Magnets(d_mm=6))).case.lifts


def test_a_window_of_the_brief_is_a_panel_of_sheet(good_wren: Design) -> None:
    d = good_wren.model_copy(update={"brief": Brief(window="left")})
    way = usual(d, "sliding panels")
    assert isinstance(way, SlidingPanels) and way.sheet == ("left",)
    a = looked(apply(d, Construct(construction=way)))
    assert [(x.part, x.material) for x in a.sheets] == [("panel-left", "acrylic")]
    assert (
        isinstance(usual(good_wren, "sliding panels"), SlidingPanels) and not usual(good_wren, "sliding panels").sheet
    )  # type: ignore[union-attr]


@pytest.mark.parametrize("kind", ["frame and covers", "sliding panels", "corners and sheet"])
@pytest.mark.parametrize("face", ["left", "top"])
def test_a_way_with_a_window_has_walls_that_its_sheet_is_sold_for(good_wren: Design, kind: str, face: str) -> None:
    """Walls of 2.89 and a lid of 3.1: acrylic is sold 3 mm thick, and 2 mm lies in walls of 3.34 with a cheek before it."""
    d = good_wren.model_copy(update={"brief": good_wren.brief.model_copy(update={"window": face})})
    d = apply(d, Set(path="shell.lid_mm", value=3.1))
    made = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, kind)))
    assert any(face in x.faces for x in looked(made).sheets)
    assert alone(made, "sheet-not-sold") == [] and alone(made, "groove-cheek-thin") == []
    wall = {"frame and covers": 3.0, "sliding panels": 3.34, "corners and sheet": 3.0}[kind]
    plain = face == "top" and kind != "corners and sheet"
    assert made.shell.wall_mm == pytest.approx(2.89 if plain else wall, abs=0.011)
    assert made.shell.lid_mm == (3.0 if face == "top" or kind == "corners and sheet" else 3.1)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"sheet": ("bottom", "bottom")}, "shell.construction.sheet: "),
        (
            {"sheet": ("bottom",), "joint_thread": "through bolt"},
            "shell.construction.joint_thread: the nuts of a through bolt",
        ),
        ({"sheet": ("left", "left")}, "shell.construction.sheet: "),
        ({"sheet": ("left",), "sheet_mm": 3.0}, "shell.construction.sheet_mm: sheet of 3 mm lies in walls of 2.89 mm"),
        ({"sheet_mm": 0.0}, "sliding panels.sheet_mm: it must be at least 0.5"),
    ],
)
def test_what_cannot_be_is_refused_by_name(good_wren: Design, change: dict[str, object], says: str) -> None:
    with pytest.raises(DesignError) as e:
        for field, value in change.items():
            d = apply(good_wren, Construct(construction=SlidingPanels()))
            made = d.shell.construction.model_copy(update={k: v for k, v in change.items() if k != field})
            apply(
                d.model_copy(update={"shell": d.shell.model_copy(update={"construction": made})}),
                Set(path=f"shell.construction.{field}", value=value),
            )
    assert says in str(e.value)
    # walls of a top of sheet may be as thin as they like
    apply(good_wren, Construct(construction=SlidingPanels(sheet=("top",), sheet_mm=6)))


def test_thicker_sheet_brings_the_walls_that_it_lies_in(good_wren: Design) -> None:
    """A large pane gives way: the next thickness that is sold, with walls that leave it a cheek of two lines."""
    d = apply(of_sheet(good_wren, ("left",)), MoveWall(face="top", by_mm=100))
    d = apply(d, MoveWall(face="back", by_mm=110))
    (f,) = [f for f in alone(d, "panel-bends") if f.subjects == ("panel-left", "left")]
    (r,) = [r for r in f.remedies if r.label.endswith("mm thick")]
    after = apply(d, Together(edits=r.edits))
    made = after.shell.construction
    assert isinstance(made, SlidingPanels) and made.sheet_mm == 3.0
    a = looked(after)
    gap = a.case.box_mm[2] - 3.0 - mk.evaluate(a.in_place()["panel-left"], mk.FILE_TOL).bounding_box()[5]
    assert after.shell.wall_mm == pytest.approx(3.0 + gap + 2 * a.case.line_mm, abs=0.011)
    assert not [x for x in alone(after, "panel-bends") if x.subjects == ("panel-left", "left")]
    assert alone(after, "groove-cheek-thin") == []


def test_sheet_that_is_not_sold_is_changed_by_its_own_field(good_wren: Design) -> None:
    d = of_sheet(good_wren, ("left",), sheet_mm=2.4)
    (f,) = alone(d, "sheet-not-sold")
    assert (f.measured, f.title) == (pytest.approx(0.4), "Acrylic of 2.4 mm is not sold")
    after = apply(d, Together(edits=f.remedies[0].edits))
    assert after.shell.construction.sheet_mm == 2.0 and after.shell.wall_mm == 4.4  # type: ignore[union-attr]
    assert alone(after, "sheet-not-sold") == []


def test_a_screw_near_the_edge_of_a_top_moves_with_its_post(good_wren: Design) -> None:
    """The middle of a post of 8 is 4.0 + 4.0 from the outside: more than twice the screw's 3 mm."""
    d = of_sheet(good_wren, ("top",), post_mm=8.0)
    assert alone(d, "hole-near-edge") == []
    thin = apply(d, Set(path="shell.wall_mm", value=1.6))
    (f,) = alone(thin, "hole-near-edge")
    assert f.measured == pytest.approx(5.6, abs=0.01) and f.remedies[0].label.startswith("Make the posts ")
    assert alone(apply(thin, Together(edits=f.remedies[0].edits)), "hole-near-edge") == []


def test_cheeks_are_told_by_what_is_left_of_the_wall(good_wren: Design) -> None:
    """Walls of 2.89 with sheet of 2: 0.89 less the gap; two lines are wanted. A printed panel shares its wall so that both keep two lines where they can."""
    d = apply(good_wren, Construct(construction=SlidingPanels(sheet=("left",))))
    a = looked(d)
    gap = 34.0 - mk.evaluate(a.in_place()["panel-left"], mk.FILE_TOL).bounding_box()[5]
    (f,) = alone(d, "groove-cheek-thin")
    assert (f.measured, f.limit, f.severity) == (
        pytest.approx(0.89 - gap, abs=1e-3),
        pytest.approx(2 * a.case.line_mm),
        "weigh",
    )
    assert alone(apply(d, Together(edits=f.remedies[0].edits)), "groove-cheek-thin") == []
    thin = apply(apply(good_wren, Construct(construction=SlidingPanels())), Set(path="shell.wall_mm", value=1.6))
    (f,) = alone(thin, "groove-cheek-thin")
    assert f.subjects == ("base", "cheek", "tongue") and f.measured == pytest.approx(0.8 - gap, abs=0.02)
    assert alone(apply(thin, Together(edits=f.remedies[0].edits)), "groove-cheek-thin") == []
    assert alone(apply(good_wren, Construct(construction=SlidingPanels())), "groove-cheek-thin") == []


def test_frames_say_the_same_of_their_covers(good_wren: Design) -> None:
    with pytest.raises(DesignError, match="each once"):
        apply(good_wren, Construct(construction=FrameAndCovers(sheet=("top", "top"))))


def test_nothing_is_said_of_it_that_a_printed_one_would_not_hear(good_wren: Design) -> None:
    """Roomy walls and sheet that holds: no stop that the printed panels do not bring as well."""
    bare = apply(good_wren, Remove(id="fan"))
    stops = [{f.code for f in judge(looked(of_sheet(bare, s))) if f.severity == "stop"} for s in ((), SIDES)]
    assert stops[1] <= stops[0]


POSTS = ("post-1", "post-2", "post-3", "post-4")


@pytest.fixture(scope="module")
def on_sheet(good_wren: Design) -> Analysis:
    return looked(of_sheet(good_wren, (*ALL, "bottom")))


@pytest.fixture(scope="module")
def bare(good_wren: Design) -> Analysis:
    """Nothing in it but the fan: no port is cut into a post."""
    gone = tuple(Remove(id=p.id) for p in good_wren.placements if p.id != "fan" and p.on is None)
    return looked(apply(of_sheet(good_wren, (*ALL, "bottom")), Together(edits=gone)))


def test_posts_on_a_floor_of_sheet_are_those_of_the_base(bare: Analysis) -> None:
    """Each what the base has over its floor there, less the hole of the screw that comes up into it: pi/4 x 4.0^2 x its depth; 14.4 square, 31 long."""
    assert [p.name for p in bare.case.parts if p.sheet is None] == list(POSTS)
    printed = looked(apply(bare.design, Construct(construction=SlidingPanels(sheet=ALL))))
    base = mk.evaluate(printed.recipes["base"], mk.FILE_TOL)
    w, d, _ = bare.case.box_mm
    for k, name in enumerate(POSTS):
        post = mk.evaluate(bare.recipes[name], mk.FILE_TOL)
        x, y = (0.0 if k % 2 == 0 else w - 14.4), (0.0 if k < 2 else d - 14.4)
        assert post.bounding_box() == pytest.approx((x, y, 3.0, x + 14.4, y + 14.4, 34.0), abs=1e-3)
        assert len(post.decompose()) == 1
        (up,) = (j for j in bare.case.joints if j.into == name and j.along[2] > 0)
        (down,) = (j for j in bare.case.joints if j.into == name and j.along[2] < 0)
        assert (up.holds, up.at[2], down.holds, down.at[2]) == ("floor", 3.0, "top", 34.0)
        column = base ^ Manifold.cube((14.4, 14.4, 31.0)).translate((x, y, 3.0))
        assert (post - column).volume() < 1e-3
        hole = pi / 4 * up.hole_mm**2 * up.hole_depth_mm
        assert column.volume() - post.volume() == pytest.approx(hole, rel=0.01)
        # the two holes end in plastic: 31 less both is more than 2 x 1.2
        assert up.hole_depth_mm + down.hole_depth_mm <= 31.0 - 2.4 + 1e-6


def test_a_screw_comes_up_through_the_sheet_into_each_post(bare: Analysis) -> None:
    """The hole of the sheet is wide enough for M3, ISO 273, that of the post is what an insert wants; both on one axis, in the middle of what the post has of the room."""
    floor = mk.evaluate(bare.recipes["floor"], mk.FILE_TOL)
    (group,) = (g for g in bare.joints if g.holds == "floor")
    assert group.count == 4 and group.sunk_mm == 0.0
    for j in (j for j in bare.case.joints if j.holds == "floor"):
        x, y, _ = j.at
        assert (min(x, 174.4 - x), min(y, 146.8 - y)) == pytest.approx((9.4, 9.4))
        rod = Manifold.cylinder(9, 1.65, 1.65, 48).translate((x, y, -3))
        assert (rod ^ floor).volume() < 1e-6
        post = mk.evaluate(bare.recipes[j.into], mk.FILE_TOL)
        thread = Manifold.cylinder(j.hole_depth_mm - 0.1, j.hole_mm / 2 - 0.05, j.hole_mm / 2 - 0.05, 48)
        assert (thread.translate((x, y, 3.05)) ^ post).volume() < 1e-6
        beyond = Manifold.cylinder(1.0, j.hole_mm / 2, j.hole_mm / 2, 48).translate((x, y, 3.05 + j.hole_depth_mm))
        assert (beyond ^ post).volume() == pytest.approx(beyond.volume(), rel=0.01)


def test_panels_slide_between_posts_on_sheet_as_between_those_of_the_base(on_sheet: Analysis) -> None:
    m = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in on_sheet.in_place().items()}
    gap = 34.0 - m["panel-front"].bounding_box()[5]
    posts = m["post-1"] + m["post-2"] + m["post-3"] + m["post-4"]
    for f in SIDES:
        lifted = m[f"panel-{f}"].translate((0, 0, 1))
        assert lifted.min_gap(posts, 2.0) == pytest.approx(gap, abs=1e-3)
        assert (m[f"panel-{f}"] ^ m["floor"]).volume() < 1e-6
    assert (posts ^ m["floor"]).volume() < 1e-6 and (posts ^ m["top"]).volume() < 1e-6


def test_posts_on_sheet_stand_on_the_bed_and_nothing_of_them_hangs(bare: Analysis) -> None:
    """14.4 square and 31 high; lying, the cheek over a groove would hang free, 4.4 deep along all of it."""
    a = analyse(bare.design, ARCHIVE_WORKSHOP, "settled")
    for name in POSTS:
        (piece,) = (p for p in a.pieces if p.name == name)
        assert piece.down == "bottom" and piece.bbox_mm == pytest.approx((14.4, 14.4, 31.0), abs=1e-3)
        assert piece.overhang is not None and piece.overhang.area_cm2 == pytest.approx(0.0, abs=0.2)


def test_walls_of_a_case_on_sheet_know_their_posts(on_sheet: Analysis) -> None:
    """Seen from outside, what is left on the front is right on the back."""
    case = on_sheet.case
    found = {f: (case.behind(f, 1, 20, 2, 21), case.behind(f, *_right_end(case.face(f).size_mm[0]))) for f in SIDES}
    assert found == {
        "front": (("post-1",), ("post-2",)),
        "back": (("post-4",), ("post-3",)),
        "left": (("post-3",), ("post-1",)),
        "right": (("post-2",), ("post-4",)),
    }
    assert case.behind("front", 80, 1, 81, 2) == ("floor",)


def _right_end(wide: float) -> tuple[float, float, float, float]:
    return (wide - 2, 20, wide - 1, 21)


def test_magnets_of_the_top_stand_in_posts_on_sheet(good_wren: Design) -> None:
    tall = apply(good_wren, MoveWall(face="top", by_mm=20))
    a = looked(of_sheet(tall, ("bottom",), magnets=Magnets(d_mm=5, high_mm=2).model_dump(), post_mm=16))
    assert {p.into for p in a.case.magnets} == set(POSTS) and len(a.case.joints) == 4
    for p in a.case.magnets:
        post = mk.evaluate(a.recipes[p.into], mk.FILE_TOL)
        x, y, z = p.at
        disc = Manifold.cylinder(1.5, 2.4, 2.4, 48).translate((x, y, z - 1.6))
        assert (disc ^ post).volume() < 1e-6


def test_a_floor_under_posts_is_printed_again_in_one_press(good_wren: Design) -> None:
    """The board stands 3.4 over the sheet, which no standoff is high: put on it all, or print the floor."""
    d = of_sheet(good_wren, ("bottom",))
    (f,) = alone(d, "standoff-of-no-length")
    labels = [r.label for r in f.remedies]
    assert "Print the floor" in labels
    back = apply(d, Together(edits=f.remedies[labels.index("Print the floor")].edits))
    assert isinstance(back.shell.construction, SlidingPanels) and back.shell.construction.sheet == ()
    assert looked(back).case.footed == "base"
    assert with_printed_floor(SlidingPanels(sheet=("left", "bottom"))) == SlidingPanels(sheet=("left",))


def test_it_stands_on_other_faces_too(good_wren: Design) -> None:
    """Front of sheet lies behind its cheeks; a printed one bears feet."""
    for sheet, feet in ((("bottom",), 4), (("bottom", "front"), 0)):
        a = looked(apply(of_sheet(good_wren, sheet), StandOn(face="front")))
        assert len(a.case.stands_at) == feet


def test_the_two_screws_of_a_low_post_do_not_meet(bare: Analysis) -> None:
    """Posts of 12: each hole 12 / 2 - 1.2 deep at the most."""
    low = looked(apply(bare.design, Together(edits=(Remove(id="fan"), MoveWall(face="top", by_mm=-19)))))
    assert low.case.part("post-1").size_mm == pytest.approx((14.4, 14.4, 12.0))
    assert [j.hole_depth_mm for j in low.case.joints if j.into == "post-1"] == pytest.approx([4.8, 4.8])
    post = mk.evaluate(low.recipes["post-1"], mk.FILE_TOL)
    middle = Manifold.cylinder(2.0, 1.5, 1.5, 48).translate((9.4, 9.4, 8.0))
    assert (middle ^ post).volume() == pytest.approx(middle.volume(), rel=1e-3)


def test_the_top_has_its_own_holes_alone(bare: Analysis) -> None:
    """The middle of the top's plate over a post is bored once, as wide as M3 goes through, and its volume is that of the top on a base."""
    printed = looked(apply(bare.design, Construct(construction=SlidingPanels(sheet=ALL))))
    tops = [mk.evaluate(x.recipes["top"], mk.FILE_TOL).volume() for x in (bare, printed)]
    assert tops[0] == pytest.approx(tops[1], rel=1e-6)
    assert bare.recipes["top"].digest == printed.recipes["top"].digest


@pytest.mark.parametrize("holding", ["insert", "cut in plastic", "captive nut"])
def test_screws_of_posts_on_sheet_may_be_held_in_every_way_but_right_through(good_wren: Design, holding: str) -> None:
    """Each makes a post of one body whose screws have their way and their plastic; bolts, whose nuts sit in a printed floor, are not among the choices."""
    d = of_sheet(apply(good_wren, MoveWall(face="top", by_mm=20)), ("bottom",), joint_thread=holding)
    assert list(broken(d)) == []
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    rows = [r for r in hardware_table(a).rows if r.joint.name in ("post", "top")]
    assert len(rows) == 2 and all(r.joint.holding == holding for r in rows)
    assert all(not {"through bolt", "threaded rod"} & {o.holding for o in r.holdings} for r in rows)
    onto_base = analyse(of_sheet(d, (), joint_thread=holding), ARCHIVE_WORKSHOP, "preview")
    (top,) = (r for r in hardware_table(onto_base).rows if r.joint.name == "top")
    assert {"through bolt", "threaded rod"} <= {o.holding for o in top.holdings}


def test_holes_in_sheet_are_as_wide_as_they_are_drawn(good_wren: Design) -> None:
    """3.4 for M3, ISO 273: a laser cuts what is drawn. In printed tops and covers the allowance of round holes is added."""
    ways = {
        "top": (SlidingPanels(sheet=("top",)), SlidingPanels()),
        "floor": (SlidingPanels(sheet=("bottom",)), None),
        "cover-front": (None, FrameAndCovers()),
        "sheet-front": (CornersAndSheet(), None),
    }
    for name, (cut, printed) in ways.items():
        for way, wide in ((cut, 1.7), (printed, None)):
            if way is None:
                continue
            a = looked(apply(good_wren, Construct(construction=way)))
            m = mk.evaluate(a.recipes[name], mk.FILE_TOL)
            held = [j for j in a.case.joints if j.holds == name]
            assert held
            for j in held:
                assert (j.clearance_mm == 3.4) is (wide is not None) and j.clearance_mm >= 3.4
                k = next(i for i in range(3) if j.along[i])
                for r, free in ((1.68, True), (1.72, wide is None)):
                    rod = Manifold.cylinder(60, r, r, 64, center=True)
                    turned = rod if k == 2 else rod.rotate((90, 0, 0)) if k == 1 else rod.rotate((0, 90, 0))
                    assert ((turned.translate(j.at) ^ m).volume() < 1e-6) is free, (name, r)


@pytest.mark.parametrize("kind", ["frame and covers", "corners and sheet", "sliding panels"])
def test_what_is_drawn_for_the_supplier_is_what_is_made(good_wren: Design, kind: str) -> None:
    """Outline less holes of every sheet, against its volume over its thickness; with the holes of a handle's two screws, 3.4 each, in the top."""
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    if kind != "corners and sheet":
        d = apply(d, Set(path="shell.construction.sheet", value=["left", "right", "top"]))
    found = {}
    for h in (None, Handle(at_mm=(110, 60), grip_mm=60)):
        a = looked(apply(d, CarryBy(handle=h)))
        assert (a.case.handle is not None) == (h is not None)
        for s in a.sheets:
            rings = [loop_points(loop, 1e-3) for loop in s.loops]
            areas = [
                abs(sum(p[0] * q[1] - q[0] * p[1] for p, q in zip(r, (*r[1:], r[0]), strict=True))) / 2 for r in rings
            ]
            made = mk.evaluate(a.recipes[s.part], 1e-3).volume() / s.thick_mm
            assert areas[0] - sum(areas[1:]) == pytest.approx(made, abs=0.05), s.part
            found[h is None, s.face] = areas[0] - sum(areas[1:])
    assert found[True, "top"] - found[False, "top"] == pytest.approx(2 * pi * 1.7**2, rel=1e-3)


def test_what_is_no_fire_enclosure_is_called_by_what_it_is_made_of(good_wren: Design) -> None:
    ways = {
        "Printed plastic is not": SlidingPanels(),
        "Printed plastic and acrylic are not": SlidingPanels(sheet=("top",)),
        "Acrylic is not": OpenBench(plate="sheet"),
        "Sheet with gaps between is not": OpenBench(plate="sheet", material="aluminium"),
        "Printed plastic and plywood are not": FrameAndCovers(sheet=("left",), material="plywood"),
    }
    for says, way in ways.items():
        gone = Together(edits=(Construct(construction=way), Remove(id="fan")))
        (f,) = alone(apply(good_wren, gone), "caution-fire")
        assert f.title == f"{says} a fire enclosure"


@pytest.mark.parametrize(
    ("inner", "offered"),
    [
        ((550.0, 300.0), {"floor", "cover-front", "cover-back", "cover-left", "cover-right", "cover-top"}),
        # acrylic is cut up to 600 x 400: floor and top are 425 deep, the others low
        ((560.0, 420.0), {"cover-front", "cover-back", "cover-left", "cover-right"}),
        # and 625 wide
        ((620.0, 300.0), {"cover-left", "cover-right"}),
    ],
)
def test_sheet_is_offered_for_what_it_is_sold_large_enough_for(
    good_wren: Design, inner: tuple[float, float], offered: set[str]
) -> None:
    d = apply(good_wren, Construct(construction=FrameAndCovers()))
    d = apply(d, Set(path="shell.inner_mm", value=(*inner, 31.0)))
    over = alone(d, "part-over-bed", "preview")
    assert {f.subjects[0] for f in over} >= {
        "floor",
        "cover-front",
        "cover-back",
        "cover-left",
        "cover-right",
        "cover-top",
    }
    ways = {f.subjects[0]: r for f in over for r in f.remedies if r.label.startswith("Cut the ")}
    assert set(ways) == offered
    for r in ways.values():
        assert alone(apply(d, Together(edits=r.edits)), "sheet-over-stock") == []
