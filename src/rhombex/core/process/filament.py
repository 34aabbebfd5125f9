"""What filament costs and how hot it is printed: the workshop's own figures where it has them, else those of the table."""

from __future__ import annotations

from typing import Literal

from rhombex.core.reference import ref
from rhombex.core.trail import Input, given, looked_up
from rhombex.core.workshop.workshop import Workshop


def price_per_kg(workshop: Workshop, filament: str) -> Input:
    """Price of a kind per kg, as an input with its source: the mean of the rack's own prices, weighted by the grams left; else what the
    workshop says it pays; else the usual price."""
    priced = [
        (s.price_per_kg, s.left_g) for s in workshop.spools if s.filament == filament and s.price_per_kg is not None
    ]
    grams = sum(g for _, g in priced)
    if priced and grams > 0:
        return given(f"price of {filament}", sum(p * g for p, g in priced) / grams, "EUR per kg", "spools on the rack")
    own = workshop.own_filament(filament)
    if own and own.price_per_kg is not None:
        return given(f"price of {filament}", own.price_per_kg, "EUR per kg", "this workshop")
    return looked_up(f"price of {filament}", ref(f"materials.{filament}.price"))


def temperature_c(workshop: Workshop, filament: str, of: Literal["nozzle", "bed"]) -> Input:
    """At which temperature a kind is printed here, degC."""
    own = workshop.own_filament(filament)
    set_c = None if own is None else own.nozzle_c if of == "nozzle" else own.bed_c
    if set_c is not None:
        return given(f"{of} for {filament}", set_c, "degC", "this workshop")
    return looked_up(f"{of} for {filament}", ref(f"materials.{filament}.{of}"))
