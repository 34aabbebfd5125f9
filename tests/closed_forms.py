"""The second engine: look-ahead and segment times as closed forms over whole arrays, without a loop.

An independent yardstick for the compiled planner in `rhombex.core.process.kernels`.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def corner_speed_sq(turn_cos: Array, accel: float, corner: float) -> Array:
    """Squared speed allowed at corners by junction deviation.

    `turn_cos` is the cosine of the angle by which the direction turns (1 straight on, -1 back). With the inner angle
    t, v^2 = a d sin(t/2) / (1 - sin(t/2)), d = corner^2 (sqrt 2 - 1) / a, so that a right angle passes at `corner`.
    """
    half = np.sqrt(np.clip((1 + turn_cos) / 2, 0.0, 1.0))  # sin(t/2) = cos(turn/2)
    d = corner**2 * (2**0.5 - 1) / accel
    out: Array = accel * d * half / np.maximum(1 - half, 1e-9)
    return out


def look_ahead(length: Array, cap_sq: Array, accel: float) -> Array:
    """Squared speeds at the n + 1 joints of n segments: no joint above its cap, no segment beyond the acceleration."""
    s = np.concatenate([[0.0], np.cumsum(2 * accel * length)])
    forward = np.minimum.accumulate(cap_sq - s) + s
    backward = np.minimum.accumulate((cap_sq + s)[::-1])[::-1] - s
    out: Array = np.maximum(np.minimum(forward, backward), 0.0)
    return out


def segment_seconds(length: Array, v: Array, v0_sq: Array, v1_sq: Array, accel: float) -> Array:
    """Time of each segment: a trapezoid of speed, or a triangle where the speed is never reached."""
    v0, v1 = np.sqrt(v0_sq), np.sqrt(v1_sq)
    peak = np.sqrt(accel * length + (v0_sq + v1_sq) / 2)
    cruise = length / v + ((v - v0) ** 2 + (v - v1) ** 2) / (2 * accel * v)
    out: Array = np.where(peak >= v, cruise, (2 * peak - v0 - v1) / accel)
    return out


def loops_seconds(loops: list[Array], speeds: list[float], accel: float, corner: float) -> tuple[Array, Array]:
    """Length (mm) and time (s) of each closed loop, started and ended at rest."""
    if not loops:
        return np.zeros(0), np.zeros(0)
    counts = np.array([len(p) for p in loops])
    points = np.concatenate(loops)
    start = np.concatenate([[0], np.cumsum(counts)[:-1]])
    owner = np.repeat(np.arange(len(loops)), counts)
    following = np.arange(1, len(points) + 1)
    following[start + counts - 1] = start
    d = points[following] - points
    length = np.maximum(np.hypot(d[:, 0], d[:, 1]), 1e-9)
    u = d / length[:, None]
    v = np.asarray(speeds)[owner]
    cosine = np.ones(len(u))
    cosine[1:] = (u[:-1] * u[1:]).sum(axis=1)
    cap = np.zeros(len(u) + 1)
    cap[:-1] = np.minimum(corner_speed_sq(cosine, accel, corner), v**2)
    cap[start] = 0.0
    joints = look_ahead(length, cap, accel)
    t = segment_seconds(length, v, joints[:-1], joints[1:], accel)
    lengths: Array = np.bincount(owner, length, len(loops)).astype(np.float64)
    times: Array = np.bincount(owner, t, len(loops)).astype(np.float64)
    return lengths, times
