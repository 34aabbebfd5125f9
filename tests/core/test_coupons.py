"""Coupons: what is printed is as wide as told, and what a place tells is what every design on that printer takes."""

from __future__ import annotations

import math
from typing import Any, get_args

import numpy as np
import pytest

from rhombex.core.advice.coupons import coupons
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.design import CouponOf, Design, Process, read_design
from rhombex.core.edits import PrintPart, PutCoupon, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.fit.allowance import allowance
from rhombex.core.fit.coupon import NAMES, coupon, drawn_mm, places_mm
from rhombex.core.geometry import mesh_kernel
from rhombex.core.plain import DesignError
from rhombex.core.shop_edits import PutPrinter, apply_shop
from rhombex.core.workshop.own import OwnAllowance
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop

from ..conftest import findings

FEATURES: tuple[CouponOf, ...] = get_args(CouponOf)
BENCH = ARCHIVE_WORKSHOP.printers[1]


def with_coupons(d: Design, *features: CouponOf) -> Design:
    return apply(d, Together(edits=tuple(PutCoupon(feature=f, wanted=True) for f in features)))


def measured(workshop: Workshop, feature: Any, mm: float, key: str = "bench-220", filament: Any = "PLA") -> Workshop:
    printer = workshop.printer(key)
    assert printer is not None
    own = (OwnAllowance(filament=filament, feature=feature, mm=mm),)
    return apply_shop(workshop, PutPrinter(printer=printer.model_copy(update={"allowances": own})))


def gaps(mesh: Any, z: float, y: float) -> list[float]:
    """Widths of what is open between the first and the last plastic along x."""
    xs = []
    for ring in mesh.slice(z).to_polygons():
        r = np.asarray(ring)
        for (x0, y0), (x1, y1) in zip(r, np.roll(r, -1, axis=0), strict=True):
            if (y0 - y) * (y1 - y) < 0:
                xs.append(x0 + (x1 - x0) * (y - y0) / (y1 - y0))
    xs.sort()
    return [b - a for a, b in zip(xs[1::2], xs[2::2], strict=False)]


def test_the_table_stands_in_the_middle() -> None:
    """Tongue and groove 0.175 per side, a slipping hole 0.2, upright holes 0.15, lying ones 0.3, in steps of 0.05 either way."""
    assert places_mm("tongue_side") == pytest.approx((0.075, 0.125, 0.175, 0.225, 0.275))
    assert places_mm("dowel_slip") == pytest.approx((0.1, 0.15, 0.2, 0.25, 0.3))
    assert places_mm("round_hole_upright") == pytest.approx((0.05, 0.1, 0.15, 0.2, 0.25))
    assert places_mm("round_hole_lying") == pytest.approx((0.2, 0.25, 0.3, 0.35, 0.4))


def test_grooves_as_wide_as_told(good_wren: Design) -> None:
    """A tongue of 1.8: grooves of 1.8 + 2 x (place + what PLA shrinks over 1.8: 0.3 % of it, half on each side); their floor is 1.2, and the tongue lies
    5 beside."""
    a = analyse(with_coupons(good_wren, "tongue_side"), ARCHIVE_WORKSHOP, "preview")
    m = mesh_kernel.evaluate(a.piece_recipes["coupon-tongue"], mesh_kernel.FILE_TOL)
    *grooves, aside = gaps(m, 5.0, 20.0)
    shrink = (allowance("tongue_side", a.design.process, a.printer, 1.8).value - 0.175) * 2
    assert 0 <= shrink < 0.02
    assert grooves == pytest.approx([1.8 + 2 * x + shrink for x in (0.075, 0.125, 0.175, 0.225, 0.275)], abs=1e-3)
    assert aside == pytest.approx(5.0, abs=1e-6)
    assert gaps(m, 1.0, 20.0) == [pytest.approx(5.0, abs=1e-6)]  # under the grooves it is whole
    piece = next(p for p in a.pieces if p.name == "coupon-tongue")
    assert piece.bodies == 2 and piece.watertight and piece.bbox_mm == pytest.approx((49.8, 25.0, 9.6), abs=0.01)


@pytest.mark.parametrize("feature", ["dowel_slip", "round_hole_upright", "round_hole_lying"])
def test_holes_as_wide_as_told(feature: Any) -> None:
    """For a pin of 3: volumes of the bores by hand, of the block less its dimples; the widest is widest by four steps."""
    process = Process()
    m = mesh_kernel.evaluate(coupon(feature, process, BENCH), mesh_kernel.FILE_TOL)
    high = 6.0 if feature == "round_hole_upright" else 10.0
    deep = 6.0 if feature == "round_hole_upright" else 12.0
    wide = [3 + x for x in drawn_mm(feature, process, BENCH, 3.0)]
    assert wide[4] - wide[0] == pytest.approx(0.2)
    bores = sum(math.pi * d * d / 4 * deep for d in wide)
    dimples = 15 * math.pi * 0.7**2 * 0.6
    assert float(m.volume()) == pytest.approx(43 * 12 * high - bores - dimples, rel=2e-4)
    assert len(m.decompose()) == 1 and m.genus() == 5


def test_each_place_has_as_many_dimples_as_its_number(good_wren: Design) -> None:
    for feature in FEATURES:
        a = analyse(with_coupons(good_wren, feature), ARCHIVE_WORKSHOP, "preview")
        m = mesh_kernel.evaluate(a.piece_recipes[NAMES[feature]], mesh_kernel.FILE_TOL)
        top = m.bounding_box()[5] - 0.3
        small = [np.asarray(r) for r in m.slice(top).to_polygons() if np.ptp(np.asarray(r), axis=0).max() < 1.6]
        at = [round((float(r[:, 0].mean()) - 9.5) / 8) for r in small]
        assert [at.count(k) for k in range(5)] == [1, 2, 3, 4, 5], feature


