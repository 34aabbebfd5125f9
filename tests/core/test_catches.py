"""Catches that hold a wrap on its core: measured on what is made, against what they bear by hand."""

from __future__ import annotations

from math import ceil
from random import Random
from typing import Any

import pytest

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import CoreAndWrap, OpenBench, Snaps
from rhombex.core.design import Design
from rhombex.core.edits import Construct, HoldBySnaps, MoveWall, PrintPart, Remove, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import Box
from rhombex.demo.scenario import curlew

from ..conftest import alone, findings
from ..made import broken
from ..rough import shaped

HOOKED = HoldBySnaps(snaps=Snaps())


@pytest.fixture(scope="module")
def caught(good_wren: Design) -> Analysis:
    return shaped(apply(good_wren, Together(edits=(Construct(construction=CoreAndWrap()), HOOKED))))


def near(a: Analysis, lo: Any, hi: Any, part: str) -> float:
    """The plastic of a part in a box, mm3."""
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ mk.evaluate(block(Box(lo, hi)), mk.FILE_TOL)).volume())


def test_arms_are_as_thick_wide_and_long_as_told_and_reach_into_the_wall(caught: Analysis) -> None:
    """Arms of 1.6 x 10 half a millimetre from the wall, standing on the floor, apart from the lip; noses that reach 0.6 into the wall, and plastic of the wrap under them."""
    a = caught
    assert a.case.snaps and a.case.joints == () and a.faults == ()
    floor = a.case.cavity.lo[2]
    for s in a.case.snaps:
        n = next(k for k in range(2) if s.inward[k])
        q, face, way = s.at[1 - n], s.at[n], s.inward[n]
        wall = (a.case.cavity.lo[n], a.case.cavity.hi[n])[way < 0]
        assert abs(face - wall) == pytest.approx(0.5, abs=1e-6) and s.at[2] - floor == s.long_mm and s.hook_on == "core"

        def span(x0: float, x1: float, y0: float, y1: float, z0: float, z1: float, n: int = n) -> Any:
            lo, hi = [0.0, 0.0, z0], [0.0, 0.0, z1]
            (lo[n], hi[n]), (lo[1 - n], hi[1 - n]) = sorted((x0, x1)), (y0, y1)
            return (lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])

        for z in (floor + 1.0, floor + s.long_mm / 2):  # beside the lip as well
            thick = near(a, *span(wall, face + way * 2.0, q - 1, q + 1, z, z + 0.5), "core") / (2 * 0.5)
            assert thick == pytest.approx(1.6, abs=0.02), s.id
            wide = near(a, *span(face + way * 0.2, face + way * 1.2, q - 5.4, q + 5.4, z, z + 0.5), "core") / 0.5
            assert wide == pytest.approx(10.0, abs=0.05), s.id
        z = s.at[2] + s.catch_mm + 0.25
        nose = near(a, *span(face - way * 3, face, q - 1, q + 1, z - 0.05, z + 0.05), "core") / (2 * 0.1)
        assert nose == pytest.approx(0.5 + 0.6, abs=0.03), s.id
        under = s.at[2] - 0.25
        held = near(a, *span(face - way * 1.1, face - way * 0.5, q - 1, q + 1, under - 0.4, under - 0.3), "wrap") / (
            2 * 0.1
        )
        assert held == pytest.approx(0.6, abs=0.06), s.id
        # the wall is whole behind the nose
        behind = near(a, *span(wall - way * 2.89, wall - way * 2.09, q - 1, q + 1, z - 0.05, z + 0.05), "wrap") / (
            2 * 0.1
        )
        assert behind == pytest.approx(0.8, abs=0.02), s.id


def test_the_wrap_sits_free_and_is_caught_when_it_is_lifted(caught: Analysis) -> None:
    core, wrap = (mk.evaluate(caught.recipes[n], mk.FILE_TOL) for n in ("core", "wrap"))
    assert all(len(m.decompose()) == 1 and mk.watertight(m) for m in (core, wrap))
    assert (core ^ wrap).volume() < 1e-6 and (core ^ wrap.translate((0, 0, 0.1))).volume() < 1e-6
    assert (core ^ wrap.translate((0, 0, 0.6))).volume() > 5.0
    # a finger finds the notch over the floor, under the wrap's edge
    (notch,) = caught.case.lifts
    assert near(caught, notch.box.lo, notch.box.hi, "wrap") < 1e-6 and notch.box.lo[2] == pytest.approx(3.0)


def test_arms_are_as_long_as_their_filament_wants(good_wren: Design) -> None:
    """PLA bears 52 x 0.65 / 3000 x 0.7 x 0.6 = 0.473 % where it is opened monthly: sqrt(1.5 x 1.6 x 0.6 / 0.00473) = 17.4, 18 whole. Opened once 0.789 %: 13.5, 14."""
    d = apply(good_wren, Together(edits=(Construct(construction=CoreAndWrap()), HOOKED)))
    for opened, share, long in (("monthly", 0.6, 18), ("once", 1.0, 14)):
        a = shaped(apply(d, Set(path="brief.opened", value=opened)))
        bears = 52 * 0.65 / 3000 * 0.7 * share
        assert a.case.snaps[0].long_mm == ceil((1.5 * 1.6 * 0.6 / bears) ** 0.5) == long
        t = hardware_table(a).snaps
        assert t is not None and t.holds is not None and (t.held, t.hook_on) == ("wrap", "core")
        assert t.holds.bears.value == pytest.approx(100 * bears, abs=1e-4) and t.holds.strain.value == pytest.approx(
            150 * 1.6 * 0.6 / long**2, abs=1e-4
        )
        assert t.holds.strain.value <= t.holds.bears.value and findings(a.design, "snap-strains") == []


