"""What joins pieces besides pins, dovetails and bolts: printed pins, rods, tongues, laps and bridging plates, each measured on the mesh."""

from __future__ import annotations

import itertools
import json
from functools import cache
from math import cos, pi, radians, sqrt

import pytest

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.advice.hardware import hardware_table
from rhombex.core.advice.seam_ways import SeamWays, _proposed
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.case.parts import Seat
from rhombex.core.concerns import judge
from rhombex.core.cuts.bears import lap_nm, levers_mm, magnets_n, pull_n, rod_nm
from rhombex.core.cuts.holding import bolted, drawn
from rhombex.core.cuts.joins import JOINS, Bridges, Discs, Pins, Steps, hold_of, joins_of, usual_join
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design, JoinKind, OwnJoint, read_design
from rhombex.core.edits import JoinCuts, PutJoint, Set, Together
from rhombex.core.fit.allowance import round_hole
from rhombex.core.fit.pull import pull_n as pull_of_discs
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.plan.opened import opened_by
from rhombex.core.shell.solids import bore
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import GOOD_WREN

GAP = 0.175 + 10 * 0.3 / 100 / 2  # of a tongue: 0.175 a side, and half of what PLA shrinks over 10 mm (common practice)
THICK = 3.0  # floor and top of Wren


@cache
def joined(by: JoinKind) -> Analysis:
    d = read_design(json.loads(GOOD_WREN.read_text()))
    edits = (Set(path="printer", value="bench-180"), *(JoinCuts(part=p, by=by) for p in ("base", "lid")))
    return analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


def cut_parts(a: Analysis) -> list[PartCuts]:
    found = [c for c in a.cuts if c.part in ("base", "lid")]
    assert [len(c.pieces) for c in found] == [2, 2] and all(len(c.cuts[0].dowels) >= 2 for c in found)
    return found


def meshes(a: Analysis, c: PartCuts) -> list:  # type: ignore[type-arg]
    return [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]


def up_of(c: PartCuts) -> float:
    assert c.seat is not None
    return 1.0 if c.seat.inner_mm > c.seat.outer_mm else -1.0


@pytest.mark.parametrize(
    "by", ["printed pins", "steel rods", "tongue and groove", "half-lap", "bridging plates", "magnets"]
)
def test_nothing_stands_in_anything_and_together_they_are_the_part(by: JoinKind) -> None:
    a = joined(by)
    all_ = {k: mk.evaluate(r, mk.FILE_TOL) for k, r in a.pieces_in_case.items()}
    for x, y in itertools.combinations(all_, 2):
        assert (all_[x] ^ all_[y]).volume() < 1e-3, (x, y)
    assert all(p.watertight and p.fits_bed for p in a.pieces) and not a.faults
    for c in cut_parts(a):
        whole, pieces = mk.evaluate(a.recipes[c.part], mk.FILE_TOL).volume(), meshes(a, c)
        assert all(len(m.decompose()) == 1 for m in pieces)
        lost = whole - sum(m.volume() for m in pieces)
        if by == "tongue and groove":
            assert 0 < lost < 0.001 * whole
        elif by == "half-lap":  # but for the air over 6.19 of it, at its end, and the numbers
            air = len(c.cuts[0].dowels) * 10 * ((6 + GAP) * GAP + GAP * 1.5)
            assert lost - air == pytest.approx(0, abs=0.0005 * whole)
        else:
            assert lost < 0  # blocks stand on the plate


