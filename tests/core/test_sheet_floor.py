"""Floors of bought sheet, measured in the mesh and read back from the file: on a *Wren* whose board stands 5 mm and whose drive lies on 3 mm of acrylic."""

from __future__ import annotations

import io
from math import hypot, pi

import ezdxf
import pytest
from manifold3d import Manifold

from rhombex.core.advice.sheeted import thick_enough
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.begun import begun
from rhombex.core.concerns import Finding, judge
from rhombex.core.constructions import CoreAndWrap, CornersAndSheet, FrameAndCovers, OpenBench, SlidingPanels, TwoHalves
from rhombex.core.design import Design, OwnJoint, Shell
from rhombex.core.edits import (
    Construct,
    Move,
    MoveWall,
    PlaceNew,
    PropUp,
    PutJoint,
    Remove,
    Set,
    StandOnFeet,
    Swap,
    Together,
)
from rhombex.core.exchange.package import package
from rhombex.core.exchange.write_flat import flat_dxf
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.plain import DesignError
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron, heron_sliding

from ..conftest import alone
from ..rough import shaped
from .test_concerns import at, heavy_drive, plain_board

BENCH = OpenBench(plate="sheet")
FRAME = FrameAndCovers(sheet=("bottom",))
CORNERS = CornersAndSheet(floor="sheet")
POSTS = SlidingPanels(sheet=("bottom",))
KINDS = {"plate": BENCH, "floor of a frame": FRAME, "floor of corners": CORNERS, "floor under posts": POSTS}


def on_sheet(d: Design, made: OpenBench | FrameAndCovers | CornersAndSheet | SlidingPanels = BENCH) -> Design:
    """Everything put on the sheet: the board on standoffs of 5, the drive on the sheet itself."""
    return apply(d, Together(edits=(Construct(construction=made), at(d, "board", dz=1.6), at(d, "drive", dz=-6))))


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


@pytest.fixture(scope="module")
def made(good_wren: Design) -> Analysis:
    return looked(on_sheet(good_wren))


def group(a: Analysis, key: str) -> JointGroup:
    (found,) = (g for g in a.joints if g.key == key)
    return found


def told(a: Analysis, code: str) -> list[Finding]:
    return [f for f in judge(a) if f.code == code]


@pytest.mark.parametrize("kind", KINDS)
def test_it_is_a_flat_sheet_with_a_hole_under_every_standoff_and_screw(good_wren: Design, kind: str) -> None:
    """As thick as the sheet and no higher; a rod of the screw's own diameter goes through at every hole, and one that is wider by a third does not."""
    a = looked(on_sheet(good_wren, KINDS[kind]))
    name = a.case.footed
    m = mk.evaluate(a.recipes[name], mk.FILE_TOL)
    w, d, _ = a.case.box_mm
    assert m.bounding_box() == pytest.approx((0, 0, 0, w, d, 3.0), abs=1e-5)
    assert len(m.decompose()) == 1
    holes = [(p.at, {"M2.5": 2.9, "M3": 3.4}[p.thread.replace("_", ".")]) for p in a.case.mounts]  # ISO 273, medium
    holes += [((j.at[0], j.at[1]), j.clearance_mm) for j in a.case.joints if j.holds == name]
    assert len(holes) == (8 if kind == "plate" else 12)
    for (x, y), wide in holes:
        for r, through in ((wide / 2 - 0.03, True), (wide / 2 + 0.03, False)):
            rod = Manifold.cylinder(9, r, r, 64).translate((x, y, -3))
            assert ((rod ^ m).volume() < 1e-6) is through, (x, y, r)
    corners = (4 - pi) * good_wren.shell.corner_radius_mm**2 if kind in ("plate", "floor under posts") else 0.0
    area = w * d - corners - sum(pi / 4 * wide**2 for _, wide in holes)
    assert m.volume() == pytest.approx(3.0 * area, rel=3e-4)


