"""Vents: fields of diamond holes sized by the heat, and the grilles of fans."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.design import VentField
from rhombex.core.memo import Memo
from rhombex.core.openings.opening import Opening, Vent, outline
from rhombex.core.plain import DesignError
from rhombex.core.shell.box import facing_across
from rhombex.core.space import Vec2

Array = NDArray[np.float64]

MOST_HOLES = 4000  # in one field; more would keep the kernel busy for minutes
BESIDE_MM = 14.0  # a post or boss this near a wall stands behind its vents


def vent_room(case: Case, face: str, web: float) -> tuple[float, float, float, float]:
    """Where a face may carry vent holes: u0, v0, u1, v1; plain wall less a web all round."""
    u0, v0, u1, v1 = case.face(face).clear_mm
    return (u0 + web, v0 + web, u1 - web, v1 - web)


def _obstacles(
    case: Case, face: CaseFace, openings: list[Opening], vents: tuple[Vent, ...], web: float
) -> list[tuple[float, ...]]:
    """Rectangles on a face that no vent hole may touch."""
    out: list[tuple[float, ...]] = [outline(o, web) for o in openings if o.face == face.id]
    for field in (f for f in vents if f.face == face.id):
        (u, w), (du, dw) = field.at_mm, field.size_mm
        out.append((u - du / 2 - web, w - dw / 2 - web, u + du / 2 + web, w + dw / 2 + web))
    level = facing_across(face, 2)
    seam = next((s.at_mm for s in case.seams if s.axis == 2 and s.path), case.box_mm[2])
    for j in case.kept_whole:
        ends = face.frame.local(j.boss.lo), face.frame.local(j.boss.hi)
        (u0, u1), (v0, v1), (_, nearest) = (sorted(x) for x in zip(*ends, strict=True))
        upright = j.along[2] != 0 and not level
        middle = abs(face.behind(j.at)) if upright else -nearest
        if middle < BESIDE_MM or level:
            top = min(v1 + web / 2, seam) if upright else v1 + web / 2
            out.append((u0 - web / 2, v0 - web / 2, u1 + web / 2, top))
    for x in case.lifts:
        ends = face.frame.local(x.box.lo), face.frame.local(x.box.hi)
        (u0, u1), (v0, v1), (_, nearest) = (sorted(y) for y in zip(*ends, strict=True))
        if nearest > -face.thick_mm:
            out.append((u0 - web, v0 - web, u1 + web, v1 + web))
    for m in case.mounts:
        u, v = face.on((m.at[0], m.at[1], 0.0))
        r = m.od_mm / 2 + web / 2
        if level and face.id == "bottom":
            out.append((u - r, v - r, u + r, v + r))
        elif not level and abs(face.behind((m.at[0], m.at[1], 0.0))) < BESIDE_MM:
            out.append((u - r, 0.0, u + r, m.top_mm))
    if face.id == case.stands_on:
        f = case.foot_d_mm / 2 + 1
        for at in case.stands_at:
            u, v = face.on(at)
            out.append((u - f, v - f, u + f, v + f))
    return out


def _lattice(u0: float, v0: float, u1: float, v1: float, across: float, web: float) -> Array:
    """Centres (n, 2) of diamonds that lie wholly in a rectangle, in rows offset by half a pitch, centred in it."""
    pitch = (across + web) * 2**0.5
    w, h = u1 - u0, v1 - v0
    rows, cols = _rows(w, h, across, web)
    if not rows:
        return np.zeros((0, 2))
    if rows * cols > MOST_HOLES:
        raise DesignError("vents", f"a field of {w:.0f} x {h:.0f} mm has more than {MOST_HOLES} holes")
    top = v0 + (h - (rows - 1) * pitch / 2) / 2
    left = u0 + (w - (cols - 1) * pitch) / 2
    level = [top + i * pitch / 2 for i in range(rows)]
    even = left + np.arange(cols) * pitch
    odd = left + pitch / 2 + np.arange(cols - 1) * pitch
    of = [even if i % 2 == 0 else odd for i in range(rows)]
    return np.stack([np.concatenate(of), np.repeat(level, [len(x) for x in of])], axis=1)


def _rows(w: float, h: float, across: float, web: float) -> tuple[int, int]:
    """How many rows of diamonds a rectangle holds, and how many are in the first, third, fifth row; the others have one less."""
    half, pitch = across / 2**0.5, (across + web) * 2**0.5
    if w < 2 * half or h < 2 * half:
        return 0, 0
    return int((h - 2 * half) / (pitch / 2) + 1e-9) + 1, int((w - 2 * half) / pitch + 1e-9) + 1


def _behind(case: Case, face: str, at: Vec2, w: float, h: float) -> tuple[str, ...]:
    return case.behind(face, at[0] - w / 2, at[1] - h / 2, at[0] + w / 2, at[1] + h / 2)


def vent(
    case: Case,
    field: VentField,
    at: Vec2,
    openings: list[Opening],
    others: tuple[Vent, ...],
    need_mm2: float | None,
    across: float,
    web: float,
) -> Vent:
    """A field of holes round a place on its face; where `need_mm2` is given, grown until its area is there, or the face is full."""
    room = vent_room(case, field.face, web)
    blocked = tuple(_obstacles(case, case.face(field.face), openings, others, web))
    key = (room, blocked, at, field.size_mm, need_mm2, across, web)
    laid = _laid.make(key, lambda: _lay(room, blocked, at, field.size_mm, need_mm2, across, web))
    return Vent(
        id=field.id,
        label="Vents",
        face=field.face,
        at_mm=laid.at_mm,
        size_mm=laid.size_mm,
        holes=laid.holes,
        dropped=laid.dropped,
        across_mm=across,
        free_area_mm2=len(laid.holes) * across**2,
        follows_heat=field.follow_heat,
        fan=None,
        parts=_behind(case, field.face, laid.at_mm, *laid.size_mm),
    )


class _Laid(NamedTuple):
    """A field's middle and size, the places of its holes, and how many were left out where something is."""

    at_mm: Vec2
    size_mm: Vec2
    holes: tuple[Vec2, ...]
    dropped: int