@pytest.mark.parametrize(("by", "d", "deep"), [("printed pins", 4.0, 8.0), ("steel rods", 4.0, 30.0)])
def test_a_pin_or_rod_slides_into_its_hole_and_stops(by: JoinKind, d: float, deep: float) -> None:
    """0.2 wider than the pin (common practice) and what 4 mm shrink by 0.3 %; half a millimetre of air at its end; 1.4 of plastic all round."""
    a, wide = joined(by), d + 0.2 + d * 0.003
    for c in cut_parts(a):
        pin = c.cuts[0].pin
        assert pin is not None and (pin.d_mm, pin.long_mm) == (d, 2 * deep)
        low, high = meshes(a, c)
        for q, z in c.cuts[0].dowels:
            at = (c.cuts[0].at_mm, q, z)
            for m, (start, end) in ((low, (-deep - 0.45, -0.05)), (high, (0.05, deep + 0.45))):
                free = mk.evaluate(bore(at, (1.0, 0.0, 0.0), wide - 0.03, start, end), mk.FILE_TOL)
                assert (m ^ free).volume() < 1e-3
                ring = mk.evaluate(bore(at, (1.0, 0.0, 0.0), wide + 2 * 1.3, start, end), mk.FILE_TOL)
                full = ring - mk.evaluate(bore(at, (1.0, 0.0, 0.0), wide + 0.05, start - 1, end + 1), mk.FILE_TOL)
                assert (m ^ full).volume() > 0.995 * full.volume()
            past = mk.evaluate(bore(at, (1.0, 0.0, 0.0), d, deep + 0.6, deep + 1.6), mk.FILE_TOL)
            assert (high ^ past).volume() > 0.99 * past.volume()


def test_printed_pins_are_printed_and_rods_are_bought() -> None:
    """A pin has eight sides within 4 mm: 8 x r^2 / 2 x sin 45 in section, and lies on one of them."""
    a = joined("printed pins")
    for c in cut_parts(a):
        n = len(c.cuts[0].dowels)
        pins = next(p for p in a.pieces if p.name == f"pins-{c.part}")
        assert pins.bodies == n and pins.volume_mm3 == pytest.approx(n * 8 * 2 * sqrt(0.5) * 16, rel=1e-3)
        assert pins.bbox_mm[2] == pytest.approx(4 * cos(radians(22.5)), abs=1e-3) and pins.estimate is not None
        # in its hole each has half the slip beside its corners
        in_place = mk.evaluate(a.pieces_in_case[pins.name], mk.FILE_TOL)
        assert min(in_place.min_gap(m, 1.0) for m in meshes(a, c)) == pytest.approx((0.2 + 0.012) / 2, abs=0.01)
        assert (in_place.bounding_box()[0], in_place.bounding_box()[3]) == (
            pytest.approx(c.cuts[0].at_mm - 8),
            pytest.approx(c.cuts[0].at_mm + 8),
        )
    assert not [x for x in a.bill if "pin" in x.item]
    a = joined("steel rods")
    assert [(x.item, x.size, x.count) for x in a.bill if x.use.startswith("joint of")] == [
        ("steel rod", "4 x 60", len(c.cuts[0].dowels)) for c in cut_parts(a)
    ]
    assert not [p for p in a.pieces if p.name.startswith("pins")]


