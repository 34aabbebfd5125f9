"""G-code: against an independent reader, textbook kinematics, and files that are broken or hostile."""

from __future__ import annotations

import io
import math
from io import BytesIO

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.design import Process
from rhombex.core.exchange import gcode
from rhombex.core.exchange.gcode import GcodeError, GcodeReport, read_gcode
from rhombex.core.exchange.solid_mesh import read_solid, solid_of
from rhombex.core.process.layout import lay_out
from rhombex.core.process.settings import settings as resolve
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.closed_forms import look_ahead, segment_seconds
from tests.print_parts import PARTS

from ..examples import examples

BENCH = ARCHIVE_WORKSHOP.printers[1]
START = "G21\nG90\nM83\nG28\nG1 F3000\n"


def read(text: str | bytes) -> GcodeReport:
    return read_gcode(io.BytesIO(text.encode() if isinstance(text, str) else text), BENCH)


# the second engine: plain Python over whole lists, closed-form planner


def plain_reader(lines: list[str]) -> tuple[float, float]:
    """Seconds and net mm of filament of absolute moves in the plane (G0/G1 with X, Y, E relative, F), from (0, 0)."""
    x = y = 0.0
    feed, length, speed, accel, cap, filament = 0.0, [], [], [], [0.0], 0.0
    u = None
    for line in lines:
        words = {w[0]: float(w[1:]) for w in line.split()[1:]}
        feed = words.get("F", feed * 60) / 60
        tx, ty, e = words.get("X", x), words.get("Y", y), words.get("E", 0.0)
        s = math.hypot(tx - x, ty - y)
        filament += e
        if s < 1e-9:
            continue
        v = min(feed, BENCH.speed_mm_s / max(abs(tx - x) / s, abs(ty - y) / s))
        if e:
            v = min(v, 60 / (abs(e) / s))
        a = BENCH.accel_mm_s2 if e > 0 else BENCH.travel_accel_mm_s2
        d = ((tx - x) / s, (ty - y) / s)
        if u is not None:
            cosine = u[0] * d[0] + u[1] * d[1]
            half = math.sqrt(max(0.0, (1 + cosine) / 2))
            low = min(a, accel[-1])
            deviation = BENCH.corner_mm_s**2 * (math.sqrt(2) - 1)
            limit = math.inf
            if half < 1 - 1e-9:
                limit = deviation * half / (1 - half)
                limit = min(limit, 0.5 * min(s, length[-1]) * half / math.sqrt(1 - half * half) * low)
            cap.append(min(limit, min(v, speed[-1]) ** 2))
        length.append(s)
        speed.append(v)
        accel.append(a)
        u, x, y = d, tx, ty
    cap.append(0.0)
    # one acceleration at a time is all the closed form knows: lengths are scaled to the first one's
    scale = np.array(accel) / accel[0]
    v2 = look_ahead(np.array(length) * scale, np.array(cap), accel[0])
    t = 0.0
    for k, s in enumerate(length):
        t += float(segment_seconds(np.array([s]), np.array([speed[k]]), v2[k : k + 1], v2[k + 1 : k + 2], accel[k])[0])
    return t, filament


@given(st.integers(0, 10**6), st.integers(1, 300))
@settings(max_examples=examples(80))
def test_two_engines_agree(seed: int, n: int) -> None:
    r = np.random.default_rng(seed)
    lines = ["G1 X1 Y1 F3000"]
    for _ in range(n):
        line = f"G1 X{r.uniform(0, 200):.3f} Y{r.uniform(0, 200):.3f}"
        if r.random() < 0.7:
            line += f" E{r.uniform(0.01, 2):.5f}"
        if r.random() < 0.1:
            line += f" F{r.uniform(300, 9000):.0f}"
        lines.append(line)
    seconds, filament = plain_reader(lines)
    found = read("G90\nM83\n" + "\n".join(lines))
    assert found.motion_s == pytest.approx(seconds, abs=6e-5)  # reports are rounded to 0.1 ms
    assert found.filament_m * 1000 == pytest.approx(filament, abs=0.11)