def test_its_drawing_is_seen_from_below_and_has_every_hole(made: Analysis) -> None:
    """Seen from below left and right change places: a hole at x from the left of the case is as far from the right of the drawing."""
    (sheet,) = made.sheets
    assert (sheet.part, sheet.face, sheet.material) == ("plate", "bottom", "acrylic")
    w, d, _ = made.case.box_mm
    assert sheet.size_mm == pytest.approx((w, d), abs=1e-4)
    drawn = ezdxf.read(io.StringIO(flat_dxf(sheet.loops).decode()))  # type: ignore[attr-defined]
    circles = [(c.dxf.center.x, c.dxf.center.y, c.dxf.radius) for c in drawn.modelspace().query("CIRCLE")]
    assert len(circles) == 8
    face = made.case.face("bottom")
    for m in made.case.mounts:
        u, v = face.on((*m.at, 0.0))
        assert min(u - m.at[0], u - (w - m.at[0]), key=abs) == pytest.approx(0, abs=1e-6)
        assert min(hypot(u - x, v - y) for x, y, _ in circles) < 1e-3
    area, price = w * d / 1e6, 45.0  # at 3 mm
    assert sheet.money.value == pytest.approx(area * price, abs=1e-4)


def test_standoffs_go_through_it_into_nuts(made: Analysis) -> None:
    """Of a stud of 6 mm 3 stand out under the sheet, 2.0 of them in the nut (ISO 4032); a screw of 5 goes through 1.6 of board into the standoff."""
    stud, top, drive = group(made, "posts/board"), group(made, "on/board"), group(made, "posts/drive")
    assert (stud.count, stud.head, stud.holding, stud.screw_mm) == (4, "stud", "nut", 6.0)
    assert (stud.grip_mm, stud.least_mm) == pytest.approx((3.0, 5.0))
    assert (top.holding, top.standoff_mm, top.screw_mm) == ("standoff", 5.0, 5.0)
    # through 3 mm: three turns of 0.5 at least, and no farther than the drive lets it
    limit = next(m.mount.depth_limit_mm for t in made.things if t.id == "drive" for m in t.mounts)
    assert limit is not None and (drive.least_mm, drive.most_mm) == pytest.approx((4.5, 3.0 + limit))
    assert drive.screw_mm == 5.0 and drive.sunk_mm == 0.0
    bill = {(x.item, x.size): x.count for x in made.bill if "plate" in x.use or "Board" in x.use or "Drive" in x.use}
    assert bill["standoff, with stud", "M2.5 x 5"] == 4 and bill["nut", "M2.5"] == 4
    assert bill["screw, socket cap", "M3 x 5"] == 4
    assert not [f.code for f in judge(made) if f.severity == "stop" and f.code != "no-wall-to-hold"]
    assert "shell" in begun(made) and "plan" not in begun(made)  # nothing of it is printed


def test_a_screw_that_a_hand_chose_too_long_is_given_back_to_the_stack(good_wren: Design) -> None:
    """Of 10 mm, 7 stand in a drive that takes 3: raised, it would hang over the sheet."""
    d = apply(on_sheet(good_wren), PutJoint(joint=OwnJoint(of="posts/drive", screw_mm=10)))
    f = alone(d, "mount-screw-length")[0]
    assert (f.measured, f.sense, f.severity) == (7.0, "at most", "stop")
    (r,) = f.remedies
    e = effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits)
    assert r.label == "Let the stack choose the length" and e.clears and not e.new


def test_screws_of_corner_pieces_are_not_sunk_into_it(good_wren: Design) -> None:
    for way, sunk in ((FRAME, False), (FrameAndCovers(), True)):
        a = looked(apply(good_wren, Construct(construction=way)))
        beams = [j for j in a.case.joints if j.holds == "floor"]
        assert len(beams) == 4 and all((j.head_depth_mm > 0) is sunk for j in beams)
        assert all(j.grip_mm == pytest.approx(3.0 - j.head_depth_mm) for j in beams)


def test_feet_are_stuck_on_it_or_go_through(good_wren: Design) -> None:
    """A stick-on foot has no recess; a printed one has its stud of 8 mm in a hole right through, that ends with the sheet."""
    d = on_sheet(good_wren)
    stuck = looked(d)
    assert stuck.case.foot is not None and stuck.case.foot.seat_mm == 0.0
    a = looked(apply(d, StandOnFeet(foot="printed", under=False, high_mm=8.0)))
    m = mk.evaluate(a.recipes["plate"], mk.FILE_TOL)
    rod = Manifold.cylinder(9, 4.0, 4.0, 64)
    assert a.case.feet and all((rod.translate((x, y, -3)) ^ m).volume() < 1e-6 for x, y in a.case.feet)
    assert mk.evaluate(a.recipes["feet"], mk.FILE_TOL).bounding_box()[5] == pytest.approx(3.0 - 0.2, abs=1e-3)
    assert len(a.sheets[0].loops) == 1 + 8 + len(a.case.feet)


