"""A case that stands on a side: which way is up, what it stands on, what sags, tips, draws air, is seen; measured against numbers worked by hand."""

from __future__ import annotations

import io
import json
import math
from functools import cache
from itertools import combinations

import numpy as np
import pytest
import trimesh
from manifold3d import CrossSection, Manifold

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.brief.asks import asks
from rhombex.core.choices import made_so
from rhombex.core.concerns.standing import laid_down
from rhombex.core.constructions import FrameAndCovers, OpenBench, SlidingPanels
from rhombex.core.cuts.shows import seen_faces
from rhombex.core.design import Brief, Design, OwnOpening, Pane, VentField, read_design
from rhombex.core.edits import (
    CarryBy,
    Construct,
    Edit,
    HingeLid,
    Move,
    MoveWall,
    PlaceNew,
    PropUp,
    PutOwnOpening,
    PutVent,
    Set,
    StandOn,
    StandOnFeet,
    Together,
    Turn,
    read_edit,
)
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.openings.fixed import fixed
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import tally
from rhombex.core.shell.offers import KINDS
from rhombex.core.shell.props import hangs_out, held_at_one_end
from rhombex.core.space import FACES, OUTWARD
from rhombex.core.stance import STANDS_ON, StandsOn, opposite, sides_of, stood, stood_size, up_axis
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren

from ..conftest import findings, read_good_wren
from .test_concerns import lump


def looked(d: Design, *edits: Edit) -> Analysis:
    return analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


@cache
def on(face: StandsOn, kind: str = "two halves") -> Analysis:
    """*Wren*, mended, made some way and stood on a face."""
    d = read_good_wren()
    made = made_so(d, ARCHIVE_WORKSHOP, kind) if kind != "two halves" else ()
    return looked(d, *made, StandOn(face=face))


@pytest.mark.parametrize(
    ("face", "size", "top", "front", "left"),
    [
        ("bottom", (100, 60, 40), "top", "front", "left"),
        ("front", (100, 40, 60), "back", "top", "left"),  # tipped forward: its lid looks at who uses it
        ("back", (100, 40, 60), "front", "top", "right"),  # tipped backward and turned round, so that its lid does
        ("left", (40, 60, 100), "right", "front", "top"),
        ("right", (40, 60, 100), "left", "front", "bottom"),
    ],
)
def test_what_is_where_as_it_stands(
    face: StandsOn, size: tuple[float, float, float], top: str, front: str, left: str
) -> None:
    """100 x 60 x 40, turned in the head."""
    where = sides_of(face)
    assert (where["bottom"], where["top"], where["front"], where["left"]) == (face, top, front, left)
    assert sorted(where.values()) == sorted(FACES)
    assert stood_size(face, (100, 60, 40)) == size
    frame = stood(face, (100, 60, 40))
    corners = [frame.local((x, y, z)) for x in (0, 100) for y in (0, 60) for z in (0, 40)]
    assert np.min(corners, 0).tolist() == [0, 0, 0] and tuple(np.max(corners, 0)) == size
    # right-handed: nothing is mirrored
    assert np.linalg.det(np.array([frame.x, frame.y, frame.z])) == pytest.approx(1)
    assert size[2] == (100, 60, 40)[up_axis(face)] and frame.z == OUTWARD[opposite(face)]


@pytest.mark.parametrize("kind", [k for k in KINDS if k != "open bench"])
@pytest.mark.parametrize("face", [s for s in STANDS_ON if s != "bottom"])
def test_each_foot_is_stuck_on_one_part_that_is_whole_there(face: StandsOn, kind: str) -> None:
    """A disc as broad as a foot, 0.1 to 0.3 under the outside: one part fills it and no other has anything of it."""
    a = on(face, kind)
    assert a.case.stands_on == face and not a.case.feet and a.faults == ()
    side = a.case.face(face)
    for at in a.case.stands_at:
        assert at == pytest.approx(side.at(side.on(at)))
        disc = Manifold.cylinder(0.2, a.case.foot_d_mm / 2, circular_segments=48).translate((0, 0, -0.3))
        f = side.frame
        put = np.array([f.x, f.y, f.z, at]).T
        shares = {
            p.name: (mk.evaluate(a.recipes[p.name], mk.FILE_TOL) ^ disc.transform(put)).volume() / disc.volume()
            for p in a.case.parts
            if p.in_place
        }
        full = [n for n, s in shares.items() if s > 1e-6]
        (name,) = full
        # what the openings of ports take is told
        assert shares[name] == pytest.approx(1.0, abs=1e-3) or findings(a.design, "opening-meets-screw")
    if len(a.case.stands_at) < 4:
        assert findings(a.design, "feet-too-few")