def test_one_long_move_by_hand() -> None:
    """Textbook trapezoid: 150 mm at 50 mm/s and 2000 mm/s2 from rest to rest: L / v + v / a."""
    assert read(START + "G1 X150").motion_s == pytest.approx(150 / 50 + 50 / 2000, abs=1e-4)


def test_arcs_are_as_long_as_their_angle_says() -> None:
    """By length: a half circle of r 30 at 20 mm/s; a full circle; a helix."""
    base = read(START + "G1 X60 Y100 F1200").motion_s
    half = read(START + "G1 X60 Y100 F1200\nG3 X120 Y100 I30 J0 E3").motion_s - base
    assert half == pytest.approx(math.pi * 30 / 20, rel=0.01)
    full = read(START + "G1 X60 Y100 F1200\nG2 X60 Y100 I30 J0 E6").motion_s - base
    assert full == pytest.approx(2 * math.pi * 30 / 20, rel=0.01)
    by_r = read(START + "G1 X60 Y100 F1200\nG3 X120 Y100 R30 E3").motion_s - base
    assert by_r == pytest.approx(half, rel=1e-6)
    r = read(START + "G1 X60 Y100 F1200\nG3 X120 Y100 I30 J0 E3")
    assert r.lo_mm is not None and r.lo_mm[1] == pytest.approx(70, abs=0.02)  # counter-clockwise: through the front


def test_inches_relative_moves_and_set_positions() -> None:
    mm = read("G21\nG90\nM83\nG1 X50.8 Y25.4 E1 F1524")
    inch = read("G20\nG90\nM83\nG1 X2 Y1 E0.0393700787 F60")
    assert inch.motion_s == pytest.approx(mm.motion_s, abs=1e-3)
    assert inch.hi_mm == pytest.approx(mm.hi_mm, abs=1e-3)
    relative = read("G91\nM83\nG1 X20 F3000\nG1 X30.8 Y25.4 E1")
    assert relative.hi_mm is not None and relative.hi_mm[0] == pytest.approx(50.8)
    absolute_e = read("G90\nM82\nG92 E100\nG1 X10 E101 F1200\nG92 E0\nG1 X20 E1")
    assert absolute_e.filament_m * 1000 == pytest.approx(2, abs=0.1)
    shifted = read("G90\nM83\nG1 X10 F3000\nG92 X0\nG1 X5 E1")
    assert shifted.hi_mm is not None and shifted.hi_mm[0] == pytest.approx(15)


def test_limits_in_the_file_are_obeyed() -> None:
    free = read(START + "G1 X150").motion_s
    held = read(START + "M203 X10\nG1 X150").motion_s
    assert held == pytest.approx(150 / 10 + 10 / 2000, abs=1e-3) and held > free
    slow = read(START + "M204 T100\nG1 X150").motion_s
    assert slow == pytest.approx(150 / 50 + 50 / 100, abs=1e-3)
    half = read(START + "M220 S50\nG1 X150").motion_s
    assert half == pytest.approx(150 / 25 + 25 / 2000, abs=1e-3)
    assert read(START + "M221 S50\nG1 X100 E10").filament_m == pytest.approx(0.005)
    # M205 X jerk and J junction deviation that mean the same speed round a right angle
    square = "\nG1 X50 E1\nG1 X50 Y50 E1\nG1 X0 Y50 E1"
    j = 20.0**2 / (1500 * (math.sqrt(2) + 1))
    assert read(START + "M205 X20" + square).motion_s == pytest.approx(
        read(START + f"M205 J{j:.9f}" + square).motion_s, abs=1e-3
    )


