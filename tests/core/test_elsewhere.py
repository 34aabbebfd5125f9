"""Ways out that print a case on another printer or make it another way: room for the thicker rim of its nozzle, and for its posts."""

from __future__ import annotations

import pytest

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.concerns.elsewhere import print_on, with_room
from rhombex.core.concerns.registry import Remedy
from rhombex.core.constructions import SlidingPanels, TwoHalves
from rhombex.core.design import Design, OwnOpening, Shell
from rhombex.core.edits import Construct, FitCavity, MoveWall, PlaceNew, Set, Together
from rhombex.core.shell.offers import usual
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

IN_PLASTIC = ("component-in-part", "part-in-rim", "parts-overlap")


def in_plastic(d: Design) -> set[str]:
    return {f.code for f in judge(analyse(d, ARCHIVE_WORKSHOP, "none"))} & set(IN_PLASTIC)


def test_walls_go_out_for_a_thicker_rim_or_get_as_thick() -> None:
    """A nozzle of 0.6: tongue, cheeks and play are wider than a wall of 2.89. A board beside it wants the wall farther out; a supply that is fixed to it a
    wall as thick as the rim. Where nothing is near, the printer alone is changed."""
    larger = ARCHIVE_WORKSHOP.printer("bench-300")
    assert larger is not None
    shell = Shell(inner_mm=(300, 260, 140), construction=TwoHalves(joint_mm=60))
    for keys, room in ((("sbc-85x56",), True), (("supply-atx", "sbc-85x56"), False)):
        d = Design(name="x", shell=shell, printer="bench-180")
        for key in keys:
            d = apply(d, PlaceNew(component=key))
        roomy = analyse(d, ARCHIVE_WORKSHOP, "none")
        bare = apply(d, Set(path="printer", value="bench-300"))
        if not in_plastic(bare):
            assert print_on(roomy, larger).edits == (Set(path="printer", value="bench-300"),)
        d = apply(d, walls_round(roomy))
        a = analyse(d, ARCHIVE_WORKSHOP, "none")
        remedy = print_on(a, larger)
        assert in_plastic(apply(d, Set(path="printer", value="bench-300"))) and not in_plastic(d)
        assert not in_plastic(apply(d, Together(edits=remedy.edits))), keys
        walls = [e for e in remedy.edits if isinstance(e, FitCavity)]
        thick = [e for e in remedy.edits if isinstance(e, Set) and e.path == "shell.wall_mm"]
        assert (len(walls), len(thick)) == ((1, 0) if room else (0, 1)), remedy
        assert ("drawn out" in remedy.label) == room


def test_what_makes_no_rim_thicker_is_as_it_was(good_wren: Design) -> None:
    a = analyse(good_wren, ARCHIVE_WORKSHOP, "none")
    same = Remedy(label="Print it in PETG", edits=(Set(path="process.filament", value="PETG"),))
    assert with_room(a, same) == same


def test_the_same_walls_are_asked_anew_in_another_workshop_and_for_another_way_out() -> None:
    """The same printer with a nozzle as narrow as that of the bed of 180 makes no rim thicker: what was found for the wide one is not said of it."""
    same = Remedy(label="Print it in PETG", edits=(Set(path="process.filament", value="PETG"),))
    d = apply(
        Design(
            name="x", shell=Shell(inner_mm=(300, 260, 140), construction=TwoHalves(joint_mm=60)), printer="bench-180"
        ),
        PlaceNew(component="sbc-85x56"),
    )
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    wide, own = ARCHIVE_WORKSHOP.printer("bench-300"), ARCHIVE_WORKSHOP.printer("bench-180")
    assert wide is not None and own is not None and wide.nozzle_mm > own.nozzle_mm
    narrow = wide.model_copy(update={"nozzle_mm": own.nozzle_mm})
    printers = tuple(narrow if p.key == narrow.key else p for p in ARCHIVE_WORKSHOP.printers)
    other = ARCHIVE_WORKSHOP.model_copy(update={"printers": printers})
    for _ in range(2):
        a = analyse(d, ARCHIVE_WORKSHOP, "none")
        assert len(print_on(a, wide).edits) == 2
        assert with_room(a, same) == same
        assert len(print_on(analyse(d, other, "none"), narrow).edits) == 1


