"""The sample designs of the Lantern Street Sound Archive, made through edits. All of it is made up."""

from __future__ import annotations

from collections.abc import Callable

from rhombex.core.design import Brief, Design, Lead, Placement, Process, Shell, VentField
from rhombex.core.edits import Add, Need, PutLead, PutVent, apply


def wren() -> Design:
    """*Wren*, the field recorder's desk unit, as first sketched: it has open concerns."""
    d = Design(
        name="Wren",
        brief=Brief(opened="monthly", stands="desk"),
        shell=Shell(
            inner_mm=(165.6, 138.0, 31.0),
            joint_mm=26.8,
            wall_mm=3.0,
            corner_radius_mm=6.0,
            joint_thread="cut in plastic",
        ),
        process=Process(filament="PLA"),
        printer="bench-220",
    )
    for p in (
        Placement(id="board", component="sbc-85x56", name="Board", at_mm=(120.1, 30.0, 2.6)),
        Placement(id="drive", component="drive-2.5", name="Drive", at_mm=(38.6, 78.0, 6.0)),
        Placement(id="cooler", component="cooler-40x11", name="Cooler", at_mm=(115.6, 30.0, 6.8), on="board"),
        Placement(id="fan", component="fan-40x10", name="Fan", at_mm=(44.0, 84.0, 0.0), face="top"),
        Placement(id="button", component="button-16", name="Button", at_mm=(40.0, 0.0, 12.0), face="front"),
    ):
        d = apply(d, Add(placement=p))
    for port in ("network", "usb-1", "usb-2", "power", "screen", "audio"):
        d = apply(d, Need(port=f"board/{port}", needed=True))
    d = apply(
        d,
        PutLead(
            lead=Lead(
                id="drive-lead",
                name="Drive lead, flat",
                start="board/drive",
                end="drive/data",
                length_mm=400,
                bend_radius_mm=6,
                stock_mm=(100, 150, 200, 300, 400),
            )
        ),
    )
    return apply(
        d,
        PutVent(
            vent=VentField(id="vent-back", face="back", at_mm=(60.0, 13.5), size_mm=(66.0, 12.5), follow_heat=False)
        ),
    )


SCENARIOS: dict[str, Callable[[], Design]] = {"wren": wren}
