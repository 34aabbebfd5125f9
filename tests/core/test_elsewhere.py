"""Ways out that print a case on another printer: room for the thicker rim of its nozzle."""

from __future__ import annotations

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.concerns.elsewhere import print_on, with_room
from rhombex.core.concerns.registry import Remedy
from rhombex.core.constructions import SlidingPanels, TwoHalves
from rhombex.core.design import Design, Shell
from rhombex.core.edits import Construct, FitCavity, PlaceNew, Set, Together, walls_round
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
        d = apply(d, walls_round(roomy.case))
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
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none").case))
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
