"""What is different between two designs is told in words, each thing once."""

from __future__ import annotations

from rhombex.core.apply import apply
from rhombex.core.design import Design, OwnOpening, Pane, Process
from rhombex.core.edits import Edit, LayPart, Move, PrintPart, PutOwnOpening, Remove, Set, Swap, Together, Turn
from rhombex.core.looked import look
from rhombex.core.versions import differences
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP


def told(design: Design, *edits: Edit) -> dict[tuple[str, str], tuple[str, str]]:
    other = apply(design, Together(edits=edits)) if edits else design
    found = differences(*look(design, ARCHIVE_WORKSHOP, "preview"), *look(other, ARCHIVE_WORKSHOP, "preview"))
    assert len({(d.of, d.what) for d in found}) == len(found)
    return {(d.of, d.what): (d.here, d.there) for d in found}


def test_a_design_is_like_itself(good_wren: Design) -> None:
    assert told(good_wren) == {}


def test_components_that_moved_were_changed_or_left_out(good_wren: Design) -> None:
    found = told(good_wren, Move(id="drive", to_mm=(40, 78.5, 6)), Turn(id="button", by=90), Remove(id="cooler"))
    assert found["components", "place of Drive"][1] == "40 / 78.5 / 6 mm"
    label = good_wren.component("cooler-40x11").label  # type: ignore[union-attr]
    assert found["components", "Cooler"] == (label, "")
    assert ("components", "Drive") not in found
    found = told(good_wren, Swap(id="drive", component="drive-2.5x15"))
    assert found["components", "Drive"][0].endswith("7 mm") and "15 mm" in found["components", "Drive"][1]


def test_the_case_and_what_is_bought_for_it(good_wren: Design) -> None:
    found = told(good_wren, Set(path="shell.wall_mm", value=3.72), Set(path="shell.foot", value="screwed"))
    assert found["case", "walls"] == ("2.89 mm", "3.72 mm") and found["case", "foot"] == ("stick-on", "screwed")
    assert found["to buy", "foot, stick-on 10 mm, base"] == ("4", "")
    assert found["to buy", "nut M3, feet"] == ("", "3")
    # no word on what is none in both
    assert not [x for x in found.values() if x[0] == x[1]]


def test_openings_printing_pieces_and_concerns(good_wren: Design) -> None:
    window = OwnOpening(
        id="w", name="Window", face="top", at_mm=(115, 70), size_mm=(60, 40), allowed=False, pane=Pane()
    )
    rough = Process(filament="PETG", layer_mm=0.3)
    found = told(
        good_wren,
        PutOwnOpening(opening=window),
        PrintPart(part="lid", process=rough),
        Set(path="process.infill", value=0.35),
        Set(path="printer", value="bench-180"),
        LayPart(part="lid", down="bottom"),
    )
    assert found["openings", "Window"] == ("", "60.0 × 40.0 mm on the top, closed by 2 mm acrylic")
    assert found["printing", "printer"] == ("Bench 220", "Bench 180") and found["printing", "infill"] == ("0.2", "0.35")
    assert found["printing", "layer of the lid"] == ("0.2 mm", "0.3 mm")
    assert found["printing", "filament of the lid"] == ("PLA", "PETG")
    assert found["pieces", "base"] == ("1", "2")
    stops = [k for k, v in found.items() if k[0] == "concerns" and v[1]]
    assert stops and all(found[k][0] == "" and found[k][1] in ("stops", "to weigh") for k in stops)
