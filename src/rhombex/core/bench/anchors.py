"""Where on a face of the case lies what a hand placed beside the cavity or beside a component."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case.faces import CaseFace
from rhombex.core.design import FaceText, OwnOpening, VentField
from rhombex.core.space import Vec2


def placed(face: CaseFace, field: VentField | OwnOpening | FaceText, things: tuple[Thing, ...]) -> Vec2:
    """The middle of a field of vents, an opening of one's own or a text on its face."""
    thing = next((t for t in things if t.id == field.on), None)
    base = face.on(thing.frame.origin) if thing is not None else face.inset_mm
    return (base[0] + field.at_mm[0], base[1] + field.at_mm[1])