def test_limits_the_file_names_are_told() -> None:
    limits = read(START + "M203 X180 Y170 Z9\nM204 P2500 T4000\nM205 X12\nG1 X10 E1").limits
    assert (limits.speed_mm_s, limits.accel_mm_s2, limits.travel_accel_mm_s2, limits.corner_mm_s) == (
        170,
        2500,
        4000,
        12,
    )
    assert read(START + "G1 X10 E1").limits == gcode.Limits()


def test_temperatures_changes_dwell_and_notes() -> None:
    r = read(
        "M140 S60\nM190 S60\nM104 S215\nM109 S215\nT0\nT1\nM600\nG4 P2500\nG4 S1\nM73 P5\nM117 Hello X1 X2\nG29\nM0"
    )
    assert (r.bed_c, r.nozzle_c) == (60, 215)
    assert (r.tool_changes, r.filament_changes) == (1, 1)
    assert r.dwell_s == pytest.approx(3.5)
    assert r.heating_s == BENCH.heat_up_s and r.changes_s == 2 * BENCH.change_s
    assert any("passed over" in n for n in r.notes) and any("levelling" in n for n in r.notes)
    assert any("pauses" in n for n in r.notes) and any("Nothing is extruded" in n for n in r.notes)
    assert any("M82 or M83" in n for n in read("M83\nG90\nG91\nG1 X1 F100\nG90\nG1 X9 E1").notes)


def test_a_print_off_the_bed_is_told() -> None:
    r = read(START + "G1 X230 Y10 E5")
    assert not r.on_bed and r.over_mm == pytest.approx(10)


def test_pieces_of_a_file_change_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    r = np.random.default_rng(3)
    text = START + "".join(f"G1 X{a:.3f} Y{b:.3f} E0.03\n" for a, b in r.uniform(50, 60, (9000, 2)))
    whole = read(text)
    monkeypatch.setattr(gcode, "PIECE", 777)
    monkeypatch.setattr(gcode, "MOVES", 4000)
    assert read(text).motion_s == pytest.approx(whole.motion_s, rel=1e-7)
    assert read(text.replace("\n", "\r\n")).motion_s == pytest.approx(whole.motion_s, rel=1e-7)


def test_line_numbers_checksums_comments_and_small_letters() -> None:
    plain = read("G90\nM83\nG1 X10 Y20 E1 F3000")
    dressed = read("%\nN1 G90 *17\nN2 m83 ; relative\nN3g1x10y20(to there)e1f3000*99\n;end")
    assert dressed.motion_s == plain.motion_s and dressed.hi_mm == plain.hi_mm


@pytest.mark.parametrize(
    ("text", "line", "said"),
    [
        ("G1 X1.2.3 F100", 1, "number after 'X'"),
        ("G90\nG1 Xnan F100", 2, "number after 'X'"),
        ("G1 X F100", 1, "number"),
        ("G90\n\nG5 X1 Y1", 3, "G5"),
        ("PRINT_START BED=60", 1, "could move the machine"),
        ("G1 X1 X2 F100", 1, "twice"),
        ("G1 X10", 1, "no feed rate"),
        ("G1 X10 F0", 1, "feed rate"),
        ("G1 X10 A4 F100", 1, "'A'"),
        ("G18\nG2 X1 Y1 I1", 1, "plane"),
        ("G1 X10 F100\nG2 X40 Y0 R3", 2, "arc"),
        ("G1 F100\nG2 X40 Y0", 2, "arc"),
        ("G1 X99999999 F100", 1, "range"),
        ("M109 S99999", 1, "range"),
        ("M206 X5", 1, "M206"),
        ("G90.1", 1, "G90"),
        ("T99", 1, "T99"),
        ("M203 X-5", 1, "range"),
        ("M220 S0", 1, "range"),
        ("G1 X1 F100 " + "Y" * 5, 1, "number"),
        ("\x00\x01\x02", 1, "not known"),
        ("G1 X" + "9" * 60, 1, "number"),
    ],
)
def test_what_cannot_be_read_is_refused_by_line(text: str, line: int, said: str) -> None:
    with pytest.raises(GcodeError) as e:
        read(text)
    assert e.value.line == line and said in str(e.value) and e.value.do


