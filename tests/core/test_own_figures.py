"""What a workshop measured or pays itself stands in place of the tables, and says so."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from rhombex.core.advice.materials import blocks
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, Process
from rhombex.core.edits import Set, Together
from rhombex.core.exchange.package import bill_csv, process_notes
from rhombex.core.fit.allowance import allowance, spread_mm
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import tally
from rhombex.core.process.filament import price_per_kg, temperature_c
from rhombex.core.shop_edits import PutFilament, PutPrinter, PutSpool, RemoveFilament, apply_shop, describe_shop
from rhombex.core.workshop.own import FEATURES, Feature, OwnAllowance, OwnFilament
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Spool, Workshop

BENCH = ARCHIVE_WORKSHOP.printers[1]


def with_own(*own: OwnAllowance) -> Printer:
    return BENCH.model_copy(update={"allowances": own})


def shop(printer: Printer) -> Workshop:
    return apply_shop(ARCHIVE_WORKSHOP, PutPrinter(printer=printer))


@pytest.mark.parametrize("feature", FEATURES)
def test_a_coupon_replaces_the_table_for_its_filament_only(feature: Feature) -> None:
    pla, petg = Process(), Process(filament="PETG")
    usual = allowance(feature, pla, BENCH, 10)
    own = with_own(OwnAllowance(filament="PLA", feature=feature, mm=0.25))
    told = allowance(feature, pla, own, 10)
    base = usual.inputs[0]
    assert told.value == pytest.approx(usual.value - base.value + 0.25)  # growth and shrinkage go on top as before
    # why shows both: what holds, and what it stands in place of
    assert (told.inputs[0].value, told.inputs[0].source) == (0.25, "coupon of Bench 220 in PLA")
    assert told.inputs[1].name == "in place of" and told.inputs[1].value == base.value and told.inputs[1].source
    assert told.source == "this workshop's coupon"
    assert allowance(feature, petg, own, 10) == allowance(feature, petg, BENCH, 10)
    if feature not in ("tongue_top", "dowel_slip"):
        assert spread_mm(feature) > 0


def test_the_openings_of_every_design_follow(wren: Design) -> None:
    """The HDMI opening is 15 wide; 0.35 + 0.0225 on each side by the table (15 x 0.3 % / 2), 0.20 + 0.0225 by the coupon."""
    width = {}
    for mm in (None, 0.20):
        own = () if mm is None else (OwnAllowance(filament="PLA", feature="port_opening", mm=mm),)
        a = analyse(wren, shop(with_own(*own)))
        hdmi = next(o for o in a.openings.openings if o.id == "board/screen")
        width[mm] = hdmi.size_mm[0]
    assert width[None] == pytest.approx(15 + 2 * (0.35 + 0.0225), abs=1e-6)
    assert width[0.20] == pytest.approx(15 + 2 * (0.20 + 0.0225), abs=1e-6)


def test_own_price_and_temperatures_hold_where_the_rack_has_no_price(wren: Design) -> None:
    bare = ARCHIVE_WORKSHOP.model_copy(update={"spools": ()})
    own = apply_shop(bare, PutFilament(filament=OwnFilament(kind="PLA", price_per_kg=30, nozzle_c=225)))
    assert price_per_kg(bare, Process()).value == 18 and price_per_kg(own, Process()).value == 30
    assert (
        price_per_kg(own, Process()).source == "this workshop"
        and price_per_kg(own, Process(filament="PETG")).value == 19
    )
    assert (temperature_c(own, Process(), "nozzle").value, temperature_c(own, Process(), "bed").value) == (225, 55)
    cost = {
        w: next(t for t in tally(analyse(wren, shop_)) if t.label == "Filament cost").trail.value
        for w, shop_ in (("table", bare), ("own", own))
    }
    assert cost["own"] == pytest.approx(cost["table"] * 30 / 18, rel=1e-3)
    notes = process_notes(wren.process, BENCH, own)
    assert (notes["nozzle_c"], notes["bed_c"]) == ("225", "55")
    # what a spool of the rack cost goes before
    priced = ARCHIVE_WORKSHOP.spools[0].model_copy(update={"filament": "PLA", "price_per_kg": 21.0, "left_g": 500.0})
    assert price_per_kg(own.model_copy(update={"spools": (priced,)}), Process()).value == 21


def test_a_printer_that_is_not_hot_enough_for_the_own_temperature_is_told() -> None:
    hot = apply_shop(ARCHIVE_WORKSHOP, PutFilament(filament=OwnFilament(kind="PETG", nozzle_c=270, bed_c=95)))
    assert blocks(Process(filament="PETG"), BENCH, 0.4, ARCHIVE_WORKSHOP) == ()
    assert blocks(Process(filament="PETG"), BENCH, 0.4, hot) == (
        f"nozzle: wants 270 °C, Bench 220 reaches {BENCH.nozzle_max_c:g}",
        f"bed: wants 95 °C, Bench 220 reaches {BENCH.bed_max_c:g}",
    )
    assert describe_shop(PutFilament(filament=OwnFilament(kind="PETG"))) == "figures of PETG"
    again = apply_shop(hot, PutFilament(filament=OwnFilament(kind="PETG", price_per_kg=25)))
    assert len(again.filaments) == 1 and again.own_filament("PETG").nozzle_c is None  # type: ignore[union-attr]


@pytest.mark.parametrize(
    "dried_g, kind, told",
    [
        (0.0, "PC", ("weigh", "None of the PC on the rack was dried")),
        (30.0, "PC", ("weigh", "Some of the PC on the rack was dried")),
        (400.0, "PC", None),
        (0.0, "PETG", ("advice", "None of the PETG on the rack was dried")),
        (0.0, "PLA", None),  # hardly draws water
    ],
)
def test_a_spool_that_was_never_dried_is_told_of_kinds_that_draw_water(
    good_wren: Design, dried_g: float, kind: str, told: tuple[str, str] | None
) -> None:
    """By what lies on the rack: grams that were ever dried against what Wren takes, some 150."""
    rack = [Spool(id="wet", filament=kind, colour="a", left_g=500)]  # type: ignore[arg-type]
    if dried_g:
        rack.append(Spool(id="dry", filament=kind, colour="b", left_g=dried_g, dried="2026-11-20"))  # type: ignore[arg-type]
    shop = ARCHIVE_WORKSHOP.model_copy(update={"spools": tuple(rack)})
    d = apply(good_wren, Set(path="process.filament", value=kind))
    found = [f for f in judge(analyse(d, shop, "settled")) if f.code == "filament-not-dried"]
    assert [(f.severity, f.title) for f in found] == ([told] if told else [])
    if found:
        assert found[0].measured == dried_g and 120 < found[0].limit < 200 and "Dry it at" in found[0].reason


def test_what_is_not_on_the_rack_is_not_called_wet(good_wren: Design) -> None:
    bare = ARCHIVE_WORKSHOP.model_copy(update={"spools": ()})
    d = apply(good_wren, Set(path="process.filament", value="PC"))
    codes = {f.code for f in judge(analyse(d, bare, "settled"))}
    assert "filament-not-dried" not in codes and "rack-runs-out" in codes


MATT = OwnFilament(kind="PLA", key="pla-matt", name="PLA matt", price_per_kg=42, nozzle_c=222)
IN_MATT = Process(own_filament="pla-matt")


def with_matt(*spools: Spool) -> Workshop:
    """A rack with 640 g of plain PLA, and what is said of a filament of one's own."""
    bare = ARCHIVE_WORKSHOP.model_copy(update={"spools": (ARCHIVE_WORKSHOP.spools[0],)})
    return apply_shop(bare, PutFilament(filament=MATT)).model_copy(update={"spools": (*bare.spools, *spools)})


