"""The library against the world: hole patterns, drives, slots, plugs and connectors. The source stands at each check.

Standards' texts were not at hand: figures marked (memory) are recalled; those of libraries are read out of the library.
"""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from rhombex.core.parts import library, port_kinds
from rhombex.core.parts.component import Component, Mount
from rhombex.core.parts.recognised import patterns
from rhombex.core.reference import ref, val

INCH = 25.4


def bottom(key: str) -> list[Mount]:
    return [m for m in library()[key].mounts if m.side == "bottom"]


def gaps(key: str, axis: int) -> list[float]:
    at = sorted({round(m.at[axis], 3) for m in bottom(key)})
    return [round(b - a, 3) for a, b in pairwise(at)]


@pytest.mark.parametrize(
    ("key", "holes"),
    [
        # ATX 2.2, microATX 1.2, Mini-ITX addendum (memory); in inches the drawings' own 0.1 in grid
        ("board-mini-itx", {"F": (0.25, 1.3), "C": (6.45, 0.4), "J": (0.25, 6.5), "H": (6.45, 6.5)}),
        (
            "board-micro-atx",
            {"F": (0.25, 1.3), "C": (6.45, 0.4), "B": (8.25, 0.4), "M": (0.25, 9.35), "R": (8.25, 9.35)},
        ),
        ("board-atx", {"F": (0.25, 1.3), "A": (11.35, 0.4), "K": (11.35, 9.35), "H": (6.45, 6.5), "L": (6.45, 9.35)}),
    ],
)
def test_board_holes_are_those_of_the_form_factor(key: str, holes: dict[str, tuple[float, float]]) -> None:
    c = library()[key]
    w, d, _ = c.solids[0].hi
    mine = {(round(w - m.at[0], 2), round(d - m.at[1], 2)) for m in c.mounts}
    for name, (x, y) in holes.items():
        assert (round(x * INCH, 2), round(y * INCH, 2)) in mine, name
    assert all(m.hole_mm == pytest.approx(0.156 * INCH, abs=0.01) for m in c.mounts)  # 3.96, ATX 2.2 (memory)


@pytest.mark.parametrize(
    ("key", "size"), [("board-mini-itx", (170, 170)), ("board-micro-atx", (244, 244)), ("board-atx", (305, 244))]
)
def test_board_sizes(key: str, size: tuple[float, float]) -> None:
    """ATX 2.2: 305 x 244; microATX 244 x 244; Mini-ITX 170 x 170 (memory)."""
    assert library()[key].solids[0].hi[:2] == size


def test_holes_of_a_smaller_board_are_among_those_of_a_larger() -> None:
    """A Mini-ITX board fits an ATX tray: its four holes are holes of microATX and ATX."""
    for larger in ("micro-atx", "atx"):
        assert set(patterns()["mini-itx"]) <= set(patterns()[larger])


def test_the_io_aperture() -> None:
    """ATX 2.2: 6.25 x 1.75 in (memory)."""
    k = port_kinds()["io-aperture"]
    assert (k.width_mm, k.height_mm) == pytest.approx((6.25 * INCH, 1.75 * INCH))


def test_a_small_board_has_58_by_49() -> None:
    """65 x 56 stacking board of the PCB library's template: 58 x 49, 3.5 from two edges."""
    assert gaps("sbc-85x56", 0) == [58.0] and gaps("sbc-85x56", 1) == [49.0]
    assert gaps("sbc-65x30", 0) == [58.0] and gaps("sbc-65x30", 1) == [23.0]
    assert min(m.at[0] for m in bottom("sbc-85x56")) == min(m.at[1] for m in bottom("sbc-85x56")) == 3.5
    for key in ("shield-drive", "shield-power"):
        assert {m.at for m in bottom(key)} == {m.at for m in bottom("sbc-85x56")}


