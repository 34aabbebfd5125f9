"""How far the panels of a case give way when a hand pushes at their middle."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.case import CaseFace
from rhombex.core.process.laying import down_of
from rhombex.core.process.stiffness import Plate, bending, centre_load
from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Trail, given, looked_up


class Panel(Frozen):
    """A wall of the case that a hand can push: the face, the part that most of it is, and how far its middle gives way, mm."""

    face: str
    part: str
    bend: Trail


def panels(a: Analysis) -> tuple[Panel, ...]:
    """Every whole face but the bottom, which stands on its feet, the weakest first."""
    found = [x for f in a.case.faces if f.whole and f.id != "bottom" for x in _panel(a, f)]
    return tuple(sorted(found, key=lambda p: -p.bend.value))


def _panel(a: Analysis, face: CaseFace) -> list[Panel]:
    part = a.case.most_of(face.id)
    # the walls beside it hold it along its edges
    room = [face.frame.local(p) for p in (a.case.cavity.lo, a.case.cavity.hi)]
    short, long = sorted(abs(room[1][i] - room[0][i]) for i in (0, 1))
    if short <= 0 or part is None:
        return []
    nu = val("limits.standing.poisson")
    if part.sheet is not None:
        modulus = ref(f"sheet.{part.sheet.material}.modulus")
        d_nmm = modulus.value * face.thick_mm**3 / 12 / (1 - nu**2)
        made = looked_up("modulus", modulus)
    else:
        lies = down_of(a.design, part) in _ACROSS[face.id]
        plate = Plate(name=face.id, thick_mm=face.thick_mm, pose="lying" if lies else "standing")
        d_nmm = bending(plate, a.design.process_of(part.name), a.printer)[0] * 1000 / (1 - nu**2)
        made = given("stiffness", d_nmm / 1000, "N m", "skins on a core of infill")
    push = ref("limits.standing.push")
    return [
        Panel(
            face=face.id,
            part=part.name,
            bend=Trail(
                value=centre_load(long / short) * push.value * short**2 / d_nmm,
                unit="mm",
                formula="w = alpha P a^2 / D",
                inputs=(
                    looked_up("P", push),
                    given("a", short),
                    given("b", long),
                    given("thickness", face.thick_mm),
                    made,
                ),
                source="plate held at its edges with its load in the middle (Timoshenko and Woinowsky-Krieger)",
            ),
        )
    ]


_ACROSS: dict[str, tuple[str, str]] = {
    "top": ("top", "bottom"),
    "bottom": ("top", "bottom"),
    "left": ("left", "right"),
    "right": ("left", "right"),
    "front": ("front", "back"),
    "back": ("front", "back"),
}
