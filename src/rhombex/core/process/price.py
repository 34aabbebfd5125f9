"""What filament costs: the prices of the spools on the rack where they are known, else the usual price of the kind."""

from __future__ import annotations

from rhombex.core.reference import ref
from rhombex.core.trail import Input, given, looked_up
from rhombex.core.workshop.workshop import Workshop


def price_per_kg(workshop: Workshop, filament: str) -> Input:
    """Price of a kind per kg, as an input with its source: the mean of the rack's own prices, weighted by the grams left."""
    priced = [
        (s.price_per_kg, s.left_g) for s in workshop.spools if s.filament == filament and s.price_per_kg is not None
    ]
    grams = sum(g for _, g in priced)
    if priced and grams > 0:
        return given(f"price of {filament}", sum(p * g for p, g in priced) / grams, "EUR per kg", "spools on the rack")
    return looked_up(f"price of {filament}", ref(f"materials.{filament}.price"))