@pytest.mark.parametrize("key", ["drive-2.5", "drive-2.5x9", "drive-2.5x15"])
def test_small_drives_are_sff_8201(key: str) -> None:
    """SFF-8201: 69.85 (2.75 in) x 100.45; bottom holes 61.72 apart, 4.07 from the side, 14.00 and 90.60; side holes 3.00 up (memory)."""
    c = library()[key]
    w, d, _ = c.solids[0].hi
    assert w == pytest.approx(2.75 * INCH) and d == 100.45
    assert gaps(key, 0) == [61.72] and gaps(key, 1) == [76.6]
    assert w - max(m.at[0] for m in bottom(key)) == pytest.approx(4.06, abs=0.01)
    sides = [m for m in c.mounts if m.side != "bottom"]
    assert {m.height_mm for m in sides} == {3.0} and {m.at[1] for m in sides} == {14.0, 90.6}
    assert all(m.thread == "M3" and m.depth_limit_mm == 3.0 for m in c.mounts)


def test_large_drives_are_sff_8301() -> None:
    """SFF-8301: 101.6 (4 in) x 147 x 26.1; bottom 95.25 (3.75 in) apart, 41.28 and 85.73; side 6.35 up at 28.5 and 130.1 (memory)."""
    c = library()["drive-3.5"]
    assert c.solids[0].hi == pytest.approx((4 * INCH, 147, 26.1))
    assert gaps("drive-3.5", 0) == pytest.approx([3.75 * INCH])
    assert sorted({m.at[1] for m in bottom("drive-3.5")}) == pytest.approx([1.625 * INCH, 3.375 * INCH], abs=0.01)
    assert {m.height_mm for m in c.mounts if m.side != "bottom"} == {0.25 * INCH}
    assert {m.thread for m in c.mounts} == {"UNC6_32"}


@pytest.mark.parametrize(("key", "length"), [("m2-2230", 30), ("m2-2242", 42), ("m2-2280", 80), ("m2-22110", 110)])
def test_m2_cards_are_22_wide_and_as_long_as_they_say(key: str, length: float) -> None:
    """PCI-SIG M.2 (memory): 22 wide, half-hole at the end of the length that the name says."""
    c = library()[key]
    assert c.solids[0].hi[:2] == (22, length) and c.mounts[0].at == (11, length)


def test_slots_are_an_eight_tenths_inch_apart() -> None:
    """PCI CEM: slot pitch 0.8 in = 20.32, bracket 18.42 wide (memory): the bracket of a two-slot card spans one pitch more."""
    for key, slots in (("card-1-full", 1), ("card-2-full", 2), ("card-3-full", 3)):
        bracket = next(s for s in library()[key].solids if s.name == "bracket")
        assert bracket.hi[2] - bracket.lo[2] == pytest.approx((slots - 1) * 0.8 * INCH + 18.42)
    assert library()["card-1-full"].solids[0].hi == pytest.approx((167.65, 111.15, 1.57))  # half length, full height
    assert library()["card-1-low"].solids[0].hi[1] == 68.9


@pytest.mark.parametrize(("plug", "watts"), [("slot", 75), ("pcie-6", 75), ("pcie-8", 150), ("pcie-16", 600)])
def test_power_of_slots_and_plugs(plug: str, watts: float) -> None:
    """PCI CEM (memory)."""
    assert val(f"power.plug.{plug}") == watts


def test_cards_keep_within_slot_and_plugs() -> None:
    for c in library().values():
        if c.family == "card":
            for d in c.power:
                assert d.peak_w <= val(f"power.plug.{d.plug}") + 1e-9, c.key


def test_usb_power() -> None:
    """USB Type-C without negotiation 5 V x 3 A; USB 3 5 V x 0.9 A (USB specifications, memory)."""
    assert val("power.plug.usb-c") == 5 * 3 and val("power.plug.usb-a") == pytest.approx(5 * 0.9)


@pytest.mark.parametrize(
    ("kind", "size", "why"),
    [
        ("usb-c", (8.94, 3.26), "USB Type-C: shell 8.94 x 3.16-3.26"),
        ("usb-a", (13.1, 5.7), "USB 2.0: shell 13.1 x 5.7, PCB library footprints"),
        ("hdmi-a", (15.0, 5.55), "HDMI: shell 15.0 x 5.55, PCB library footprints"),
        ("rj45", (16.5, 13.5), "IEC 60603-7, PCB library 15.3-16.8 wide"),
        ("inlet-c14", (27.5, 20.0), "IEC 60320-1 cut-out (memory)"),
    ],
)
def test_connector_faces(kind: str, size: tuple[float, float], why: str) -> None:
    k = port_kinds()[kind]
    assert (k.width_mm, k.height_mm) == pytest.approx(size, abs=0.05), why


