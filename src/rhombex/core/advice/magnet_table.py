"""Magnets as the Hardware stop shows them: each part that they hold, its pull, the polarity plan, and what may be chosen instead."""

from __future__ import annotations

from rhombex.core.advice.magnets import blocks, chosen, discs, held_by_magnets, sits, volume_mm3, words_of
from rhombex.core.analysis import Analysis
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import MagnetPair
from rhombex.core.constructions import MAGNET_KINDS, Magnets
from rhombex.core.edits import HoldByMagnets
from rhombex.core.hardware.magnets import HeldPart, gap_mm
from rhombex.core.shell.magnets import least_boss_mm, on_face
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen, Shown


class Pocket(Frozen):
    """A pocket on the plan of a part as it is seen from outside: where, how large, and which pole faces out of it; `other`: out of the one that it meets, or that
    this is a screw."""

    at_mm: Vec2
    size_mm: Vec2
    block: bool
    pole: str
    other: str
    into: str


class PlanOf(Frozen):
    """A part on the polarity plan: the face that it closes, seen from outside, its outline there, its pockets, and where a finger lifts it."""

    held: HeldPart
    face: str
    lo_mm: Vec2
    hi_mm: Vec2
    pockets: tuple[Pocket, ...]
    notch: tuple[float, float, float, float] | None


class MagnetOffer(Frozen):
    """Another magnet, in a bill's words without its grade; `sits`: its pockets leave plastic enough."""

    words: str
    block: bool
    sits: bool
    edit: HoldByMagnets


class MagnetTable(Frozen):
    """`now`: what is chosen, None where screws hold; `offers`: the discs and blocks of its grade; `edits` by what they say: another grade, glued or pressed,
    poles by plan or all alike, screws. `size`: of what is chosen, as the offers are worded;
    `other_shape`: about as large a block in place of a disc, or a disc in place of a block. `start`: the edit that takes magnets where screws hold now."""

    now: Magnets | None
    words: str
    size: str
    pairs: int
    gap_mm: Shown
    pocket_mm: Vec2
    parts: tuple[PlanOf, ...]
    offers: tuple[MagnetOffer, ...]
    other_shape: HoldByMagnets | None
    start: HoldByMagnets | None


def usual_magnets(a: Analysis) -> Magnets:
    """The widest disc of 2 mm that finds a wall round it where this construction would put it."""
    kind = a.design.shell.construction
    beam = getattr(kind, "beam_mm", None)
    wide = (beam - 2.0 if beam else None) or getattr(kind, "post_mm", None) or least_boss_mm(Magnets(d_mm=6))
    fits = [m for m in discs(Magnets(d_mm=5)) if m.high_mm <= 2 and m.grade == "N42" and least_boss_mm(m) <= wide]
    return max(fits, key=lambda m: m.d_mm, default=Magnets(d_mm=5))


def magnet_table(a: Analysis) -> MagnetTable | None:
    """The magnets of a case; None where a case of its kind is not held by magnets."""
    if a.case.kind not in MAGNET_KINDS:
        return None
    now = chosen(a)
    pairs = a.case.magnets
    first = pairs[0] if pairs else None
    every = [m for m in ((*discs(now), *blocks(now)) if now else ()) if now and m.grade == now.grade]
    return MagnetTable(
        now=now,
        words=words_of(now) if now else "",
        size=_size(now) if now else "",
        pairs=len(pairs),
        gap_mm=gap_mm(first) if first else 0.0,
        pocket_mm=(min(_pockets(pairs)), max(_pockets(pairs))) if pairs else (0.0, 0.0),
        parts=tuple(_plan(a, h) for h in held_by_magnets(a)),
        offers=tuple(
            MagnetOffer(words=_size(m), block=m.long_mm is not None, sits=sits(a, m), edit=HoldByMagnets(magnets=m))
            for m in every
        ),
        other_shape=_other_shape(a, now, every) if now else None,
        start=HoldByMagnets(magnets=usual_magnets(a)) if now is None else None,
    )


def _size(m: Magnets) -> str:
    """A magnet in a bill's words without its grade."""
    return words_of(m).split(",")[0]


def _other_shape(a: Analysis, now: Magnets, every: list[Magnets]) -> HoldByMagnets:
    """About as large a magnet of the other shape: one that sits, if there is any."""
    other = [m for m in every if (m.long_mm is None) != (now.long_mm is None)]
    best = min(other, key=lambda m: (not sits(a, m), abs(volume_mm3(m) - volume_mm3(now))))
    return HoldByMagnets(magnets=best)


def _seen(p: MagnetPair, face: CaseFace) -> Vec2:
    """How wide and how high a magnet is on a face."""
    long = p.long_mm or p.d_mm
    return (long, p.d_mm) if abs(face.frame.x[p.lies]) > 0.5 else (p.d_mm, long)


def _pockets(pairs: tuple[MagnetPair, ...]) -> list[float]:
    return [d for p in pairs for d in (p.holds_pocket_mm, p.into_pocket_mm)[: p.magnets]]


def _plan(a: Analysis, h: HeldPart) -> PlanOf:
    face = on_face(h.pairs[0], a.case.faces)
    walls = [w for w in a.case.walls if w.face == face.id and w.part == h.part]
    notch = None
    if h.lift is not None:
        u0, v0, _ = face.frame.local(h.lift.box.lo)
        u1, v1, _ = face.frame.local(h.lift.box.hi)
        notch = (min(u0, u1), min(v0, v1), max(u0, u1), max(v0, v1))
    return PlanOf(
        held=h,
        face=face.id,
        lo_mm=walls[0].lo_mm if walls else (0.0, 0.0),
        hi_mm=walls[0].hi_mm if walls else face.size_mm,
        pockets=tuple(
            Pocket(
                at_mm=face.on(p.at),
                size_mm=_seen(p, face),
                block=p.long_mm is not None,
                pole="S" if p.pole == "N" else "N",
                other="the head of a screw" if p.screw else p.pole,
                into=p.into,
            )
            for p in h.pairs
        ),
        notch=notch,
    )
