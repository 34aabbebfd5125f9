"""What real hours teach about a printer, a nozzle of one's own, and speeds set one by one."""

from __future__ import annotations

from functools import cache
from io import BytesIO
from random import Random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from rhombex.core.advice.what_if import what_if
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.design import Design, Process, Speeds
from rhombex.core.diary.plans import of_gcode, of_part
from rhombex.core.edits import PrintPart, Set
from rhombex.core.exchange.gcode import read_gcode
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.memo import forget_all
from rhombex.core.plain import DesignError
from rhombex.core.process.estimate import of_mesh
from rhombex.core.process.layout import Paths, lay_out, work_of
from rhombex.core.process.learn import learned
from rhombex.core.process.limits import LIMITS, planned_now, with_limit
from rhombex.core.process.pace import pace_of
from rhombex.core.process.settings import held_speeds
from rhombex.core.process.settings import settings as resolve
from rhombex.core.process.simulate import layer_seconds, row_of
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.paced import Limit, PacedPrint
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples
from ..print_parts import PARTS

pytestmark = pytest.mark.xdist_group("learning")  # what is planned once is asked by all
BENCH = ARCHIVE_WORKSHOP.printers[1]


# long lines at speed, and slow ones in which the top speed does nothing
MILD = Process(brim_mm=0, layer_min_s=0)
QUICK = MILD.model_copy(
    update={
        "layer_mm": 0.1,
        "speeds": Speeds(outer_mm_s=150, inner_mm_s=180, solid_mm_s=180, infill_mm_s=180, travel_mm_s=250),
    }
)
PRINTS: tuple[tuple[str, Process], ...] = (
    ("plain panel", MILD),
    ("panel, 120 vents", MILD),
    ("hollow dome", MILD),
    ("corner beam", MILD),
    ("plain panel", QUICK),
    ("cone", QUICK),
    ("tray with posts", MILD),
)


def truly(**limits: float) -> Printer:
    """The bench with other limits than those set: shares of them."""
    out = BENCH
    for limit, share in limits.items():
        out = with_limit(out, limit, getattr(BENCH, limit) * share)  # type: ignore[arg-type]
    return out


@cache
def plans() -> tuple[PacedPrint, ...]:
    """The prints as planned on the bench, their hours as planned."""
    return tuple(of_part(name, PARTS[name](), process, BENCH, 1.0) for name, process in PRINTS)


@cache
def laid_out(k: int) -> tuple[list[tuple[int, Paths]], NDArray[np.int64]]:
    """The layers of a print that differ, laid out, and which of them each layer is: no limit of a printer moves a path."""
    name, process = PRINTS[k]
    slices = Slices(PARTS[name](), resolve(process, BENCH))
    first: dict[tuple[object, ...], int] = {}
    which = np.array([first.setdefault(slices.alike(j), j) for j in range(slices.n)])
    return [(j, lay_out(slices, j)) for j in first.values()], which


def exactly(k: int, real: Printer) -> float:
    """Seconds of a print driven layer by layer on another printer, as the exact level drives it."""
    s = resolve(PRINTS[k][1], real)
    laid, which = laid_out(k)
    rows = {j: row_of(work_of(paths, s, j == 0)[0]) for j, paths in laid}
    return float(layer_seconds(s, np.array([rows[j] for j in which])).sum()) + s.heat_up_s


def test_driving_again_what_was_laid_out_is_the_exact_level() -> None:
    real = truly(accel_mm_s2=0.6, corner_mm_s=1.7)
    for k in (0, 3):
        name, process = PRINTS[k]
        assert exactly(k, real) == pytest.approx(of_mesh(PARTS[name](), process, real, "exact").time_s.value, rel=1e-8)


def diary(real: Printer, pace: float = 1.0, seed: int = 1) -> Printer:
    """The bench with parts planned on it and printed as on another, by the exact simulation, with a hundredth of scatter."""
    draw = Random(seed)
    paced = [
        plan.model_copy(update={"real_s": exactly(k, real) * pace * draw.gauss(1, 0.01)})
        for k, plan in enumerate(plans())
    ]
    return BENCH.model_copy(update={"paced": tuple(paced)})