def test_magnets_lie_face_to_face_in_blocks_and_tell_their_poles() -> None:
    """Discs of 6 x 3, 0.1 under flush: a pocket of 6 + 0.2 for glue + what 6 mm shrink by 0.3 % and round holes come out small by, 1.6 of plastic round the
    disc, 1.2 behind it; one notch of 1.2 where north faces out, two where south does."""
    a = joined("magnets")
    for c in cut_parts(a):
        cut, ends = c.cuts[0], meshes(a, c)
        assert c.seat is not None
        hold = hold_of("magnets", c.seat)
        assert isinstance(hold, Discs)
        for q, z in cut.dowels:
            assert z == pytest.approx(c.seat.outer_mm + up_of(c) * (3 + 1.6))
            at = (cut.at_mm, q, z)
            for m, sign in zip(ends, (-1, 1), strict=True):
                start, end = sorted((sign * 0.05, sign * 3.05))
                disc = mk.evaluate(bore(at, (1.0, 0.0, 0.0), 6.0 + 0.2, start, end), mk.FILE_TOL)
                assert (m ^ disc).volume() < 1e-3
                start, end = sorted((sign * 3.15, sign * 4.25))
                behind = mk.evaluate(bore(at, (1.0, 0.0, 0.0), 6.0, start, end), mk.FILE_TOL)
                assert (m ^ behind).volume() > 0.999 * behind.volume()
                # the air between two levels: the pocket, and each notch's half moon outside of it
                across = mk.evaluate(
                    block(
                        Box(
                            (at[0] + sign * 1.5 - 0.01, q - 4.5, z - 4.5), (at[0] + sign * 1.5 + 0.01, q + 4.5, z + 4.5)
                        )
                    ),
                    mk.FILE_TOL,
                )
                air = (across.volume() - (m ^ across).volume()) / 0.02
                wide = a_wide(a, c)
                moon = pi * 0.6**2 / 2
                assert air == pytest.approx(pi / 4 * wide**2 + (1 if sign < 0 else 2) * moon, abs=0.35 * moon)
        low, high = magnets_n(hold)
        # less than the same poles would hold in a closed yoke without a gap: Br^2 A / (2 mu0), 19 N; the grade's least and most, 0.4 and 0.2 apart
        assert 7.5 < low < high < 1.32**2 * pi * 0.003**2 / (8e-7 * pi)
        assert low == pytest.approx(pull_of_discs(6, 3, 0.4, 1.28)) and high == pytest.approx(
            pull_of_discs(6, 3, 0.2, 1.32)
        )
        bears, most = drawn(hold, 3)
        assert bears.value == pytest.approx(3 * low * 4.6 / 1000, abs=1e-4)
        assert most == pytest.approx(3 * high * 4.6 / 1000, abs=1e-4)
    discs = [x for x in a.bill if x.item == "disc magnet"]
    assert [(x.size, x.count, x.use) for x in discs] == [
        ("6 x 3, N42", 2 * len(c.cuts[0].dowels), f"joint of {c.part}") for c in cut_parts(a)
    ]
    told = {f.code: f for f in judge(a)}
    assert told["caution-magnets"].severity == "advice" and "seam-too-weak" in told
    assert told["caution-magnets"].subjects[1] == "glued"


def a_wide(a: Analysis, c: PartCuts) -> float:
    """Drawn width of a pocket across x: 6, room for glue, and what round holes that print lying come out smaller by."""
    return 6.0 + 0.2 + round_hole(a.design, a.printer, (c.part,), 0, 6.0)[0].value


@pytest.mark.parametrize("by", JOINS)
def test_whatever_joins_pieces_hardware_shows_its_joints(by: JoinKind) -> None:
    """Every length that is offered can be taken, and what bridging plates are held by is not chosen."""
    a = joined(by)
    rows = hardware_table(a).rows
    assert len(rows) == len(a.joints)
    for row in rows:
        for edit in (*(x.edit for x in row.lengths), *(x.edit for x in row.holdings)):
            apply(a.design, edit)
        assert not (row.joint.key.startswith(("cut/", "bridge/")) and row.holdings)


def thick_of(m, c: PartCuts, at: float, low: float, high: float) -> float:  # type: ignore[no-untyped-def]
    """How much of a piece there is at a place beside its cut, between two levels of the plate from its outer face, mm."""
    q = c.cuts[0].dowels[0][0]
    assert c.seat is not None
    z = sorted(c.seat.outer_mm + up_of(c) * x for x in (low, high))
    probe = Box((at - 0.01, q - 1, z[0]), (at + 0.01, q + 1, z[1]))
    return float((m ^ mk.evaluate(block(probe), mk.FILE_TOL)).volume() / (0.02 * 2))


def test_a_tongue_leans_45_degrees_and_keeps_its_allowance() -> None:
    """A plate of 3 with lips of 0.8: a root of 1.4, 0.7 deep. So deep, it is as high as there is left of it to its tip."""
    a = joined("tongue and groove")
    for c in cut_parts(a):
        cut, (low, high) = c.cuts[0], meshes(a, c)
        for past in (0.1, 0.35, 0.6):
            assert thick_of(low, c, cut.at_mm + past, 0, THICK) == pytest.approx(2 * (0.7 - past), abs=0.03)
            # the groove's flanks are the allowance away, measured square to them
            assert thick_of(high, c, cut.at_mm + past, 0, THICK) == pytest.approx(
                THICK - 2 * (0.7 - past + GAP * sqrt(2)), abs=0.03
            )
        assert thick_of(low, c, cut.at_mm + 0.75, 0, THICK) == 0
        q, z = cut.dowels[0]
        room = mk.evaluate(block(Box((cut.at_mm + 0.3, q - 4, z - 2), (cut.at_mm + 3, q + 4, z + 2))), mk.FILE_TOL)
        assert (low ^ room).min_gap(high ^ room, 1.0) == pytest.approx(GAP, abs=0.01)


