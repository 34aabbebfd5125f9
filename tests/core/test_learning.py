"""What real hours teach about a printer, a nozzle of one's own, and speeds set one by one."""

from __future__ import annotations

from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.analysis import analyse
from rhombex.core.design import Design, Process, Speeds
from rhombex.core.edits import PrintPart, Set, apply
from rhombex.core.plain import DesignError
from rhombex.core.process.bead import line_width_mm
from rhombex.core.process.estimate import of_mesh
from rhombex.core.process.learn import learned
from rhombex.core.process.pace import pace_of
from rhombex.core.process.settings import held_speeds
from rhombex.core.process.settings import settings as resolve
from rhombex.core.process.what_if import what_if
from rhombex.core.workshop import ARCHIVE_WORKSHOP, PacedPrint, Printer

from ..print_parts import PARTS

BENCH = ARCHIVE_WORKSHOP.printers[1]


def diary(
    plan: Printer, real: Printer, names: tuple[str, ...], pace: float = 1.0, seed: int = 1
) -> tuple[PacedPrint, ...]:
    """Parts planned on one printer and printed on another, by the exact simulation, with a hundredth of scatter."""
    draw = Random(seed)
    out = []
    for name in names:
        process = Process(brim_mm=0, layer_min_s=0)
        a = of_mesh(PARTS[name](), process, plan, "exact")
        b = of_mesh(PARTS[name](), process, real, "exact")
        out.append(
            PacedPrint(
                what=name,
                planned_s=a.time_s.value,
                rush_s=a.rush_s,
                real_s=b.time_s.value * pace * draw.gauss(1, 0.01),
            )
        )
    return tuple(out)


MIXED = ("plain panel", "panel, 120 vents", "hollow dome", "corner beam", "cone")


@pytest.mark.parametrize("share", [0.5, 2.0])
def test_the_true_acceleration_is_learned_from_hours(share: float) -> None:
    real = BENCH.model_copy(
        update={
            "accel_mm_s2": BENCH.accel_mm_s2 * share,
            "travel_accel_mm_s2": BENCH.travel_accel_mm_s2 * share,
        }
    )
    taught = BENCH.model_copy(update={"paced": diary(BENCH, real, MIXED, pace=1.1)})
    found = learned(taught)
    assert found.said == "" and found.printer is not None
    # to first order only: short moves do not reach their speed, so the time of a ramp goes slower than 1 / acceleration
    assert found.accel_mm_s2 == pytest.approx(real.accel_mm_s2, rel=0.35)
    assert (found.accel_mm_s2 < BENCH.accel_mm_s2) == (share < 1)
    # planned anew, the prints scatter less round their pace
    before, after = pace_of(taught), pace_of(found.printer)
    assert after.high / after.low < before.high / before.low


def test_nothing_is_learned_from_prints_that_cannot_tell() -> None:
    alike = tuple(PacedPrint(what=f"p{k}", planned_s=1000, rush_s=100, real_s=1000 + 10 * k) for k in range(5))
    assert learned(BENCH.model_copy(update={"paced": alike})).accel_mm_s2 is None
    assert learned(BENCH).accel_mm_s2 is None
    old = tuple(PacedPrint(what=f"p{k}", planned_s=1000, real_s=1100) for k in range(5))
    assert "0 of the 3" in learned(BENCH.model_copy(update={"paced": old})).said


@given(st.floats(0.3, 3), st.floats(0.7, 1.5), st.lists(st.floats(0.02, 0.7), min_size=4, max_size=12))
@settings(max_examples=60, deadline=None)
def test_a_diary_that_obeys_the_model_is_read_exactly(slower: float, pace: float, shares: list[float]) -> None:
    paced = tuple(
        PacedPrint(what="p", planned_s=3600, rush_s=3600 * s, real_s=3600 * pace * (1 - s + slower * s)) for s in shares
    )
    found = learned(BENCH.model_copy(update={"paced": paced}))
    if found.accel_mm_s2 is not None:
        assert found.accel_mm_s2 == pytest.approx(BENCH.accel_mm_s2 / slower, rel=1e-3)
        assert found.low <= found.accel_mm_s2 <= found.high
    elif max(shares) - min(shares) > 0.6:
        assert 0.8 < slower < 1.25  # too near to what is set to be told from it