def test_nothing_of_the_case_is_otherwise_made() -> None:
    """On its side it is the same case as one without feet: stuck on, no seat is cut anywhere."""
    plain = looked(read_good_wren(), Set(path="shell.feet", value=False))
    for part in ("base", "lid"):
        assert on("left").recipes[part].digest == plain.recipes[part].digest
    seats = looked(read_good_wren())
    assert on("left").recipes["base"].digest != seats.recipes["base"].digest
    assert [x.count for x in on("left").bill if x.item == "foot, stick-on"] == [4]


def test_feet_in_the_corners_of_the_wall() -> None:
    """Feet of 10 in a wall of 143.8 x 36.8: 5 + 4 from the edge and 2 more, 11 in all, below; the lid begins at 29.8, and a foot wants 6 of one part all
    round, so that the upper ones are not at 25.8 but below 23.8, aside of the lower ones by more than 12."""
    a = on("left")
    assert a.case.foot is not None and a.case.foot.seat_mm == 0 and a.case.foot.d_mm == 10
    w, h = a.case.face("left").size_mm
    assert (w, h) == pytest.approx((a.case.box_mm[1], a.case.box_mm[2]))
    feet = sorted(a.case.wall_feet, key=lambda f: f[1])
    assert sorted(feet[:2]) == [pytest.approx((11, 11)), pytest.approx((w - 11, 11))]
    joint = a.case.seams[0].at_mm
    for (u, v), (x, y) in combinations(feet, 2):
        assert math.hypot(u - x, v - y) > 12
    assert all(11 <= v <= joint - 6 for _, v in feet) and all(11 <= u <= w - 11 for u, _ in feet)
    assert feet[3][1] > 17


@pytest.mark.parametrize(
    ("face", "kind"), [("left", "frame and covers"), ("front", "tray in a sleeve"), ("right", "core and wrap")]
)
def test_a_foot_keeps_off_the_heads_of_screws(face: StandsOn, kind: str) -> None:
    """Covers, end plate and wrap are screwed on from outside, near their corners: 5 + 1 and half a head are clear."""
    a = on(face, kind)
    heads = [j for j in a.case.joints if j.along == OUTWARD[opposite(face)]]
    assert len(heads) == 2 and len(a.case.wall_feet) == 4
    side = a.case.face(face)
    for u, v in a.case.wall_feet:
        for j in heads:
            x, y = side.on(j.at)
            assert math.hypot(u - x, v - y) > 6 + j.head_d_mm / 2


def test_vents_and_openings_keep_off_its_feet() -> None:
    """A field over the whole wall: no hole within 5 + 1 of a foot; and a hole of one's own that takes one is told."""
    a = looked(
        read_good_wren(),
        StandOn(face="left"),
        PutVent(vent=VentField(id="v", face="left", at_mm=(72, 18), size_mm=(130, 30))),
    )
    (field,) = (v for v in a.openings.vents if v.id == "v")
    assert field.holes and field.dropped
    for u, v in a.case.wall_feet:
        for x, y in field.holes:
            assert max(abs(x - u), abs(y - v)) > 6
    boxes = [b for what, _, b in fixed(a.case, a.things) if what == "a foot"]
    assert len(boxes) == 4
    for b, (u, v) in zip(boxes, a.case.wall_feet, strict=True):
        assert b.size == pytest.approx((a.case.face("left").thick_mm, 10, 10))
        assert a.case.face("left").on(b.centre) == pytest.approx((u, v))