def test_a_half_lap_runs_on_by_twice_the_thickness() -> None:
    """The outer half of a plate of 3 runs on by 6 under the inner one: 0.19 of air between them and at its end."""
    a = joined("half-lap")
    for c in cut_parts(a):
        cut, (low, high) = c.cuts[0], meshes(a, c)
        for past in (0.2, 5.8):
            assert thick_of(low, c, cut.at_mm + past, 0, THICK) == pytest.approx(1.5, abs=0.01)
            assert thick_of(low, c, cut.at_mm + past, 1.5, THICK) == 0
            assert thick_of(high, c, cut.at_mm + past, 0, THICK) == pytest.approx(1.5 - GAP, abs=0.01)
        assert thick_of(low, c, cut.at_mm + 6.05, 0, THICK) == 0
        assert thick_of(high, c, cut.at_mm + 6.0 + GAP + 0.03, 0, THICK) == pytest.approx(THICK, abs=0.01)
        assert thick_of(high, c, cut.at_mm + 6.0 + GAP - 0.03, 0, THICK) == pytest.approx(1.5 - GAP, abs=0.01)


def test_tongues_leave_nothing_out_where_the_plate_is_free() -> None:
    """Stretches of ten lie side by side; the lid's plate has nothing in it along its cut: from wall to wall but for less than one at the end."""
    for by in ("tongue and groove", "half-lap"):
        a = joined(by)  # type: ignore[arg-type]
        lid = next(c for c in cut_parts(a) if c.part == "lid")
        at = sorted(q for q, _ in lid.cuts[0].dowels)
        assert all(b - x == pytest.approx(10) for x, b in itertools.pairwise(at))
        room = a.case.cavity.hi[1] - a.case.cavity.lo[1]
        assert room - 10 - 4 < 10 * len(at) <= room
        seams = next(p for p in cuts_table(a).parts if p.cuts.part == "lid").seams
        assert len(seams[0].plan) == 1  # they are drawn as one


def test_a_bridging_plate_lies_on_its_pad_over_two_inserts() -> None:
    """M3 inserts of 5.7 want a hole of 4.0 and 6.9 deep, 9.2 of plastic round it: a pad of 8.1 over the outer face, a plate of 18.4 x 9.2 x 4 on it."""
    a = joined("bridging plates")
    for c in cut_parts(a):
        cut, (low, high), n = c.cuts[0], meshes(a, c), len(c.cuts[0].dowels)
        assert c.seat is not None
        name = f"bridges-{c.part}"
        made = next(p for p in a.pieces if p.name == name)
        hole = pi / 4 * (3.4 + 0.15 + 3.4 * 0.003) ** 2
        assert made.bodies == n and made.volume_mm3 == pytest.approx(n * 4 * (18.4 * 9.2 - 2 * hole), rel=1e-3)
        assert made.bbox_mm[2] == pytest.approx(4.0)
        assert opened_by(a, name) == opened_by(a, c.part)  # it is lifted off with its part
        g = next(x for x in a.joints if x.key == f"bridge/{c.part}")
        assert (g.count, g.screw_mm, g.holding, g.grip_mm) == (2 * n, 8.0, "insert", 4.0)
        assert g.least_mm == 4 + 3 and g.most_mm == pytest.approx(4 + 6.9 - 0.5) and g.end_mm == pytest.approx(10.9)
        up, top = up_of(c), c.seat.outer_mm + up_of(c) * 8.1
        for s in g.seats:
            assert s.at[2] == pytest.approx(top + up * 4) and s.along == (0.0, 0.0, -up)
            m = low if s.at[0] < cut.at_mm else high
            assert abs(s.at[0] - cut.at_mm) == pytest.approx(4.6)
            wide = 4.0 + 0.15 + 4 * 0.003
            free = mk.evaluate(bore((s.at[0], s.at[1], top), s.along, wide - 0.03, -0.5, 6.85), mk.FILE_TOL)
            assert (m ^ free).volume() < 1e-3
            below = mk.evaluate(bore((s.at[0], s.at[1], top), s.along, wide, 6.95, 8.05), mk.FILE_TOL)
            assert (m ^ below).volume() > 0.99 * below.volume(), "1.2 stay between hole and outer face"
            over = mk.evaluate(bore(s.at, s.along, 5.5, -3.0, -0.01), mk.FILE_TOL)
            assert all((mk.evaluate(r, mk.FILE_TOL) ^ over).volume() < 1e-3 for r in a.pieces_in_case.values())
        assert [(x.item, x.size, x.count) for x in a.bill if x.use == g.name] == [
            ("heat-set insert", "M3 x 5.7", 2 * n),
            ("screw, socket cap", "M3 x 8", 2 * n),
        ]
    longer = apply(a.design, PutJoint(joint=OwnJoint(of="bridge/lid", screw_mm=10)))
    g = next(x for x in analyse(longer, ARCHIVE_WORKSHOP, "preview").joints if x.key == "bridge/lid")
    assert g.screw_mm == 10 and g.by_hand


