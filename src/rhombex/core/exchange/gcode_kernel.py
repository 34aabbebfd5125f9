"""Reading G-code at speed: bytes in, moves out. Compiled once (numba); see `gcode` for what it means.

State lives in two arrays so that a file of any length is read in pieces; `gcode_state` names the places in them.
A complaint is a code and a line; nothing is guessed.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.process.kernels import corner_cap, junction_speeds

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
Bytes = NDArray[np.uint8]


LIMIT = 1e6
LONGEST_LINE = 65_536
ARC_CHORDS = 720
_MOVES_AHEAD = ARC_CHORDS + 8


@njit
def _push(
    f: Array,
    i: Ints,
    x: float,
    y: float,
    z: float,
    e: float,
    mm: float,
    move: int,
    length: Array,
    v: Array,
    a: Array,
    cap: Array,
    n: int,
) -> int:
    """Append one straight move to x, y, z, e (machine). mm: its length where it is a chord of an arc, else negative."""
    dx, dy, dz, de = x - f[0], y - f[1], z - f[2], e - f[3]
    s = np.sqrt(dx * dx + dy * dy + dz * dz)
    f[0], f[1], f[2], f[3] = x, y, z, e
    if de > 0 and s > 1e-9:
        for k in range(3):
            p = f[k]
            f[30 + k] = min(f[30 + k], p)
            f[33 + k] = max(f[33 + k], p)
            q = p - (dx, dy, dz)[k]
            f[30 + k] = min(f[30 + k], q)
            f[33 + k] = max(f[33 + k], q)
        if z > f[41] + 1e-6:
            f[41] = z
            i[6] += 1
    f[39] += de * f[23]
    if de > 0:
        f[40] += de * f[23]
    feed = f[8] * f[22]
    if s <= 1e-9:
        if abs(de) <= 1e-12:
            return n
        if de < 0:
            i[17] += 1
        length[n] = abs(de)
        v[n] = max(1e-3, min(feed, f[17]))
        a[n] = min(f[12], f[21])
        cap[n] = 0.0
        i[4] = 1
        i[5] += 1
        return n + 1
    ux, uy, uz = dx / s, dy / s, dz / s
    if mm > 0:
        s = mm
    accel = f[10] if de > 0 else f[11]
    speed = feed
    u = (abs(ux), abs(uy), abs(uz), abs(de) / s)
    for k in range(4):
        if u[k] > 1e-9:
            speed = min(speed, f[14 + k] / u[k])
            accel = min(accel, f[18 + k] / u[k])
    speed = max(speed, 1e-3)
    if i[4] == 1:
        cap[n] = 0.0
    else:
        cosine = ux * f[24] + uy * f[25] + uz * f[26]
        limit = corner_cap(cosine, min(accel, f[29]), f[13], min(s, f[27]))
        cap[n] = min(limit, min(speed, f[28]) ** 2)
    length[n], v[n], a[n] = s, speed, accel
    f[24], f[25], f[26], f[27], f[28], f[29] = ux, uy, uz, s, speed, accel
    i[4] = 0
    i[5] += 1
    return n + 1


@njit
def read(
    buf: Bytes, end: int, f: Array, i: Ints, length: Array, v: Array, a: Array, cap: Array, n: int
) -> tuple[int, int, int, int]:
    """Read whole lines of buf[:end] until they are used up or the arrays of moves are nearly full.

    Returns bytes used, moves in the arrays, why it stopped (Bad), and the letter or number complained of.
    """
    pos = 0
    most = len(length) - _MOVES_AHEAD
    value = np.zeros(26)
    seen = np.zeros(26, np.bool_)
    while pos < end and n < most:
        stop = pos
        while stop < end and buf[stop] != 10:
            stop += 1
        if stop >= end and end == len(buf):
            break  # the line goes on in the next piece
        i[0] += 1
        if stop - pos > 65536:
            return pos, n, 7, 0
        seen[:] = False
        command, number, sub = 0, -1, 0
        p = pos
        first = True
        skip = False
        while p < stop:
            c = buf[p]
            if c == 32 or c == 9 or c == 13 or (c == 0 and p == stop - 1):
                p += 1
                continue
            if c == 59 or c == 42:  # a comment, or the checksum at the end
                break
            if c == 40:
                while p < stop and buf[p] != 41:
                    p += 1
                p += 1
                continue
            if c == 37 and first:  # the % of a tape
                break
            if 97 <= c <= 122:
                c -= 32
            if not 65 <= c <= 90:
                return pos, n, 2, int(c)
            letter = c - 65
            p += 1
            while p < stop and (buf[p] == 32 or buf[p] == 9):
                p += 1
            q = p
            sign = 1.0
            if p < stop and (buf[p] == 45 or buf[p] == 43):
                if buf[p] == 45:
                    sign = -1.0
                p += 1
            digits = 0
            whole = 0.0
            while p < stop and 48 <= buf[p] <= 57:
                whole = whole * 10.0 + (buf[p] - 48)
                digits += 1
                p += 1
            scale = 1.0
            decimals = 0
            if p < stop and buf[p] == 46:
                p += 1
                while p < stop and 48 <= buf[p] <= 57:
                    if digits < 17:
                        whole = whole * 10.0 + (buf[p] - 48)
                        scale *= 10.0
                    digits += 1
                    decimals += 1
                    p += 1
            if digits == 0 and p == q and not first:
                # a bare letter: an axis to home
                if seen[letter]:
                    return pos, n, 3, int(c)
                seen[letter] = True
                value[letter] = 0.0
                flag = command == 77 and number in (17, 18, 84, 220, 221)
                if not flag and (command != 71 or number != 28):
                    if skip:
                        break
                    return pos, n, 1, int(c)
                continue
            if digits == 0:
                return pos, n, 4 if first else 1, int(c)
            if (p < stop and buf[p] == 46) or digits > 40:
                return pos, n, 1, int(c)
            x = sign * whole / scale
            if abs(x) > 1e6 and not (c == 83 or c == 70 or c == 78 or c == 80):
                return pos, n, 5, int(c)
            if first:
                if c == 78:  # a line number
                    continue
                if c != 71 and c != 77 and c != 84:
                    return pos, n, 4, int(c)
                if sign < 0 or x > 9999:
                    return pos, n, 4, int(c)
                command, number = int(c), int(whole / scale)
                sub = round((x - number) * 10) if decimals else 0
                first = False
                if command == 77 and number in (117, 118, 16, 23, 28, 30, 32, 486, 861, 862, 863, 575, 73, 555, 486):
                    skip = True
                    break  # words of text follow
                continue
            if seen[letter]:
                return pos, n, 3, int(c)
            seen[letter] = True
            value[letter] = x
        why, what, n = _do(command, number, sub, seen, value, f, i, length, v, a, cap, n)
        if why != 0:
            return pos, n, why, what
        pos = stop + 1
    return min(pos, end), n, 0, 0


@njit
def _do(
    command: int,
    number: int,
    sub: int,
    seen: NDArray[np.bool_],
    value: Array,
    f: Array,
    i: Ints,
    length: Array,
    v: Array,
    a: Array,
    cap: Array,
    n: int,
) -> tuple[int, int, int]:
    """Carry out one command. Returns why it is refused (0: it is not), what of it, and the number of moves."""
    if command == 0:
        return 0, 0, n
    if command == 71:  # G
        if sub != 0:
            return 4, number + 20000, n
        if number <= 3:
            return _move(number, seen, value, f, i, length, v, a, cap, n)
        if number == 4:
            wait = value[15] / 1000 if seen[15] else 0.0
            wait += value[18] if seen[18] else 0.0
            if wait < 0 or wait > 1e5:
                return 5, 80, n
            f[38] += wait
            i[4] = 1
            return 0, 0, n
        if number == 20 or number == 21:
            f[9] = 25.4 if number == 20 else 1.0
            return 0, 0, n
        if number == 28:
            all_axes = not (seen[23] or seen[24] or seen[25])
            for k in range(3):
                if all_axes or seen[23 + k]:
                    f[k] = 0.0
                    f[4 + k] = 0.0
            i[11] += 1
            i[4] = 1
            return 0, 0, n
        if number == 90 or number == 91:
            i[1] = 1 if number == 91 else 0
            if i[3] == 0:
                i[2] = i[1]
            elif i[2] != i[1] and i[16] == 0:
                i[16] = i[0]
            return 0, 0, n
        if number == 92:
            bare = not (seen[23] or seen[24] or seen[25] or seen[4])
            for k in range(3):
                if seen[23 + k]:
                    f[4 + k] = f[k] - value[23 + k] * f[9]
                elif bare:
                    f[4 + k] = f[k]
            if seen[4]:
                f[7] = f[3] - value[4] * f[9] / f[44]
            elif bare:
                f[7] = f[3]
            return 0, 0, n
        if number == 10 or number == 11:
            if seen[11] or seen[15]:
                return 4, number + 20000, n
            i[17] += 1 if number == 10 else 0
            i[4] = 1
            if f[45] > 0:  # the machine moves the filament by itself
                length[n], v[n], a[n], cap[n] = f[45], max(1e-3, min(f[46], f[17])), min(f[12], f[21]), 0.0
                n += 1
            return 0, 0, n
        if number == 29 or number == 80 or number == 30 or number == 34:
            i[14] += 1
            i[4] = 1
            return 0, 0, n
        if number == 18 or number == 19:
            return 10, number, n
        if (
            number == 17
            or number == 54
            or number == 40
            or number == 49
            or number == 94
            or number == 64
            or number == 61
            or number == 60
        ):
            if number == 61:
                return 4, number + 20000, n
            return 0, 0, n
        return 4, number + 20000, n
    if command == 84:  # T
        if number > 63:
            return 9, number, n
        if number != i[7]:
            if i[7] >= 0:
                i[8] += 1
            i[7] = number
            i[4] = 1
        return 0, 0, n
    if number == 82 or number == 83:
        i[2] = 1 if number == 83 else 0
        i[3] = 1
    elif number == 104 or number == 109:
        c = value[18] if seen[18] else (value[17] if seen[17] else 0.0)
        if c < -300 or c > 1000:
            return 5, 83, n
        f[36] = max(f[36], c)
        if number == 109 and c > 0:
            i[10] += 1
            i[4] = 1
    elif number == 140 or number == 190:
        c = value[18] if seen[18] else (value[17] if seen[17] else 0.0)
        if c < -300 or c > 1000:
            return 5, 83, n
        f[37] = max(f[37], c)
        if number == 190 and c > 0:
            i[10] += 1
            i[4] = 1
    elif number == 141 or number == 191:
        c = value[18] if seen[18] else 0.0
        f[42] = max(f[42], c)
    elif number == 201 or number == 203:
        base = 18 if number == 201 else 14
        for k in range(4):
            letter = 4 if k == 3 else 23 + k
            if seen[letter]:
                if value[letter] <= 0:
                    return 5, letter + 65, n
                f[base + k] = value[letter] * f[9]
    elif number == 204:
        for k in range(4):
            letter = (15, 19, 17, 18)[k]  # P print, T travel, R retract, S print and travel
            if seen[letter]:
                x = value[letter] * f[9]
                if x <= 0:
                    return 5, letter + 65, n
                if k == 0 or k == 3:
                    f[10] = x
                if k == 1 or k == 3:
                    f[11] = x
                if k == 2:
                    f[12] = x
    elif number == 205:
        if seen[23] or seen[24]:
            x = value[23] * f[9] if seen[23] else value[24] * f[9]
            if seen[23] and seen[24]:
                x = min(value[23], value[24]) * f[9]
            if x <= 0:
                return 5, 88, n
            f[13] = x
        if seen[9]:
            if value[9] <= 0:
                return 5, 74, n
            # a right angle passes at v^2 = a d sin(45) / (1 - sin(45))
            f[13] = np.sqrt(f[10] * value[9] * f[9] * (np.sqrt(2.0) + 1.0))
    elif number == 200:
        # E as a volume: D is the filament's diameter, 0 or S0 makes it a length again
        d = value[3] * f[9] if seen[3] else 1.75
        if d < 0 or d > 10:
            return 5, 68, n
        on = d > 0 and not (seen[18] and value[18] == 0)
        f[44] = np.pi * d * d / 4 if on else 1.0
    elif number == 207:
        if seen[18]:
            if value[18] < 0 or value[18] > 100:
                return 5, 83, n
            f[45] = value[18] * f[9]
        if seen[5]:
            if value[5] <= 0:
                return 8, 70, n
            f[46] = value[5] * f[9] / 60
    elif number == 220 or number == 221:
        if number == 220 and seen[1]:
            f[43] = f[22]
        if number == 220 and seen[17]:
            f[22] = f[43]
        if seen[18]:
            if value[18] <= 0 or value[18] > 1000:
                return 5, 83, n
            f[22 if number == 220 else 23] = value[18] / 100
    elif number == 600 or number == 701 or number == 702:
        i[9] += 1 if number == 600 else 0
        i[4] = 1
    elif number == 0 or number == 1 or number == 25 or number == 601 or number == 226:
        i[15] += 1
        i[4] = 1
    elif number == 206 or number == 428 or number == 98 or number == 97:
        return 4, number + 10000, n  # moves the zero, or calls another file
    else:
        if i[12] == 0:
            i[13] = i[0]
        i[12] += 1
    return 0, 0, n


@njit
def _move(
    number: int,
    seen: NDArray[np.bool_],
    value: Array,
    f: Array,
    i: Ints,
    length: Array,
    v: Array,
    a: Array,
    cap: Array,
    n: int,
) -> tuple[int, int, int]:
    for letter in range(26):
        ok = letter in (23, 24, 25, 4, 5, 18, 15) or (number >= 2 and letter in (8, 9, 17))
        if seen[letter] and not ok:
            return 2, letter + 65, n
    if seen[5]:
        if value[5] <= 0:
            return 8, 70, n
        f[8] = value[5] * f[9] / 60
    x, y, z, e = f[0], f[1], f[2], f[3]
    target = (x, y, z)
    t0, t1, t2 = target
    if seen[23]:
        t0 = x + value[23] * f[9] if i[1] else value[23] * f[9] + f[4]
    if seen[24]:
        t1 = y + value[24] * f[9] if i[1] else value[24] * f[9] + f[5]
    if seen[25]:
        t2 = z + value[25] * f[9] if i[1] else value[25] * f[9] + f[6]
    te = e
    if seen[4]:
        pushed = value[4] * f[9] / f[44]
        te = e + pushed if i[2] else pushed + f[7]
    if abs(t0) > 1e5 or abs(t1) > 1e5 or abs(t2) > 1e5 or abs(te - e) > 1e5:
        return 5, 88, n
    moves = seen[23] or seen[24] or seen[25] or seen[4]
    if f[8] <= 0 and moves and number > 0:
        return 8, 70, n
    if f[8] <= 0:
        f[8] = f[14]
    if number < 2:
        return 0, 0, _push(f, i, t0, t1, t2, te, -1.0, 1, length, v, a, cap, n)
    # arcs in the plane of the bed
    if seen[17]:
        r = value[17] * f[9]
        dx, dy = t0 - x, t1 - y
        d = np.sqrt(dx * dx + dy * dy)
        if d < 1e-9 or abs(r) < d / 2 - 1e-3 or r == 0:
            return 6, 82, n
        h = np.sqrt(max(r * r - d * d / 4, 0.0))
        side = 1.0 if (number == 3) == (r > 0) else -1.0
        cx, cy = (x + t0) / 2 - side * h * dy / d, (y + t1) / 2 + side * h * dx / d
    elif seen[8] or seen[9]:
        cx = x + (value[8] * f[9] if seen[8] else 0.0)
        cy = y + (value[9] * f[9] if seen[9] else 0.0)
    else:
        return 6, 73, n
    radius = np.sqrt((x - cx) ** 2 + (y - cy) ** 2)
    other = np.sqrt((t0 - cx) ** 2 + (t1 - cy) ** 2)
    if radius < 1e-6 or abs(radius - other) > 0.05 + 0.002 * radius:
        return 6, 73, n
    a0 = np.arctan2(y - cy, x - cx)
    a1 = np.arctan2(t1 - cy, t0 - cx)
    sweep = a1 - a0
    if number == 3:
        while sweep <= 1e-9:
            sweep += 2 * np.pi
    else:
        while sweep >= -1e-9:
            sweep -= 2 * np.pi
    flat = abs(sweep) * radius
    whole = np.sqrt(flat * flat + (t2 - z) ** 2)
    step = 2 * np.arccos(max(1 - 0.005 / radius, 0.5)) if radius > 0.005 else 1.0
    chords = int(min(720, max(1, np.ceil(abs(sweep) / step))))
    for k in range(1, chords + 1):
        w = k / chords
        if k == chords:
            px, py = t0, t1
        else:
            px, py = cx + radius * np.cos(a0 + sweep * w), cy + radius * np.sin(a0 + sweep * w)
        n = _push(f, i, px, py, z + (t2 - z) * w, e + (te - e) * w, whole / chords, 1, length, v, a, cap, n)
    return 0, 0, n


@njit
def settle(length: Array, v: Array, a: Array, cap: Array, n: int, keep: int) -> tuple[float, int]:
    """Seconds of the first n - keep moves, planned with all n in view; the rest is moved to the front.

    What is kept begins at the speed planned for it, so that nothing stops where the file was cut into pieces.
    """
    ends = cap[: n + 1].copy()
    ends[n] = 0.0
    v2, t = junction_speeds(length[:n], v[:n], a[:n], ends)
    done = n - keep
    seconds = t[:done].sum()
    for k in range(keep):
        length[k], v[k], a[k], cap[k] = length[done + k], v[done + k], a[done + k], cap[done + k]
    if keep > 0:
        cap[0] = v2[done]
    return seconds, keep
