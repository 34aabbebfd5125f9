"""The sample designs of the Lantern Street Sound Archive, made through edits. All of it is made up."""

from __future__ import annotations

from collections.abc import Callable

from rhombex.core.apply import apply
from rhombex.core.constructions import (
    CoreAndWrap,
    CornersAndSheet,
    FrameAndCovers,
    LoosePanels,
    Magnets,
    SlidingPanels,
    TrayInASleeve,
    TwoHalves,
)
from rhombex.core.design import Adapter, Brief, Design, Lead, Panel, Placement, Process, Shell, Stand, VentField
from rhombex.core.edits import Add, Construct, PutAdapter, PutLead, PutPanel, PutVent, Set, StackOn, Together

SMALL = "bench-180"  # the printer that takes least


def wren() -> Design:
    """*Wren*, the field recorder's desk unit, as first sketched: it has open concerns."""
    d = Design(
        name="Wren",
        brief=Brief(opened="monthly", stands="desk"),
        shell=Shell(
            inner_mm=(165.6, 138.0, 31.0),
            construction=TwoHalves(joint_mm=26.8, joint_thread="cut in plastic"),
            wall_mm=3.0,
            corner_radius_mm=6.0,
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
    d = apply(d, PutAdapter(adapter=Adapter(port="board/power", rail="5 V", watts=27)))
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
            vent=VentField(id="vent-back", face="back", at_mm=(57.0, 10.5), size_mm=(66.0, 12.5), follow_heat=False)
        ),
    )


def heron_panels() -> Design:
    """The eight panels of *Heron*, the tape restoration desk machine: a desktop-size set, joined by hand."""
    d = Design(
        name="Heron panels",
        brief=Brief(opened="yearly", stands="desk"),
        shell=Shell(inner_mm=(270.0, 190.0, 230.0), construction=TwoHalves(joint_mm=120.0)),
        process=Process(filament="PETG"),
        printer="bench-300",
    )
    vented = {"vent_d_mm": 5.0, "vent_pitch_mm": 8.0}
    for panel in (
        Panel(id="left", name="Left side", size_mm=(270, 230), thick_mm=3.0, margin_mm=24, **vented),
        Panel(id="right", name="Right side", size_mm=(270, 230), thick_mm=3.0),
        Panel(id="top", name="Top", size_mm=(270, 190), thick_mm=3.0, margin_mm=30, **vented),
        Panel(id="bottom", name="Bottom", size_mm=(270, 190), thick_mm=4.0, margin_mm=40, **vented),
        Panel(id="front", name="Front", size_mm=(230, 190), thick_mm=3.0),
        # the opening of the rear I/O plate, 158.75 x 44.45
        Panel(id="back", name="Back", size_mm=(230, 190), thick_mm=3.0, window_mm=(30, 20, 158.75, 44.45)),
        Panel(id="tray", name="Board tray", size_mm=(186, 180), thick_mm=4.0),
        Panel(id="brace", name="Card brace", size_mm=(186, 40), thick_mm=5.0),
    ):
        d = apply(d, PutPanel(panel=panel))
    return apply(d, Construct(construction=LoosePanels()))


def dunlin() -> Design:
    """*Dunlin*, the listening post of the reading room: it hangs on a wall, a display in its front, two jacks below, its covers held by
    magnets; children are about."""
    d = Design(
        name="Dunlin",
        brief=Brief(
            opened="yearly",
            stands="wall",
            around="children",
            display=True,
            unneeded=("board/screen", "board/audio", "board/usb-1", "board/usb-2"),
        ),
        shell=Shell(
            inner_mm=(220.0, 84.0, 156.0),
            construction=FrameAndCovers(beam_mm=13.0, magnets=Magnets()),
            wall_mm=3.72,
            corner_radius_mm=3.0,
            feet=False,
        ),
        process=Process(filament="PETG"),
        printer="bench-300",
    )
    for p in (
        Placement(id="display", component="display-7", name="Display", at_mm=(110.0, 0.0, 84.0), face="front"),
        Placement(id="board", component="sbc-85x56", name="Board", at_mm=(171.0, 41.0, 6.0)),
        Placement(id="jack-1", component="jack-3.5", name="Left jack", at_mm=(40.0, 30.0, 0.0), face="bottom"),
        Placement(id="jack-2", component="jack-3.5", name="Right jack", at_mm=(64.0, 30.0, 0.0), face="bottom"),
    ):
        d = apply(d, Add(placement=p))
    return apply(d, PutAdapter(adapter=Adapter(port="board/power", rail="5 V", watts=27)))


