"""The wish list: which wishes a design meets, and where."""

from __future__ import annotations

from typing import Literal

from rhombex.core.analysis import Analysis
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.concerns.registry import Finding
from rhombex.core.parts import port_kinds
from rhombex.core.space import Face
from rhombex.core.trail import Frozen


class Wish(Frozen):
    """A port that could be needed: whether it is, on which face it opens, and what stands against it."""

    port: str
    thing: str
    name: str
    kind: str
    needed: bool
    face: Face
    wanted_face: Face | None
    state: Literal["met", "unmet", "not asked"]
    why: str


def wishes(a: Analysis, findings: tuple[Finding, ...]) -> tuple[Wish, ...]:
    """Every port that can be led outside, in the order of the things."""
    kinds = port_kinds()
    against = {s: f.title for f in reversed(findings) if f.severity == "stop" for s in f.subjects}
    wanted_faces = dict(a.design.brief.faces)
    out = []
    open_ = wanted_ports(a.design)
    for t in a.things:
        for p in t.ports:
            if not kinds[p.port.kind].outside:
                continue
            needed = p.ref in open_
            wanted = wanted_faces.get(p.ref)
            why = against.get(p.ref, "")
            if not why and wanted is not None and p.face != wanted:
                why = f"it opens on the {p.face} face, wanted on the {wanted}"
            out.append(
                Wish(
                    port=p.ref,
                    thing=t.name,
                    name=p.name,
                    kind=kinds[p.port.kind].label,
                    needed=needed,
                    face=p.face,
                    wanted_face=wanted,
                    state="not asked" if not needed else "unmet" if why else "met",
                    why=why,
                )
            )
    return tuple(out)
