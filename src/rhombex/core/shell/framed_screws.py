"""Where the screws of a case of corner pieces and covers stand: up from the floor, down from the top, and through the covers beside each piece."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case.joints import Joint
from rhombex.core.design import Design
from rhombex.core.fit.joints import hole_depth_mm, hole_mm
from rhombex.core.shell.bent import FACES, Bent
from rhombex.core.shell.case_screw import CAP_MM, case_screw
from rhombex.core.shell.framing import FLOOR, Corner, Framing, cover_name, sides_of
from rhombex.core.shell.magnets import HEAD_MM, along_mm, deep_mm
from rhombex.core.shell.places import slots
from rhombex.core.space import Box, Face, Vec2, Vec3, normal_axis
from rhombex.core.workshop.printer import Printer

BOSS_MM = 3.2  # half of what is kept round a screw: its head, M3, with a hair; from ISO 7380
TWO_SCREWS_MM = 60.0  # a cover higher than this has two screws on each beam; common practice


def joints_of(
    design: Design,
    framing: Framing,
    printer: Printer,
    corners: tuple[Corner, ...],
    things: tuple[Thing, ...],
    bent: Bent | None,
) -> tuple[tuple[Joint, ...], int]:
    """Screws into every corner piece: from below through the floor, from above through the top, and through the two covers beside it, one
    over the other so that they do not meet, under a bend, and where the cover is not open for a port or for what is fixed to it. A piece too short for all of them goes
    without the last; the wanted number says so."""
    open_ = open_walls(design, things)
    s, (w, d, _) = design.shell, outer_size(design)
    holding = framing.holding
    wanted, out = 0, []
    m = framing.magnets
    heads = m is not None and m.against == "screw heads"
    hole = max(along_mm(m), HEAD_MM if heads else 0.0) if m else hole_mm("M3", holding)
    apart = hole + 2.4
    for c in corners:
        b, (x0, y0, z0), (x1, y1, z1) = c.box.size[0], c.box.lo, c.box.hi
        mx, my = (x0 + x1) / 2, (y0 + y1) / 2
        deep = min(hole_depth_mm("M3", holding), b - CAP_MM)
        cover_deep = b - CAP_MM if heads else deep  # a screw under a magnet takes what there is
        low = z0 + (deep + CAP_MM + hole / 2 if c.on_floor else hole / 2 + 2.0)
        top_deep = min(deep_mm(m), deep) if m and not heads else cover_deep
        high = z1 - (top_deep + CAP_MM + hole / 2 if c.under_top else hole / 2 + 2.0)
        wanted += c.on_floor
        beside = _under_bends(framing, bent, c, None)
        floor_z = z0  # where the hole of the screw from below ends
        if c.on_floor and z0 + deep + CAP_MM <= beside:
            floor_z = z0 + deep
            out.append(
                _joint(
                    design,
                    framing,
                    printer,
                    f"{c.name}-floor",
                    "beam",
                    FLOOR,
                    c,
                    (mx, my, z0),
                    (0.0, 0.0, 1.0),
                    s.floor_mm,
                    deep,
                )
            )
        if c.under_top and framing.wrap == "none":  # what is bent over the top is held at its sides
            wanted += 1
            top = cover_name(framing, "top")
            if floor_z + CAP_MM <= z1 - top_deep:
                out.append(
                    _joint(
                        design,
                        framing,
                        printer,
                        f"{c.name}-top",
                        "top",
                        top,
                        c,
                        (mx, my, z1),
                        (0.0, 0.0, -1.0),
                        s.lid_mm,
                        cover_deep,
                    )
                )
        ways: list[tuple[Face, Vec2, Vec3]] = [
            ("left", (x0, my), (1.0, 0.0, 0.0)) if x0 < w / 2 else ("right", (x1, my), (-1.0, 0.0, 0.0)),
            ("front", (mx, y0), (0.0, 1.0, 0.0)) if y0 < d / 2 else ("back", (mx, y1), (0.0, -1.0, 0.0)),
        ]
        # magnets at one height let a cover tip; the upper one of this cover keeps off the lower one of the other
        twice = z1 - z0 > TWO_SCREWS_MM or (m is not None and high - apart >= low + 2 * apart)
        levels = ([low, high - apart], [low + apart, high]) if twice else ([low], [low + apart])
        mine: list[float] = []
        for n, ((face, at, along), heights) in enumerate(zip(ways, levels, strict=True)):
            still = [*levels[1]] if n == 0 else []  # what the other cover wants
            for k, want in enumerate(heights, 1):
                wanted += 1
                if not low - 1e-6 <= want <= high + 1e-6:
                    continue
                others = [*mine, *heights[k:], *still]
                most = min(high, _under_bends(framing, bent, c, face))
                z = _level(want, (low, most), at, normal_axis(face), open_[face], others, apart)
                if z is not None:
                    mine.append(z)
                    name = cover_name(framing, face)
                    out.append(
                        _joint(
                            design,
                            framing,
                            printer,
                            f"{c.name}-{face}-{k}",
                            "cover",
                            name,
                            c,
                            (*at, z),
                            along,
                            s.wall_mm,
                            cover_deep,
                        )
                    )
    return tuple(out), wanted


def _under_bends(framing: Framing, bent: Bent | None, corner: Corner, face: Face | None) -> float:
    """The highest that a screw through a cover, or up from the floor (no face), may be: its corner piece is cut off slantwise under a bend."""
    top = corner.box.hi[2]
    if bent is None or not corner.under_top:
        return top
    under = top - bent.inner_mm
    if face in FACES[framing.wrap]:
        return under - BOSS_MM
    return under + corner.box.size[0] / 2 - BOSS_MM * 2**0.5


def _level(
    want: float, span: Vec2, at: Vec2, axis: int, open_: list[Box], others: list[float], apart: float
) -> float | None:
    """The height of a screw on the edge of a cover, the nearest to the wanted one at which it keeps off what the cover is open for and off other screws."""
    if span[1] < span[0]:
        return None
    k = 1 - axis
    near = [b for b in open_ if b.lo[k] - BOSS_MM < at[k] < b.hi[k] + BOSS_MM]
    for z in slots(*span, min(want, span[1]), 0.5):
        clear = all(not b.lo[2] - BOSS_MM < z < b.hi[2] + BOSS_MM for b in near)
        if clear and all(abs(z - o) >= apart - 1e-6 for o in others):
            return z
    return None


def _joint(
    design: Design,
    framing: Framing,
    printer: Printer,
    id: str,
    name: str,
    holds: str,
    corner: Corner,
    at: Vec3,
    along: Vec3,
    through_mm: float,
    deep: float,
) -> Joint:
    axis = next(i for i in range(3) if along[i])
    path = f"{name}_screw_mm"
    r = max(hole_mm("M3", framing.holding) / 2 + CAP_MM, BOSS_MM)
    lo, hi = [c - r for c in at], [c + r for c in at]
    ends = (at[axis] - along[axis] * through_mm, at[axis] + along[axis] * (deep + CAP_MM))
    lo[axis], hi[axis] = min(ends), max(ends)
    return case_screw(
        design,
        printer,
        id=id,
        name=name,
        holds=holds,
        into=corner.name,
        at=at,
        along=along,
        boss=Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])),
        od_mm=corner.box.size[0],
        through_mm=through_mm,
        # heads sink into a printed floor, so that it stands flat; covers stay whole, and a sheet is only drilled
        sunk=holds == FLOOR and "bottom" not in framing.sheet,
        deep_mm=deep,
        holding=framing.holding,
        length_mm=framing.screws_mm.get(path),
        path=path,
        opened=name != "beam",
        usual=sides_of(framing, corner),
        of_sheet=holds in {FLOOR if f == "bottom" else cover_name(framing, f) for f in framing.sheet},
    )