def test_everything_is_put_on_it_at_once(good_wren: Design) -> None:
    d = apply(good_wren, Construct(construction=BENCH))
    for code in ("standoff-of-no-length", "hangs-over-the-sheet"):
        f = alone(d, code)[0]
        e = effect_of(d, ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits)
        assert f.remedies[0].label == "Put all on the sheet: Board 1.6 mm up, Drive 6 mm down"
        assert e.clears and not e.new and len(e.gone) == 2
    # what is screwed into standoffs that are not to be had is told of these alone
    assert alone(d, "wall-screw-length") == []
    low = apply(good_wren, Together(edits=(Construct(construction=BENCH), at(good_wren, "drive", dz=-6))))
    f = alone(low, "standoff-of-no-length")[0]
    assert [r.label for r in f.remedies][:2] == [
        "Raise Board by 1.6 mm, on to standoffs of 5 mm",
        "Raise Board by 2.6 mm, on to standoffs of 6 mm",
    ]
    bare = ARCHIVE_WORKSHOP.model_copy(update={"standoffs_mm": ()})
    f = next(x for x in judge(analyse(low, bare, "none")) if x.code == "standoff-of-no-length")
    assert (f.measured, f.limit, f.unit) == (0, 1, "lengths") and [r.label for r in f.remedies] == ["Print the plate"]


def test_all_is_put_on_the_sheet_at_once_not_lower_than_it_stands(good_wren: Design) -> None:
    """5.4 over the sheet: standoffs of 5 are nearer, but what is under the board has its room on those of 6."""
    d = apply(good_wren, Together(edits=(Construct(construction=BENCH), at(good_wren, "board", dz=2.0))))
    f = alone(d, "standoff-of-no-length")[0]
    assert f.measured == pytest.approx(0.4)
    assert [r.label for r in f.remedies[:3]] == [
        "Put all on the sheet: Board 0.6 mm up, Drive 6 mm down",
        "Lower Board by 0.4 mm, on to standoffs of 5 mm",
        "Raise Board by 0.6 mm, on to standoffs of 6 mm",
    ]


def test_heads_of_screws_stand_out_under_it(good_wren: Design) -> None:
    """Of a stud 2 mm under a sheet of 4; the heads of the screws into corner pieces are 3 high (ISO 4762, M3). On a wall it stands on nothing."""
    d = apply(on_sheet(good_wren, CORNERS), Together(edits=(Remove(id="drive"), Set(path="shell.floor_mm", value=4.0))))
    low = apply(d, Set(path="shell.feet", value=False))
    assert alone(d, "stands-on-its-nuts") == []
    (f,) = alone(low, "stands-on-its-nuts")
    assert (f.measured, f.limit, f.severity) == (0.0, 3.0, "weigh")
    assert alone(apply(low, Set(path="brief.stands", value="wall")), "stands-on-its-nuts") == []


def test_nothing_is_printed_on_it(good_wren: Design) -> None:
    """Neither posts beside a board without holes nor under a free end: the board is told, and the floor can be printed."""
    plain = Swap(id="board", component="own-plain", custom=plain_board())
    d = apply(good_wren, Together(edits=(plain, Construct(construction=BENCH))))
    f = alone(d, "nothing-holds")[0]
    assert (f.severity, f.measured, f.limit) == ("stop", 0, 3)
    assert "bought sheet" in f.reason and [r.label for r in f.remedies] == ["Print the plate"]
    for floor, posts in (("printed", 1), ("sheet", 0)):
        d = apply(heron(), Together(edits=(Construct(construction=CornersAndSheet(floor=floor)),)))
        assert len(looked(apply(d, PropUp(id="card", rests_on="post"))).case.props) == posts
    # what a hand chose for posts waits for a printed floor
    chosen = apply(on_sheet(good_wren), PutJoint(joint=OwnJoint(of="posts/board", holding="captive nut")))
    assert group(looked(chosen), "posts/board").holding == "nut"


def test_what_is_on_a_side_of_a_plate_has_its_upright_on_a_printed_one(good_wren: Design) -> None:
    d = on_sheet(good_wren)
    button, fan = (next(f for f in alone(d, "no-wall-to-hold") if f.subjects[0] == x) for x in ("button", "fan"))
    assert button.remedies[0].label == "Print the plate" and fan.remedies[0].label.startswith(
        "Make the case in two halves"
    )
    assert effect_of(d, ARCHIVE_WORKSHOP, button.key, button.remedies[0].edits).clears


