"""From a design to its case: the construction's own components, the panels drawn by hand, the spacers under stacked boards."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import Bulge
from rhombex.core.case.parts import Flat, Part, Seat
from rhombex.core.constructions import (
    CoreAndWrap,
    CornersAndSheet,
    FrameAndCovers,
    LoosePanels,
    OpenBench,
    SlidingPanels,
    TrayInASleeve,
    TwoHalves,
)
from rhombex.core.design import Design, Panel
from rhombex.core.faults import Faults
from rhombex.core.fit.coupon import NAMES, coupon
from rhombex.core.fit.coupon import bodies as bodies_of
from rhombex.core.geometry.recipe import Solid
from rhombex.core.shell import (
    core_and_wrap,
    corners_and_sheet,
    frame_and_covers,
    loose_panels,
    open_bench,
    sliding_panels,
    tray_in_a_sleeve,
    two_halves,
)
from rhombex.core.shell.brackets import with_brackets
from rhombex.core.shell.fan_slots import with_fan_slots
from rhombex.core.shell.feet import with_feet
from rhombex.core.shell.handle import with_handle
from rhombex.core.shell.hooks import with_hooks
from rhombex.core.shell.magnets import closed_in
from rhombex.core.shell.panels import MOST_VENTS, holes_of, panel_recipe, vents_of
from rhombex.core.shell.props import with_props
from rhombex.core.shell.spacers import spacers
from rhombex.core.shell.wall_feet import with_stance
from rhombex.core.workshop.printer import Printer

# one entry for each kind of construction
BUILDERS: dict[type, Callable[[Design, Any, Printer, tuple[Thing, ...], Faults], Built]] = {
    TwoHalves: two_halves.build,
    LoosePanels: loose_panels.build,
    OpenBench: open_bench.build,
    SlidingPanels: sliding_panels.build,
    CoreAndWrap: core_and_wrap.build,
    FrameAndCovers: frame_and_covers.build,
    CornersAndSheet: corners_and_sheet.build,
    TrayInASleeve: tray_in_a_sleeve.build,
}


# where a construction makes its walls thicker inside
BULGES: dict[type, Callable[[Design, Any, Printer], tuple[Bulge, ...]]] = {
    TwoHalves: two_halves.bulges_of,
    CoreAndWrap: core_and_wrap.bulges_of,
}


def bulges(design: Design, printer: Printer) -> tuple[Bulge, ...]:
    """Where the walls of a design are thicker inside: without a case, for who asks nothing else."""
    construction = design.shell.construction
    made = BULGES.get(type(construction))
    return made(design, construction, printer) if made else ()


def walled(design: Design, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The case as its construction makes it, with what holds it together; without handle, brackets, posts under free ends, feet and coupons."""
    construction = design.shell.construction
    return BUILDERS[type(construction)](design, construction, printer, things, faults)


def build(design: Design, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The case and how its parts are made. What cannot be worked out is noted in `faults`."""
    plain = walled(design, printer, things, faults)
    built = faults.attempt("stage", "the handle", lambda: with_handle(design, printer, plain, things), plain)
    pressed = faults.attempt("stage", "brackets", lambda: with_brackets(design, printer, built, things), built)
    propped = faults.attempt("stage", "posts under free ends", lambda: with_props(pressed, things), pressed)
    hooked = faults.attempt("stage", "hooks", lambda: with_hooks(design, printer, propped, things), propped)
    slotted = faults.attempt("stage", "fan slots", lambda: with_fan_slots(design, printer, hooked, things), hooked)
    carried = closed_in(slotted)
    footed = faults.attempt("stage", "the feet", lambda: with_feet(design, carried), carried)
    stood = faults.attempt("stage", "how it stands", lambda: with_stance(design, footed.case), footed.case)
    built = Built(stood, footed.bodies, footed.on_bed)
    parts, bodies = list(built.case.parts), dict(built.bodies)

    def add(part: Part, body: Body) -> None:
        if part.name in bodies:
            faults.note("part", part.name, "another part of the case has the same name")
            return
        parts.append(part)
        bodies[part.name] = body

    left = MOST_VENTS
    for panel in design.panels:
        add(_panel(panel), partial(_plain, partial(panel_recipe, panel, left)))
        vents = len(vents_of(panel))
        left -= vents if vents <= left else 0
    for feature in design.coupons:
        name = NAMES[feature]
        part = Part(name=name, size_mm=None, down="bottom", plates=(), bodies=bodies_of(feature), in_place=False)
        add(part, partial(_plain, partial(coupon, feature, design.process_of(name), printer)))
    if built.case.mounts:  # boards stand on the case's posts, and others on them
        none: dict[str, tuple[Solid, int]] = {}
        found = faults.attempt("part", "spacers", lambda: spacers(things, design, printer), none)
        for name, (recipe, tubes) in found.items():
            part = Part(name=name, size_mm=None, down="bottom", plates=(), bodies=tubes)
            add(part, partial(_plain, partial(_same, recipe)))
    return Built(built.case.model_copy(update={"parts": tuple(parts)}), bodies, built.on_bed)


def case_of(design: Design, printer: Printer, things: tuple[Thing, ...]) -> Case:
    """The case alone, for trying an arrangement."""
    return build(design, printer, things, Faults()).case


def _panel(panel: Panel) -> Part:
    thick = panel.thick_mm
    return Part(
        name=panel.id,
        size_mm=(*panel.size_mm, thick),
        down="bottom",
        plates=(Flat(name=panel.name, thick_mm=thick, flat=True),),
        seat=Seat(outer_mm=0.0, inner_mm=thick, edge_mm=panel.corner_mm, bare=True, alone=True),
        in_place=False,
        kept=holes_of(panel),
    )


def _plain(recipe: Callable[[], Solid], tools: tuple[Solid, ...]) -> Solid:
    """A part that no opening of the case is cut into."""
    return recipe()


def _same(recipe: Solid) -> Solid:
    return recipe
