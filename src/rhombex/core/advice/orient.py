"""Which side a part should lie on: support, time, room on the bed, layers against load, looks."""

from __future__ import annotations

from functools import partial
from typing import get_args

from rhombex.core.analysis import Analysis
from rhombex.core.cuts.bed import on_bed, usable_bed
from rhombex.core.design import Direction
from rhombex.core.fit.laying import bbox, down_of, laid, plan_hull
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.line_drawing import LineDrawing, line_drawing
from rhombex.core.process.estimate import estimate
from rhombex.core.process.settings import settings
from rhombex.core.process.shrink import shrink_risk
from rhombex.core.process.slices import Slices
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown

SIDES: tuple[Direction, ...] = get_args(Direction)


class Resting(Frozen):
    """One way to lie. `foot_mm2` touches the bed; `scar_mm2` touches support; `strength` is the share of the material's
    strength left where the part bends across its layers; `score` ranks, highest best."""

    down: Direction
    now: bool
    bbox_mm: tuple[Shown, Shown, Shown]
    fits: bool
    angle_deg: float
    time_s: Shown
    mass_g: Shown
    support_g: Shown
    scar_mm2: Shown
    foot_mm2: Shown
    strength: Shown
    score: Shown
    why: tuple[str, ...]
    picture: LineDrawing


def resting_faces(a: Analysis, name: str) -> tuple[Resting, ...]:
    """The six sides of a part, or of one of its pieces, as resting faces, best first; estimated with supports at the level of the preview."""
    piece = next((p for p in a.pieces if p.name == name), None)
    of = a.case.part(piece.part if piece else name)
    recipe = a.pieces_in_case[name] if piece else a.recipes[name]
    process = a.design.process_of(piece.printed_as if piece else name).model_copy(update={"supports": True})
    lies = piece.down if piece else down_of(a.design, of)
    usable = usable_bed(process, a.printer)
    rows = []
    seen: list[tuple[float, float, Resting]] = []
    for down in SIDES:
        lying = laid(recipe, down)
        _, size = bbox(lying)
        fits, angle, _ = on_bed(size, usable, partial(plan_hull, lying))
        e = estimate(lying, process, a.printer, "preview")
        slices = Slices(mesh_kernel.evaluate(lying), settings(process, a.printer))
        support = slices.support_mm3()
        touching = slices.support_scar_mm2()
        support_g = (
            support * val("printing.feature.support_density") * val(f"materials.{process.filament}.density") / 1000
        )
        risk = shrink_risk(lying)
        tall = risk.slender
        across = val(f"materials.{process.filament}.across_layers")
        # a part that stands on its edge bends across its layers; the taller against its foot the more it matters
        strength = 1.0 if tall <= 0.6 else max(across, 1 - (1 - across) * min(1.0, (tall - 0.6) / 1.4))
        foot = slices.section(0).area()
        extra_s = support * val("printing.feature.support_density") / slices.s.flow if support else 0.0
        time = e.time_s.value - next((k.time_s for k in e.by_kind if k.kind == "support"), 0.0) + extra_s
        rows.append(
            (
                down,
                size,
                fits,
                angle,
                time,
                e.mass_g.value - e.support_g + support_g,
                support_g,
                touching,
                foot,
                strength,
                tall,
            )
        )
    quickest = min(r[4] for r in rows)
    for down, size, fits, angle, time, mass, support_g, scar, foot, strength, tall in rows:
        why = []
        why.append(
            "fits the bed" + (", turned" if angle == 90 else ", across it" if angle else "")
            if fits
            else "does not fit the bed"
        )
        why.append("no support" if support_g < 0.05 else f"{support_g:.1f} g of support, scars on {scar / 100:.0f} cm²")
        why.append("the seam runs up its back left edge")
        if strength < 1:
            why.append(f"bends across its layers: {strength:.0%} of the strength")
        if tall > val("limits.print.slender"):
            why.append("tall and thin: sways and snaps")
        if foot < 0.15 * size[0] * size[1]:
            why.append("stands on little: brim wanted")
        if down == of.down and of.shown:
            why.append(of.shown)
        score = (
            100
            - 60 * (time / quickest - 1)
            - 4 * support_g
            - scar / 400
            - 40 * (1 - strength)
            - (10 if foot < 0.15 * size[0] * size[1] else 0)
            - (200 if not fits else 0)
            + (1 if down == of.down else 0)
        )
        seen.append(
            (
                -score,
                0.0,
                Resting(
                    down=down,
                    now=down == lies,
                    bbox_mm=size,
                    fits=fits,
                    angle_deg=angle,
                    time_s=time,
                    mass_g=mass,
                    support_g=support_g,
                    scar_mm2=scar,
                    foot_mm2=foot,
                    strength=strength,
                    score=score,
                    picture=line_drawing(mesh_kernel.evaluate(laid(recipe, down))),
                    why=tuple(why),
                ),
            )
        )
    return tuple(r for _, _, r in sorted(seen, key=lambda x: x[0]))