@pytest.mark.parametrize(("more", "bad"), [(-0.31, "none"), (0.0, "weigh"), (2.4, "stop")])
def test_a_hole_near_the_edge_of_a_plate(good_wren: Design, more: float, bad: str) -> None:
    """Acrylic wants twice the diameter from a hole's middle to its edge: 6 mm for M3. The left hole of the drive is so far from the left edge."""
    d = on_sheet(good_wren)
    hole = min(m.at[0] for m in looked(d).case.mounts if m.of == "drive")
    d = apply(d, MoveWall(face="left", by_mm=-(hole - 5.7 + more)))
    found = alone(d, "post-off-the-plate")
    if bad == "none":
        assert found == []
        return
    (f,) = found
    assert (f.severity, f.limit) == (bad, 6.0) and f.measured == pytest.approx(5.7 - more, abs=1e-6)
    assert f.title == "A hole for Drive is too near the edge of the plate"
    assert any(effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits).clears for r in f.remedies)


def test_it_sags_by_its_own_stiffness_and_creep(good_wren: Design) -> None:
    """Timoshenko: alpha P a^2 / D with D = E t^3 / 12 (1 - nu^2), three times as far in the end for cast acrylic."""
    d = apply(on_sheet(good_wren), heavy_drive(4000))
    f = alone(d, "floor-sags")[0]
    of = {i.name: i.value for i in f.why.inputs}
    nmm = 3200 * 3.0**3 / 12 / (1 - 0.35**2)
    assert (of["a"], of["b"]) == (
        138.0,
        165.6,
    )  # 1.2 times as long as wide: 0.01353 (their table of loads in the middle)
    assert of["D"] == pytest.approx(nmm / 1000, rel=1e-4) and of["creep"] == 3.0
    bent = 0.01353 * of["P"] * of["of it as in the middle"] * of["a"] ** 2 / nmm * 3
    assert f.measured == pytest.approx(bent, rel=2e-3)
    assert "acrylic" in f.reason
    thick = next(r for r in f.remedies if r.label.startswith("Make the floor"))
    assert thick.edits == (Set(path="shell.floor_mm", value=float(thick.label.split()[3])),)
    assert thick.edits[0].value in (4, 5, 6, 8, 10)  # as it is sold


def test_walls_of_corners_come_with_a_floor_as_thick_as_it_is_sold(good_wren: Design) -> None:
    """Acrylic of 3.4 mm is not sold; whoever makes such a case of another one gets the 3 mm that are."""
    thin = apply(good_wren, Set(path="shell.floor_mm", value=3.4))
    cased = apply(thin, Construct(construction=CORNERS))
    (f,) = (x for x in alone(cased, "sheet-not-sold") if "shell.floor_mm" in x.subjects)
    assert f.measured == pytest.approx(0.4) and f.remedies[0].edits == (Set(path="shell.floor_mm", value=3),)
    edits = tuple(thick_enough(thin, CORNERS, ARCHIVE_WORKSHOP.printers[0]))
    assert Set(path="shell.floor_mm", value=3) in edits
    assert not [e for e in thick_enough(thin, CornersAndSheet(), ARCHIVE_WORKSHOP.printers[0]) if e == edits[-1]]
    bench = tuple(thick_enough(thin, BENCH, ARCHIVE_WORKSHOP.printers[0]))
    assert bench == (Set(path="shell.floor_mm", value=3),)


def test_a_plate_too_large_for_the_bed_is_cut_from_sheet_with_what_stands_on_it() -> None:
    """A floor of over 260 on a bed of 180: of acrylic it is one piece, boards stand on standoffs, the drive lies on it. Standoffs are screwed in before their
    board is there, whose own connectors stand over its holes."""
    d = Design(
        name="x", shell=Shell(inner_mm=(260, 260, 110), construction=TwoHalves(joint_mm=98)), printer="bench-180"
    )
    for key in ("board-mini-itx", "sbc-65x30", "drive-2.5x9"):
        d = apply(d, PlaceNew(component=key))
    for made, name in ((OpenBench(), "plate"), (FrameAndCovers(), "floor"), (CornersAndSheet(), "floor")):
        cased = apply(d, Construct(construction=made))
        f = next(f for f in alone(cased, "part-over-bed", "preview") if f.subjects[0] == name)
        r = next(r for r in f.remedies if r.label == f"Cut the {name} from acrylic")
        e = effect_of(cased, ARCHIVE_WORKSHOP, f.key, r.edits)
        assert e.clears and not e.new, (name, e.new)
        a = looked(apply(cased, Together(edits=r.edits)))
        assert a.case.floor_sheet is not None and {m.standoff_mm for m in a.case.mounts if m.of != "drive"} == {6.0}
        assert {m.top_mm for m in a.case.mounts if m.of == "drive"} == {a.design.shell.floor_mm}
    # what is fixed to an upright keeps its printed plate, and so does what has no holes
    for key in ("button-12", "own-plain"):
        more = (
            apply(d, PlaceNew(component=key))
            if key == "button-12"
            else apply(d, Swap(id="board-2", component=key, custom=plain_board()))
        )
        cased = apply(more, Construct(construction=OpenBench()))
        labels = [r.label for f in alone(cased, "part-over-bed", "preview") for r in f.remedies]
        assert labels and "Cut the plate from acrylic" not in labels