def test_what_each_bears_is_worked_by_hand() -> None:
    """A rod of 4: 235 x pi 4^3 / 32 = 1477 N mm, less than 15 x 4 x 30^2 / 6 = 9000 of the plastic. A bridging plate: 3 x 4 x 15 = 180 N, 2 over the pad and
    8.1 + 2 over the outer face. Ten of a lap of 3: 40 x 10 x 1.5^2 / 6 = 150 N mm, or the glue's 5 x 10 x 6 x 1.5 = 450."""
    seat = Seat(outer_mm=0.0, inner_mm=3.0, edge_mm=0.0)
    rod, bridge, lap = (hold_of(k, seat) for k in ("steel rods", "bridging plates", "half-lap"))  # type: ignore[arg-type]
    assert isinstance(rod, Pins) and isinstance(bridge, Bridges) and isinstance(lap, Steps)
    assert rod_nm(rod, rod.deep_mm) == pytest.approx(1.4765, abs=1e-3)
    assert pull_n(bridge) == pytest.approx(180) and levers_mm(bridge) == (pytest.approx(10.1), pytest.approx(2))
    low, high = bolted(bridge, 3)
    assert (low.value, high) == (pytest.approx(3 * 0.36), pytest.approx(3 * 180 * 10.1 / 1000))
    assert lap_nm(lap, 3.0, 40.0, 5.0) == pytest.approx(0.150) and lap_nm(lap, 3.0, 400.0, 5.0) == pytest.approx(0.450)
    assert joined("half-lap").design.process.filament == "PLA"
    for by, each in (("half-lap", None), ("steel rods", 1.4765)):
        seam = next(p for p in cuts_table(joined(by)).parts if p.cuts.part == "lid").seams[0]  # type: ignore[arg-type]
        glued = next(w.holds for w in seam.choice.ways if w.by == "glue alone")
        more = seam.holds.low_nm.value
        if each is not None:
            assert more == pytest.approx(len(seam.cut.dowels) * each, rel=1e-3)
        assert more > glued.low_nm.value and seam.holds.high_nm == pytest.approx(glued.high_nm + more)


