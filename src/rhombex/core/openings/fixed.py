"""What no opening may be cut through: what holds a case together, posts, feet."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case, MagnetPair, Snap
from rhombex.core.space import Box


def fixed(case: Case, things: tuple[Thing, ...]) -> list[tuple[str, str, Box]]:
    """What must not be cut through: in words, what it belongs to, and the box round it."""
    out, names = [], {t.id: t.name for t in things}
    for j in case.kept_whole:
        what = "a magnet" if isinstance(j, MagnetPair) else "a snap" if isinstance(j, Snap) else "a screw"
        out.append((f"{what} of the {j.holds}", j.holds, j.runs_in()))
    out += [("the finger notch", x.of, x.box) for x in case.lifts]
    for m in case.mounts:
        r = m.od_mm / 2
        out.append(
            (
                f"a post of {names.get(m.of, m.of)}",
                m.of,
                Box((m.at[0] - r, m.at[1] - r, 0.0), (m.at[0] + r, m.at[1] + r, m.top_mm)),
            )
        )
    out += [(f"the post under {names.get(p.of, p.of)}", p.of, p.box) for p in case.props]
    r, seat = case.foot_d_mm / 2, case.foot.seat_mm if case.foot else 0.0
    out += [("the seat of a foot", case.footed, Box((x - r, y - r, 0.0), (x + r, y + r, seat))) for x, y in case.feet]
    return out