def curlew() -> Design:
    """*Curlew*, the vault's storage box: a board with its drive shield, two drives, a fan that blows out behind."""
    d = Design(
        name="Curlew",
        brief=Brief(opened="yearly", stands="shelf", window="top"),
        shell=Shell(
            inner_mm=(180.0, 200.0, 60.0),
            construction=CoreAndWrap(),
            wall_mm=2.89,
            floor_mm=3.4,
            corner_radius_mm=6.0,
        ),
        process=Process(filament="PETG"),
        printer="bench-220",
    )
    for p in (
        Placement(id="board", component="sbc-85x56", name="Board", at_mm=(120.0, 33.0, 6.0)),
        Placement(id="drive-1", component="drive-2.5", name="Drive 1", at_mm=(45.0, 134.0, 6.0)),
        Placement(id="drive-2", component="drive-2.5", name="Drive 2", at_mm=(130.0, 134.0, 6.0)),
        Placement(id="fan", component="fan-40x10", name="Fan", at_mm=(90.0, 0.0, 30.0), face="back", blows="out"),
    ):
        d = apply(d, Add(placement=p))
    shield = Placement(id="shield", component="shield-drive", name="Drive shield", at_mm=(0, 0, 0), on="board")
    d = apply(d, StackOn(placement=shield, stand=Stand(standoff_mm=20.0)))
    return apply(d, PutAdapter(adapter=Adapter(port="board/power", rail="5 V", watts=45)))


def heron() -> Design:
    """*Heron*, the tape restoration desk machine, whole: board with a low cooler, a two-slot card that lies on a riser, small supply, two fans,
    a drive. All of it stands on a tray that comes out to the back."""
    d = Design(
        name="Heron",
        brief=Brief(opened="yearly", stands="desk"),
        shell=Shell(
            inner_mm=(384.0, 264.0, 134.0),
            construction=TrayInASleeve(opens="back", tab_mm=16.0),
            wall_mm=3.84,
            floor_mm=9.5,
            lid_mm=5.5,
            corner_radius_mm=6.0,
        ),
        process=Process(filament="PETG"),
        printer="bench-300",
    )
    for p in (
        Placement(id="board", component="board-mini-itx", name="Board", at_mm=(114.0, 175.5, 8.0)),
        Placement(id="cooler", component="cooler-95x47", name="Cooler", at_mm=(119.0, 155.5, 17.6), on="board"),
        Placement(id="supply", component="supply-sfx", name="Supply", at_mm=(303.0, 0.0, 96.0), face="front"),
        Placement(id="drive", component="drive-2.5", name="Drive", at_mm=(90.0, 42.0, 8.0), turn=90),
        Placement(
            id="fan-top", component="fan-120x25", name="Upper fan", at_mm=(119.0, 156.0, 0.0), face="top", blows="out"
        ),
        Placement(
            id="fan-left", component="fan-120x25", name="Left fan", at_mm=(0.0, 150.0, 66.0), face="left", blows="in"
        ),
        Placement(id="riser", component="riser-200", name="Riser", at_mm=(227.0, 180.0, 8.0), turn=90),
        Placement(id="card", component="card-2-half", name="Card", at_mm=(231.0, 262.6, 23.0), turn=270, on="riser"),
    ):
        d = apply(d, Add(placement=p))
    return apply(d, PutVent(vent=VentField(id="vent-right", face="right", at_mm=(110.0, 60.0), size_mm=(120.0, 60.0))))


def heron_sliding() -> Design:
    """*Heron* made of panels that slide into one another, to be held beside the tray and its sleeve."""
    d = heron().model_copy(update={"name": "Heron, sliding panels"})
    return apply(d, Construct(construction=SlidingPanels()))


def wren_small() -> Design:
    """*Wren* for who has the small printer: base and lid in two pieces each."""
    d = wren().model_copy(update={"name": "Wren, for the small bed"})
    return apply(d, Set(path="printer", value=SMALL))


def heron_small() -> Design:
    """*Heron* on the small printer: covers on a frame, floor and top cut both ways."""
    d = heron().model_copy(update={"name": "Heron, for the small bed"})
    return apply(d, Together(edits=(Set(path="printer", value=SMALL), Construct(construction=FrameAndCovers()))))


def curlew_in_sheet() -> Design:
    """*Curlew* as printed corners that hold acrylic of 3 mm: all of it is a window."""
    d = curlew().model_copy(update={"name": "Curlew, in acrylic"})
    thick = (Set(path=f"shell.{x}", value=3.0) for x in ("wall_mm", "lid_mm"))
    return apply(d, Together(edits=(Construct(construction=CornersAndSheet()), *thick)))


SCENARIOS: dict[str, Callable[[], Design]] = {
    "wren": wren,
    "heron": heron,
    "heron-sliding": heron_sliding,
    "heron-panels": heron_panels,
    "dunlin": dunlin,
    "curlew": curlew,
    "curlew-in-sheet": curlew_in_sheet,
    "wren-small": wren_small,
    "heron-small": heron_small,
}