def test_what_fitted_is_what_every_design_takes(good_wren: Design) -> None:
    """The fourth groove fitted: tongues get 0.225; the coupon itself stays as it is, so that it may be printed again."""
    d = with_coupons(good_wren, "tongue_side")
    before = analyse(d, ARCHIVE_WORKSHOP, "preview")
    shop = measured(ARCHIVE_WORKSHOP, "tongue_side", places_mm("tongue_side")[3])
    after = analyse(d, shop, "preview")
    small = allowance("tongue_side", d.process, after.printer, 1.8)
    assert small.value - allowance("tongue_side", d.process, before.printer, 1.8).value == pytest.approx(0.05)
    assert after.piece_recipes["coupon-tongue"].digest == before.piece_recipes["coupon-tongue"].digest
    assert after.recipes["lid"].digest != before.recipes["lid"].digest
    row = next(x for x in coupons(after) if x.feature == "tongue_side")
    assert row.now_mm == pytest.approx(0.225) and row.wanted
    assert next(x for x in coupons(before) if x.feature == "tongue_side").now_mm is None


def test_a_coupon_is_printed_once_and_goes_again(good_wren: Design) -> None:
    d = with_coupons(good_wren, "dowel_slip", "tongue_side", "dowel_slip")
    assert d.coupons == ("tongue_side", "dowel_slip")
    own = d.process.model_copy(update={"filament": "PETG"})
    d = apply(d, PrintPart(part="coupon-dowel", process=own))
    assert (
        next(x for x in coupons(analyse(d, ARCHIVE_WORKSHOP, "preview")) if x.feature == "dowel_slip").filament
        == "PETG"
    )
    d = apply(d, PutCoupon(feature="dowel_slip", wanted=False))
    assert d.coupons == ("tongue_side",) and not d.part_processes
    data = d.model_dump(mode="json")
    for bad in (["tongue_side", "tongue_side"], ["nothing"], "tongue_side"):
        with pytest.raises(DesignError, match="coupons"):
            read_design(data | {"coupons": bad})


def test_a_wider_nozzle_makes_wider_places(good_wren: Design) -> None:
    """0.5 mm of allowance per mm of nozzle above 0.4: 0.1 more on each side with 0.6."""
    fine, wide = (good_wren.process.model_copy(update={"nozzle_mm": x}) for x in (0.4, 0.6))
    for a, b in zip(drawn_mm("tongue_side", fine, BENCH, 1.8), drawn_mm("tongue_side", wide, BENCH, 1.8), strict=True):
        assert b - a == pytest.approx(0.1)


def sliding(d: Design) -> Design:
    return apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, "sliding panels")))


def test_slides_are_told_until_they_are_measured(good_wren: Design) -> None:
    """Tongues scatter by 0.05 on printers nobody has measured, and slide within 0.025; with a coupon it is an advice, measured it is nothing."""
    assert not findings(good_wren, "slide-not-measured")  # nothing slides in two halves
    d = sliding(good_wren)
    (found,) = findings(d, "slide-not-measured")
    assert (found.severity, found.measured, found.limit, found.sense) == ("weigh", 0.05, 0.025, "at most")
    along = apply(d, Together(edits=found.remedies[0].edits))
    assert not findings(along, "slide-not-measured")
    (first,) = findings(along, "coupon-first")
    assert (first.severity, first.title) == ("advice", "Print the coupon-tongue before all else")

    def codes(workshop: Workshop) -> set[str]:
        from rhombex.core.concerns import judge

        return {f.code for f in judge(analyse(along, workshop, "preview"))}

    assert not {"coupon-first", "slide-not-measured"} & codes(measured(ARCHIVE_WORKSHOP, "tongue_side", 0.2))
    assert "coupon-first" in codes(measured(ARCHIVE_WORKSHOP, "tongue_side", 0.2, filament="PETG"))


def test_a_coupon_in_another_filament_tells_nothing(good_wren: Design) -> None:
    """Panels in PETG: a coupon in PLA does not stand for them, and the remedy prints it in PETG."""
    d = sliding(good_wren)
    petg = d.process.model_copy(update={"filament": "PETG"})
    for side in ("front", "back", "left", "right"):
        d = apply(d, PrintPart(part=f"panel-{side}", process=petg))
    d = with_coupons(d, "tongue_side")
    (found,) = findings(d, "slide-not-measured")
    after = apply(d, Together(edits=found.remedies[0].edits))
    assert after.process_of("coupon-tongue").filament == "PETG" and not findings(after, "slide-not-measured")


def test_a_tray_slides_too(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, "tray in a sleeve")))
    assert [f.subjects for f in findings(d, "slide-not-measured")] == [("tray",)]


def test_coupons_are_exported_with_the_rest(good_wren: Design) -> None:
    a: Analysis = analyse(with_coupons(good_wren, *FEATURES), ARCHIVE_WORKSHOP)
    files = package(a, ("stl", "step", "3mf"), only=tuple(NAMES.values()))
    assert {f"{NAMES[f]}.{x}" for f in FEATURES for x in ("stl", "step", "3mf")} <= set(files)
    assert not any(f.what in NAMES.values() for f in a.faults)
    brim = analyse(apply(a.design, Set(path="process.layer_mm", value=0.28)), ARCHIVE_WORKSHOP, "preview")
    assert all(p.watertight and p.fits_bed for p in brim.pieces)
