"""Creep: how many times as far a load that stays bends a filament in the end as at first, by time and temperature."""

from __future__ import annotations

from math import log

from rhombex.core.design import FilamentKind
from rhombex.core.reference import ref, val
from rhombex.core.trail import Trail, given, looked_up

THOUSAND_H = 1000.0
ROOM_C = 23.0  # of the laboratory's figures; ISO 291


def creep(kind: FilamentKind, at_c: float, hours: float | None = None) -> Trail:
    """How far a load bends it after so many hours at a temperature, against at first; without `hours` after as long as a case is kept.

    Findley's power law, 1 + m t^n, through what is left of the modulus after 1000 hours and in the end; warmth makes time pass as many times faster as
    many decades of it lie between the laboratory's 23 degrees and the filament's service temperature, evenly in between (time and temperature are
    exchanged). Below 23 degrees as there.
    """
    first, last, kept = ref("limits.creep.thousand"), ref("limits.creep.long"), val("limits.creep.kept_h")
    decades, bears = ref("limits.creep.decades"), ref(f"materials.{kind}.service")
    t = kept if hours is None else hours
    n = log((last.value - 1) / (first.value - 1)) / log(kept / THOUSAND_H)
    share = max(0.0, (at_c - ROOM_C) / (bears.value - ROOM_C))
    faster = 10 ** (decades.value * share)
    return Trail(
        value=1 + (first.value - 1) * (t * faster / THOUSAND_H) ** n,
        unit="x",
        formula="1 + (c - 1) (t a / 1000 h)^n, a = 10^(decades x (T - 23) / (service - 23))",
        inputs=(
            looked_up("c, after 1000 h", first),
            given("n", n, "", "from what is left in the end"),
            given("t", t, "h", "as long as a case is kept"),
            given("T", at_c, "degC", "the warmest wall"),
            looked_up("service", bears),
            looked_up("decades", decades),
        ),
        source=f"Findley's power law with time and temperature exchanged; {last}",
    )
