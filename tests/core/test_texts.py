"""Text sunk into faces: its letters by their font's units, what is made by sections through the mesh, and what stands against it."""

from __future__ import annotations

from math import pi
from typing import get_args

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import get_parts

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.begun import begun
from rhombex.core.bench.stack import height_of
from rhombex.core.case.faces import Wall
from rhombex.core.concerns import judge
from rhombex.core.constructions import CornersAndSheet, OpenBench, SlidingPanels, TwoHalves
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.places import OVER_VENTS
from rhombex.core.design import Design, FaceText, PinnedCut, Shell, VentField, read_design
from rhombex.core.edits import (
    AnchorText,
    Construct,
    Edit,
    JoinCuts,
    Move,
    MoveOnFace,
    MoveWall,
    PutCuts,
    PutText,
    PutVent,
    Remove,
    RemoveText,
    RemoveVent,
    Set,
    Together,
    read_edit,
)
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.lettering import _MARKS, region
from rhombex.core.geometry.recipe import block
from rhombex.core.openings.texts import lies_on
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import Box, Face
from rhombex.core.versions import differences
from rhombex.core.words import ACCENTS, drawable
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import findings
from ..examples import examples

FACES = get_args(Face)


def put(
    d: Design, face: str = "top", at: tuple[float, float] = (115.0, 60.0), text: str = "Kiln", **more: object
) -> Design:
    return apply(d, PutText(text=FaceText(id="t", face=face, at_mm=at, text=text, **more)))  # type: ignore[arg-type]


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def apply_all(d: Design, edits: tuple[Edit, ...]) -> Design:
    return apply(d, Together(edits=edits))


# --- letters


def test_letters_are_as_high_and_wide_as_their_font_says() -> None:
    """The legs of an H are 14 of 21 units apart: 10 high with strokes of 1 they are 9 x 14 / 21 = 6 apart, 7 over all. An l is a stroke of 9 with round ends."""
    x0, y0, x1, y1 = region("H", 10.0, 1.0).bounds
    assert (x1 - x0, y1 - y0, x0 + x1, y0 + y1) == pytest.approx((7.0, 10.0, 0.0, 0.0), abs=1e-6)
    eight = 8 * 0.5 * 0.5**2 * np.sin(pi / 4)  # ends are halves of a figure of eight sides
    assert region("l", 10.0, 1.0).area == pytest.approx(9.0 + eight, abs=1e-6)
    wide = region("H", 10.0, 1.0, 90).bounds
    assert (wide[2] - wide[0], wide[3] - wide[1]) == pytest.approx((10.0, 7.0), abs=1e-6)
    # lower than a stroke is wide it is a blot of one stroke, no letter upside down
    assert region("L.", 1.0, 1.8).bounds == pytest.approx((-0.9, -0.9, 0.9, 0.9))
    # capitals stand on a line with their middles on the place; tails hang below
    low = region("Hg", 10.0, 1.0).bounds[1]
    assert low < -5.5 and region("Hg", 10.0, 1.0).bounds[3] == pytest.approx(5.0, abs=1e-6)


def test_what_letters_enclose_is_left_standing() -> None:
    """A B and an 8 have two middles, an O and an e one, a W none; what is loose of an i is its dot."""
    for c, middles, bodies in (
        ("B", 2, 1),
        ("8", 2, 1),
        ("O", 1, 1),
        ("e", 1, 1),
        ("W", 0, 1),
        ("i", 0, 2),
        ("%", 2, 2),
    ):
        parts = get_parts(region(c, 12.0, 0.9))
        assert (sum(len(p.interiors) for p in parts), len(parts)) == (middles, bodies), c