_Rect = tuple[float, ...]
_laid: Memo[tuple[object, ...], _Laid] = Memo(400)  # what moves elsewhere changes no field of another wall


def _lay(
    room: tuple[float, float, float, float],
    blocked: tuple[_Rect, ...],
    at: Vec2,
    size_mm: Vec2,
    need_mm2: float | None,
    across: float,
    web: float,
) -> _Laid:
    """Holes in a room of a wall round a place, clear of what blocks it: as `vent`."""
    half = across / 2**0.5
    pitch = (across + web) * 2**0.5

    def centre(w: float, h: float) -> Vec2:
        """The field's middle, shifted as far as it must be to stay on the face."""
        return (
            min(max(at[0], room[0] + w / 2), max(room[2] - w / 2, room[0])),
            min(max(at[1], room[1] + h / 2), max(room[3] - h / 2, room[1])),
        )

    def within(w: float, h: float) -> tuple[float, float, float, float]:
        u, v = centre(w, h)
        return (
            max(room[0], u - w / 2),
            max(room[1], v - h / 2),
            min(room[2], u + w / 2),
            min(room[3], v + h / 2),
        )

    def holes_of(w: float, h: float) -> tuple[Array, int]:
        all_ = _lattice(*within(w, h), across, web)
        kept = all_[~_hits(all_, half, blocked)]
        return kept, len(all_) - len(kept)

    def most_holes(w: float, h: float) -> int:
        u0, v0, u1, v1 = within(w, h)
        rows, cols = _rows(u1 - u0, v1 - v0, across, web)
        return rows * cols - rows // 2

    w, h = size_mm
    if need_mm2 is None:
        holes, dropped = holes_of(w, h)
    else:
        # grow row by row, then column by column; only what could be enough is looked at closely
        h = 2 * half
        limit_w, limit_h = room[2] - room[0], room[3] - room[1]
        while True:
            taller, wider = h + pitch / 2 <= limit_h, w + pitch <= limit_w
            full = (w + pitch) * (h + pitch) / pitch**2 > MOST_HOLES / 2.2 or not (taller or wider)
            if full or most_holes(w, h) * across**2 >= need_mm2:
                holes, dropped = holes_of(w, h)
                if full or len(holes) * across**2 >= need_mm2:
                    break
            if taller:
                h += pitch / 2
            else:
                w += pitch
    return _Laid(centre(w, h), (w, h), _places(holes), dropped)


def grille(case: Case, thing: Thing, openings: list[Opening], across: float, web: float) -> Vent:
    """The holes in front of a fan, clear of its screws."""
    assert thing.face is not None and thing.component.air is not None
    face = case.face(thing.face)
    centre = face.on(thing.frame.origin)
    r = thing.component.air.opening_mm / 2
    half = across / 2**0.5
    screws = [o for o in openings if o.of == thing.id]
    others = _obstacles(case, face, [o for o in openings if o.of != thing.id], (), web)
    room = vent_room(case, thing.face, web)
    lattice = _lattice(centre[0] - r, centre[1] - r, centre[0] + r, centre[1] + r, across, web)
    lattice = lattice[np.hypot(*(lattice - centre).T) + half <= r]
    free = ~_hits(lattice, half, others)
    for o in screws:
        free &= np.hypot(*(lattice - o.at_mm).T) > o.size_mm[0] / 2 + half + web / 2
    free &= ((room[:2] <= lattice - half) & (lattice + half <= room[2:])).all(axis=1)
    holes = lattice[free]
    return Vent(
        id=f"{thing.id}-grille",
        label=f"{thing.name} grille",
        face=thing.face,
        at_mm=centre,
        size_mm=(2 * r, 2 * r),
        holes=_places(holes),
        dropped=len(lattice) - len(holes),
        across_mm=across,
        free_area_mm2=len(holes) * across**2,
        follows_heat=False,
        fan=thing.id,
        parts=_behind(case, thing.face, centre, 2 * r, 2 * r),
    )


def _hits(at: Array, half: float, blocked: Sequence[tuple[float, ...]]) -> NDArray[np.bool_]:
    """Which diamonds round places (n, 2) may touch one of some rectangles."""
    if not blocked:
        return np.zeros(len(at), np.bool_)
    u0, v0, u1, v1 = np.array(blocked).T
    u, v = at[:, :1], at[:, 1:]
    out: NDArray[np.bool_] = ((u + half > u0) & (u - half < u1) & (v + half > v0) & (v - half < v1)).any(axis=1)
    return out


def _places(at: Array) -> tuple[Vec2, ...]:
    return tuple((u, v) for u, v in at.tolist())
