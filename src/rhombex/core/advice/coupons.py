"""Coupons as the Print plan shows them: which there are, and what each of their places tells of the printer."""

from __future__ import annotations

from typing import get_args

from rhombex.core.analysis import Analysis
from rhombex.core.design import CouponOf
from rhombex.core.fit.coupon import NAMES, places_mm
from rhombex.core.reference import ref
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.own import FEATURES


class CouponPlace(Frozen):
    """One place of a coupon: its number, which is that of the dimples beside it, and its allowance."""

    number: int
    mm: Shown


class CouponRow(Frozen):
    """A kind of coupon, whether the design has it or not. `now_mm`: what the printer has of its own in that filament."""

    feature: CouponOf
    label: str
    part: str
    wanted: bool
    filament: str
    printer: str
    unit: str
    now_mm: Shown | None
    places: tuple[CouponPlace, ...]


def coupons(a: Analysis) -> tuple[CouponRow, ...]:
    """Every kind of coupon for the printer of a design."""
    rows = []
    for feature in get_args(CouponOf):
        kind = a.design.process_of(NAMES[feature]).filament
        rows.append(
            CouponRow(
                feature=feature,
                label=FEATURES[feature],
                part=NAMES[feature],
                wanted=feature in a.design.coupons,
                filament=kind,
                printer=a.printer.name,
                unit=ref(f"printing.allowance.{feature}").unit,
                now_mm=a.printer.own_allowance_mm(feature, kind),
                places=tuple(CouponPlace(number=n, mm=mm) for n, mm in enumerate(places_mm(feature), 1)),
            )
        )
    return tuple(rows)
