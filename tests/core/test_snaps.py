"""Snap hooks: strain and forces against beam theory, hooks as they are made, what is told of them."""

from __future__ import annotations

from typing import Any

import pytest

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.advice.snaps import hooks_hold
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.constructions import Magnets, OpenBench, Snaps
from rhombex.core.design import Design
from rhombex.core.edits import Construct, HoldByMagnets, HoldBySnaps, Set, Together
from rhombex.core.fit.arms import strain_share
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.hardware.snaps import along_n, give_n
from rhombex.core.plain import DesignError
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

pytestmark = pytest.mark.xdist_group("snaps")


@pytest.fixture(scope="module")
def hooked(good_wren: Design) -> Analysis:
    return analyse(apply(good_wren, HoldBySnaps(snaps=Snaps())), ARCHIVE_WORKSHOP, "preview")


def test_strain_and_force_are_those_of_a_cantilever() -> None:
    """Euler and Bernoulli: under P at its end it gives way by P L^3 / (3 E I), its root is strained by P L t / (2 E I), I = b t^3 / 12."""
    arm, wide, long, catch, modulus = 2.0, 8.0, 20.0, 1.5, 2000.0
    strain = strain_share(arm, catch, long)
    give = give_n(arm, wide, long, modulus, strain)
    inertia = wide * arm**3 / 12
    assert give * long**3 / (3 * modulus * inertia) == pytest.approx(catch)
    assert give * long * arm / (2 * modulus * inertia) == pytest.approx(strain)
    # without friction a slope of 45 degrees turns the force by a right angle as it is; with 0.3: 1.3 / 0.7
    assert along_n(10.0, 45.0, 0.0) == pytest.approx(10.0) and along_n(10.0, 45.0, 0.3) == pytest.approx(10 * 1.3 / 0.7)


def near(a: Analysis, lo: tuple[float, float, float], hi: tuple[float, float, float], part: str) -> float:
    """The plastic of a part in a box, mm3."""
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ mk.evaluate(block(Box(lo, hi)), mk.FILE_TOL)).volume())


def test_hooks_are_as_thick_and_long_as_told_and_catch_by_as_much(hooked: Analysis) -> None:
    """Arms of 1.6 x 10 half a millimetre from the wall's thickened band, noses that reach 0.6 over its edge; half way up the arm is apart from the lid's own rim all
    round."""
    a = hooked
    assert len(a.case.snaps) == a.case.wanted_joints == 8 and a.case.joints == ()
    for s in a.case.snaps:
        n = next(k for k in range(2) if s.inward[k])
        q, face, way = s.at[1 - n], s.at[n], s.inward[n]

        def span(x0: float, x1: float, y0: float, y1: float, z0: float, z1: float, n: int = n) -> Any:
            lo, hi = [0.0, 0.0, z0], [0.0, 0.0, z1]
            (lo[n], hi[n]), (lo[1 - n], hi[1 - n]) = sorted((x0, x1)), (y0, y1)
            return (lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])

        mid = s.at[2] + s.long_mm / 2
        thick = near(a, *span(face - way * 0.45, face + way * 3, q - 1, q + 1, mid, mid + 0.5), "lid") / (2 * 0.5)
        assert thick == pytest.approx(1.6, abs=0.02), s.id
        wide = near(a, *span(face + way * 0.2, face + way * 1.2, q - 5.4, q + 5.4, mid, mid + 0.5), "lid") / 0.5
        assert wide == pytest.approx(10.0, abs=0.05), s.id
        # the nose at its land: beyond the arm's face by the gap and the catch
        z = s.at[2] - s.catch_mm - 0.25
        nose = near(a, *span(face - way * 3, face, q - 1, q + 1, z - 0.05, z + 0.05), "lid") / (2 * 0.1)
        assert nose == pytest.approx(0.5 + 0.6, abs=0.03), s.id
        # and there stands plastic of the base over it, as far as it catches
        over = s.at[2] + 0.25
        caught = near(a, *span(face - way * 1.1, face - way * 0.45, q - 1, q + 1, over + 0.3, over + 0.4), "base") / (
            2 * 0.1
        )
        assert caught == pytest.approx(0.6, abs=0.06), s.id


def test_the_lid_sits_free_and_is_caught_when_it_is_lifted(hooked: Analysis) -> None:
    base, lid = (mk.evaluate(hooked.recipes[n], mk.FILE_TOL) for n in ("base", "lid"))
    assert all(len(m.decompose()) == 1 and mk.watertight(m) for m in (base, lid))
    assert (base ^ lid).volume() < 1e-6 and (base ^ lid.translate((0, 0, 0.1))).volume() < 1e-6
    assert (base ^ lid.translate((0, 0, 0.5))).volume() > 5.0


def test_the_table_tells_what_hooks_bear(good_wren: Design, hooked: Analysis) -> None:
    """PLA: 52 MPa x 0.65 across layers / 3000 x 0.7 once x 0.6 where it is opened monthly: 0.473 %; 3/2 x 1.6 x 0.6 / 9.05^2 = 1.758 %."""
    t = hardware_table(hooked).snaps
    assert t is not None and t.holds is not None and t.start is None and t.now == Snaps()
    assert t.holds.strain.value == pytest.approx(150 * 1.6 * 0.6 / 9.05**2, abs=0.002)
    assert t.holds.bears.value == pytest.approx(100 * 52 * 0.65 / 3000 * 0.7 * 0.6, abs=0.001)
    once = analyse(apply(hooked.design, Set(path="brief.opened", value="once")), ARCHIVE_WORKSHOP, "preview")
    held = hooks_hold(once)
    assert held is not None and held.bears.value == pytest.approx(100 * 52 * 0.65 / 3000 * 0.7, abs=0.001)
    assert held.off_n.value > held.on_n.value > 0  # 45 degrees back, 30 in
    assert not any(x.use == "lid" for x in hooked.bill)
    other = hardware_table(analyse(good_wren, ARCHIVE_WORKSHOP, "preview")).snaps
    assert other is not None and other.start == HoldBySnaps(snaps=Snaps()) and other.holds is None


def test_a_lid_is_held_one_way_and_only_a_lid(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=(HoldByMagnets(magnets=Magnets()), HoldBySnaps(snaps=Snaps()))))
    assert d.shell.construction.magnets is None  # type: ignore[union-attr]
    back = apply(d, HoldByMagnets(magnets=Magnets()))
    assert back.shell.construction.snaps is None  # type: ignore[union-attr]
    with pytest.raises(DesignError, match="nothing that hooks hold"):
        apply(apply(good_wren, Construct(construction=OpenBench())), HoldBySnaps(snaps=Snaps()))
    halves = back.shell.construction.model_copy(update={"snaps": Snaps()})
    with pytest.raises(DesignError, match="by magnets or by snaps"):
        apply(good_wren, Construct(construction=halves))


def test_hooks_give_way_to_what_stands_at_the_wall(good_wren: Design) -> None:
    """Moved against the left wall the drive takes the places of both hooks there, or leaves them between."""
    d = apply(good_wren, HoldBySnaps(snaps=Snaps()))
    p = next(p for p in d.placements if p.id == "drive")
    from rhombex.core.edits import Move

    a = analyse(apply(d, Move(id="drive", to_mm=(p.at_mm[0] - 2.0, p.at_mm[1], 16.0))), ARCHIVE_WORKSHOP, "preview")
    for s in a.case.snaps:
        for t in a.things:
            for x in t.solids:
                assert max(s.boss.gaps(x.box)) > -1e-6 or s.boss.distance(x.box) >= 0 or x.role == "plug"
    assert len(a.case.snaps) < a.case.wanted_joints