def test_how_large_it_is_as_it_stands() -> None:
    """171.4 x 143.8 x 37, feet of 4 under it: on its back it is 171.4 wide, 37 deep, 147.8 high."""
    for face, high in (("bottom", 2), ("back", 1), ("left", 0)):
        a = on(face)  # type: ignore[arg-type]
        x, y, z = a.case.box_mm
        stands = {"bottom": (x, y, z + 4), "back": (x, z, y + 4), "left": (z, y, x + 4)}[face]
        assert a.case.stood_mm == pytest.approx(stands)
        assert a.case.over_all_mm[high] == pytest.approx(a.case.box_mm[high] + 4)
        (litres,) = (t for t in tally(a) if t.key == "litres")
        assert [round(i.value, 3) for i in litres.trail.inputs] == [round(s, 3) for s in stood_size(face, (x, y, z))]  # type: ignore[arg-type]


def test_the_limit_of_the_brief_is_of_the_case_as_it_stands() -> None:
    """A shelf 160 high has no room for 171.4 + 4 upright."""
    d = apply(read_good_wren(), Set(path="brief.size_limit_mm", value=(200, 200, 160)))
    assert findings(d, "case-over-limit") == []
    (f,) = findings(apply(d, StandOn(face="left")), "case-over-limit")
    assert f.title == f"The case is {d.shell.inner_mm[0] + 2 * d.shell.wall_mm + 4 - 160:.1f} mm too high for the brief"
    (ask,) = (x for x in asks(looked(d, StandOn(face="left"))) if x.key == "size")
    assert ask.state == "unmet"


def test_it_tips_by_its_stance() -> None:
    """On its back: atan(reach / height) by hand, the centre in the frame that it stands in."""
    d = read_good_wren()
    (f,) = findings(apply(d, StandOn(face="back")), "tips-over")
    reach, z = (next(i.value for i in f.why.inputs if i.name == n) for n in ("reach", "height of the centre"))
    assert f.severity == "stop" and f.measured == pytest.approx(math.degrees(math.atan2(reach, z)), abs=1e-3)
    a = on("back")
    depth = [a.case.stance.local(p)[1] for p in a.case.stands_at]
    assert reach < (max(depth) - min(depth)) / 2 and 60 < z < 100
    assert findings(d, "tips-over") == []
    assert f.remedies[0].label == "Stand it on its floor"


def test_a_heavier_top_tips_sooner() -> None:
    """A lump on the wall that is up raises the centre by its mass: (m z + M Z) / (m + M), worked here from the two findings."""
    (light,) = findings(apply(read_good_wren(), StandOn(face="front")), "tips-over")
    (heavy,) = findings(apply(read_good_wren(), Together(edits=(lump(700.0), StandOn(face="front")))), "tips-over")
    of = [{i.name: i.value for i in f.why.inputs} for f in (light, heavy)]
    assert of[1]["mass"] - of[0]["mass"] == pytest.approx(0.7, abs=0.002)
    # 30 long from the inside of the back wall, 3 thick, 147.8 over the desk
    middle = on("front").case.box_mm[1] - read_good_wren().shell.wall_mm - 15 + 4
    mean = (of[0]["mass"] * of[0]["height of the centre"] + 0.7 * middle) / (of[0]["mass"] + 0.7)
    assert of[1]["height of the centre"] == pytest.approx(mean, abs=0.3)


def test_floors_that_stand_upright_do_not_sag_and_walls_do() -> None:
    d = apply(read_good_wren(), Together(edits=(lump(3000.0), Set(path="shell.wall_mm", value=1.2))))
    assert findings(d, "side-sags") == []
    (f,) = findings(apply(d, StandOn(face="back")), "side-sags")
    assert f.measured == pytest.approx(3.651, abs=0.005) and f.subjects[0] == "base"
    thin = apply(wren(), Set(path="shell.floor_mm", value=0.4))
    heavy = apply(thin, PlaceNew(component="drive-3.5"))
    assert findings(heavy, "floor-sags")
    assert findings(apply(heavy, StandOn(face="left")), "floor-sags") == []