def test_every_plug_is_larger_than_its_connector_or_goes_with_it() -> None:
    for k in port_kinds().values():
        if k.outside and not k.kind.startswith(("window", "io-", "supply", "bracket", "rj45")):
            assert k.plug_width_mm >= k.width_mm - 0.5 and k.plug_height_mm >= k.height_mm - 0.5, k.kind


@pytest.mark.parametrize(
    ("frame", "pitch"), [(40, 32), (50, 40), (60, 50), (80, 71.5), (92, 82.5), (120, 105), (140, 124.5)]
)
def test_fan_pitches(frame: int, pitch: float) -> None:
    """De facto hole pitches of square fans (memory)."""
    fans = [c for c in library().values() if c.family == "fan" and c.solids[0].hi[0] * 2 == frame]
    assert fans
    for c in fans:
        xs = sorted({m.at[0] for m in c.mounts})
        assert xs[1] - xs[0] == pytest.approx(pitch)
        # the opening lies inside the frame and inside the screws' diagonal
        assert c.air is not None and c.air.opening_mm < frame
        assert c.air.opening_mm / 2 + 2 < math.hypot(pitch / 2, pitch / 2)


@pytest.mark.parametrize(
    ("key", "n", "frame", "pitch"), [("radiator-240", 2, 120, 105), ("radiator-420", 3, 140, 124.5)]
)
def test_fans_meet_a_radiator_edge_to_edge(key: str, n: int, frame: float, pitch: float) -> None:
    """Fans of one frame side by side: patterns `frame` apart, so `frame - pitch` (15, 15.5) lies between two patterns."""
    xs = sorted({m.at[0] for m in library()[key].mounts})
    assert len(xs) == 2 * n
    assert [round(b - a, 2) for a, b in pairwise(xs)] == [pitch, round(frame - pitch, 2)] * (n - 1) + [pitch]


@pytest.mark.parametrize(
    ("key", "w", "h"), [("supply-sfx", 113, 51.5), ("supply-sfx-l", 113, 51.5), ("supply-atx", 138, 74)]
)
def test_supply_holes(key: str, w: float, h: float) -> None:
    """SFX12V: corner holes 113 x 51.5; ATX12V: 138 x 64 + 10 (6..144, 6..80) with the odd one 114 in (memory)."""
    c: Component = library()[key]
    xs, ys = [m.at[0] for m in c.mounts], [m.at[1] for m in c.mounts]
    assert (max(xs) - min(xs), max(ys) - min(ys)) == pytest.approx((w, h))
    assert {m.thread for m in c.mounts} == {"UNC6_32"}


def test_buttons_go_into_their_holes() -> None:
    """IEC 60947-5-1 for 22 (22.3 +0.4/-0), de facto for 12, 16, 19 (memory)."""
    for key, least, most in (
        ("button-12", 12.1, 12.3),
        ("button-16", 16.1, 16.3),
        ("button-19", 19.1, 19.3),
        ("button-22", 22.3, 22.7),
    ):
        hole = library()[key].panel_hole_mm
        assert hole is not None and least <= hole <= most


def test_the_unified_thread() -> None:
    """ASME B1.1 #6-32: 0.138 in, 32 to the inch."""
    assert val("fasteners.UNC6_32.d") == pytest.approx(0.138 * INCH, abs=0.001)
    assert val("fasteners.UNC6_32.pitch") == pytest.approx(INCH / 32, abs=0.001)


def test_coverage_and_inch() -> None:
    """JCGM 100 (GUM): k = 2 for about 95 %; 1959 inch."""
    assert val("measuring.check.coverage") == 2 and ref("measuring.check.inch").value == 25.4


def test_vesa() -> None:
    """VESA FDMI MIS-D 75 and 100 (memory)."""
    for n in (75, 100):
        assert set(patterns()[f"vesa-{n}"]) == {(0, 0), (n, 0), (0, n), (n, n)}