def test_every_letter_that_may_be_written_is_drawn() -> None:
    assert set(ACCENTS) == set(_MARKS)
    for c in map(chr, range(33, 127)):
        assert region(c, 8.0, 0.9).area > 0.5, c
    for plain, marked in ("aä", "uü", "Oö".replace("ö", "Ö"), "eé", "eè", "eê", "aå", "nñ"):
        more = region(marked, 8.0, 0.9).area - region(plain, 8.0, 0.9).area
        assert more > 0.5, marked
    assert drawable("Größe".replace("ß", "ss")) and not drawable("ß") and not drawable("\u2603")


@pytest.mark.parametrize("text", ["", "   ", "\u2603", "x" * 61])
def test_what_cannot_be_drawn_is_refused_by_name(good_wren: Design, text: str) -> None:
    said = {"id": "t", "face": "top", "at_mm": [60, 60], "text": text}
    with pytest.raises(DesignError) as e:
        read_edit({"do": "put-text", "text": said})
    assert "text" in e.value.field
    with pytest.raises(DesignError):
        read_design(good_wren.model_dump(mode="json") | {"texts": [said]})


# --- what is made


@pytest.mark.parametrize("face", FACES)
def test_it_reads_from_outside_on_every_face(good_wren: Design, face: str) -> None:
    """An L, 12 high: its upright is open at the left, its foot at the right end of the bottom; the right half above it is wall. 0.4 deep: not at 0.5."""
    at = {"top": (115.0, 70.0), "bottom": (115.0, 70.0), "right": (125.0, 20.0)}.get(face, (25.0, 20.0))
    d = apply_all(good_wren, tuple(RemoveVent(id=v.id) for v in good_wren.vents))
    a = looked(put(d, face, at, "L", high_mm=12))
    (t,) = a.openings.texts
    assert t.part is not None and t.deep_mm == 0.4
    u0, v0, u1, v1 = t.rect_mm
    made, frame, h = mk.evaluate(a.recipes[t.part], mk.FILE_TOL), a.case.face(face).frame, 0.1

    def there(u: float, v: float, deep: float) -> float:
        probe = frame.box(Box((u - h, v - h, -deep - h / 2), (u + h, v + h, -deep + h / 2)))
        return (made ^ mk.evaluate(block(probe))).volume() / (4 * h * h * h)

    left, low, right = u0 + t.stroke_mm / 2, v0 + t.stroke_mm / 2, u1 - t.stroke_mm / 2
    for u, v in ((left, v1 - 1), (left, low), (right, low)):
        assert there(u, v, 0.3) == pytest.approx(0, abs=1e-6) and there(u, v, 0.5) == pytest.approx(1, abs=1e-4)
    assert there(right, v1 - 1, 0.3) == pytest.approx(1, abs=1e-4)


def test_as_much_is_taken_as_its_letters_cover(good_wren: Design) -> None:
    text = "Käfig 12 & %"
    for deep in (0.4, 1.2):
        a = looked(put(good_wren, text=text, deep_mm=deep, high_mm=7))
        lost = mk.evaluate(looked(good_wren).recipes["lid"]).volume() - mk.evaluate(a.recipes["lid"]).volume()
        assert lost == pytest.approx(deep * region(text, 7.0, 0.9).area, rel=1e-4)
    (t,) = a.openings.texts
    drawn = sum(
        abs(0.5 * sum(x * q - p * y for (x, y), (p, q) in zip(o, (*o[1:], o[0]), strict=True))) for o in t.outlines
    )
    assert drawn >= region(text, 7.0, 0.9).area  # with the middles of letters, which go round the other way


def test_a_wider_line_draws_wider_strokes(good_wren: Design) -> None:
    """Two lines of 0.45 with a nozzle of 0.4; of 0.67 with one of 0.6 (line as wide as 1.125 of it)."""
    (t,) = looked(put(good_wren)).openings.texts
    assert t.stroke_mm == pytest.approx(0.9)
    wide = looked(apply(put(good_wren), Set(path="process.line_width_mm", value=0.7)))
    assert wide.openings.texts[0].stroke_mm == pytest.approx(1.4)


