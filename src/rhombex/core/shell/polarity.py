"""Which pole faces out of which pocket: so that everything attracts where it belongs, and nothing holds where it does not."""

from __future__ import annotations

from itertools import product

import numpy as np

from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import MagnetPair
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen

SAME_MM = 1.0  # magnets nearer than this to one another meet
MOST_BITS = 16  # of pairs that are searched together: every choice of poles is tried


class WrongWay(Frozen):
    """A way to put a part where it does not belong with every magnet on another: part `of` on the place of `on`, turned by so many degrees. Of its
    magnets `attract` are drawn, the others pushed off. `meets`: the pair that each of its magnets meets, by number."""

    of: str
    on: str
    turned_deg: int
    attract: int
    magnets: int

    @property
    def net(self) -> float:
        """What of all the pull is left, -1 to 1; above 0 it holds."""
        return (2 * self.attract - self.magnets) / self.magnets


def keyed_poles(pairs: tuple[MagnetPair, ...], faces: tuple[CaseFace, ...]) -> tuple[MagnetPair, ...]:
    """The pairs with poles such that the part which holds best where it does not belong holds as little as any choice of poles lets it: every
    choice is tried, for parts that can be mistaken for one another together."""
    if not pairs:
        return pairs
    ways = _meetings(pairs, faces)
    sign = np.ones(len(pairs), int)
    for group in _groups(len(pairs), [meets for _, _, _, meets in ways]):
        mine = [meets for _, _, _, meets in ways if meets[0][0] in group]
        if not mine:
            continue
        index = {k: n for n, k in enumerate(group)}
        bits = min(len(group), MOST_BITS) - 1
        choices = np.ones((2**bits, len(group)), int)
        choices[:, 1 : bits + 1] = 1 - 2 * ((np.arange(2**bits)[:, None] >> np.arange(bits)) & 1)
        nets = np.stack(
            [
                np.mean([choices[:, index[i]] * choices[:, index[j]] for i, j in meets], axis=0, dtype=float)
                for meets in mine
            ]
        )
        worst, all_ = nets.max(axis=0), nets.sum(axis=0)
        best = min(range(len(choices)), key=lambda c: (round(worst[c], 6), round(all_[c], 6), -choices[c].sum(), c))
        sign[group] = choices[best]
    return tuple(p.model_copy(update={"pole": "N" if s > 0 else "S"}) for p, s in zip(pairs, sign, strict=True))


def wrong_ways(pairs: tuple[MagnetPair, ...], faces: tuple[CaseFace, ...]) -> tuple[WrongWay, ...]:
    """Every way in which a part can be put where it does not belong so that all its magnets meet others."""
    return tuple(
        WrongWay(
            of=of,
            on=on,
            turned_deg=deg,
            attract=sum(pairs[i].pole == pairs[j].pole for i, j in meets),
            magnets=len(meets),
        )
        for of, on, deg, meets in _meetings(pairs, faces)
    )


def _meetings(
    pairs: tuple[MagnetPair, ...], faces: tuple[CaseFace, ...]
) -> list[tuple[str, str, int, list[tuple[int, int]]]]:
    """Wrong placements: of what, on whose place, turned by, and which pair each pair's magnet meets."""
    places = {part: _places(pairs, faces, part) for part in dict.fromkeys(p.holds for p in pairs)}
    out = []
    for (of, mine), (on, other) in product(places.items(), repeat=2):
        if len(mine) != len(other):
            continue
        for deg in (0, 90, 180, 270):
            if of == on and deg == 0:
                continue
            meets = _match(mine, other, deg)
            if meets is not None:
                out.append((of, on, deg, meets))
    return out


def _places(pairs: tuple[MagnetPair, ...], faces: tuple[CaseFace, ...], part: str) -> list[tuple[int, Vec2]]:
    """Where the magnets of a part are on its face, from the middle of them all, each with its number."""
    mine = [(k, p) for k, p in enumerate(pairs) if p.holds == part]
    spots = []
    for k, p in mine:
        i = next(n for n in range(3) if p.along[n])
        face = next(f for f in faces if abs(f.frame.z[i]) > 0.5 and f.frame.z[i] * p.along[i] < 0)
        spots.append((k, face.on(p.at)))
    u, v = [s[0] for _, s in spots], [s[1] for _, s in spots]
    mid = ((min(u) + max(u)) / 2, (min(v) + max(v)) / 2)
    return [(k, (s[0] - mid[0], s[1] - mid[1])) for k, s in spots]


def _match(mine: list[tuple[int, Vec2]], other: list[tuple[int, Vec2]], deg: int) -> list[tuple[int, int]] | None:
    c, s = ((1, 0), (0, 1), (-1, 0), (0, -1))[deg // 90]
    out, left = [], dict(other)
    for k, (x, y) in mine:
        at = (c * x - s * y, s * x + c * y)
        hit = next((n for n, q in left.items() if abs(q[0] - at[0]) < SAME_MM and abs(q[1] - at[1]) < SAME_MM), None)
        if hit is None:
            return None
        del left[hit]
        out.append((k, hit))
    return out


def _groups(count: int, meetings: list[list[tuple[int, int]]]) -> list[list[int]]:
    """Pairs that have to be thought of together."""
    of = list(range(count))
    for meets in meetings:
        seen = {of[k] for pair in meets for k in pair}
        of = [min(seen) if x in seen else x for x in of]
    return [[k for k in range(count) if of[k] == root] for root in dict.fromkeys(of)]
