"""What a step of one printing setting does: hours, grams and stiffness, before it is taken."""

from __future__ import annotations

from collections.abc import Mapping

from rhombex.core.advice.what_if import other_layers, tried
from rhombex.core.analysis import Analysis
from rhombex.core.design import Process
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.process.estimate import Level
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown

LAYER_STEP_MM = 0.04  # heights are commonly whole steps of the height drive (common practice)
INFILL_STEP = 0.05
SETTLED = (
    "layer_mm",
    "perimeters",
    "lines_joined",
    "supports",
)  # what a preview gets wrong by more than the step changes


class SettingEffect(Frozen):
    """A step of a field of the process: seconds and grams more or less, and the stiffness of what loses or gains most, of now."""

    field: str
    step: str
    time_s: Shown
    mass_g: Shown
    stiffness: Shown


def effects(a: Analysis, part: str | None = None) -> tuple[SettingEffect, ...]:
    """What the next step of each setting changes, for everything that has the common process, or for one part with its own.

    Steps of skins, infill and brim are differences between previews, scaled so that the way things are now comes out settled; the
    others are settled themselves.
    """
    parts = [part] if part else [x for x in dict.fromkeys(p.part for p in a.pieces) if not _own(a, x)]
    if not parts:
        return ()
    settled = [tried(a, "", {}, None, "settled", x) for x in parts]
    plain = [tried(a, "", {}, None, "preview", x) for x in parts]
    out = []
    for field, step, change in _steps(a, a.design.process_of(parts[0])):
        level: Level = "settled" if field in SETTLED else "preview"
        before = settled if field in SETTLED else plain
        ways = [tried(a, "", change, None, level, x) for x in parts]
        told = list(zip(ways, before, settled, strict=True))
        stiff = [w.stiffness for w in ways]
        out.append(
            SettingEffect(
                field=field,
                step=step,
                time_s=sum((w.time_s - n.time_s) * s.time_s / max(n.time_s, 1e-9) for w, n, s in told),
                mass_g=sum((w.mass_g - n.mass_g) * s.mass_g / max(n.mass_g, 1e-9) for w, n, s in told),
                stiffness=min(stiff) if min(stiff) < 1 else max(stiff),
            )
        )
    return tuple(out)


def _own(a: Analysis, part: str) -> bool:
    return any(x.part == part for x in a.design.part_processes)


def _steps(a: Analysis, p: Process) -> list[tuple[str, str, Mapping[str, object]]]:
    """The next step of each setting, in words."""
    top = val("printing.stiffness.layer_most") * nozzle_mm(p, a.printer)
    higher = round(p.layer_mm + LAYER_STEP_MM, 3)
    layer = higher if higher <= top + 1e-9 else round(p.layer_mm - LAYER_STEP_MM, 3)
    steps: list[tuple[str, str, Mapping[str, object]]] = [("layer_mm", f"{layer:g} mm", other_layers(p, layer))]
    steps += [(f, "one more", {f: getattr(p, f) + 1}) for f in ("perimeters", "top_layers", "bottom_layers")]
    if p.infill + INFILL_STEP <= 1:
        steps.append(("infill", f"{p.infill + INFILL_STEP:.0%}".replace("%", " %"), {"infill": p.infill + INFILL_STEP}))
    joined = "each by itself" if p.lines_joined else "joined"
    steps.append(("lines_joined", joined, {"lines_joined": not p.lines_joined}))
    steps.append(("brim_mm", "without it", {"brim_mm": 0.0}) if p.brim_mm else ("brim_mm", "5 mm", {"brim_mm": 5.0}))
    steps.append(("supports", "without them" if p.supports else "with them", {"supports": not p.supports}))
    return [s for s in steps if s[0] != "layer_mm" or layer > 0.05]