def test_it_is_in_every_file(good_wren: Design) -> None:
    """STEP and mesh are of the same volume, or the export would refuse; the design comes back with it."""
    d = put(good_wren, text="No. 7")
    files = package(analyse(d, ARCHIVE_WORKSHOP), ("stl", "step"))
    assert any(n.startswith("lid") and n.endswith(".step") for n in files)
    assert read_design(d.model_dump(mode="json")).texts == d.texts


@settings(max_examples=examples(150))
@given(
    st.sampled_from(FACES),
    st.tuples(st.floats(-5, 170), st.floats(-5, 140)),
    st.text(st.sampled_from("ABeg8ä.&%Wi "), min_size=1, max_size=14).filter(lambda t: t.strip() == t),
    st.floats(2, 30),
    st.floats(0.2, 4),
    st.sampled_from((0, 90, 180, 270)),
)
def test_wherever_it_is_put_the_case_closes_or_it_is_told(
    good_wren: Design, face: str, at: tuple[float, float], text: str, high: float, deep: float, turn: int
) -> None:
    a = looked(put(good_wren, face, at, text, high_mm=high, deep_mm=deep, turn_deg=turn))
    (t,) = a.openings.texts
    told = {f.code for f in judge(a) if f.severity == "stop"}
    if t.part is None:
        assert "text-not-cut" in told
        return
    for p in a.pieces:
        assert p.watertight and (p.bodies == 1 or {"text-too-deep", "piece-in-bodies"} <= told), p.name


# --- where it is


def test_it_stays_on_its_face_and_goes_along_with_its_component(good_wren: Design) -> None:
    d = put(good_wren)
    where = looked(d).openings.texts[0].at_mm
    wider = apply(d, MoveWall(face="left", by_mm=10))
    assert looked(wider).openings.texts[0].at_mm == pytest.approx((where[0] + 10, where[1]))
    board = next(p for p in good_wren.placements if p.id == "board")
    on = put(good_wren, at=(10, 10), on="board")
    was = looked(on).openings.texts[0].at_mm
    moved = apply(on, Move(id="board", to_mm=(board.at_mm[0] + 3, board.at_mm[1] + 4, board.at_mm[2])))
    now = looked(moved).openings.texts[0].at_mm
    assert (now[0] - was[0], now[1] - was[1]) == pytest.approx((3, 4))
    assert apply(on, Remove(id="board")).texts == ()
    anchored = apply(d, AnchorText(id="t", on="board"))
    assert looked(anchored).openings.texts[0].at_mm == pytest.approx(where) and anchored.texts[0].on == "board"
    assert apply(anchored, AnchorText(id="t", on=None)) == d
    with pytest.raises(DesignError, match="no text 'x'"):
        apply(d, AnchorText(id="x", on=None))
    dragged = apply(d, MoveOnFace(what="text/t", by_mm=(2.5, -1)))
    assert looked(dragged).openings.texts[0].at_mm == pytest.approx((where[0] + 2.5, where[1] - 1))
    assert apply(d, RemoveText(id="t")) == good_wren
    with pytest.raises(DesignError, match=r"texts\.t\.on"):
        put(good_wren, on="nobody")
    assert height_of(d, "board").value == height_of(good_wren, "board").value


def test_it_is_told_among_what_is_different(good_wren: Design) -> None:
    """Beside no text, and beside another one; a stop with nothing else in it is begun by it."""
    bare = looked(good_wren)
    here, there = looked(put(good_wren)), looked(put(good_wren, text="Oven", high_mm=9))
    told = [
        (x.what, x.here, x.there) for x in differences(here, judge(here), there, judge(there)) if x.of == "openings"
    ]
    assert told == [("text", "“Kiln” 8 mm high, 0.4 deep on the top", "“Oven” 9 mm high, 0.4 deep on the top")]
    (new,) = (x for x in differences(bare, judge(bare), here, judge(here)) if x.of == "openings")
    assert (new.here, new.there) == ("", "“Kiln” 8 mm high, 0.4 deep on the top")
    empty = Design(name="Empty", shell=Shell(inner_mm=(120, 90, 40), construction=TwoHalves(joint_mm=34)))
    assert "openings" not in begun(looked(empty)) and "openings" in begun(looked(put(empty, at=(60, 45))))


