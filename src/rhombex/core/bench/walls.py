"""Moving the walls of the cavity while everything in the room stays where it is."""

from __future__ import annotations

from typing import Any

from rhombex.core.bench.arrange import arrange
from rhombex.core.design import Design, PlacedOpening, Placement
from rhombex.core.plain import DesignError
from rhombex.core.space import FACE_U, FACE_V, OUTWARD, Face, Vec2, Vec3, normal_axis

_LOW: tuple[Face, Face, Face] = ("left", "front", "bottom")


def shifted(placements: tuple[Placement, ...], by: Vec3, which: set[str] | None) -> tuple[Placement, ...]:
    """Move some placements (all where `which` is None) by a vector."""
    return tuple(
        p.model_copy(update={"at_mm": tuple(a + b for a, b in zip(p.at_mm, by, strict=True))})
        if which is None or p.id in which
        else p
        for p in placements
    )


def moved_walls(d: Design, out_mm: dict[Face, float]) -> dict[str, Any]:
    """The fields that change when walls move outward by so much (inward: negative). Placements, vents, openings and cuts are kept from the
    cavity's corner, so those count anew from where it is then. Raises DesignError where no room would be left."""
    inner = list(d.shell.inner_mm)
    for face, by in out_mm.items():
        axis = normal_axis(face)
        inner[axis] = round(inner[axis] + by, 6)
        if inner[axis] <= 0:
            raise DesignError("shell.inner_mm", f"moving the {face} wall by {by:g} mm leaves no room inside")
    up = out_mm.get("top", 0.0) + out_mm.get("bottom", 0.0)
    shell = d.shell.model_copy(
        update={"inner_mm": tuple(inner), "construction": d.shell.construction.raised(up, inner[2])}
    )
    change: dict[str, Any] = {"shell": shell}
    corner: Vec3 = tuple(out_mm.get(face, 0.0) for face in _LOW)  # type: ignore[assignment]
    handle = d.shell.handle
    if handle is not None and handle.at_mm is not None:
        kept = handle.model_copy(update={"at_mm": _sum(handle.at_mm, corner[:2])})
        change["shell"] = shell.model_copy(update={"handle": kept})
    if any(corner):
        change["placements"] = shifted(d.placements, corner, None)
        change["cuts"] = tuple(c.model_copy(update={"at_mm": c.at_mm + corner["xyz".index(c.axis)]}) for c in d.cuts)
    faces = {face_of_port(d, o.port) for o in d.openings} | {v.face for v in d.vents} | {o.face for o in d.own_openings}
    faces |= {t.face for t in d.texts}
    by_face: dict[Face, Vec2] = {f: _on_face(f, out_mm) for f in faces if f is not None}
    if any(any(by) for by in by_face.values()):
        change["vents"] = tuple(
            v if v.on is not None else v.model_copy(update={"at_mm": _sum(v.at_mm, by_face[v.face])}) for v in d.vents
        )
        change["own_openings"] = tuple(
            o if o.on is not None else o.model_copy(update={"at_mm": _sum(o.at_mm, by_face[o.face])})
            for o in d.own_openings
        )
        change["texts"] = tuple(
            t if t.on is not None else t.model_copy(update={"at_mm": _sum(t.at_mm, by_face[t.face])}) for t in d.texts
        )
        change["openings"] = tuple(_kept_in_place(d, o, by_face) for o in d.openings)
    return change


def _kept_in_place(d: Design, o: PlacedOpening, by_face: dict[Face, Vec2]) -> PlacedOpening:
    face = face_of_port(d, o.port)
    if o.at_mm is None or o.anchor != "face" or face is None:
        return o
    return o.model_copy(update={"at_mm": _sum(o.at_mm, by_face[face])})


def _sum(a: Vec2, b: Vec2) -> Vec2:
    return (a[0] + b[0], a[1] + b[1])


def _on_face(face: Face, out_mm: dict[Face, float]) -> Vec2:
    """By how much the corner that a face counts from moves away along its axes."""
    u, v = FACE_U[face], FACE_V[face]

    def along(axis: Vec3) -> float:
        return sum(by for wall, by in out_mm.items() if all(a == -b for a, b in zip(axis, OUTWARD[wall], strict=True)))

    return (along(u), along(v))


def face_of_port(d: Design, ref: str) -> Face | None:
    """The face that a port looks at; None for one that is not there."""
    id = ref.split("/", 1)[0]
    return next((p.face for t in arrange(d) if t.id == id for p in t.ports if p.ref == ref), None)