def test_hostile_files_end_with_a_message() -> None:
    with pytest.raises(GcodeError, match="longer than"):
        read("G1 " + "X1 " * 1_000_000)
    changes = "".join(f"T{k % 2}\n" for k in range(1_000_000))
    assert read(changes).tool_changes == 999_999
    for k in range(40):
        junk = np.random.default_rng(k).bytes(4000)
        try:
            read(junk)
        except GcodeError as e:
            assert e.do


def test_memory_does_not_grow_with_the_file() -> None:
    class Endless(io.RawIOBase):
        """A file of 100 MB that is never in memory."""

        def __init__(self) -> None:
            self.left = 100
            self.block = ("G1 X10 Y10 E0.01 F3000\nG1 X20 Y10 E0.01\n" * 24_000).encode()

        def read(self, n: int = -1) -> bytes:
            self.left -= 1
            return self.block if self.left > 0 else b""

    import tracemalloc

    read(START)
    tracemalloc.start()
    found = read_gcode(Endless(), BENCH)  # type: ignore[arg-type]
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert found.lines > 4_000_000
    assert peak < 40_000_000


def test_our_own_paths_as_gcode_take_the_time_of_the_plan() -> None:
    """A layer written out as moves and read back: the same kinematics, but for retractions and the layer's change."""
    s = resolve(Process(brim_mm=0), BENCH)
    slices = Slices(PARTS["tiny boss"](), s)
    paths = lay_out(slices, 20)
    filament = math.pi * 1.75**2 / 4
    lines = ["G90", "M83"]
    for k in range(len(paths)):
        points = paths.points[paths.start[k] : paths.start[k + 1]]
        lines.append(f"G0 X{points[0, 0] + 50:.5f} Y{points[0, 1] + 50:.5f} F{s.speed[7] * 60:.3f}")
        for i in range(1, len(points)):
            d = float(np.hypot(*(points[i] - points[i - 1])))
            over = paths.linked[k] and i % 2 == 0
            e = 0.0 if over else d * s.bead_mm2(False) * paths.flow[k] / filament
            v = min(s.speed[paths.kind[k]], s.flow / s.bead_mm2(False) / paths.flow[k])
            lines.append(f"G1 X{points[i, 0] + 50:.5f} Y{points[i, 1] + 50:.5f} E{e:.6f} F{v * 60:.3f}")
    from rhombex.core.process.layout import work_of

    work, _ = work_of(paths, s, False)
    first = read("\n".join(lines[:3])).motion_s  # the way from the origin is not in the plan
    assert read("\n".join(lines)).motion_s - first == pytest.approx(
        float(work.seconds.sum()) - work.retractions * s.retract_s, rel=0.03
    )
    assert read("\n".join(lines)).volume_mm3 == pytest.approx(float(work.mm.sum()) * s.bead_mm2(False), rel=0.01)


# meshes to be sliced


def corners(m: object) -> np.ndarray:
    from rhombex.core.geometry.mesh_kernel import triangles

    verts, tri = triangles(m)  # type: ignore[arg-type]
    return verts[tri]


def test_a_sound_mesh_is_a_solid() -> None:
    from rhombex.core.exchange.write_mesh import stl

    m = PARTS["tiny boss"]()
    assert read_solid(stl(m)).volume() == pytest.approx(m.volume(), rel=1e-5)


def test_meshes_with_holes_or_turned_faces_are_refused() -> None:
    from rhombex.core.plain import DesignError

    p = corners(PARTS["plain panel"]())
    with pytest.raises(DesignError, match="holes: 3 edges"):
        solid_of(p[1:])
    with pytest.raises(DesignError, match="inside out"):
        solid_of(p[:, ::-1])
    turned = p.copy()
    turned[0] = turned[0, ::-1]
    with pytest.raises(DesignError, match="turned inside out"):
        solid_of(turned)
    with pytest.raises(DesignError, match=r"0\.05 to 2000"):
        solid_of(p * 100)