def test_the_wall_that_is_up_sinks_with_what_hangs_from_it() -> None:
    """A lump of 2 kg under the back wall, which is up: 29.4 N would be 3 kg; alone by its own weight that wall does not."""
    d = apply(read_good_wren(), Together(edits=(Set(path="shell.wall_mm", value=0.8), StandOn(face="front"))))
    assert findings(d, "top-sinks") == []
    (f,) = findings(apply(d, lump(2000.0)), "top-sinks")
    of = {i.name: i.value for i in f.why.inputs}
    assert f.title in ("The back wall of the case sinks in its middle", "The back wall comes to lean on Drive")
    assert of["P"] == pytest.approx(2 * 9.81) and of["of it as in the middle"] == pytest.approx(0.695, abs=0.002)
    assert (of["a"], of["b"]) == pytest.approx((31, 165.6))
    # 0.0169 x 19.62 N x 0.695 x 31^2 / (3000 x 0.8^3 / 12 / (1 - 0.35^2)), times creep
    own = 0.01297 * of["q"] * 1e-6 * 31**4
    bent = (0.0169 * 19.62 * of["of it as in the middle"] * 31**2 + own) / (3000 * 0.8**3 / 12 / (1 - 0.35**2))
    sunk = bent * of["creep"]
    assert float(f.reason.split("sink by ")[1].split(" mm")[0]) == pytest.approx(sunk, abs=0.06)


def test_what_hangs_on_an_upright_wall_is_told_and_its_own_wall_carries_it() -> None:
    d = apply(read_good_wren(), lump(400.0))
    (f,) = findings(apply(d, StandOn(face="left")), "nothing-under-it")
    assert [r.label for r in f.remedies] == ["Stand it on its back"] and "upright now" in f.reason
    for face in ("back", "front"):  # it stands on that wall, or hangs from it by its screws
        assert findings(apply(d, StandOn(face=face)), "nothing-under-it") == []
    # a post of the floor bears nothing there
    posted = apply(d, PropUp(id="lump", rests_on="post"))
    assert looked(posted).case.props and findings(posted, "nothing-under-it") == []
    assert findings(apply(posted, StandOn(face="right")), "nothing-under-it")


def test_air_rises_by_the_height_that_it_has() -> None:
    """Without a fan, A goes as one over the root of the height: 31 inside on the floor, 165.6 on its side."""
    d = read_good_wren()
    without = apply(d, read_edit({"do": "remove", "id": "fan"}))
    flat, tall = (analyse(x, ARCHIVE_WORKSHOP, "none") for x in (without, apply(without, StandOn(face="left"))))
    x, _, z = without.shell.inner_mm
    assert tall.need.area_mm2.value / flat.need.area_mm2.value == pytest.approx(math.sqrt(z / x))
    assert next(i.value for i in tall.need.area_mm2.inputs if i.name == "h") == pytest.approx(x / 2)
    # it loses heat through another skin: sides and top, not what it stands on
    assert tall.ladder.inside_c != pytest.approx(flat.ladder.inside_c, abs=0.01)


def test_vents_on_the_wall_that_it_stands_on() -> None:
    """A slot as high as the feet all round; with no feet it is shut."""
    field = PutVent(vent=VentField(id="v", face="left", at_mm=(72, 15), size_mm=(110, 18)))
    d = apply(read_good_wren(), Together(edits=(field, StandOn(face="left"))))
    (shut,) = findings(apply(d, Set(path="shell.feet", value=False)), "vents-on-the-desk")
    assert shut.title == "The vents in the left side lie on the desk" and shut.severity == "stop"
    assert [r.label for r in shut.remedies] == ["Put feet under it", "Stand it on its floor"]
    # 40 higher: 2 x (143.78 + 77) less four feet of 10, 4 high, for 118 holes of 25 mm2
    wide = VentField(id="v", face="left", at_mm=(72, 34), size_mm=(120, 56), follow_heat=False)
    many = apply(d, Together(edits=(MoveWall(face="top", by_mm=40), PutVent(vent=wide))))
    (low,) = findings(many, "feet-too-low")
    assert low.measured == pytest.approx((2 * (143.78 + 77) - 40) * 4 / 100) and low.limit == pytest.approx(29.5)
    assert [r.label for r in low.remedies] == ["Stand it on its floor"] and low.severity == "weigh"
    assert findings(apply(many, StandOn(face="bottom")), "feet-too-low") == []