def test_in_a_low_room_arms_are_bent_too_far_and_told(good_wren: Design) -> None:
    """A room of 31 less 17: of 14 a nose of 6.0 and 1 of air leave arms of 7, bent by 150 x 1.6 x 0.6 / 49 %."""
    empty = Together(edits=tuple(Remove(id=p.id) for p in good_wren.placements if p.id != "board"))
    d = apply(
        good_wren,
        Together(edits=(Construct(construction=CoreAndWrap()), HOOKED, *empty.edits, MoveWall(face="top", by_mm=-17))),
    )
    s = shaped(d).case.snaps
    assert s
    (f,) = findings(d, "snap-strains")
    assert (
        f.severity == "stop"
        and f.measured == pytest.approx(150 * 1.6 * 0.6 / s[0].long_mm ** 2, abs=1e-4)
        and "core break" in f.title
    )
    assert [r.label for r in f.remedies][-1] == "Hold it by screws" and not any(
        "magnets" in r.label for r in f.remedies
    )
    for r in f.remedies:
        assert findings(apply(d, Together(edits=r.edits)), f.code) == [], r.label


def test_catches_too_stiff_to_open_are_made_softer() -> None:
    """Thinner arms are shorter as well: the thickest that gives way enough is found by both."""
    for arm, least in ((1.6, 103.0), (2.2, 160.0)):
        d = apply(curlew(), HoldBySnaps(snaps=Snaps(arm_mm=arm)))
        (f,) = findings(d, "snaps-hard-to-open")
        assert f.limit == 80 and f.measured >= least
        assert {r.label.split()[0] for r in f.remedies} == {"Arms", "Hooks", "Hold", "It"}
        for r in f.remedies:
            assert findings(apply(d, Together(edits=r.edits)), f.code) == [], r.label


def test_a_wall_too_thin_for_noses_has_none(good_wren: Design) -> None:
    """0.6 of catch, 0.25 of play and 0.8 behind it are 1.65."""
    d = apply(good_wren, Together(edits=(Construct(construction=CoreAndWrap()), HOOKED)))
    for wall, there in ((1.7, True), (1.6, False)):
        thin = apply(d, Set(path="shell.wall_mm", value=wall))
        a = shaped(thin)
        assert bool(a.case.snaps) == there
        told = alone(thin, "lid-screws-missing")
        if not there:
            (f,) = told
            assert f.severity == "stop" and f.title == f"Only 0 of {a.case.wanted_joints} wrap snaps have a place"
            screwed = apply(thin, Together(edits=f.remedies[-1].edits))
            assert f.remedies[-1].label == "Hold it by screws"
            assert not [x for x in alone(screwed, f.code) if x.severity == "stop"]


def test_over_a_core_of_sheet_catches_wait(good_wren: Design) -> None:
    d = apply(
        good_wren,
        Together(
            edits=(
                Construct(construction=CoreAndWrap(snaps=Snaps())),
                Set(path="shell.construction.floor", value="sheet"),
            )
        ),
    )
    a = shaped(d)
    assert a.case.snaps == () and a.case.joints and hardware_table(a).snaps is None
    with pytest.raises(DesignError, match="core that is printed"):
        apply(d, HOOKED)
    with pytest.raises(DesignError, match="nothing that hooks hold"):
        apply(apply(d, Construct(construction=OpenBench())), HOOKED)
    assert shaped(apply(d, Set(path="shell.construction.floor", value="printed"))).case.snaps


def test_walls_drawn_round_and_moved_keep_wraps_and_catches_whole(good_wren: Design) -> None:
    """Twelve sizes at random: nothing otherwise than told."""
    r = Random(5)
    for _ in range(12):
        d = apply(
            good_wren,
            Together(
                edits=(
                    Construct(
                        construction=CoreAndWrap(
                            lip_mm=r.uniform(1, 12),
                            snaps=Snaps(
                                arm_mm=r.uniform(0.9, 2.4), wide_mm=r.uniform(5, 16), catch_mm=r.uniform(0.4, 1.0)
                            ),
                        )
                    ),
                    Set(path="shell.wall_mm", value=r.uniform(1.8, 5)),
                    MoveWall(face=r.choice(("left", "right", "front", "back", "top")), by_mm=r.uniform(0, 25)),
                )
            ),
        )
        assert list(broken(d)) == []


def test_what_only_waits_is_no_stop(caught: Analysis) -> None:
    assert not [f for f in judge(caught) if f.severity == "stop" and "snap" in f.code]


def test_hooks_are_judged_by_their_own_filament(caught: Analysis) -> None:
    """A core in PETG, opened monthly: what its layers hold over its modulus; the wrap's filament is nothing to them."""
    petg = caught.design.process.model_copy(update={"filament": "PETG"})
    for part, kind in (("core", "PETG"), ("wrap", caught.design.process.filament)):
        a = shaped(apply(caught.design, PrintPart(part=part, process=petg)))
        m = {x: val(f"materials.{kind}.{x}") for x in ("strength", "modulus", "across_layers")}
        t = hardware_table(a).snaps
        assert t is not None and t.holds is not None
        assert t.holds.bears.value == pytest.approx(
            100 * m["strength"] * m["across_layers"] / m["modulus"] * 0.42, abs=1e-4
        )
