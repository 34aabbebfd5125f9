"""A piece that is printed otherwise than its part: another filament or colour that prints alone and is joined."""

from __future__ import annotations

import io
import json
import zipfile

import pytest

from rhombex.core.advice.pauses import pauses
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge_bare
from rhombex.core.constructions import Magnets
from rhombex.core.design import Design, PinnedCut, read_design
from rhombex.core.edits import HoldByMagnets, JoinCuts, PrintPart, PutCuts, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.plan.plates import plates
from rhombex.core.plan.tally import tally
from rhombex.core.reference import val
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import GOOD_WREN


def small(*more: object) -> Design:
    d = read_design(json.loads(GOOD_WREN.read_text()))
    return apply(d, Together(edits=(Set(path="printer", value="bench-180"), *more)))  # type: ignore[arg-type]


def look(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def as_of(d: Design, piece: str, **change: object) -> PrintPart:
    return PrintPart(part=piece, process=d.process.model_copy(update=change))


def test_one_piece_alone_is_of_another_filament() -> None:
    """Grams by density: the lid's second piece in PETG weighs 1.27 / 1.24 of what it did, the first what it did."""
    d = small()
    plain, a = look(d), look(apply(d, as_of(d, "lid-2", filament="PETG")))
    before, after = ({p.name: p for p in x.pieces} for x in (plain, a))
    assert {n: p.printed_as for n, p in after.items()} == {
        "base-1": "base",
        "base-2": "base",
        "lid-1": "lid",
        "lid-2": "lid-2",
    }
    for name in before:
        p, q = before[name].estimate, after[name].estimate
        assert p is not None and q is not None
        share = val("materials.PETG.density") / val("materials.PLA.density") if name == "lid-2" else 1.0
        assert q.mass_g.value == pytest.approx(p.mass_g.value * share, rel=0.02 if name == "lid-2" else 1e-9)
        assert before[name].digest == after[name].digest  # allowances are those of the part
    # it lies on a plate of its own, and its price is in the sum
    laid = [{q.piece for q in x.places} for x in plates(a)]
    assert {"lid-2"} in laid and all("lid-2" not in names or len(names) == 1 for names in laid)
    money = next(t for t in tally(a) if t.key == "money").trail
    assert any("PETG" in str(i) for i in money.inputs)


def test_a_piece_is_judged_by_what_it_is_printed_in() -> None:
    """ABS on an open printer: told of the one piece, with a remedy for that piece alone."""
    d = small()
    a = look(apply(d, as_of(d, "base-1", filament="ABS")))
    told = [f for f in judge_bare(a) if f.code == "needs-enclosure"]
    assert [f.subjects[0] for f in told] == ["base-1"] and "base-1" in told[0].title
    mends = [r for r in told[0].remedies if any(isinstance(e, PrintPart) for e in r.edits)]
    for r in mends:
        assert all(e.part == "base-1" for e in r.edits if isinstance(e, PrintPart))
        then = look(apply(a.design, Together(edits=r.edits)))
        assert not [f for f in judge_bare(then) if f.code == "needs-enclosure"]


def test_support_is_given_to_the_piece_that_wants_it() -> None:
    d = small()
    own = as_of(d, "base-1", supports=True)
    a = analyse(apply(d, own), ARCHIVE_WORKSHOP)
    b = analyse(d, ARCHIVE_WORKSHOP)
    grams = [{p.name: e.support_g for p, e in x.estimated()} for x in (a, b)]
    assert grams[0]["base-1"] > 0 and all(g == 0 for n, g in grams[0].items() if n != "base-1")
    assert set(grams[1].values()) == {0}


def test_its_own_brim_counts_on_the_bed_and_its_own_layers_in_a_pause() -> None:
    """168 mm are left of a bed of 180 for pieces with 4 of brim; with 20 more on either side 128, and a piece of 141 x 144 is too large."""
    d = small()
    wide = look(apply(d, as_of(d, "base-2", brim_mm=24.0)))
    fits = {p.name: p.fits_bed for p in wide.pieces}
    assert not fits["base-2"] and all(ok for n, ok in fits.items() if n != "base-2")
    closed = apply(small(), HoldByMagnets(magnets=Magnets(d_mm=6, high_mm=3, fixed="closed in")))
    thick = apply(closed, as_of(closed, "lid-1", layer_mm=0.28, first_layer_mm=0.28))
    at = [{p.piece: p.after_layer for p in pauses(look(x))} for x in (closed, thick)]
    assert at[1]["lid-1"] < at[0]["lid-1"] and at[1]["lid-2"] == at[0]["lid-2"]


def test_it_is_written_so_and_given_back() -> None:
    d = small()
    other = apply(d, as_of(d, "lid-2", filament="PETG"))
    files = package(look(other), ("3mf",))
    names = {n for n in files if n.endswith(("lid-1.3mf", "lid-2.3mf"))}
    assert len(names) == 2
    for n in names:
        model = zipfile.ZipFile(io.BytesIO(files[n])).read("3D/3dmodel.model").decode()
        assert (">PETG<" in model) == n.endswith("lid-2.3mf")
    back = apply(other, PrintPart(part="lid-2", process=None))
    assert back.part_processes == () and look(back).pieces == look(d).pieces
    # a part that is whole again keeps nothing of it
    whole = apply(other, Set(path="printer", value="bench-300"))
    assert {p.printed_as for p in look(whole).pieces} == {"base", "lid"}


def test_a_seam_between_unlike_kinds_is_told_where_it_is_glued() -> None:
    """ABS and ASA are alike enough for one glue; four pieces are told by those that meet."""

    def told(d: Design) -> list[str]:
        return [f.title for f in judge_bare(look(d)) if f.code == "glue-between-kinds"]

    abs_ = small(Set(path="process.filament", value="ABS"))
    assert told(apply(abs_, as_of(abs_, "lid-2", filament="ASA"))) == []
    d = small()
    assert told(apply(d, as_of(d, "base-1", filament="ABS"))) == ["Glue joins ABS and PLA in the base"]
    bolted = apply(d, JoinCuts(part="base", by="bolts"))
    assert told(apply(bolted, as_of(bolted, "base-1", filament="ABS"))) == []
    three = apply(d, PutCuts(part="lid", cuts=tuple(PinnedCut(part="lid", axis="x", at_mm=x) for x in (50.0, 110.0))))
    both_ends = Together(edits=(as_of(three, "lid-1", filament="PETG"), as_of(three, "lid-3", filament="PETG-CF")))
    assert told(apply(three, both_ends)) == ["Glue joins PETG and PLA in the lid"]
