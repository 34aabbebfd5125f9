"""A handle on the case: what is made of it, what it bears, where it has room."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from rhombex.core.advice.handle import askew_deg, gap_mm, links, load, section_mm3, stress
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.case.fittings import Bow
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.constructions import Magnets, Snaps
from rhombex.core.design import Design, Handle, PinnedCut, read_design
from rhombex.core.edits import (
    CarryBy,
    Edit,
    HoldByMagnets,
    HoldBySnaps,
    LayPart,
    MoveWall,
    PrintPart,
    PutCut,
    PutVent,
    Set,
    Together,
)
from rhombex.core.geometry import mesh_kernel
from rhombex.core.hardware.bill import Line
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import findings
from ..made import broken
from ..rough import shaped
from .test_concerns import heavy_drive

HERE = Handle(at_mm=(80, 60))


def carried(d: Design, *edits: Edit, handle: Handle = HERE) -> tuple[Analysis, Bow]:
    a = shaped(apply(d, Together(edits=(*edits, CarryBy(handle=handle)))))
    assert a.case.handle is not None
    return a, a.case.handle


def mesh(a: Analysis, part: str) -> Any:
    return mesh_kernel.evaluate(a.recipes[part], mesh_kernel.FILE_TOL)


def area(a: Analysis, part: str, z: float) -> float:
    return float(mesh(a, part).slice(z).area())


@pytest.mark.parametrize("runs", ["x", "y"])
def test_the_bow_is_as_large_as_told_and_has_its_holes(good_wren: Design, runs: Any) -> None:
    """Sections of the mesh: two feet of 16 x 18 at their foot less a hole for an insert each; nothing but them under the bar; the bar over all its
    length where it is widest."""
    a, bow = carried(good_wren, handle=Handle(runs=runs, at_mm=(80, 65), grip_mm=80))
    z, hole = a.case.box_mm[2], bow.screws[0].hole_mm
    assert area(a, "handle", z + 2) == pytest.approx(2 * (16 * 18 - math.pi / 4 * hole**2), rel=2e-3)
    assert area(a, "handle", z + 20) == pytest.approx(2 * 16 * 18, rel=1e-4)  # over the holes
    assert area(a, "handle", z + 35.5) == pytest.approx((80 + 2 * 16) * 18, rel=1e-4)
    lo, hi = np.array(mesh(a, "handle").bounding_box()).reshape(2, 3)
    assert tuple(hi - lo) == pytest.approx(bow.size_mm, abs=1e-6)
    assert bow.size_mm == ((112, 18, 51) if runs == "x" else (18, 112, 51))
    # it lies on its side, as wide as it is across, and closes
    (piece,) = [p for p in a.pieces if p.part == "handle"]
    assert piece.bbox_mm[2] == pytest.approx(18) and piece.watertight and piece.bodies == 1
    assert not [f for f in judge(a) if f.code == "hangs-free"]


def test_the_lid_is_drilled_where_the_handle_is_and_nowhere_else(good_wren: Design) -> None:
    a, bow = carried(good_wren)
    bare = shaped(good_wren)
    high = a.case.box_mm[2]
    free = bow.screws[0].clearance_mm
    assert free == pytest.approx(3.4 + 0.15 + 3.4 * 0.003, abs=0.02)  # upright round hole of PLA
    gone = area(bare, "lid", high - 1) - area(a, "lid", high - 1)
    assert gone == pytest.approx(2 * math.pi / 4 * free**2, rel=0.01)
    assert area(bare, "base", 10) == area(a, "base", 10)
    # the screw passes the lid and stands 3 in the insert
    assert [(j.screw_mm, j.grip_mm, j.engagement_mm) for j in bow.screws] == [(6, 3, 3)] * 2
    assert Line(item="insert", size="M3", count=2, use="handle").item == "insert"
    screws = next(g for g in a.joints if g.key == "case/handle")
    assert (screws.count, screws.screw_mm, screws.opened) == (2, 6.0, False)
    assert next(r for g, r in zip(a.joints, a.reach, strict=True) if g is screws).free


@pytest.mark.parametrize(
    "kind",
    ["two halves", "tray in a sleeve", "sliding panels", "frame and covers", "core and wrap", "corners and sheet"],
)
def test_every_case_with_a_top_is_carried(good_wren: Design, kind: str) -> None:
    d = (
        good_wren
        if kind == "two halves"
        else apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    )
    a, bow = carried(d, handle=Handle(grip_mm=80))
    assert a.faults == () and a.case.part(bow.top).name == bow.top
    parts = {p: mesh(a, p) for p in a.recipes if a.case.part(p).in_place}
    for name, m in parts.items():
        if name != "handle":
            assert (m ^ parts["handle"]).volume() < 1e-3, name
    # its screws go through what it stands on, and through nothing else of the case
    for name, m in parts.items():
        rod = [m.slice(bow.middle[2] - 1.5)] if name == bow.top else []
        for s in rod:
            for j in bow.screws:
                assert not any(
                    _inside(np.asarray(p), j.at[:2]) for p in (s.to_polygons() if s.num_contour() == 1 else [])
                )
    assert len(links(a, bow)) >= 1


def _inside(loop: Any, at: tuple[float, float]) -> bool:
    x, y = loop[:, 0] - at[0], loop[:, 1] - at[1]
    return bool(abs(np.sum(np.diff(np.unwrap(np.arctan2([*y, y[0]], [*x, x[0]]))))) > 3)


def on_a_bench(good_wren: Design, handle: Handle, *edits: Edit) -> Design:
    way = made_so(good_wren, ARCHIVE_WORKSHOP, "open bench")
    return apply(good_wren, Together(edits=(*way, *edits, CarryBy(handle=handle))))


def clear_of_all(a: Analysis) -> float:
    """The least distance from the handle to what stands on the plate, by the mesh kernel."""
    bow = mesh(a, "handle")
    solids = [body_in(t, s) for t in a.things for s in hard(t)]
    return min(float(bow.min_gap(s, 50.0)) for s in solids)


def test_a_handle_over_an_open_bench_spans_what_stands_on_it(good_wren: Design) -> None:
    """Where it is wished its feet stand in the drive; pressed, they stand a millimetre beside all, and the hand has its room over the highest of it."""
    d = on_a_bench(good_wren, Handle())
    (f,) = findings(d, "handle-in-the-way")
    assert f.severity == "stop" and f.subjects == ("handle", "drive") and "Drive" in f.title
    (way, off) = f.remedies
    assert (
        way.label.startswith("Let the handle span all that is under it, the plate ")
        and off.label == "Take the handle off"
    )
    then = apply(d, Together(edits=way.edits))
    a = shaped(then)
    bow = a.case.handle
    assert bow is not None and bow.top == "plate" and bow.middle[2] == pytest.approx(then.shell.floor_mm)
    assert {x.code for x in judge(a) if "handle" in x.code or "handle" in x.subjects} <= {"handle-bends-top"}
    assert clear_of_all(a) >= 1.0 - 1e-6
    # the room for the hand, 35, and 5, over the highest that stands under the bar
    axis, half = (1, bow.deep_mm / 2 + 5) if bow.runs == "x" else (0, bow.deep_mm / 2 + 5)
    tall = max(
        s.box.hi[2]
        for t in a.things
        for s in hard(t)
        if s.box.lo[axis] < bow.middle[axis] + half and s.box.hi[axis] > bow.middle[axis] - half
    )
    assert bow.room_mm + bow.middle[2] == pytest.approx(tall + 5 + Handle().room_mm)
    # it stands on the plate and is drilled through it from below, one hole of an M3's clearance for each foot
    z = then.shell.floor_mm
    assert area(a, "handle", bow.room_mm / 2 + 20) == pytest.approx(2 * bow.foot_mm * bow.deep_mm, rel=1e-6)
    bare = shaped(apply(then, CarryBy(handle=None)))
    lost = area(bare, "plate", z / 2) - area(a, "plate", z / 2)
    assert lost == pytest.approx(2 * math.pi / 4 * bow.screws[0].clearance_mm ** 2, rel=2e-3)
    assert list(broken(then)) == []


def test_a_bench_of_sheet_and_one_without_feet(good_wren: Design) -> None:
    """A bench of sheet is drilled for it; without feet either stands on the heads of its screws: 3 mm of an M3 (ISO 4762)."""
    d = on_a_bench(good_wren, Handle())
    for plate in ("printed", "sheet"):
        x = apply(d, Set(path="shell.construction.plate", value=plate))
        (f,) = findings(x, "handle-in-the-way")
        x = apply(x, Together(edits=f.remedies[0].edits))
        a = shaped(x)
        assert a.case.handle is not None and [j.holds for j in a.case.handle.screws] == ["plate", "plate"]
        if plate == "sheet":
            (sheet,) = a.sheets
            with_it = len(sheet.loops)
            (sheet,) = shaped(apply(x, CarryBy(handle=None))).sheets
            assert with_it == len(sheet.loops) + 2
            continue
        assert findings(x, "stands-on-its-nuts") == []
        (low,) = findings(apply(x, Set(path="shell.feet", value=False)), "stands-on-its-nuts")
        assert (low.measured, low.limit) == (0.0, 3.0)
        assert findings(apply(x, Together(edits=low.remedies[0].edits)), "stands-on-its-nuts") == []


def test_legs_keep_clear_of_uprights_posts_and_feet(good_wren: Design) -> None:
    """Over a post of the drive, under nothing; over a corner with its foot."""
    d = on_a_bench(good_wren, Handle(), MoveWall(face="left", by_mm=60), MoveWall(face="right", by_mm=60))
    a = shaped(d)
    foot = a.case.feet[0]
    lo = a.case.cavity.lo
    h = Handle(runs="y", grip_mm=60, at_mm=(foot[0] - lo[0] + 2, foot[1] - lo[1] + 2 + (60 + 16) / 2))
    b = shaped(apply(d, CarryBy(handle=h)))
    assert b.case.handle is not None
    gap, who = gap_mm(b, b.case.handle)
    assert who == "a foot" and gap == pytest.approx(2 - a.case.foot_d_mm / 2 - 5.5 / 2)


def test_the_bar_bends_as_a_frame_that_is_clamped_at_its_feet(good_wren: Design) -> None:
    """By slope and deflection: the joint turns by (F L / 8) / (2 E I / L + 4 E I' / h), the leg's end bears 4 E I' / h of that, the bar's middle F L / 4 less it.
    Section of 18 x 16 by hand: skin 0.45 + 2 x 0.407 = 1.264 above and
    below, nine layers of 0.2 across it, infill of 20 % as stiff as its share squared."""
    a, bow = carried(good_wren)
    skin = 0.45 + 2 * (0.45 - 0.2 * (1 - math.pi / 4))
    inertia = (18 * 16**3 - (1 - 0.2**2) * (18 - 9 * 0.2) * (16 - 2 * skin) ** 3) / 12
    assert section_mm3(a, bow) == pytest.approx(inertia / 8, rel=1e-6)
    # printed full it is a plain rectangle: b h^2 / 6
    assert section_mm3(a, bow, 1.0) == pytest.approx(18 * 16**2 / 6, rel=1e-9)
    found, borne = stress(a, bow, 100.0)
    long, high = 115 + 16, 35 + 16 / 2  # bar and legs are both 16 through: I is the same
    turned = (100 * long / 8) / (2 / long + 4 / high)
    middle = 100 * long / 4 - 4 / high * turned
    assert found.value == pytest.approx(middle / (inertia / 8), abs=1e-4) and borne.value == 52
    # short legs are the beam held at both ends (Roark): F L / 8; of a bar that is much stiffer than its legs these are bent most
    short = bow.model_copy(update={"room_mm": 1e-6, "bar_mm": 1e-2})
    assert stress(a, short, 100.0)[0].value * section_mm3(a, short) == pytest.approx(100 * long / 8, rel=2e-3)
    ends_first = 0
    solid = good_wren.process_of("handle").model_copy(update={"infill": 1.0})
    a, bow = carried(good_wren, PrintPart(part="handle", process=solid))
    for bar in (18.0, 24.0, 30.0, 60.0):
        stiff = bow.model_copy(update={"bar_mm": bar})
        of_bar, of_leg = (
            section_mm3(a, stiff) * bar / 2,
            section_mm3(a, stiff, high_mm=16.0) * 16 / 2,
        )  # I = W x half its height
        high = 35 + bar / 2
        turned = (100 * long / 8) / (2 * of_bar / long + 4 * of_leg / high)
        ends = 4 * of_leg / high * turned
        two = (100 * long / 4 - ends) / section_mm3(a, stiff), ends / section_mm3(a, stiff, high_mm=16.0)
        assert stress(a, stiff, 100.0)[0].value == pytest.approx(max(two), abs=1e-4)
        ends_first += two[1] > two[0]
    assert ends_first == 1
    laid, bow = carried(good_wren, LayPart(part="handle", down="bottom"))
    assert stress(laid, bow, 100.0)[1].value == pytest.approx(52 * 0.65)  # its bar pulls across the layers


def test_what_a_hand_pulls_with() -> None:
    assert load(5000).value == pytest.approx(5 * 9.81 * 2)


def test_the_weakest_of_all_that_carries_is_told(good_wren: Design) -> None:
    """Heads: 2 x pi / 4 (5.5^2 - 3.56^2) x 15 MPa = 414 N, of the four lid screws twice as much; insert: pi x 4.6 x 5.7 x shear, as at Hardware."""
    a, bow = carried(good_wren)
    found = {x.what: x.bears_n.value for x in links(a, bow)}
    free = bow.screws[0].clearance_mm
    assert found["the plastic under the heads of its screws"] == pytest.approx(
        2 * math.pi / 4 * (5.5**2 - free**2) * 15, rel=1e-6
    )
    assert found["the plastic of the lid under its heads"] == pytest.approx(
        4 / 2 * found["the plastic under the heads of its screws"], rel=1e-3
    )
    assert list(found.values()) == sorted(found.values())
    weak, bow = carried(good_wren, HoldByMagnets(magnets=Magnets()))
    assert links(weak, bow)[0].what == "the magnets of the lid"
    hooked, bow = carried(good_wren, HoldBySnaps(snaps=Snaps()))
    assert "the snaps" in [x.what for x in links(hooked, bow)]


@pytest.mark.parametrize(
    ("edits", "handle", "said", "severity", "remedy"),
    [
        (
            (heavy_drive(2000), HoldByMagnets(magnets=Magnets())),
            HERE,
            "the magnets of the lid",
            "stop",
            "Hold the lid by screws",
        ),
        (
            (heavy_drive(50_000),),
            HERE.model_copy(update={"thread": "cut in plastic"}),
            "the plastic under",
            "stop",
            "Take the handle off",
        ),
    ],
)
def test_a_lid_that_comes_off_in_the_hand_is_told(
    good_wren: Design, edits: tuple[Edit, ...], handle: Handle, said: str, severity: str, remedy: str
) -> None:
    d = apply(good_wren, Together(edits=(*edits, CarryBy(handle=handle))))
    (f,) = findings(d, "handle-tears-off")
    assert said in f.title and (f.severity, f.remedies[0].label) == (severity, remedy)
    after = apply(d, Together(edits=f.remedies[0].edits))
    assert not [x for x in findings(after, "handle-tears-off") if said in x.title]


def test_a_case_hangs_under_its_handle(good_wren: Design) -> None:
    """30 beside the hand and 40 under it: atan(3 / 4) = 36.87 degrees."""
    _, bow = carried(good_wren)
    x, y, z = bow.middle
    assert askew_deg(bow, (x + 18, y - 24, z + 35 - 40)) == pytest.approx(math.degrees(math.atan(3 / 4)))
    assert askew_deg(bow, (x, y, 0)) == 0
    d = apply(good_wren, CarryBy(handle=Handle(at_mm=(82, 20))))
    (f,) = findings(d, "handle-hangs-askew")
    assert findings(apply(d, Together(edits=f.remedies[0].edits)), "handle-hangs-askew") == []


def test_feet_and_heads_stay_clear_of_what_is_there(good_wren: Design) -> None:
    a, bow = carried(good_wren, handle=Handle(at_mm=(82, 110)))
    gap, who = gap_mm(a, bow)
    assert who == "Fan grille"
    fan = next(v for v in a.openings.vents if v.fan is not None)
    left = a.case.face("top").at((fan.at_mm[0] - fan.size_mm[0] / 2, fan.at_mm[1]))[0]
    assert gap == pytest.approx(left - (82 + 2.89 - 115 / 2), abs=1e-6)  # its left foot ends that far from the grille
    # vents give way to its feet, as to any screw
    vent = {"id": "vent-top", "face": "top", "at_mm": [115, 60], "size_mm": [80, 60], "follow_heat": False}
    vented, bow = carried(good_wren, PutVent.model_validate({"vent": vent}))
    field = next(v for v in vented.openings.vents if v.fan is None and v.face == "top")
    for hole in field.holes:
        for j in bow.screws:
            assert math.dist(vented.case.face("top").at(hole)[:2], j.at[:2]) > j.clearance_mm / 2 + 2


def test_it_goes_along_when_walls_are_moved_and_counts_for_the_brief(good_wren: Design) -> None:
    d = apply(good_wren, CarryBy(handle=HERE))
    moved = apply(d, MoveWall(face="left", by_mm=12))
    a, b = (shaped(x).case for x in (d, moved))
    assert a.handle and b.handle and moved.shell.handle and moved.shell.handle.at_mm == (92, 60)
    # what stands inside keeps its place in the room, and so does the handle over it
    assert b.handle.middle[0] - a.handle.middle[0] == pytest.approx(12)
    assert a.over_all_mm == (a.box_mm[0], a.box_mm[1], a.box_mm[2] + 51 + 4)
    limit = apply(d, Set(path="brief.size_limit_mm", value=(200.0, 200.0, 80.0)))
    (f,) = findings(limit, "case-over-limit")
    assert f.measured == pytest.approx(a.box_mm[2] + 51 + 4) and "too high" in f.title


@pytest.mark.parametrize("runs", ["x", "y"])
def test_a_handle_is_cut_through_its_bar_alone(good_wren: Design, runs: Any) -> None:
    """In its middle both halves are as large as by hand less a pin's hole; in a foot, or along the bar, a cut is told."""
    i, handle = (0, HERE) if runs == "x" else (1, Handle(at_mm=(40, 75), runs="y", grip_mm=80))
    put = CarryBy(handle=handle)
    at = handle.at_mm[i]  # type: ignore[index]
    a = shaped(apply(good_wren, Together(edits=(put, PutCut(cut=PinnedCut(part="handle", axis=runs, at_mm=at))))))
    whole, pin = mesh(a, "handle").volume(), math.pi / 4 * (3 + 0.1) ** 2
    halves = [mesh_kernel.evaluate(a.piece_recipes[f"handle-{k}"], mesh_kernel.FILE_TOL) for k in (1, 2)]
    (cut,) = next(c.cuts for c in a.cuts if c.part == "handle")
    assert cut.pin is not None and cut.joined == "steel pins" and len(cut.dowels) == 1
    for half in halves:
        assert len(half.decompose()) == 1
        assert half.volume() == pytest.approx(whole / 2 - pin * (cut.pin.long_mm / 2 + 0.5), rel=2e-3)
    high = a.case.box_mm[2]
    middle = (handle.at_mm[1 - i] + a.case.cavity.lo[1 - i], high + handle.room_mm + handle.bar_mm / 2)  # type: ignore[index]
    assert cut.dowels[0] == pytest.approx((middle[1], middle[0]), abs=1e-6)
    foot = PinnedCut(part="handle", axis=runs, at_mm=at + handle.grip_mm / 2 + 8)
    (f,) = findings(apply(good_wren, Together(edits=(put, PutCut(cut=foot)))), "cut-through-feature")
    assert f.severity == "stop" and f.subjects == ("handle", "foot of the handle")
    level = PutCut(cut=PinnedCut(part="handle", axis="z", at_mm=high + handle.room_mm + 8 - a.case.cavity.lo[2]))
    (f,) = findings(apply(good_wren, Together(edits=(put, level))), "cut-through-feature")
    assert f.severity == "stop" and f.subjects == ("handle", "length of a bar")


def test_the_seam_of_a_handle_bears_the_case_that_hangs_from_it(good_wren: Design) -> None:
    """Glue of 5 MPa at the least over 18 x 16^2 / 6 mm3 bears 3.84 N m; F x / 2 three times over, x half of 115 + 16: 39.1 N, 1.99 kg lifted with a jerk of 2."""
    seam = Together(edits=(CarryBy(handle=HERE), PutCut(cut=PinnedCut(part="handle", axis="x", at_mm=80))))
    plain = apply(good_wren, seam)
    (f,) = findings(apply(plain, heavy_drive(2500)), "handle-parts-at-seam")
    assert f.severity == "stop" and f.measured == pytest.approx(3.84, abs=1e-6)
    pull = f.limit / 3 * 4000 / 131
    assert 2 * 9.81 * 2.5 < pull < 2 * 9.81 * 3.0
    assert findings(plain, f.code) == []
    assert [r.label for r in f.remedies] == ["Leave the handle whole", "Take the handle off"]
    for r in f.remedies:
        assert findings(apply(apply(plain, heavy_drive(2500)), Together(edits=r.edits)), f.code) == []


def test_a_handle_longer_than_the_bed_is_made_shorter(good_wren: Design) -> None:
    """115 + 2 x 16 = 147 long on a bed of 130: it is cut, and where that does not bear the case it is made as long as the bed takes."""
    bed = ARCHIVE_WORKSHOP.printers[0].model_copy(
        update={"key": "other", "name": "Other", "bed_mm": (140.0, 80.0, 200.0)}
    )
    shop = ARCHIVE_WORKSHOP.model_copy(update={"printers": (bed,)})
    d = apply(good_wren, Together(edits=(CarryBy(handle=HERE), heavy_drive(4000), Set(path="printer", value="other"))))
    c = next(c for c in analyse(d, shop).cuts if c.part == "handle")
    assert len(c.pieces) == 2 and all(p.fits_bed for p in c.pieces)
    (f,) = (f for f in judge(analyse(d, shop)) if f.code == "handle-parts-at-seam")
    shorter = f.remedies[0]
    assert shorter.label == f"Make it {math.floor(115 - c.over_mm)} mm long for the hand"
    after = analyse(apply(d, Together(edits=shorter.edits)), shop)
    assert len(next(c for c in after.cuts if c.part == "handle").pieces) == 1
    assert "handle-parts-at-seam" not in {f.code for f in judge(after)}


def test_wrong_sizes_are_refused_by_name(good_wren: Design) -> None:
    for bad, field in (({"grip_mm": 0}, "grip_mm"), ({"bar_mm": float("nan")}, "bar_mm"), ({"runs": "z"}, "runs")):
        with pytest.raises(DesignError, match=field):
            read_design(
                good_wren.model_dump(mode="json") | {"shell": good_wren.shell.model_dump(mode="json") | {"handle": bad}}
            )
    with pytest.raises(DesignError, match="room_mm"):
        apply(apply(good_wren, CarryBy(handle=HERE)), Set(path="shell.handle.room_mm", value=500))
    d = apply(good_wren, CarryBy(handle=HERE))
    assert read_design(d.model_dump(mode="json")) == d
    assert apply(d, CarryBy(handle=None)) == good_wren
    with_full = apply(d, PrintPart(part="handle", process=d.process.model_copy(update={"infill": 1.0})))
    assert shaped(with_full).faults == ()


@pytest.mark.parametrize(("screw_mm", "severity"), [(1, "stop"), (4, "stop"), (6, None), (200, "stop")])
def test_a_screw_of_the_handle_that_is_too_short_or_too_long_is_told(
    good_wren: Design, screw_mm: float, severity: str | None
) -> None:
    """Through a lid of 3 into an insert of 5.7."""
    d = apply(good_wren, CarryBy(handle=HERE.model_copy(update={"screw_mm": screw_mm})))
    found = [f for f in findings(d, "lid-screw-length") if f.subjects == ("handle",)]
    assert [f.severity for f in found] == ([severity] if severity else [])
    for f in found:
        assert "Let the stack choose the length" in [r.label for r in f.remedies]
        assert findings(apply(d, Together(edits=f.remedies[0].edits)), "lid-screw-length") == []


def test_a_head_is_pulled_through_a_thin_lid(good_wren: Design) -> None:
    """Two rings of pi x 5.5 x 0.4 mm in PLA: 52 MPa x 0.65 across the layers x what shears."""
    a, bow = carried(good_wren, Set(path="shell.lid_mm", value=0.4))
    told = {x.what: x.bears_n for x in links(a, bow)}["the lid round the heads of its screws"]
    shear = next(i.value for i in told.inputs if i.name == "in shear")
    assert told.value == pytest.approx(2 * math.pi * 5.5 * 0.4 * 52 * 0.65 * shear, rel=1e-3)
    assert links(a, bow)[0].what == "the lid round the heads of its screws"