def test_no_vents_or_fans_are_offered_where_it_stands() -> None:
    d = apply(wren(), StandOn(face="left"))
    for f in findings(d, "vents-too-small"):
        assert all("left" not in r.label for r in f.remedies)
    placed = apply(read_good_wren(), Together(edits=(StandOn(face="back"), PlaceNew(component="fan-40x10"))))
    assert placed.placements[-1].face not in ("back", None)


def test_what_looks_at_the_desk() -> None:
    """Hinges that stand out farther than feet of 4 do, a handle that is on its side, and nothing on a wall that hangs."""
    d = read_good_wren()
    hung = apply(d, HingeLid(hinge={"side": "left"}))  # type: ignore[arg-type]
    (f,) = findings(apply(hung, StandOn(face="left")), "needs-room-under-it")
    hinge = looked(hung).case.hinge
    assert hinge is not None and f.title == "The hinge of the lid has no room under the case"
    assert f.limit == pytest.approx(hinge.out_mm + hinge.r_mm) and f.measured == 4
    assert [r.label for r in f.remedies] == ["Stand it on its floor", "Stand it on its back"]
    assert findings(hung, "needs-room-under-it") == []
    wall = apply(d, Together(edits=(StandOn(face="front"), Set(path="brief.stands", value="wall"))))
    assert findings(wall, "needs-room-under-it") == []
    # what the brief does without needs no room
    few = apply(d, Together(edits=(StandOn(face="right"), Set(path="brief.unneeded", value=tuple(_right(d))))))
    assert findings(few, "needs-room-under-it") == []


def _right(d: Design) -> list[str]:
    return [p.ref for t in looked(d).things for p in t.ports if p.face == "right"]


def test_hung_on_a_wall_by_its_floor() -> None:
    """With its lid towards the room its floor is at the wall: the pull of its top is m g (its middle from the wall) / its height, 143.8."""
    d = apply(
        read_good_wren(),
        Together(edits=(StandOn(face="back"), Set(path="brief.stands", value="wall"), lump(2000.0))),
    )
    (f,) = findings(d, "caution-wall")
    assert f.reason.startswith("Hung by its floor")
    a = looked(d)
    pull = next(i.value for i in f.why.inputs if i.name == "pull of the top")
    # the lump's middle is 3 + 15 over the outside of the floor, all else within 37
    low, high = (2.0 * 18 + 0.35 * z for z in (0, 37))
    assert low * 9.81 / a.case.box_mm[1] < pull < high * 9.81 / a.case.box_mm[1]


def test_which_faces_are_seen() -> None:
    """On a desk all but what it stands on and its back; on a shelf only the front."""
    assert set(seen_faces(Brief(), "bottom")) == {"front", "left", "right", "top"}
    assert set(seen_faces(Brief(), "left")) == {"front", "top", "bottom", "right"}
    assert set(seen_faces(Brief(), "back")) == {"top", "left", "right", "front"}
    assert seen_faces(Brief(stands="shelf"), "back") == ("top",)
    assert seen_faces(Brief(stands="shelf"), "right") == ("front",)


def test_a_panel_that_stands_upright_is_pushed() -> None:
    """On its floor nobody pushes that; on its side 50 N in its middle do: 0.01343 x 50 x 138^2 / (3000 x 1^3 / 12 / 0.8775) / 1 = 44.9."""
    d = apply(read_good_wren(), Set(path="shell.floor_mm", value=1.0))
    assert [f for f in findings(d, "panel-bends") if "bottom" in f.title] == []
    (f,) = (f for f in findings(apply(d, StandOn(face="back")), "panel-bends") if "bottom" in f.title)
    assert f.measured == pytest.approx(0.01353 * 50 * 138**2 / (3000 / 12 / (1 - 0.35**2)), rel=0.005)


def test_what_cannot_be_is_refused_and_what_is_mended_along() -> None:
    d = read_good_wren()
    printed = apply(d, StandOnFeet(foot="printed", under=False))
    stood_up = apply(printed, StandOn(face="left"))
    assert stood_up.shell.foot == "stick-on" and all(p.part != "feet" for p in stood_up.part_processes)
    assert "feet" not in looked(stood_up).recipes
    with pytest.raises(DesignError, match="stuck on"):
        apply(printed, Set(path="shell.stands_on", value="left"))
    with pytest.raises(DesignError, match="stuck on"):
        apply(stood_up, StandOnFeet(foot="screwed", under=False))
    with pytest.raises(DesignError):
        read_edit({"do": "stand on", "face": "top"})
    back = apply(stood_up, StandOn(face="bottom"))
    assert back.shell.stands_on == "bottom" and len(looked(back).case.feet) == 4
    assert read_design(json.loads(stood_up.model_dump_json())) == stood_up


