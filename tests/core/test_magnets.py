"""Magnets: their pull against the world, their pockets as they are made, poles against every choice of poles, notches that a finger finds."""

from __future__ import annotations

import itertools
import xml.etree.ElementTree as ET
from math import pi
from random import Random
from typing import Any

import numpy as np
import pytest

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.advice.materials import heat_of
from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import MagnetPair
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.constructions import CoreAndWrap, FrameAndCovers, Magnets, SlidingPanels, TwoHalves
from rhombex.core.design import Design
from rhombex.core.edits import Construct, HoldByMagnets, JoinCuts, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.fit.pull import pull_n
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.plain import DesignError
from rhombex.core.shell.polarity import keyed_poles, wrong_ways
from rhombex.core.shell.solids import bore
from rhombex.core.space import Box, Frame, Vec3
from rhombex.core.workshop.own import OwnFilament
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import dunlin, wren

from ..conftest import alone, findings
from ..rough import shaped

pytestmark = pytest.mark.xdist_group("magnets")  # what is made once is asked by all


def looked_at(d: Design) -> Analysis:
    return shaped(d)


def meshes(a: Analysis) -> dict[str, Any]:
    return {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.recipes.items()}


def framed(good_wren: Design) -> Design:
    """Wren as a frame whose covers magnets hold, its walls drawn round beams and ribs."""
    frame = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, "frame and covers")))
    by_magnets = apply(frame, HoldByMagnets(magnets=Magnets(d_mm=6)))
    return apply(by_magnets, walls_round(looked_at(by_magnets)))


@pytest.fixture(scope="module")
def held(good_wren: Design) -> dict[str, Analysis]:
    """Wren in every construction that magnets hold, and the listening post."""
    return {
        "two halves": looked_at(apply(good_wren, HoldByMagnets(magnets=Magnets(d_mm=6)))),
        "sliding panels": looked_at(apply(good_wren, Construct(construction=SlidingPanels(magnets=Magnets(d_mm=6))))),
        "frame and covers": looked_at(framed(good_wren)),
        "Dunlin": looked_at(apply(dunlin(), HoldByMagnets(magnets=Magnets(fixed="glued")))),
    }


CASES = ("two halves", "sliding panels", "frame and covers", "Dunlin")


# disc, height, gap, remanence -> N; computed with magpylib 6.3.0, getFT of two cylinders, 40,000 cells (2026-11-27)
REFERENCE = (
    (8, 2, 0.2, 1.3, 10.1444),
    (8, 3, 1.0, 1.3, 8.6252),
    (10, 3, 0.4, 1.2, 14.3973),
    (6, 2, 0.2, 1.45, 8.6563),
    (5, 2, 3.0, 1.3, 0.73521),
)


@pytest.mark.parametrize(("d", "high", "gap", "br", "newtons"), REFERENCE)
def test_the_pull_of_two_discs_is_that_of_a_reference_library(
    d: float, high: float, gap: float, br: float, newtons: float
) -> None:
    assert pull_n(d, high, gap, br) == pytest.approx(newtons, rel=5e-4)


def test_far_apart_discs_pull_as_two_dipoles_and_long_ones_in_touch_as_an_air_gap() -> None:
    """F = 3 mu0 m^2 / (2 pi z^4) for dipoles on one axis, and Br^2 A / (2 mu0) for long poles in touch: any text on magnetism."""
    mu0, br, d, high, z = 4e-7 * pi, 1.3, 4.0, 1.0, 100.0
    m = br / mu0 * pi / 4 * (d / 1000) ** 2 * high / 1000
    assert pull_n(d, high, z - high, br) == pytest.approx(3 * mu0 * m**2 / (2 * pi * (z / 1000) ** 4), rel=5e-3)
    area = pi / 4 * 0.01**2
    assert pull_n(10, 2000, 0.0, br) == pytest.approx(br**2 * area / (2 * mu0), rel=5e-3)