# --- what is told


def test_text_over_an_edge_is_moved_onto_the_wall(good_wren: Design) -> None:
    """Half of it hangs over the left edge of the front: as far as its rectangle goes beyond the round corner (6 mm)."""
    d = put(good_wren, "front", (0.0, 10.0), "Kiln")
    (f,) = findings(d, "text-not-cut")
    (t,) = looked(d).openings.texts
    radius = d.shell.corner_radius_mm
    assert f.severity == "stop" and f.measured == pytest.approx(100 * (t.rect_mm[2] - radius) / t.size_mm[0], abs=0.01)
    assert f.title == "“Kiln” is not cut into the front"
    assert mk.evaluate(looked(d).recipes["base"]).volume() == pytest.approx(
        mk.evaluate(looked(good_wren).recipes["base"]).volume()
    )
    for r in f.remedies:
        assert findings(apply_all(d, r.edits), f.code) == [], r.label
    assert f.remedies[0].label == "Move “Kiln” to a free place"
    # over the seam of base and lid
    (seam,) = looked(good_wren).case.seams
    over = put(good_wren, "left", (40.0, seam.at_mm - good_wren.shell.floor_mm), "Kiln")
    (f,) = findings(over, "text-not-cut")
    assert 20 < f.measured < 80 and "seam" in f.reason


def test_text_lies_on_what_is_seen(good_wren: Design) -> None:
    """Before the right half of a wall stands another one, to 2 mm: text of 20 from 50 on ends at 70, on the one before it from 60 on."""
    case = looked(good_wren).case
    face = case.face("left")
    behind = Wall(face="left", part="base", lo_mm=(0, 0), hi_mm=(120, 30), depth_mm=5.0)
    before = Wall(face="left", part="lid", lo_mm=(60, 0), hi_mm=(120, 30), depth_mm=2.0)
    two = case.model_copy(update={"walls": (behind, before)})

    def lies(u0: float, u1: float) -> tuple[str, float]:
        w, share = lies_on(two, face, (u0, 10.0, u1, 16.0), 6.0)
        return (w.part if w else "", pytest.approx(share))  # type: ignore[return-value]

    assert lies(30, 50) == ("base", 1.0) and lies(70, 90) == ("lid", 1.0)
    assert lies(50, 70) == ("lid", 0.5) and lies(45, 65) == ("base", 0.75)
    assert lies(-20, -1) == ("", 0.0) and lies(0, 12) == ("base", 0.5)  # the corner is round to 6


def test_text_longer_than_its_face_is_made_smaller(good_wren: Design) -> None:
    d = put(good_wren, "top", (80.0, 60.0), "A long name for a small case", high_mm=14)
    (f,) = findings(d, "text-not-cut")
    assert f.remedies[0].label.startswith("Letters ") and findings(apply_all(d, f.remedies[0].edits), f.code) == []


def test_no_printer_writes_on_bought_sheet_or_where_no_wall_is(good_wren: Design) -> None:
    sheet = put(apply(good_wren, Construct(construction=SlidingPanels(sheet=("left",)))), "left", (60.0, 14.0), "Kiln")
    (f,) = findings(sheet, "text-not-cut")
    assert (f.measured, f.limit) == (0.0, 100.0) and "bought sheet" in f.reason
    printed = put(apply(good_wren, Construct(construction=SlidingPanels(sheet=()))), "left", (60.0, 14.0), "Kiln")
    assert findings(printed, "text-not-cut") == [] and looked(printed).openings.texts[0].part == "panel-left"
    corners = put(apply(good_wren, Construct(construction=CornersAndSheet())), "front", (60.0, 14.0), "Kiln")
    assert findings(corners, "text-not-cut")[0].measured == 0.0
    bench = put(apply(good_wren, Construct(construction=OpenBench())), "top", (60.0, 14.0), "Kiln")
    (f,) = findings(bench, "text-not-cut")
    assert f.severity == "stop" and findings(apply_all(bench, f.remedies[-1].edits), f.code) == []