def test_a_bench_has_no_side_to_stand_on() -> None:
    d = apply(read_good_wren(), Together(edits=(Construct(construction=OpenBench()), StandOn(face="left"))))
    (f,) = findings(d, "stands-on-no-wall")
    assert f.severity == "stop" and findings(apply(d, f.remedies[0].edits[0]), "stands-on-no-wall") == []
    assert looked(d).case.stands_at == () and findings(d, "feet-too-few") == []


def test_sheet_behind_its_cheeks_has_no_feet() -> None:
    d = apply(
        read_good_wren(),
        Together(edits=(Construct(construction=SlidingPanels(sheet=("back",))), StandOn(face="back"))),
    )
    (f,) = findings(d, "feet-too-few")
    assert f.measured == 0 and [r.label for r in f.remedies] == ["Stand it on its floor"]


def test_it_is_taken_home_as_it_stands() -> None:
    """glTF, y up: on its left side it is as high as it was wide, opened to the left by the lid's travel and 30."""
    files = package(on("left"), ("glb",))
    scene = trimesh.load(io.BytesIO(files["opened-case.glb"]), file_type="glb")
    size = {n: scene.geometry[n].bounds for n in scene.geometry}
    assert any("base" in n for n in size)
    whole = {n: trimesh.transform_points(scene.geometry[n].vertices, scene.graph[n][0]) for n in scene.geometry}
    base, lid = (next(v for n, v in whole.items() if n.endswith(p)) for p in (" base", " lid"))
    assert np.ptp(base[:, 1]) * 1000 == pytest.approx(on("left").case.box_mm[0], abs=0.01)
    assert base[:, 1].min() == pytest.approx(0, abs=1e-6)
    assert lid[:, 0].max() < base[:, 0].min() + 0.001  # to the left of it


def test_a_handle_is_on_its_side_and_counts_there() -> None:
    a = looked(read_good_wren(), CarryBy(handle={"runs": "x"}), StandOn(face="back"))  # type: ignore[arg-type]
    assert a.case.handle is not None
    assert a.case.stood_mm[1] == pytest.approx(a.case.box_mm[2] + a.case.handle.size_mm[2])


def test_sections_of_the_wall_are_whole_under_its_feet() -> None:
    """Cut 0.3 behind the left wall's outside: all of the disc of a foot is plastic."""
    a = on("left")
    turned = mk.evaluate(a.recipes["base"], mk.FILE_TOL).rotate((0, 90, 0))  # x becomes -z
    section = turned.slice(-0.3)
    for p in a.case.stands_at:
        disc = CrossSection.circle(5, 64).translate((p[2], p[1]))
        assert (section ^ disc).area() == pytest.approx(disc.area(), rel=1e-3)


def test_what_tips_is_laid_down() -> None:
    """637 high it is laid on its back: its front has plugs. Where the back is seen through, on its left side; a cube has nothing better."""
    d = apply(read_good_wren(), MoveWall(face="top", by_mm=600))
    tall = analyse(d, ARCHIVE_WORKSHOP, "settled")
    assert [r.label for r in laid_down(tall, 15.0)] == ["Stand it on its back"]
    (edit,) = laid_down(tall, 15.0)[0].edits
    assert findings(d, "tips-over") and findings(apply(d, edit), "tips-over") == []
    window = OwnOpening(
        id="w", name="Window", face="back", at_mm=(80, 200), shape="rectangle", size_mm=(40, 40), pane=Pane()
    )
    seen = analyse(apply(d, PutOwnOpening(opening=window)), ARCHIVE_WORKSHOP, "settled")
    assert [r.label for r in laid_down(seen, 15.0)] == ["Stand it on its left side"]
    assert laid_down(tall, 80.0) == ()