def test_rush_is_what_acceleration_costs() -> None:
    quick = BENCH.model_copy(update={"accel_mm_s2": 1e5, "travel_accel_mm_s2": 1e5, "corner_mm_s": 1000})
    mesh = PARTS[next(iter(PARTS))]()
    process = Process(layer_min_s=0)
    a, b = of_mesh(mesh, process, BENCH, "exact"), of_mesh(mesh, process, quick, "exact")
    assert a.time_s.value - a.rush_s == pytest.approx(b.time_s.value - b.rush_s, rel=0.01)
    assert b.rush_s < 0.15 * a.rush_s


# a nozzle of its own


def test_a_part_has_a_nozzle_of_its_own(good_wren: Design) -> None:
    d = apply(good_wren, PrintPart(part="base", process=good_wren.process.model_copy(update={"nozzle_mm": 0.6})))
    a = analyse(d, ARCHIVE_WORKSHOP)
    base, lid = (next(p for p in a.pieces if p.part == part) for part in ("base", "lid"))
    plain = {p.part: p.estimate for p in analyse(good_wren, ARCHIVE_WORKSHOP).pieces}
    assert lid.estimate.layers == plain["lid"].layers  # only its tongue follows the wider lines of the base
    assert base.estimate.time_s.value < plain["base"].time_s.value
    assert line_width_mm(d.process_of("base"), a.printer) == pytest.approx(0.675)  # 1.125 x 0.6, by hand
    assert line_width_mm(d.process_of("lid"), a.printer) == pytest.approx(0.45)


def test_the_spare_nozzle_is_tried(good_wren: Design) -> None:
    ways = what_if(analyse(good_wren, ARCHIVE_WORKSHOP), settle=False)
    swapped = [w for w in ways if "swapped on Bench 220" in w.label]
    assert {w.group for w in swapped} == {"as stiff", "one change"}
    for w in swapped:
        d = good_wren
        for e in w.edits:
            d = apply(d, e)
        assert d.printer == good_wren.printer and d.process.nozzle_mm == 0.6


def test_trying_tells_how_far_it_is(good_wren: Design) -> None:
    shares: list[float] = []
    what_if(analyse(good_wren, ARCHIVE_WORKSHOP), settle=False, progress=lambda share, what: shares.append(share))
    assert len(shares) > 10 and shares == sorted(shares) and shares[0] >= 0 and shares[-1] <= 1


# speeds


def test_a_speed_is_set_by_its_path(good_wren: Design) -> None:
    d = apply(good_wren, Set(path="process.speeds.outer_mm_s", value=25.0))
    assert d.process.speeds == good_wren.process.speeds.model_copy(update={"outer_mm_s": 25.0})
    for path in ("process.speeds.sideways_mm_s", "process.layer_mm.x", "process.speeds.", "printer.key"):
        with pytest.raises(DesignError):
            apply(good_wren, Set(path=path, value=25.0))
    with pytest.raises(DesignError):
        apply(good_wren, Set(path="process.speeds.outer_mm_s", value=-1.0))


def test_held_speeds_are_under_every_cap() -> None:
    fast = Process(speeds=Speeds(infill_mm_s=1000, travel_mm_s=1000))
    s = resolve(fast, BENCH)
    held = held_speeds(s)
    assert held.travel_mm_s == BENCH.speed_mm_s
    assert held.infill_mm_s * s.bead_mm2(False) <= s.flow * (1 + 1e-9)
    assert held.infill_mm_s == pytest.approx(s.flow / s.bead_mm2(False))  # flow = speed x bead, by hand