def test_letters_are_too_small_where_no_line_is_left_between_bars(good_wren: Design) -> None:
    """Strokes of 0.9: bars of an e 5 high are (5 - 0.9) / 3 - 0.9 = 0.467 apart, a line is 0.45; 4.9 high 0.433."""
    assert findings(put(good_wren, high_mm=5.0), "text-too-small") == []
    d = put(good_wren, high_mm=4.9)
    (f,) = findings(d, "text-too-small")
    assert (f.severity, f.measured, f.limit) == ("weigh", pytest.approx(4.0 / 3 - 0.9, abs=1e-3), pytest.approx(0.45))
    assert f.remedies[0].label == "Letters 5 mm high" and findings(apply_all(d, f.remedies[0].edits), f.code) == []


def test_grooves_leave_wall_behind_them(good_wren: Design) -> None:
    """A lid of 3: two lines of 0.45 stay behind 2.1, fewer behind 2.15; 3 go through."""
    assert findings(put(good_wren, deep_mm=2.1), "text-too-deep") == []
    d = put(good_wren, deep_mm=2.15)
    (f,) = findings(d, "text-too-deep")
    assert (f.severity, f.measured, f.limit) == ("weigh", pytest.approx(0.85), pytest.approx(0.9))
    assert f.remedies[0].label == "Grooves 0.4 mm deep"
    through = put(good_wren, deep_mm=3.0, text="B")
    (f,) = findings(through, "text-too-deep")
    assert (f.severity, f.measured) == ("stop", 0.0) and f.title == "“B” goes through the lid"
    for x in (d, through):
        for r in findings(x, "text-too-deep")[0].remedies:
            assert findings(apply_all(x, r.edits), "text-too-deep") == [], r.label
    thin = put(apply(good_wren, Set(path="shell.lid_mm", value=1.0)), deep_mm=0.9)
    assert [r.label for r in findings(thin, "text-too-deep")[0].remedies] == ["Leave “Kiln” out"]


def test_text_keeps_off_what_is_open_there(good_wren: Design) -> None:
    """A millimetre of plain wall to vents, openings, feet and other text."""
    vent = VentField(id="v", face="top", at_mm=(60, 60), size_mm=(40, 30), follow_heat=False)
    d = apply(good_wren, PutVent(vent=vent))
    a = looked(d)
    field = next(v for v in a.openings.vents if v.id == "v")
    right = field.at_mm[0] + field.size_mm[0] / 2
    inset = a.case.face("top").inset_mm
    half = region("I", 8.0, 0.9).bounds[2]

    def beside(gap: float) -> Design:
        return put(d, "top", (right + gap + half - inset[0], 60.0), "I")

    assert findings(beside(1.02), "text-meets") == []
    (f,) = findings(beside(0.95), "text-meets")
    assert (f.severity, f.measured, f.limit) == ("weigh", pytest.approx(0.95, abs=1e-3), 1.0)
    (f,) = findings(beside(-0.5), "text-meets")
    assert f.measured == pytest.approx(-0.5, abs=1e-3) and "runs into" in f.title
    for r in f.remedies:
        assert findings(apply_all(beside(-0.5), r.edits), f.code) == [], r.label
    two = apply(put(good_wren), PutText(text=FaceText(id="u", face="top", at_mm=(117, 62), text="Oven")))
    (f,) = findings(two, "text-meets")
    assert f.title == "“Oven” runs into “Kiln”"
    # under a foot and over an opening
    foot = looked(good_wren).case.feet[0]
    below = looked(good_wren).case.face("bottom")
    (u, v) = below.on((*foot, 0.0))
    under = put(good_wren, "bottom", (u - below.inset_mm[0], v - below.inset_mm[1]), "I")
    assert "the seat of a foot" in findings(under, "text-meets")[0].title
    port = next(o for o in looked(good_wren).openings.openings if o.face == "right")
    inset = looked(good_wren).case.face("right").inset_mm
    at = (port.at_mm[0] - inset[0], port.at_mm[1] - inset[1])
    assert port.label in findings(put(good_wren, "right", at, "I"), "text-meets")[0].title


