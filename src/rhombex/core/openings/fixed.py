"""What no opening may be cut through: what holds a case together, posts, feet."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.joints import MagnetPair, Snap
from rhombex.core.space import Box


def fixed(case: Case, things: tuple[Thing, ...]) -> list[tuple[str, str, Box]]:
    """What must not be cut through: in words, what it belongs to, and the box round it."""
    return [(what, subject, box) for what, subject, box, _ in held_by(case, things)]


def uprights(case: Case, on: str) -> list[tuple[str, str, Box, frozenset[str]]]:
    """The posts or beams behind the two ends of a side that carry the case, as `held_by`: where a part stands much deeper than the wall is thick."""
    face = case.face(on)
    if case.pillar_mm <= 0 or on in ("top", "bottom"):
        return []
    out: list[tuple[str, str, Box, frozenset[str]]] = []
    for w in (w for w in case.walls if w.face == on and w.depth_mm > face.thick_mm + case.pillar_mm / 2):
        box = face.frame.box(Box((*w.lo_mm, -w.depth_mm), (*w.hi_mm, 0.0)))
        what = "a corner beam" if case.part(w.part).bar is not None else "a corner post"
        out.append((what, w.part, box, frozenset((w.part,))))
    return out


def held_by(case: Case, things: tuple[Thing, ...]) -> list[tuple[str, str, Box, frozenset[str]]]:
    """What must not be cut through, as `fixed`, with the printed parts that it is made in."""
    out: list[tuple[str, str, Box, frozenset[str]]] = []
    names = {t.id: t.name for t in things}
    for j in case.kept_whole:
        what = "a magnet" if isinstance(j, MagnetPair) else "a snap" if isinstance(j, Snap) else "a screw"
        out.append((f"{what} of the {j.holds}", j.holds, j.runs_in(), frozenset((j.holds, j.into))))
    out += [("the finger notch", x.of, x.box, frozenset((x.part,))) for x in case.lifts]
    for m in case.mounts:
        r = m.od_mm / 2
        box = Box((m.at[0] - r, m.at[1] - r, 0.0), (m.at[0] + r, m.at[1] + r, m.top_mm))
        out.append((f"a post of {names.get(m.of, m.of)}", m.of, box, frozenset((m.part,))))
    out += [(f"the post under {names.get(p.of, p.of)}", p.of, p.box, frozenset((p.part,))) for p in case.props]
    r = case.foot_d_mm / 2
    seat = (
        (case.foot.seat_mm or case.cavity.lo[2]) if case.foot else 0.0
    )  # what is only stuck on covers what is over it
    for x, y in case.feet:
        seat_box = Box((x - r, y - r, 0.0), (x + r, y + r, seat))
        out.append(("the seat of a foot", case.footed, seat_box, frozenset((case.footed,))))
    for u, v in case.wall_feet:
        face = case.face(case.stands_on)
        (part,) = set(case.behind(face.id, u - r, v - r, u + r, v + r))
        stuck = face.frame.box(Box((u - r, v - r, -face.thick_mm), (u + r, v + r, 0.0)))
        out.append(("a foot", part, stuck, frozenset((part,))))
    return out