def test_what_lies_flat_against_a_wall_has_no_free_end() -> None:
    """A block of 20 x 16 held by the back wall: 8 into the room is half of its breadth and no more, 9 is."""
    for deep, free in ((8.0, False), (9.0, True)):
        add = lump(400.0)
        assert add.custom is not None
        (body,) = add.custom.solids
        flat = add.custom.model_copy(update={"solids": (body.model_copy(update={"lo": (-10, -8, -deep)}),)})
        d = apply(read_good_wren(), add.model_copy(update={"custom": flat}))
        (t,) = (t for t in looked(d).things if t.id == "lump")
        assert hangs_out(t) is free and held_at_one_end(t) is free
        for face in ("bottom", "left"):
            told = findings(apply(d, StandOn(face=face)), "nothing-under-it")
            assert bool(told) is free, (deep, face)


def test_walls_are_moved_out_as_far_as_what_goes_along_with_them_wants() -> None:
    """On its back it tips onto its top; where something heavy hangs on the top it goes along with that wall, so that this is moved farther."""
    d = apply(read_good_wren(), StandOn(face="back"))
    heavy = lump(300.0)
    assert heavy.custom is not None
    on_top = heavy.model_copy(
        update={"placement": heavy.placement.model_copy(update={"face": "top", "at_mm": (30, 60, 31)})}
    )
    for x in (d, apply(d, on_top)):
        (f,) = findings(x, "tips-over")
        way = f.remedies[-1]
        assert way.label.startswith("Move the ")
        assert findings(apply(x, Together(edits=way.edits)), "tips-over") == []


def test_heads_of_screws_that_are_lower_than_the_feet_are_no_matter() -> None:
    """Heads of M3, 3.0 high, stand out of covers that feet of 4 lift; without feet they scratch the desk."""
    made = Together(edits=made_so(read_good_wren(), ARCHIVE_WORKSHOP, "frame and covers"))
    d = apply(apply(read_good_wren(), made), StandOn(face="front"))
    (f,) = findings(d, "needs-room-under-it")
    assert "cover" not in f.title and f.remedies
    left = apply(d, StandOn(face="left"))
    assert findings(left, "needs-room-under-it") == []
    (bare,) = findings(apply(left, Set(path="shell.feet", value=False)), "needs-room-under-it")
    assert bare.title == "A screw of the cover has no room under the case" and bare.limit == 3.0 and bare.measured == 0


def test_a_window_that_the_case_stands_on_is_not_met() -> None:
    d = apply(
        read_good_wren(),
        Together(
            edits=(Construct(construction=FrameAndCovers(sheet=("left",))), Set(path="brief.window", value="left"))
        ),
    )
    for on_face, state, says in (("bottom", "met", "acrylic"), ("left", "unmet", "stands on it")):
        (ask,) = (x for x in asks(looked(d, StandOn(face=on_face))) if x.key == "window")  # type: ignore[arg-type]
        assert ask.state == state and says in ask.finding


def test_what_looks_at_the_wall_that_it_hangs_on() -> None:
    """Turned half round, the board's plugs look at the wall, 5 mm off, where that of HDMI wants 55 less what is behind the outside; turned once more they do not."""
    hung = apply(read_good_wren(), Set(path="brief.stands", value="wall"))
    assert findings(hung, "needs-room-under-it") == []
    turned = apply(hung, Turn(id="board", by=180))
    x, y, z = turned.placement("board").at_mm  # type: ignore[union-attr]
    d = apply(turned, Move(id="board", to_mm=(x, y + 75.1, z)))
    (f,) = findings(d, "needs-room-under-it")
    assert f.severity == "stop" and f.measured == 5.0 and "no room at the wall" in f.title and "HDMI" in f.title
    assert "hangs by its back" in f.reason
    (hdmi,) = (o for o in looked(d).openings.openings if o.label == "HDMI")
    assert f.limit == pytest.approx(55.0 - hdmi.set_back_mm, abs=1e-3) and 0 < hdmi.set_back_mm < 10
    (turn,) = f.remedies
    assert turn.label == "Turn Board half round"
    assert findings(apply(d, Together(edits=turn.edits)), "needs-room-under-it") == []
    # lid towards the room it hangs by its floor, out of which nothing looks
    assert findings(apply(d, StandOn(face="front")), "needs-room-under-it") == []
