"""Magnets that hold on to the heads of screws: the recess and the thread as they are made, the pull, what is bought and told."""

from __future__ import annotations

from math import pi

import pytest

from rhombex.core.advice.magnet_table import magnet_table
from rhombex.core.advice.magnets import holds
from rhombex.core.advice.pauses import pauses
from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.constructions import Magnets, SlidingPanels
from rhombex.core.design import Design
from rhombex.core.edits import Construct, HoldByMagnets, Together
from rhombex.core.fit.pull import pull_n, pull_on_head_n
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.hardware.magnets import gap_mm, held_parts, pull_of
from rhombex.core.shell.magnets import room_for_mm
from rhombex.core.shell.solids import bore
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import alone

pytestmark = pytest.mark.xdist_group("magnets")
HEADS = Magnets(d_mm=6, against="screw heads")


def looked_at(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


@pytest.fixture(scope="module")
def held(good_wren: Design) -> dict[str, Analysis]:
    frame = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, "frame and covers")))
    frame = apply(frame, HoldByMagnets(magnets=HEADS))
    return {
        "two halves": looked_at(apply(good_wren, HoldByMagnets(magnets=HEADS))),
        "frame and covers": looked_at(apply(frame, walls_round(looked_at(frame)))),
    }


def test_the_pull_on_a_head_is_that_of_a_mirror_image() -> None:
    """Before soft iron a disc sees its image: as far behind the face as it is before it. In touch, a long one pulls Br^2 A / (2 mu0) either way."""
    assert pull_on_head_n(5, None, 2, 0.3, 1.3, 5.5) == pytest.approx(pull_n(5, 2, 0.6, 1.3))
    assert pull_on_head_n(8, None, 2, 0.3, 1.3, 5.5) == pytest.approx((5.5 / 8) ** 2 * pull_n(8, 2, 0.6, 1.3))
    area, mu0 = pi * 0.0025**2, 4e-7 * pi
    assert pull_on_head_n(5, None, 2000, 0.0, 1.3, 5.5) == pytest.approx(1.3**2 * area / (2 * mu0), rel=6e-3)


@pytest.mark.parametrize("case", ["two halves", "frame and covers"])
def test_the_head_stands_in_its_recess_and_the_thread_in_plastic(held: dict[str, Analysis], case: str) -> None:
    """A socket cap screw M3 (ISO 4762): a head of 5.5 x 3, in a recess 0.6 wider and 0.1 deeper; plastic round the thread of 0.85 x 3, room of a half
    millimetre at its tip, and plastic under that."""
    a = held[case]
    assert a.case.magnets and not a.faults
    made = {n: mk.evaluate(a.recipes[n], mk.FILE_TOL) for n in {x for p in a.case.magnets for x in (p.holds, p.into)}}
    for p in a.case.magnets:
        s = p.screw
        assert s is not None and s.long_mm in (5.0, 6.0, 8.0, 10.0) and p.magnets == 1
        assert (s.head_d_mm, s.head_deep_mm) == (5.5, pytest.approx(3.1))
        assert 6.1 <= s.head_hole_mm < 6.5
        into = made[p.into]
        head = mk.evaluate(bore(p.at, p.along, 6.1, 0.02, 3.08), mk.FILE_TOL)
        assert (into ^ head).volume() < 1e-3
        ring = mk.evaluate(bore(p.at, p.along, s.head_hole_mm + 1.4, 0.1, 3.0), mk.FILE_TOL)
        ring -= mk.evaluate(bore(p.at, p.along, s.head_hole_mm + 0.1, -1, 4), mk.FILE_TOL)
        assert (into ^ ring).volume() > 0.9 * ring.volume()
        pilot = mk.evaluate(bore(p.at, p.along, s.hole_mm - 0.05, 3.0, 3.1 + s.long_mm + 0.4), mk.FILE_TOL)
        assert (into ^ pilot).volume() < 1e-3
        thread = mk.evaluate(bore(p.at, p.along, 3.0, 3.15, 3.1 + s.long_mm), mk.FILE_TOL)
        thread -= mk.evaluate(bore(p.at, p.along, s.hole_mm + 0.05, 0, 30), mk.FILE_TOL)
        assert (into ^ thread).volume() > 0.99 * thread.volume()
        under = mk.evaluate(bore(p.at, p.along, 2.0, 3.1 + s.deep_mm + 0.05, 3.1 + s.deep_mm + 0.7), mk.FILE_TOL)
        assert (into ^ under).volume() > 0.99 * under.volume()
        # the magnet over it, in the part that is held, as with pairs
        back = (-p.along[0], -p.along[1], -p.along[2])
        disc = mk.evaluate(bore(p.at, back, 6.0, 0.02, p.deep_mm - 0.02), mk.FILE_TOL)
        assert (made[p.holds] ^ disc).volume() < 1e-3
    for m in made.values():
        assert mk.watertight(m) and mk.bodies(m) == 1