def rod(p: MagnetPair, along: Vec3, d: float, start: float, end: float) -> Any:
    return mk.evaluate(bore(p.at, along, d, start, end), mk.FILE_TOL)


def back(v: Vec3) -> Vec3:
    return (-v[0] + 0.0, -v[1] + 0.0, -v[2] + 0.0)


@pytest.mark.parametrize("case", CASES)
def test_every_pocket_is_as_wide_and_deep_as_told_and_shows_its_pole(held: dict[str, Analysis], case: str) -> None:
    """A disc under its pocket's size goes in to its depth; a hair deeper or wider there is plastic. The volume of the plastic missing in a ring at the
    rim is that of one half-round notch where north faces out, of two where south does."""
    a, parts = held[case], meshes(held[case])
    assert a.case.magnets
    for p in a.case.magnets:
        for part, along, d, pole in (
            (p.into, p.along, p.into_pocket_mm, p.pole),
            (p.holds, back(p.along), p.holds_pocket_mm, "S" if p.pole == "N" else "N"),
        ):
            deep = p.high_mm + 0.1  # a little under flush (common practice)
            assert (parts[part] ^ rod(p, along, d - 0.05, 0.0, deep - 0.02)).volume() < 1e-3, (p.id, part)
            floor = rod(p, along, d - 0.1, deep + 0.02, deep + 0.5)
            assert (parts[part] ^ floor).volume() > 0.99 * floor.volume(), (p.id, part)
            ring = rod(p, along, d + 0.8, 0.6, deep - 0.1) - rod(p, along, d + 0.05, 0.6, deep)
            missing = ring.volume() - (parts[part] ^ ring).volume()
            # 0.375 of a ring's width within a notch of 1.2: about a chord of 1.2 and the segment's height
            one = 0.375 * 1.16 * (deep - 0.1 - 0.6)
            notches = 1 if pole == "N" else 2
            assert missing == pytest.approx(notches * one, rel=0.12), (p.id, part, pole)


def test_pockets_grow_by_what_holes_come_out_smaller_by_and_by_glue(held: dict[str, Analysis]) -> None:
    """Upright holes in PLA: 0.15 and 0.3 % of 6 (common practice). Beams lie on their fronts: pockets to the sides lie, and get 0.3. Glue: 0.2 more,
    in PETG that shrinks 0.4 %, from a nozzle of 0.6: 0.1 wider."""
    p = held["two halves"].case.magnets[0]
    assert p.into_pocket_mm == pytest.approx(6 + 0.15 + 6 * 0.003, abs=1e-6) == p.holds_pocket_mm
    side = next(x for x in held["frame and covers"].case.magnets if x.holds == "cover-left")
    assert side.into_pocket_mm == pytest.approx(6 + 0.3 + 6 * 0.003, abs=1e-6)
    assert side.holds_pocket_mm == pytest.approx(6 + 0.15 + 6 * 0.003, abs=1e-6)
    front = next(x for x in held["frame and covers"].case.magnets if x.holds == "cover-front")
    glued = next(x for x in held["Dunlin"].case.magnets if x.holds == "cover-front")
    assert front.into_pocket_mm == pytest.approx(side.holds_pocket_mm) and glued.into_pocket_mm > 8 + 0.15 + 0.2


@pytest.mark.parametrize("case", CASES)
def test_parts_are_whole_and_stand_in_no_other(held: dict[str, Analysis], case: str) -> None:
    a, parts = held[case], meshes(held[case])
    assert not a.faults
    for name, m in parts.items():
        assert len(m.decompose()) == a.case.part(name).bodies and mk.watertight(m), name
    for (one, m), (other, q) in itertools.combinations(parts.items(), 2):
        assert (m ^ q).volume() < 5e-3, (one, other)


