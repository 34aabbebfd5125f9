"""What filament costs and how hot it is printed: the workshop's own figures where it has them, else those of the table."""

from __future__ import annotations

from typing import Literal

from rhombex.core.design import Process
from rhombex.core.reference import ref
from rhombex.core.trail import Input, given, looked_up
from rhombex.core.workshop.workshop import Workshop


def price_per_kg(workshop: Workshop, process: Process) -> Input:
    """Price per kg of what a process is printed in, as an input with its source: the mean of the rack's own prices, weighted by the grams
    left; else what the workshop says it pays for its own filament, or for the kind; else the usual price."""
    name = f"price of {workshop.filament_name(process)}"
    priced = [(s.price_per_kg, s.left_g) for s in workshop.spools_of(process) if s.price_per_kg is not None]
    grams = sum(g for _, g in priced)
    if priced and grams > 0:
        return given(name, sum(p * g for p, g in priced) / grams, "EUR per kg", "spools on the rack")
    for own in (workshop.filament_of(process), workshop.own_filament(process.filament)):
        if own and own.price_per_kg is not None:
            return given(name, own.price_per_kg, "EUR per kg", "this workshop")
    return looked_up(name, ref(f"materials.{process.filament}.price"))


def temperature_c(workshop: Workshop, process: Process, of: Literal["nozzle", "bed"]) -> Input:
    """At which temperature it is printed here, degC."""
    name = f"{of} for {workshop.filament_name(process)}"
    for own in (workshop.filament_of(process), workshop.own_filament(process.filament)):
        set_c = None if own is None else own.nozzle_c if of == "nozzle" else own.bed_c
        if set_c is not None:
            return given(name, set_c, "degC", "this workshop")
    return looked_up(name, ref(f"materials.{process.filament}.{of}"))