# --- cuts


def panelled(good_wren: Design, at: tuple[float, float]) -> Design:
    """A lid of 301 x 144 on a bed of 168: two pieces."""
    wide = (Set(path="printer", value="bench-180"), MoveWall(face="right", by_mm=130.0))
    return put(apply_all(good_wren, (*wide, JoinCuts(part="lid", by="glue alone"))), "top", at, "Archive", high_mm=9)


def lid(a: Analysis) -> PartCuts:
    return next(c for c in a.cuts if c.part == "lid")


def test_a_cut_through_text_costs_and_is_put_beside_it(good_wren: Design) -> None:
    plain = apply(panelled(good_wren, (230.0, 60.0)), RemoveText(id="t"))
    (was,) = (c.at_mm for c in lid(looked(plain)).cuts)
    inset = looked(plain).case.face("top").inset_mm
    a = looked(panelled(good_wren, (was - inset[0], 60.0)))
    (t,) = a.openings.texts
    (table,) = (x for x in cuts_table(a).parts if x.cuts.part == "lid")
    (prices,) = (w.prices for w in table.ways if w.axis == "x")
    through = [p for p in prices if t.rect_mm[0] < p.at_mm < t.rect_mm[2] and p.price is not None]
    assert len(through) > 5 and all("text" in p.why and p.price is not None and p.price >= OVER_VENTS for p in through)
    assert not [p for p in prices if "text" in p.why and not t.rect_mm[0] < p.at_mm < t.rect_mm[2]]
    (c,) = lid(a).cuts
    assert not t.rect_mm[0] < c.at_mm < t.rect_mm[2]
    # where a hand puts it, it runs through the text, and the letters are in both pieces
    by_hand = apply(a.design, PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis="x", at_mm=was - inset[0]),)))
    b = looked(by_hand)
    whole, cut = (sum(mk.evaluate(x.piece_recipes[p.name]).volume() for p in lid(x).pieces) for x in (looked(plain), b))
    assert whole - cut == pytest.approx(0.4 * region("Archive", 9.0, 0.9).area, rel=1e-3)


def test_what_joins_a_seam_in_its_plate_keeps_off_text(good_wren: Design) -> None:
    """Dovetails of a lid lie in it: none under the letters, which leave a whole one no room."""
    d = apply_all(panelled(good_wren, (230.0, 60.0)), (JoinCuts(part="lid", by="dovetails"),))
    (c,) = lid(looked(d)).cuts
    inset = looked(d).case.face("top").inset_mm
    pinned = PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis="x", at_mm=c.at_mm - inset[0]),))
    (middle,) = sorted(q for q, _ in c.dowels)[1:2]
    over = apply(d, MoveOnFace(what="text/t", by_mm=(c.at_mm - 230 - inset[0], middle - 60 - inset[1])))
    (moved,) = lid(looked(apply(over, pinned))).cuts
    (t,) = looked(over).openings.texts
    half = val("printing.feature.tail_tip") / 2
    assert moved.at_mm == c.at_mm and moved.dowels
    assert all(q + half < t.rect_mm[1] or q - half > t.rect_mm[3] for q, _ in moved.dowels)