@pytest.mark.parametrize("case", CASES)
def test_a_part_comes_off_along_its_way_and_does_not_slide(held: dict[str, Analysis], case: str) -> None:
    """With its ribs it goes back along its way in steps of 1 mm past all that was there before; pushed sideways by a millimetre it meets what it is held on."""
    a, parts = held[case], meshes(held[case])
    there: list[str] = []
    for p in a.case.parts:
        if p.put_on is not None and any(x.holds == p.name for x in a.case.magnets):
            for s in np.arange(0.1, 8.0, 1.0):
                off = parts[p.name].translate([-s * c for c in p.put_on.along])
                assert all((off ^ parts[n]).volume() < 0.02 for n in there), (p.name, s)
            n = next(i for i in range(3) if p.put_on.along[i])
            for i in (k for k in range(3) if k != n):
                for by in (1.0, -1.0):
                    pushed = parts[p.name].translate([by if k == i else 0.0 for k in range(3)])
                    others = [q for q in parts if q != p.name]
                    assert any((pushed ^ parts[q]).volume() > 0.05 for q in others), (p.name, i, by)
        there.append(p.name)


def face_of(wide: float = 200.0, high: float = 100.0) -> CaseFace:
    frame = Frame((0.0, 0.0, 50.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    return CaseFace(
        id="top", frame=frame, size_mm=(wide, high), thick_mm=3, inset_mm=(3, 3), clear_mm=(5, 5, wide - 5, high - 5)
    )


def pair(k: int, part: str, x: float, y: float) -> MagnetPair:
    at: Vec3 = (x, y, 47.0)
    return MagnetPair(
        id=f"m-{k}",
        name="top",
        holds=part,
        into="base",
        at=at,
        along=(0.0, 0.0, -1.0),
        boss=Box(at, at),
        od_mm=12,
        d_mm=8,
        high_mm=2,
        grade="N42",
        deep_mm=2.1,
        holds_pocket_mm=8.2,
        into_pocket_mm=8.2,
        behind_mm=1,
    )


def test_poles_keep_parts_apart_as_well_as_any_choice_does() -> None:
    """40 random parts of two to six magnets, some of them square, some twice: the worst wrong way holds no better than the best of all 2^n choices
    leaves it (tried here one by one)."""
    r = Random(3)
    for _ in range(40):
        spots = {(r.choice((20, 60, 100)), r.choice((20, 60, 100))) for _ in range(r.randint(1, 3))}
        spots |= {(120 - x, 120 - y) for x, y in spots}  # turned half round it fits again
        parts = ["one", "two"][: r.randint(1, 2)]
        pairs = tuple(pair(k, part, x, y) for k, (part, (x, y)) in enumerate(itertools.product(parts, sorted(spots))))
        faces = (face_of(),)
        got = keyed_poles(pairs, faces)
        best = min(
            max((w.net for w in wrong_ways(_with(pairs, poles), faces)), default=-1.0)
            for poles in itertools.product("NS", repeat=len(pairs))
        )
        assert max((w.net for w in wrong_ways(got, faces)), default=-1.0) == pytest.approx(best)


def _with(pairs: tuple[MagnetPair, ...], poles: tuple[str, ...]) -> tuple[MagnetPair, ...]:
    return tuple(p.model_copy(update={"pole": x}) for p, x in zip(pairs, poles, strict=True))


def test_a_top_of_four_is_pushed_off_when_it_is_turned_round(held: dict[str, Analysis]) -> None:
    a = held["sliding panels"]
    assert [(w.turned_deg, w.attract, w.magnets) for w in wrong_ways(a.case.magnets, a.case.faces)] == [(180, 0, 4)]
    assert sorted(p.pole for p in a.case.magnets) == ["N", "N", "S", "S"]


def test_the_hand_that_lifts_a_part_has_the_whole_way_as_its_lever(held: dict[str, Analysis]) -> None:
    """The top of Wren's panels, pairs 7.89 from its edges and 151.83 deep, notch under its front edge from outside to 3.89 behind: half way 1.445.
    Two pairs 7.89 and two 143.94 from the back edge, over 150.385: 2.019 times one pair."""
    a = held["sliding panels"]
    table = hardware_table(a).magnets
    assert table is not None
    h = table.parts[0].held
    one = h.high_n.value / 4
    assert one == pytest.approx(pull_n(6, 2, 0.2, 1.32), rel=1e-5)
    assert h.low_n.value == pytest.approx(4 * pull_n(6, 2, 0.4, 1.28), rel=1e-5)
    assert h.lift_n is not None
    assert h.lift_n.value / one == pytest.approx(2 * (7.89 + 143.94) / (151.83 - 1.445), rel=2e-3)


@pytest.mark.parametrize(
    ("kind", "high", "thick"),
    [(TwoHalves(joint_mm=26.8), 7.3, 7.2), (FrameAndCovers(), 3.1, 3), (SlidingPanels(), 3.1, 3)],
)
def test_magnets_larger_than_what_they_sit_in_are_refused_by_their_field(
    kind: TwoHalves | FrameAndCovers | SlidingPanels, high: float, thick: float
) -> None:
    """*Wren*: walls and lid of 3, the lid 4.2 down to the joint besides; a tenth lower they are taken, and told to break through."""
    d = apply(wren(), Construct(construction=kind))
    with pytest.raises(DesignError, match=rf"larger than the {thick} mm") as e:
        apply(d, HoldByMagnets(magnets=Magnets(high_mm=high)))
    assert e.value.field == "edit.magnets.high_mm"
    lower = apply(d, HoldByMagnets(magnets=Magnets(high_mm=high - 0.1)))
    assert any(f.severity == "stop" for f in alone(lower, "magnet-breaks-through"))


@pytest.mark.parametrize("case", CASES)
def test_a_finger_finds_the_edge(held: dict[str, Analysis], case: str) -> None:
    """Every part that magnets hold has a notch; nothing is left of the part it is cut from there, and the edge that the finger takes is over it."""
    a, parts = held[case], meshes(held[case])
    assert {x.of for x in a.case.lifts} == {p.holds for p in a.case.magnets}
    for x in a.case.lifts:
        box = mk.evaluate(_block(x.box.grown(-0.02)), mk.FILE_TOL)
        assert (parts[x.part] ^ box).volume() < 1e-3, x.of
        assert x.box.size[0] >= 15.9 or x.box.size[1] >= 15.9  # room for one finger (common practice)
        lifted = mk.evaluate(_block(x.box.grown(0.9)), mk.FILE_TOL)
        assert (parts[x.of] ^ lifted).volume() > 5.0, x.of


def _block(b: Box) -> Any:
    from rhombex.core.geometry.recipe import block

    return block(b)


def test_a_part_with_nowhere_to_take_hold_of_it_is_told(good_wren: Design) -> None:
    """A case narrower than a finger's notch and what is kept clear beside it."""
    small = Design(
        name="Box",
        brief=good_wren.brief,
        shell=good_wren.shell.model_copy(
            update={"inner_mm": (30.0, 30.0, 30.0), "construction": SlidingPanels(magnets=Magnets(d_mm=6))}
        ),
        process=good_wren.process,
        printer=good_wren.printer,
    )
    assert [f.severity for f in findings(small, "magnets-hard-to-lift")] == ["stop"]


def test_magnets_are_billed_bought_and_drawn(good_wren: Design) -> None:
    d = apply(dunlin(), HoldByMagnets(magnets=Magnets()))
    a = analyse(d, ARCHIVE_WORKSHOP)
    lines = {(x.use, x.size): x.count for x in a.bill if x.item == "disc magnet"}
    # two on each beam for a side of 156 high, one for the top, two discs in each pair
    sides = ("cover-front", "cover-back", "cover-left", "cover-right", "cover-top")
    assert lines == {(x, "8 x 2, N42"): 8 for x in sides}
    bought = next(x for x in hardware_table(a).shopping.lines if x.item == "disc magnet")
    assert (bought.need, bought.pack, bought.packs) == (40, 10, 4)  # sold by tens
    assert not any(x.use == "cover" for x in a.bill) and any(x.item.startswith("screw") for x in a.bill)
    files = package(a, formats=("drawings",))
    svg = ET.fromstring(files["polarity-plan.svg"])
    assert files["polarity-plan.pdf"].startswith(b"%PDF")
    words = [t.text for t in svg.iter() if t.tag.endswith("text")]
    poles = [p.pole for p in a.case.magnets]
    # out of a part's pocket faces the other pole than out of the one that it meets
    assert words.count("N") == poles.count("S") and words.count("S") == poles.count("N")
    assert "40 discs 8 x 2, N42, pressed" in words


def test_who_cannot_be_held_by_magnets_says_so(good_wren: Design) -> None:
    wrap = apply(good_wren, Construct(construction=CoreAndWrap()))
    with pytest.raises(DesignError, match="not held by magnets"):
        apply(wrap, HoldByMagnets(magnets=Magnets()))
    with pytest.raises(DesignError):
        apply(good_wren, Set(path="shell.construction.magnets.d_mm", value=400))
    sheets = Together(
        edits=(
            Construct(construction=FrameAndCovers(sheet=("top",), magnets=Magnets())),
            Set(path="brief.around", value="adults"),
        )
    )
    a = looked_at(apply(good_wren, sheets))
    # sheet has no pockets: its screws stay
    assert {j.holds for j in a.case.joints} == {"floor", "sheet-top"}
    assert "cover-left" in {p.holds for p in a.case.magnets}


def test_magnets_of_a_seam_are_told_when_their_wall_gets_too_warm(good_wren: Design) -> None:
    """A dark case in the open sun: 25 K over a wall that is warmer than the room already. A plain grade of NdFeB bears 80 °C."""
    hot = (Set(path="brief.sun", value="outdoors"), Set(path="brief.room_c", value=50.0))
    small = (Set(path="printer", value="bench-180"), JoinCuts(part="lid", by="magnets"))
    d = apply(good_wren, Together(edits=(*small, *hot)))
    (found,) = findings(d, "magnet-too-warm")
    wall = heat_of(shaped(d), "lid").value
    assert wall > 80 and found.measured == pytest.approx(wall) and found.limit == 80 and found.severity == "weigh"
    assert found.title == f"The magnets in lid get {wall:.0f} °C warm" and found.subjects == ("wall", "lid")
    (bolts,) = found.remedies
    assert bolts.label == "Join the pieces of the lid by bolts"
    assert findings(apply(d, Together(edits=bolts.edits)), "magnet-too-warm") == []
    assert findings(apply(good_wren, Together(edits=small)), "magnet-too-warm") == []


def test_a_bed_of_ones_own_filament_decides_what_closed_in_magnets_bear(good_wren: Design) -> None:
    """The bed as this workshop has it, not as the table has it: ABS at 80 °C is borne, at 81 it is not."""
    d = apply(good_wren, Construct(construction=SlidingPanels(magnets=Magnets(d_mm=6, fixed="closed in"))))
    d = apply(d, Set(path="process.filament", value="ABS"))
    for bed, told in ((80.0, 0), (81.0, 1)):
        own = ARCHIVE_WORKSHOP.model_copy(update={"filaments": (OwnFilament(kind="ABS", bed_c=bed),)})
        found = [f for f in judge(analyse(d, own, "none")) if f.code == "magnet-too-warm"]
        assert len(found) == told and all(f.measured == bed for f in found)


def test_against_screw_heads_only_the_held_part_has_magnets_that_get_warm(good_wren: Design) -> None:
    against = Magnets(d_mm=8, high_mm=3, fixed="closed in", against="screw heads")
    d = apply(good_wren, Construct(construction=SlidingPanels(post_mm=16, magnets=against)))
    a = analyse(apply(d, Set(path="process.filament", value="ABS")), ARCHIVE_WORKSHOP, "none")
    assert a.case.magnets and all(p.screw for p in a.case.magnets)
    (found,) = (f for f in judge(a) if f.code == "magnet-too-warm")
    assert found.subjects == ("bed", "top")