def test_half_the_gap_and_the_image_in_the_head(held: dict[str, Analysis]) -> None:
    """A tenth under flush against a level head: least with 0.2 more and the least remanence of N42."""
    p = held["two halves"].case.magnets[0]
    assert gap_mm(p) == pytest.approx(0.1)
    low, high = pull_of(p)
    assert low.value == pytest.approx((5.5 / 6) ** 2 * pull_n(6, 2, 0.6, 1.28), abs=1e-3)
    assert high.value == pytest.approx((5.5 / 6) ** 2 * pull_n(6, 2, 0.2, 1.32), abs=1e-3)


def test_one_disc_and_a_screw_for_each_place(held: dict[str, Analysis]) -> None:
    a = held["two halves"]
    n = len(a.case.magnets)
    (disc,) = [x for x in a.bill if x.item == "disc magnet"]
    assert disc.count == n
    screws = [x for x in a.bill if "under its magnets" in x.use]
    assert sum(x.count for x in screws) == n and {x.item for x in screws} == {"screw, socket cap"}
    table = magnet_table(a)
    assert table is not None and all(q.other == "the head of a screw" for p in table.parts for q in p.pockets)
    (h,) = held_parts(a.case, {"lid": 80.0})
    discs_g = n * pi / 4 * 36 * 2 / 1000 * 7.5
    assert h.weighs_g == pytest.approx(80 + discs_g)
    # the advice reckons as the table does
    assert holds((h,), HEADS) == (h.low_n.value >= h.knock_n.value and h.lift_n is not None and h.lift_n.value <= 40)


def test_only_the_part_that_is_held_waits_for_magnets(good_wren: Design) -> None:
    closed = HEADS.model_copy(update={"fixed": "closed in", "high_mm": 3.0})
    both = closed.model_copy(update={"against": "magnets"})
    a, pairs = (looked_at(apply(good_wren, HoldByMagnets(magnets=m))) for m in (closed, both))
    assert {p.piece for p in pauses(a)} == {"lid"} and {p.piece for p in pauses(pairs)} == {"base", "lid"}


def test_heads_draw_either_pole_and_that_is_told(good_wren: Design) -> None:
    """Four screws in a square would take a top turned round; with poles by plan it is pushed off."""
    d = apply(good_wren, Construct(construction=SlidingPanels(magnets=HEADS)))
    (f,) = alone(d, "magnets-wrong-way", "preview")
    assert (f.severity, f.measured, f.limit) == ("weigh", 100, 0)
    (r,) = f.remedies
    assert r.label == "Put magnets in both parts"
    then = alone(apply(d, Together(edits=r.edits)), "magnets-wrong-way", "preview")
    assert not [x for x in then if x.severity != "advice"]


def test_what_a_screw_wants_behind_the_joint() -> None:
    """Head of 3 and a tenth, six of screw, half a millimetre under its tip, a skin of 0.8."""
    assert room_for_mm(6.0) == pytest.approx(3.0 + 0.1 + 6.0 + 0.5 + 0.8)
