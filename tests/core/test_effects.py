"""What a step of a setting is told to do, against doing it."""

from __future__ import annotations

import pytest

from rhombex.core.advice.effects import SETTLED, effects
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.design import Design
from rhombex.core.edits import PrintPart, Set
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

DONE: dict[str, object] = {
    "layer_mm": 0.24,
    "perimeters": 4,
    "top_layers": 6,
    "bottom_layers": 5,
    "infill": 0.25,
    "lines_joined": True,
    "brim_mm": 0.0,
    "supports": True,
}


def _sums(a: Analysis, parts: tuple[str, ...]) -> tuple[float, float]:
    pieces = [p.estimate for p in a.pieces if p.part in parts]
    return sum(e.time_s.value for e in pieces), sum(e.mass_g.value for e in pieces)


def test_a_step_does_what_it_is_told_to_do(wren: Design) -> None:
    a = analyse(wren, ARCHIVE_WORKSHOP)
    told = effects(a)
    assert [e.field for e in told] == list(DONE)
    now = _sums(a, ("base", "lid"))
    for e in told:
        d = apply(wren, Set(path=f"process.{e.field}", value=DONE[e.field]))
        if e.field == "layer_mm":  # as thick a skin as before: 5 x 0.2 and 4 x 0.2 mm in layers of 0.24
            d = apply(apply(d, Set(path="process.top_layers", value=5)), Set(path="process.bottom_layers", value=4))
        then = _sums(analyse(d, ARCHIVE_WORKSHOP), ("base", "lid"))
        # settled ones are the same sums; the others are a difference between previews
        near = 0.002 if e.field in SETTLED else 0.01
        assert e.time_s == pytest.approx(then[0] - now[0], abs=near * now[0]), e.field
        assert e.mass_g == pytest.approx(then[1] - now[1], abs=near * now[1]), e.field


def test_top_layers_add_their_own_plastic(wren: Design) -> None:
    """By hand: one more solid layer on top of what was 20 % infill adds 80 % of a layer of the lid and of the base's floor."""
    told = {e.field: e for e in effects(analyse(wren, ARCHIVE_WORKSHOP))}
    assert told["top_layers"].step == "one more" and told["brim_mm"].step == "without it"
    assert 0 < told["top_layers"].mass_g < 2 * 171.6 * 144 * 0.2 * 0.8 * 1.24e-3
    assert told["bottom_layers"].stiffness > 1 and told["layer_mm"].time_s < 0 < told["infill"].time_s


def test_a_part_with_its_own_process_answers_for_itself(wren: Design) -> None:
    own = wren.process.model_copy(update={"infill": 0.99, "layer_mm": 0.3, "brim_mm": 0.0})
    a = analyse(apply(wren, PrintPart(part="lid", process=own)), ARCHIVE_WORKSHOP)
    lid = {e.field: e for e in effects(a, "lid")}
    assert "infill" not in lid  # nothing more fits in
    assert lid["layer_mm"].step == "0.26 mm"  # 0.34 is more than 0.8 x 0.4: the step goes down
    assert lid["brim_mm"].step == "5 mm" and lid["brim_mm"].mass_g > 0
    alone = effects(analyse(wren, ARCHIVE_WORKSHOP), "base")
    assert effects(a)[1].time_s == pytest.approx(alone[1].time_s, rel=1e-6)  # without the lid's
