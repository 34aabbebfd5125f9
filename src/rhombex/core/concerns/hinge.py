"""A lid on hinges: whether they find a place, and whether it opens without meeting anything."""

from __future__ import annotations

from collections.abc import Iterator

from manifold3d import Manifold

from rhombex.core.analysis import Analysis
from rhombex.core.bench.bodies import body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.case.fittings import Hinges
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.constructions import Hinge, TwoHalves
from rhombex.core.edits import HingeLid
from rhombex.core.geometry import mesh_kernel
from rhombex.core.memo import Memo
from rhombex.core.shell.carrier import carrier
from rhombex.core.shell.hinge import turned_deg
from rhombex.core.space import Vec3

OPEN_DEG = 90.0  # a lid that opens less stands in the way of a hand; common practice
STEPS_DEG = (1.0, 2.0, 4.0, 7.0, 12.0, 20.0, 30.0, 45.0, 60.0, 75.0, 90.0)
GIVE_DEG = 12.0  # so far the hooks of a lid give way
MEETS_MM3 = 1.0  # roundings of both kernels, and play
OFF = Remedy(label="Let the lid lift off", edits=(HingeLid(hinge=None),))


def _now(a: Analysis) -> Hinge | None:
    made = a.design.shell.construction
    return made.hinge if isinstance(made, TwoHalves) else None


def _elsewhere(a: Analysis, now: Hinge) -> list[Remedy]:
    """The hinges on another side."""
    sides = ("back", "left", "right", "front")
    return [
        Remedy(
            label=f"Put the hinges on the {side}",
            edits=(HingeLid(hinge=now.model_copy(update={"side": side})),),
        )
        for side in sides
        if side != now.side
    ]


@concern("hinge-has-no-place", "shell")
def hinge_has_no_place(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A side on which fewer hinges than two find a place: it is too short, or plugs are before it."""
    h, now = a.case.hinge, _now(a)
    if h is None or now is None or len(h.pins) >= h.wanted:
        return
    yield say(
        "weigh" if h.pins else "stop",
        f"{'Only one hinge finds' if h.pins else 'No hinge finds'} a place on the {h.side}",
        measured=len(h.pins),
        limit=h.wanted,
        unit="hinges",
        how="hinges of three knuckles or more that find a place along that side, beside the plugs of ports",
        reason="Plugs of ports are where they would be, or the side is too short. "
        + ("The lid twists on one hinge." if h.pins else "Nothing holds the lid on that side."),
        source="two hinges for a lid (common practice)",
        subjects=("hinge", h.side),
        remedies=(*_elsewhere(a, now)[:2], OFF),
    )


@concern("hinge-binds", "shell")
def hinge_binds(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 32: a lid on hinges that meets something before it is open."""
    h, now = a.case.hinge, _now(a)
    if h is None or now is None or not h.pins:
        return
    lid = next(k.part for k in h.knuckles if a.case.part(k.part).put_on is not None)
    base = next(k.part for k in h.knuckles if k.part != lid)
    if lid not in a.recipes or base not in a.recipes:
        return  # another rule says that it was not made
    met = _first_met(a, h, lid, base)
    if met is None:
        return
    deg, what, who, subject = met
    yield say(
        "stop",
        f"The lid opens by {deg:g} degrees only: it meets {who}"
        if deg > STEPS_DEG[0]
        else f"The lid does not open: it meets {who}",
        measured=0.0 if deg <= STEPS_DEG[0] else deg,
        limit=OPEN_DEG,
        unit="degrees",
        how="how far the lid turns about its pins before it, or what is fixed to it, meets something",
        reason=f"Turned so far, {what}.",
        source="geometry: the solids of parts and components, turned about the pins",
        subjects=("hinge", subject),
        remedies=(*_elsewhere(a, now)[:2], OFF),
    )


_met: Memo[object, tuple[float, str, str, str] | None] = Memo(200)


def _first_met(a: Analysis, h: Hinges, lid: str, base: str) -> tuple[float, str, str, str] | None:
    """The first angle at which the lid or what it carries meets something, what meets what, in words, and what it is; None where it opens."""
    inside = tuple((t.name, carrier(a.case, a.things, t), tuple((s.name, s.box) for s in hard(t))) for t in a.things)
    key = (a.recipes[lid].digest, a.recipes[base].digest, h.at(0.0), h.turns, inside)
    return _met.make(key, lambda: _look(a, h, lid, base))


def _look(a: Analysis, h: Hinges, lid: str, base: str) -> tuple[float, str, str, str] | None:
    top, low = (mesh_kernel.evaluate(a.recipes[x]) for x in (lid, base))
    moving: list[tuple[str, str, str, Manifold]] = [("the lid", "the lid", lid, top)]
    standing: list[tuple[str, str, str, Manifold]] = [(f"the {base}", f"the {base}", base, low)]
    for t in a.things:
        comes = carrier(a.case, a.things, t) == lid
        for s in hard(t):
            (moving if comes else standing).append((f"the {s.name} of {t.name}", t.name, t.id, body_in(t, s)))
    pivot = h.at(0.0)
    closed = {(m[0], x[0]): float((m[3] ^ x[3]).volume()) for m in moving for x in standing if _near(m[3], x[3])}
    for deg in STEPS_DEG:
        for m in moving:
            turned = _turned(m[3], pivot, turned_deg(h, deg))
            for x in standing:
                if not _near(turned, x[3]) or (a.case.snaps and deg <= GIVE_DEG and m[2] == lid and x[2] == base):
                    continue
                over = float((turned ^ x[3]).volume()) - closed.get((m[0], x[0]), 0.0)
                if over > MEETS_MM3:
                    who = x if m[2] == lid or x[2] != base else m
                    return deg, f"{m[0]} stands in {x[0]} by {over:.0f} mm³", who[1], who[2]
    return None


def _near(a: Manifold, b: Manifold) -> bool:
    p, q = a.bounding_box(), b.bounding_box()
    return all(p[k] < q[k + 3] and q[k] < p[k + 3] for k in range(3))


def _turned(m: Manifold, about: Vec3, deg: Vec3) -> Manifold:
    back = (-about[0], -about[1], -about[2])
    return m.translate(back).rotate(deg).translate(about)