def test_a_window_in_the_floor_is_cut_through_it(good_wren: Design) -> None:
    """Vents in a floor of sheet are in its drawing."""
    a = looked(on_sheet(good_wren, CORNERS))
    plain = len(next(x for x in a.sheets if x.part == "floor").loops)
    assert plain == 1 + 8 + 4
    m = mk.evaluate(a.recipes["floor"], mk.FILE_TOL)
    assert m.genus() == 12  # every hole goes through


def test_of_a_plate_alone_nothing_is_printed_and_no_empty_file_is_made(good_wren: Design) -> None:
    d = apply(on_sheet(good_wren), Together(edits=(Remove(id="fan"), Remove(id="button"))))
    a = analyse(d, ARCHIVE_WORKSHOP)
    assert a.pieces == () and a.faults == ()
    files = package(a)
    assert set(files) == {
        *("case.step", "opened-case.glb", "plate.dxf", "plate.svg", "bill-of-materials.csv", "design.json"),
    }
    assert b"acrylic" in files["bill-of-materials.csv"]
    # beside printed corner pieces there is a set
    assert {"set.3mf", "drawings.pdf", "floor.dxf"} <= set(
        package(analyse(on_sheet(good_wren, CORNERS), ARCHIVE_WORKSHOP))
    )


def test_a_face_is_named_once(good_wren: Design) -> None:
    twice = FrameAndCovers(sheet=("bottom", "bottom"))
    with pytest.raises(DesignError, match="each once"):
        apply(good_wren, Construct(construction=twice))
    with pytest.raises(DesignError, match="print the floor"):
        apply(good_wren, Construct(construction=SlidingPanels(sheet=("bottom",), joint_thread="threaded rod")))


def test_the_floor_of_a_large_base_is_cut_from_sheet_in_one_press() -> None:
    """*Heron*'s base of 391.7 has a floor of 9.5 printed; acrylic is sold 10 thick, but under standoffs for #6-32, whose nuts are 2.78 high, at the most 3 of studs of 6."""
    d = heron_sliding()
    a = shaped(d)
    (f,) = (f for f in judge(a) if f.code == "part-over-bed" and f.subjects[0] == "base")
    (r,) = (r for r in f.remedies if "acrylic" in r.label)
    assert r.label == "Cut the floor from acrylic"
    cut = shaped(apply(d, Together(edits=r.edits)))
    assert cut.case.floor_sheet is not None and cut.design.shell.floor_mm == 3.0
    before = {g.key for g in judge(a)}
    assert [g.title for g in judge(cut) if g.severity == "stop" and g.key not in before] == []
    assert {p.name for p in cut.pieces} >= {"post-1", "post-2", "post-3", "post-4"} and "base" not in cut.recipes


def test_a_drive_on_a_sheet_that_no_stock_screw_fits_gets_another_floor() -> None:
    """#6-32 comes 3/16 and 1/4 in long: through 3 mm 1.76 and 3.35 of thread, where 3 turns are 2.38 and the drive takes 3.2 (SFF-8301). Through 2 mm 3/16 have 2.76."""
    shell = Shell(inner_mm=(200, 200, 60), floor_mm=3, construction=CoreAndWrap(floor="sheet", material="acrylic"))
    d = apply(Design(name="x", shell=shell), PlaceNew(component="drive-3.5"))
    d = apply(d, Move(id="drive", to_mm=(None, None, 0)))
    (f,) = alone(d, "mount-screw-length")
    assert f.severity == "stop" and f.limit == pytest.approx(3 * 25.4 / 32, abs=0.01)
    assert f.reason.startswith("No stock length passes 3 mm")
    assert [r.label for r in f.remedies] == ["A floor of 2 mm", "Print the floor"]
    for r in f.remedies:
        assert not alone(apply(d, Together(edits=r.edits)), "mount-screw-length")