@pytest.mark.parametrize(
    "share",
    [
        {"accel_mm_s2": 2.0},
        {"corner_mm_s": 0.4},
        {"accel_mm_s2": 0.6, "speed_mm_s": 0.5},
    ],
    ids=str,
)
def test_the_true_limits_are_learned_from_hours(share: dict[str, float]) -> None:
    real = truly(**share)
    taught = diary(real, pace=1.1)
    found = learned(taught)
    assert found.printer is not None, found.silence
    assert {x.limit for x in found.limits} == set(share)
    for x in found.limits:
        assert x.value == pytest.approx(getattr(real, x.limit), rel=0.12)
        assert x.low <= getattr(real, x.limit) * 1.02 and x.high >= getattr(real, x.limit) * 0.98
    # planned anew, the prints scatter less round their pace, and the pace is the one they had
    before, after = pace_of(taught), pace_of(found.printer)
    assert after.high / after.low < before.high / before.low
    assert after.factor == pytest.approx(1.1, rel=0.03)


def test_a_limit_that_acts_alike_widens_what_is_told() -> None:
    """Acceleration and corners hold back the same prints: with both lower, the one that is told reaches over the truth and names
    the other."""
    real = truly(accel_mm_s2=0.6, corner_mm_s=0.5)
    (x,) = learned(diary(real, pace=1.1)).limits
    assert x.limit == "accel_mm_s2" and x.rivals == ("speed at corners",)
    assert x.low < real.accel_mm_s2 < x.high


def test_a_slip_or_a_limit_is_left_open_where_one_print_alone_speaks() -> None:
    found = learned(diary(truly(accel_mm_s2=0.5, speed_mm_s=0.5), pace=1.1))
    assert found.limits == () and found.odd is None
    assert found.silence.startswith("either the top speed is another, or 'plain panel' does not fit")


def test_a_plan_follows_the_limits_of_its_printer() -> None:
    """Between and beyond the values planned, against planning on the other printer itself."""
    for shares in ({"accel_mm_s2": 0.6}, {"corner_mm_s": 1.7}, {"speed_mm_s": 0.6, "accel_mm_s2": 1.5}):
        other = truly(**shares)
        for (name, process), now in zip(PRINTS, planned_now(plans(), other), strict=True):
            assert now == pytest.approx(of_mesh(PARTS[name](), process, other, "settled").time_s.value, rel=0.02), name
    assert planned_now(plans(), BENCH) == pytest.approx([p.planned_s for p in plans()])


@given(
    st.lists(st.sampled_from(LIMITS), min_size=1, max_size=1),
    st.sampled_from((0.5, 0.6, 1.6, 2.0)),
    st.floats(0.7, 1.5),
    st.permutations(range(7)),
)
@settings(max_examples=examples(12), deadline=None)
def test_a_diary_that_obeys_the_plan_is_read_back(
    limits: list[Limit], share: float, pace: float, order: list[int]
) -> None:
    real = with_limit(BENCH, limits[0], getattr(BENCH, limits[0]) * share)
    told = planned_now(plans(), real)
    paced = tuple(plans()[i].model_copy(update={"real_s": float(told[i]) * pace}) for i in order)
    found = learned(BENCH.model_copy(update={"paced": paced}))
    # what hardly moves the hours is not told: a higher corner speed or top speed than most moves reach
    if found.limits or np.ptp(np.log(told / [p.planned_s for p in plans()])) > 0.15:
        assert [x.limit for x in found.limits] == limits
        assert found.limits[0].value == pytest.approx(getattr(real, limits[0]), rel=2e-2)


def test_nothing_is_learned_from_prints_that_cannot_tell() -> None:
    assert learned(BENCH).limits == ()
    old = tuple(PacedPrint(what=f"p{k}", planned_s=1000, real_s=1100) for k in range(5))
    assert "0 of the 3" in learned(BENCH.model_copy(update={"paced": old})).silence
    one = plans()[0]
    alike = tuple(one.model_copy(update={"real_s": one.planned_s * (1 + 0.01 * k)}) for k in range(5))
    assert "too much alike" in learned(BENCH.model_copy(update={"paced": alike})).silence
    agree = tuple(p.model_copy(update={"real_s": p.planned_s * 1.2}) for p in plans())
    assert "agree with the limits" in learned(BENCH.model_copy(update={"paced": agree})).silence