def test_thin_and_bare_plates_take_what_lies_in_them() -> None:
    bare = Seat(outer_mm=0.0, inner_mm=3.0, edge_mm=0.0, bare=True)
    assert joins_of(bare) == ("glue alone", "dovetails", "tongue and groove", "half-lap")
    thin = Seat(outer_mm=0.0, inner_mm=2.3, edge_mm=0.0)
    assert not {"tongue and groove", "half-lap"} & set(joins_of(thin))
    assert "half-lap" in joins_of(thin.model_copy(update={"inner_mm": 2.4}))
    assert "tongue and groove" in joins_of(thin.model_copy(update={"inner_mm": 2.8}))
    assert usual_join(thin, "half-lap") == "dovetails" and usual_join(bare, "steel rods") == "dovetails"
    thick = hold_of("half-lap", Seat(outer_mm=0.0, inner_mm=12.0, edge_mm=0.0))
    assert thick is not None and thick.longer_mm == 8.0  # two cuts may be ten apart


def without(found: SeamWays, *kinds: JoinKind) -> tuple[JoinKind, str]:
    """What is proposed where some ways find no place."""
    return _proposed([w.model_copy(update={"places": 0}) if w.by in kinds else w for w in found.ways])


def test_the_next_best_is_proposed_where_the_best_finds_no_place() -> None:
    a = joined("glue alone")
    base, lid = (next(p for p in cuts_table(a).parts if p.cuts.part == n).seams[0].choice for n in ("base", "lid"))
    assert without(lid, "bolts")[0] == "bridging plates"
    by, why = without(lid, "bolts", "bridging plates")
    assert by == "half-lap" and "and nothing is bought" in why
    assert without(lid, "bolts", "bridging plates", "half-lap")[0] == "steel rods"
    assert without(lid, "bolts", "bridging plates", "half-lap", "steel rods")[0] == "rods through all pieces"
    nothing = without(lid, "bolts", "bridging plates", "half-lap", "steel rods", "rods through all pieces")
    assert nothing[0] == "filament pins" and nothing[1].startswith("Nothing bears the 2.1 N m")
    assert without(base, "filament pins", "steel pins")[0] == "printed pins"
    assert without(base, "filament pins", "steel pins", "printed pins")[0] == "dovetails"
    assert without(base, "filament pins", "steel pins", "printed pins", "dovetails")[0] == "tongue and groove"


@pytest.mark.parametrize("by", ["printed pins", "bridging plates"])
def test_what_is_printed_by_itself_is_not_told_to_stand_in_its_part(by: JoinKind) -> None:
    """A pin of 4 lies 3.5 over the outer face: half of it in what the uncut floor of 3 would be. It is held against the pieces, which have its holes."""
    assert [f.title for f in judge(joined(by)) if f.severity == "stop"] == []


def test_a_weak_seam_is_offered_what_bears_and_that_clears_it() -> None:
    """Glued, the lid's seam is told; the first remedy bolts it, and with no bolt's place the bridging plates would."""
    a = joined("glue alone")
    told = next(f for f in judge(a) if f.code == "seam-too-weak" and f.subjects[0] == "lid")
    assert told.remedies[0].label == "Bolt the pieces of the lid"
    for by in ("bridging plates", "half-lap", "steel rods"):
        assert not [f for f in judge(joined(by)) if f.code == "seam-too-weak" and f.subjects[0] == "lid"], by  # type: ignore[arg-type]
    assert [f for f in judge(joined("tongue and groove")) if f.code == "seam-too-weak" and f.subjects[0] == "lid"]


def test_too_few_bridging_plates_are_a_stop(good_wren: Design) -> None:
    """Wren's base has no place for a bridging plate where glue would be cut: nothing else holds its pieces."""
    a = joined("glue alone")
    cut = next(c for c in a.cuts if c.part == "base").cuts[0]
    base = next(p for p in cuts_table(a).parts if p.cuts.part == "base")
    from rhombex.core.advice.cuts import joined_by

    d = apply(a.design, joined_by(base.cuts, cut, "bridging plates"))
    found = [f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "pieces-not-held"]
    assert [(f.severity, f.measured, f.limit, f.title) for f in found] == [
        ("stop", 0, 2, "No bridging plates of the base find a place in its cut")
    ]
    for r in found[0].remedies:
        after = judge(analyse(apply(d, Together(edits=r.edits)), ARCHIVE_WORKSHOP, "preview"))
        assert not [f for f in after if f.code == "pieces-not-held"], r.label