def test_a_filament_of_ones_own_has_its_price_and_temperatures_and_bears_like_its_kind(good_wren: Design) -> None:
    shop_ = with_matt()
    assert (price_per_kg(shop_, IN_MATT).value, price_per_kg(shop_, Process()).value) == (42, 18)
    assert temperature_c(shop_, IN_MATT, "nozzle").name == "nozzle for PLA matt"
    assert (temperature_c(shop_, IN_MATT, "nozzle").value, temperature_c(shop_, Process(), "nozzle").value) == (
        222,
        210,
    )
    # what it leaves open is as the workshop has its kind, and as the table has it where that says nothing either
    assert temperature_c(shop_, IN_MATT, "bed").value == 55
    warm = apply_shop(shop_, PutFilament(filament=OwnFilament(kind="PLA", bed_c=60)))
    assert temperature_c(warm, IN_MATT, "bed").value == 60 and len(warm.filaments) == 2
    notes = process_notes(IN_MATT, BENCH, shop_)
    assert (notes["filament"], notes["own_filament"], notes["nozzle_c"]) == ("PLA", "PLA matt", "222")
    plain, matt = (
        analyse(d, shop_) for d in (good_wren, apply(good_wren, Set(path="process.own_filament", value="pla-matt")))
    )
    cost = [next(t for t in tally(a) if t.label == "Filament cost").trail.value for a in (plain, matt)]
    assert cost[1] == pytest.approx(cost[0] * 42 / 18, rel=1e-3)
    assert "PLA matt" in bill_csv(matt) and "PLA matt" not in bill_csv(plain)
    # of another kind it is not the one that was meant
    assert price_per_kg(shop_, IN_MATT.model_copy(update={"filament": "PETG"})).value == 19