def test_one_slip_in_the_diary_is_named_and_bends_no_limit() -> None:
    """Hours of a printer with one limit other than set, a hundredth of scatter, and one print a fifth off. Only limits that are truly
    other are told, with the truth in their interval; the slip is named where it shows."""
    named = 0
    for seed in range(4):
        draw = Random(seed)
        share = {draw.choice(LIMITS): draw.choice((0.5, 0.6, 1.6, 2.0))} if seed % 4 else {}
        told = planned_now(plans(), truly(**share))
        slip, by = draw.randrange(len(PRINTS)), draw.choice((0.8, 1.2))
        paced = tuple(
            p.model_copy(update={"real_s": float(t) * 1.1 * draw.gauss(1, 0.01) * (by if k == slip else 1)})
            for k, (p, t) in enumerate(zip(plans(), told, strict=True))
        )
        found = learned(BENCH.model_copy(update={"paced": paced}))
        for x in found.limits:
            assert x.limit in share
            assert x.low * 0.95 <= getattr(truly(**share), x.limit) <= x.high * 1.05
        if found.odd is not None:
            named += 1
            assert found.odd.what == PRINTS[slip][0]
            assert found.odd.off == pytest.approx(by - 1, abs=0.1)
    assert named >= 3


def test_without_a_slip_no_print_is_odd() -> None:
    for seed in range(2):
        draw = Random(seed)
        paced = tuple(p.model_copy(update={"real_s": p.planned_s * draw.gauss(1, 0.015)}) for p in plans())
        assert learned(BENCH.model_copy(update={"paced": paced})).odd is None


def test_limits_are_learned_from_files_too() -> None:
    """Long lines at speed, zigzags, and corners without end, as G-code; timed by the same reader with other limits."""

    def file(step: float, feed: float, legs: int) -> BytesIO:
        lines = ["G21", "G90", "M83", "G1 X0 Y0 Z0.2 F600"]
        lines += [f"G1 X{(k % 2) * step} Y{20 + k * min(step, 0.4):.3f} E0.05 F{feed * 60:.0f}" for k in range(legs)]
        return BytesIO("\n".join(lines).encode())

    shapes = [(180.0, 180.0, 300), (2.0, 60.0, 3000), (8.0, 100.0, 2000), (60.0, 40.0, 400), (25.0, 160.0, 900)]
    real = truly(accel_mm_s2=0.5)
    paced = []
    for k, shape in enumerate(shapes):
        took = read_gcode(file(*shape), real).time_s * (1.2 + 0.01 * (k % 3))
        paced.append(of_gcode(f"file {k}", file(*shape), BENCH, took))
    found = learned(BENCH.model_copy(update={"paced": tuple(paced)}))
    assert [x.limit for x in found.limits] == ["accel_mm_s2"]
    assert found.limits[0].value == pytest.approx(real.accel_mm_s2, rel=0.1)
    # a file that says its own limits goes by those, so it teaches nothing of them
    own = BytesIO(b"M204 S500\nM205 X5\nM203 X100 Y100\n" + file(8.0, 100.0, 200).read())
    curves = of_gcode("own", own, BENCH, 100.0).curves
    assert curves is not None and max(curves.seconds) == pytest.approx(min(curves.seconds))


def test_a_file_that_takes_no_time_teaches_nothing() -> None:
    for empty in (b"", b"; nothing but words\n", b"M105\n"):
        with pytest.raises(DesignError, match="takes time"):
            of_gcode("empty", BytesIO(empty), BENCH, 100.0)
    one = of_gcode("one line, no end", BytesIO(b"G1 X90 F6000"), BENCH, 100.0)
    assert one.curves is not None and one.curves.seconds[0] > one.planned_s


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
    forget_all()  # what was tried before is told at once
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