# what other programs write and what it must not do to the time or the filament

HEAD = b"M109 S200\nG28\nG90\nM82\nG1 X50 Y50 F6000\n"


@pytest.mark.parametrize(
    "line", ["M84 X Y Z E", "M18 E", "M84", "M220 B", "M220 R", "M17 X Y", "M200 D0", "M200 S0", "M207 S0"]
)
def test_harmless_lines_change_nothing(line: str) -> None:
    plain = read_gcode(BytesIO(HEAD + b"G1 X100 E5 F1800\nG1 X50 E10\n"), BENCH)
    with_it = read_gcode(BytesIO(HEAD + b"G1 X100 E5 F1800\n" + line.encode() + b"\nG1 X50 E10\n"), BENCH)
    assert (with_it.time_s, with_it.filament_m) == (plain.time_s, plain.filament_m)


def test_a_mark_before_the_text_is_no_word() -> None:
    text = HEAD + b"G1 X100 E5 F1800\n"
    assert read_gcode(BytesIO(b"\xef\xbb\xbf" + text), BENCH) == read_gcode(BytesIO(text), BENCH)


def test_volumes_are_read_as_volumes() -> None:
    """M200 D1.75: E counts mm3; 24.0528 mm3 are 10 mm of a filament of 1.75 (pi / 4 x 1.75^2 = 2.40528 mm2)."""
    length = read_gcode(BytesIO(HEAD + b"G1 X100 E10 F1800\n"), BENCH)
    volume = read_gcode(BytesIO(HEAD + b"M200 D1.75\nG1 X100 E24.0528 F1800\n"), BENCH)
    assert volume.filament_m == pytest.approx(length.filament_m, rel=1e-4) == pytest.approx(0.01, rel=1e-4)
    assert volume.volume_mm3 == pytest.approx(24.0528, rel=1e-3) and volume.time_s == pytest.approx(length.time_s)
    off = read_gcode(BytesIO(HEAD + b"M200 D1.75\nM200 D0\nG1 X100 E10 F1800\n"), BENCH)
    assert off.filament_m == length.filament_m
    with pytest.raises(GcodeError, match="range"):
        read_gcode(BytesIO(HEAD + b"M200 D-3\n"), BENCH)


def test_a_speed_factor_is_put_aside_and_taken_up_again() -> None:
    move = b"G1 X150 E5 F1800\n"
    back = b"G1 X50 E10\n"
    full = read_gcode(BytesIO(HEAD + move + back), BENCH).motion_s
    half = read_gcode(BytesIO(HEAD + b"M220 B\nM220 S50\n" + move + b"M220 R\n" + back), BENCH).motion_s
    # 100 mm at 30 mm/s one way and at 15 the other, but for speeding up
    assert half - full == pytest.approx(100 / 15 - 100 / 30, abs=0.05)


def test_the_machines_own_retractions_and_homing_take_time() -> None:
    plain = read_gcode(BytesIO(HEAD + b"G1 X100 E5 F1800\nG1 X50 E10\n"), BENCH)
    own = read_gcode(BytesIO(HEAD + b"M207 S4 F2400\nG1 X100 E5 F1800\nG10\nG11\nG1 X50 E10\n"), BENCH)
    # 4 mm at 40 mm/s with 1500 mm/s2 from rest to rest, twice: 4 / 40 + 40 / 1500; and a stop between the two moves
    assert own.motion_s - plain.motion_s == pytest.approx(2 * (4 / 40 + 40 / 1500), abs=0.03)
    assert own.filament_m == plain.filament_m
    home = read_gcode(BytesIO(HEAD + b"G1 X100 E5 F1800\nG28 X Y\nG1 X50 Y50 E10\n"), BENCH)
    assert home.homing_s == 20.0 and plain.homing_s == 0.0
