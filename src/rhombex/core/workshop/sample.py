"""The three made-up printers of the sound archive's workshop corner, and its rack: what a new folder begins with."""

from __future__ import annotations

from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Spool, Workshop

ARCHIVE_WORKSHOP = Workshop(
    printers=(
        Printer(key="bench-180", name="Bench 180", bed_mm=(180, 180, 180), nozzle_mm=0.4, enclosed=False),
        Printer(
            key="bench-220",
            name="Bench 220",
            bed_mm=(220, 220, 250),
            nozzle_mm=0.4,
            spare_nozzles_mm=(0.6,),
            enclosed=False,
            bed_max_c=90,
        ),
        Printer(
            key="bench-300",
            name="Bench 300",
            bed_mm=(300, 300, 340),
            nozzle_mm=0.6,
            enclosed=True,
            accel_mm_s2=1200,
            bed_max_c=110,
            chamber_c=50,
            nozzle_max_c=290,
            hardened=True,
            slots=2,
        ),
    ),
    spools=(
        Spool(id="pla-bone", filament="PLA", colour="bone", left_g=640),
        Spool(id="pla-ink", filament="PLA", colour="ink", left_g=310, dried="2026-10-02"),
        Spool(id="petg-smoke", filament="PETG", colour="smoke", left_g=880, dried="2026-11-09"),
        Spool(id="petg-moss", filament="PETG", colour="moss", left_g=145),
        Spool(id="asa-slate", filament="ASA", colour="slate", left_g=1000, dried="2026-11-20"),
        Spool(id="abs-bone", filament="ABS", colour="bone", left_g=420),
        Spool(id="tpu-ink", filament="TPU", colour="ink", left_g=260, dried="2026-11-24"),
    ),
)