def test_posts_of_sliding_panels_keep_their_cheeks_elsewhere(good_wren: Design) -> None:
    """Lines of a nozzle of 0.6 and a looser slide: walls of 2.89 would leave cheeks of less than two lines, printed or before sheet."""
    larger = ARCHIVE_WORKSHOP.printer("bench-300")
    assert larger is not None
    for sheet in ((), ("left",)):
        d = apply(good_wren, Construct(construction=SlidingPanels(sheet=sheet)))  # type: ignore[arg-type]
        if sheet:
            d = apply(d, Set(path="shell.wall_mm", value=3.34))
        a = analyse(d, ARCHIVE_WORKSHOP, "none")
        assert not [f for f in judge(a) if f.code == "groove-cheek-thin"]
        bare = apply(d, Set(path="printer", value="bench-300"))
        assert [f for f in judge(analyse(bare, ARCHIVE_WORKSHOP, "none")) if f.code == "groove-cheek-thin"]
        remedy = print_on(a, larger)
        after = apply(d, Together(edits=remedy.edits))
        assert remedy.label == f"Print on {larger.name}, with walls of {after.shell.wall_mm:g} mm"
        assert not [f for f in judge(analyse(after, ARCHIVE_WORKSHOP, "none")) if f.code == "groove-cheek-thin"]
        thinner = apply(after, Set(path="shell.wall_mm", value=round(after.shell.wall_mm - 0.03, 2)))
        assert [f for f in judge(analyse(thinner, ARCHIVE_WORKSHOP, "none")) if f.code == "groove-cheek-thin"]


@pytest.mark.parametrize(
    ("kind", "wide_mm"), [("frame and covers", 12.0), ("corners and sheet", 14.0), ("sliding panels", 10.0)]
)
def test_another_construction_has_room_for_its_posts(kind: str, wide_mm: float) -> None:
    """A drive with its walls drawn round it reaches into the corners, where posts of another construction would stand: the walls go out with it, so that
    neither is in the other's place. In a wide room they stay."""
    d = Design(name="x", shell=Shell(inner_mm=(160, 240, 90), construction=TwoHalves(joint_mm=80)))
    d = apply(d, PlaceNew(component="drive-3.5"))
    way = Remedy(label="Make it so", edits=(Construct(construction=usual(d, kind)),))
    tight = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    assert in_plastic(apply(tight, way.edits[0])) == {"component-in-part"}
    roomy = with_room(analyse(tight, ARCHIVE_WORKSHOP, "none"), way)
    assert roomy.label == "Make it so, with its walls drawn out"
    made = analyse(apply(tight, Together(edits=roomy.edits)), ARCHIVE_WORKSHOP, "none")
    assert abs(made.case.pillar_mm - wide_mm) < 1e-6 and not in_plastic(made.design)
    x, y = (made.design.shell.inner_mm[i] - tight.shell.inner_mm[i] for i in (0, 1))
    assert 0 < x <= 2 * wide_mm and 0 < y <= 2 * wide_mm
    wide = apply(apply(d, MoveWall(face="left", by_mm=40)), MoveWall(face="front", by_mm=40))
    assert with_room(analyse(wide, ARCHIVE_WORKSHOP, "none"), way) == way


@pytest.mark.parametrize(
    ("ends", "printers"),
    [((60, 440), []), ((150, 350), ["Bench 300"]), ((145, 345), ["Bench 220", "Bench 300"])],
)
def test_no_printer_is_offered_that_would_not_divide_the_part_either(
    ends: tuple[float, float], printers: list[str]
) -> None:
    """An opening in the front that no cut may cross, 380 or 200 long: what is left beside it, and it, fit on a bed of 300, of 220, or on none."""
    wide = 490 if ends[0] == 145 else 500
    slot = OwnOpening(
        id="slot",
        name="Slot",
        face="front",
        at_mm=(sum(ends) / 2, 15),
        shape="rectangle",
        size_mm=(ends[1] - ends[0], 12),
    )
    shell = Shell(inner_mm=(wide, 140, 60), construction=TwoHalves(joint_mm=45))
    d = apply(Design(name="x", shell=shell, printer="bench-180"), PlaceNew(component="sbc-65x30"))
    d = d.model_copy(update={"own_openings": (slot,)})
    found = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "no-place-for-cut")
    offered = [r for r in found.remedies if r.label.startswith("Print on")]
    assert [r.label.removeprefix("Print on ").split(",")[0] for r in offered] == printers
    for r in offered:
        then = judge(analyse(apply(d, Together(edits=r.edits)), ARCHIVE_WORKSHOP, "preview"))
        assert found.key not in {f.key for f in then}
    if not printers:
        assert [r.label for r in found.remedies] == ["Make it a frame with covers, with its walls drawn out"]