def test_only_its_own_spools_count(good_wren: Design) -> None:
    """Wren takes some 150 g; 640 g of plain PLA lie there."""
    d = apply(good_wren, Set(path="process.own_filament", value="pla-matt"))
    for grams, said in ((None, ["No PLA matt on the rack"]), (60, ["Not enough PLA matt on the rack"]), (400, [])):
        mine = () if grams is None else (Spool(id="m", filament="PLA", own="pla-matt", colour="chalk", left_g=grams),)
        found = [f for f in judge(analyse(d, with_matt(*mine), "settled")) if f.code == "rack-runs-out"]
        for f in found:
            assert f.remedies[0].label == f"Print it in any PLA, of which {640 + (grams or 0)} g are left"
            after = apply(d, Together(edits=f.remedies[0].edits))
            assert after.process.own_filament is None
        assert [f.title for f in found] == said and [f.measured for f in found] == [grams or 0] * len(said)
        assert not [f for f in judge(analyse(good_wren, with_matt(*mine), "settled")) if f.code == "rack-runs-out"]


def test_a_filament_of_ones_own_is_put_up_changed_and_taken_away() -> None:
    shop_ = with_matt(Spool(id="m", filament="PLA", own="pla-matt", colour="chalk", left_g=400))
    dearer = apply_shop(shop_, PutFilament(filament=MATT.model_copy(update={"price_per_kg": 50})))
    assert [f.price_per_kg for f in dearer.filaments] == [50] and describe_shop(
        PutFilament(filament=MATT)
    ) == "figures of PLA matt"
    gone = apply_shop(shop_, RemoveFilament(key="pla-matt"))
    assert gone.filaments == () and [s.own for s in gone.spools] == [None, None]  # the spool stays, as plain PLA
    with pytest.raises(DesignError, match="no filament 'nobody'"):
        apply_shop(shop_, RemoveFilament(key="nobody"))
    for wrong in ({"own": "nobody"}, {"filament": "PETG"}):
        with pytest.raises(DesignError, match="of one's own called"):
            apply_shop(shop_, PutSpool(spool=shop_.spools[1].model_copy(update=wrong)))
    with pytest.raises(ValidationError, match="has a key and a name"):
        OwnFilament(kind="PLA", key="pla-matt")


def test_a_filament_that_this_workshop_does_not_have_is_told(good_wren: Design) -> None:
    d = apply(good_wren, Set(path="process.own_filament", value="pla-matt"))
    (f,) = [f for f in judge(analyse(d, ARCHIVE_WORKSHOP)) if f.code == "own-filament-not-here"]
    assert (f.severity, f.measured, f.limit, f.title) == (
        "weigh",
        0,
        1,
        "The filament “pla-matt” is not in this workshop",
    )
    assert [r.label for r in f.remedies] == ["Print it in plain PLA"]
    assert apply(d, Together(edits=f.remedies[0].edits)).process.own_filament is None
    assert "own-filament-not-here" not in {f.code for f in judge(analyse(d, with_matt()))}
    (f,) = [
        f
        for f in judge(analyse(apply(good_wren, Set(path="process.own_filament", value="x")), with_matt()))
        if f.code == "own-filament-not-here"
    ]
    assert [r.label for r in f.remedies] == ["Print it in plain PLA", "Print it in PLA matt"]
