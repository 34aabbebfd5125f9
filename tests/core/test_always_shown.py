"""A design always opens: what a hand can type is shown, what breaks silences only itself."""

from __future__ import annotations

import json
from dataclasses import replace
from random import Random

import pytest

from rhombex.core import analysis, faults
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.begun import begun
from rhombex.core.concerns import Finding, before_cuts, judge, registry
from rhombex.core.design import Adapter, Design, Panel, Placement, VentField, read_design
from rhombex.core.edits import (
    Add,
    Move,
    MoveWall,
    PutAdapter,
    PutCut,
    PutPanel,
    PutVent,
    RemoveVent,
    Set,
    Swap,
    Together,
    read_edit,
)
from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import tally
from rhombex.core.process import estimate as estimates
from rhombex.core.process.pace import pace_of
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.paced import PacedPrint
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron
from rhombex.web.look import view_of
from tests.conftest import findings, forget_hours
from tests.mutate import mutated, random_edit, starts


def shown(d: Design) -> tuple[Finding, ...]:
    """The concerns of a design, once everything that the browser gets could be written."""
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    found = judge(a)
    view_of(a, found, {}).model_dump_json()
    return found


@pytest.mark.parametrize(
    ("id", "at", "code", "measured"),
    [
        # by hand: the drive stands at the height of its lower face
        ("drive", (38.6, 78.0, -10.0), "component-in-floor", -10.0),
        ("cooler", (115.6, -2000.0, 6.8), "component-hits-wall", None),
        ("board", (120.1, -1990.0, 2.6), "component-hits-wall", None),
    ],
)
def test_a_thing_far_out_is_a_stop_and_the_rest_is_made(
    wren: Design, id: str, at: tuple[float, float, float], code: str, measured: float | None
) -> None:
    far = apply(wren, Move(id=id, to_mm=at))
    found = [f for f in shown(far) if f.code == code and id in f.subjects]
    assert found and found[0].severity == "stop"
    if measured is not None:
        assert found[0].measured == pytest.approx(measured) and found[0].limit == 0
        assert effect_of(far, ARCHIVE_WORKSHOP, found[0].key, found[0].remedies[0].edits).clears
    a = analyse(far, ARCHIVE_WORKSHOP, "preview")
    assert {p.part for p in a.pieces} >= {"lid"} and not [f for f in a.faults if f.kind == "stage"]
    assert not [f for f in shown(far) if f.code == "rule-broke"]


def test_a_drive_in_the_floor_leaves_the_base_whole(wren: Design) -> None:
    before = {p.part: p for p in analyse(wren, ARCHIVE_WORKSHOP, "preview").pieces}
    low = {
        p.part: p
        for p in analyse(apply(wren, Move(id="drive", to_mm=(38.6, 78, -10))), ARCHIVE_WORKSHOP, "preview").pieces
    }
    # a post that would end under the floor is left out; floor and walls weigh what they did, less four pads of 3 mm
    pads = 4 * 3.14159 / 4 * 9.1**2 * 3
    assert before["base"].volume_mm3 - low["base"].volume_mm3 == pytest.approx(pads, abs=pads / 2)
    assert low["base"].watertight and low["base"].bodies == 1


@pytest.mark.parametrize("size", [5e-324, 1e-9, 0.5])
def test_vents_of_nothing_are_shown_as_no_area(wren: Design, size: float) -> None:
    field = VentField(id="vent-back", face="back", at_mm=(60, 13), size_mm=(size, size), follow_heat=False)
    d = apply(wren, PutVent(vent=field))
    assert [f.measured for f in shown(d) if f.code == "vents-too-small"] == [0.0]


def test_vents_beyond_number_are_left_out_and_said() -> None:
    d = Design.model_validate(
        {
            "name": "Vast",
            "shell": {"inner_mm": [1900, 1900, 60], "construction": {"kind": "two halves", "joint_mm": 50}},
            "process": {},
        }
    )
    d = apply(
        d, PutVent(vent=VentField(id="all", face="top", at_mm=(900, 900), size_mm=(1800, 1800), follow_heat=False))
    )
    f = next(f for f in shown(d) if f.code == "not-worked-out")
    assert f.severity == "stop" and "4000 holes" in f.reason
    assert effect_of(d, ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits).clears


def test_a_panel_that_is_all_window_is_told_and_the_others_are_made() -> None:
    heron = starts()[1]
    all_window = Panel(id="front", name="Front", size_mm=(230, 190), window_mm=(-5, -5, 240, 200))
    d = apply(heron, PutPanel(panel=all_window))
    f = next(f for f in shown(d) if f.code == "part-not-made")
    assert f.severity == "stop" and f.title == "The Front cannot be made" and (f.measured, f.limit) == (0, 1)
    assert [r.label for r in f.remedies] == ["Leave its window out", "Take Front out"]
    for r in f.remedies:
        assert effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits).clears
    assert len(analyse(d, ARCHIVE_WORKSHOP, "preview").pieces) == 7


def test_a_printer_that_is_not_here_is_a_concern_with_two_ways_out(wren: Design) -> None:
    away = Design.model_validate(wren.model_dump() | {"printer": "attic-400"})
    f = next(f for f in shown(away) if f.code == "printer-not-here")
    assert f.severity == "stop" and "Attic 400" in f.title and "Bench 180" in f.reason
    assert f.remedies[0].label == "Print on Bench 180" and f.remedies[-1].label.startswith("Add Attic 400")
    for r in f.remedies:
        assert effect_of(away, ARCHIVE_WORKSHOP, f.key, r.edits, r.shop).clears, r.label
    assert findings(wren, "printer-not-here") == []
    # a name as long as a key may be still gives a printer that can be added
    longest = Design.model_validate(wren.model_dump() | {"printer": "x" * 40})
    assert findings(longest, "printer-not-here")[0].remedies[-1].shop[0].printer.name == "X" + "x" * 39


def test_a_rule_that_breaks_silences_only_itself(wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    before = [f.key for f in judge(analyse(wren, ARCHIVE_WORKSHOP))]

    def broken(_a: object) -> object:
        raise ZeroDivisionError("division by zero")

    monkeypatch.setattr(before_cuts, "_said", Memo(400))
    monkeypatch.setitem(registry.RULES, "lead-length", broken)  # type: ignore[arg-type]
    after = judge(analyse(wren, ARCHIVE_WORKSHOP))
    f = next(f for f in after if f.code == "rule-broke")
    assert "lead length" in f.title and "ZeroDivisionError" in f.reason and f.severity == "weigh"
    assert [k for k in before if not k.startswith("lead-length")] == [f.key for f in after if f.code != "rule-broke"]


@pytest.mark.parametrize(
    ("measured", "told"),
    [(41, "Too long"), (40.004, None), (39.99, None), (0, "The rule “lead length” could not look")],
)
def test_a_rule_whose_number_denies_what_it_says_is_not_passed_over(
    wren: Design, monkeypatch: pytest.MonkeyPatch, measured: float, told: str | None
) -> None:
    """A number that is as good as its limit is no concern; one on the right side of it is a mistake of the rule, and is told as one."""
    say = registry.Maker("lead-length", "bench")
    numbers = {"measured": measured, "limit": 40.0, "unit": "mm", "sense": "at most"}
    found = say("stop", "Too long", how="h", reason="r", source="s", subjects=(), **numbers)  # type: ignore[arg-type]
    monkeypatch.setitem(registry.RULES, "lead-length", lambda *_: iter([found]))
    a = replace(analyse(wren, ARCHIVE_WORKSHOP), walls_key="")
    assert [x.title for x in registry.heard("lead-length", a)] == ([told] if told else [])


def test_an_estimate_that_breaks_silences_only_itself(wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = analyse(wren, ARCHIVE_WORKSHOP)
    real = estimates.of_mesh

    def broken(mesh: object, process: object, printer: object, level: object) -> object:
        if abs(mesh.volume() - next(p.volume_mm3 for p in whole.pieces if p.name == "lid")) < 9:  # type: ignore[attr-defined]
            raise ValueError("no such layer")
        return real(mesh, process, printer, level)  # type: ignore[arg-type]

    forget_hours()
    monkeypatch.setattr(estimates, "of_mesh", broken)
    a = analyse(wren, ARCHIVE_WORKSHOP)
    forget_hours()
    base, lid = (next(p for p in a.pieces if p.name == n) for n in ("base", "lid"))
    assert lid.estimate is None and base.estimate is not None
    f = next(f for f in judge(a) if f.code == "not-worked-out")
    assert f.severity == "weigh" and "hours of the lid" in f.title
    mass = next(t for t in tally(a) if t.key == "mass_g")
    assert mass.trail.value == pytest.approx(base.estimate.mass_g.value)
    view_of(a, judge(a), {}).model_dump_json()


def test_a_stage_that_breaks_is_a_stop(wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    from rhombex.core.shell import two_halves

    analysis._walled.forget()
    monkeypatch.setattr(two_halves, "lid_screws", lambda *_: 1 / 0)
    a = analyse(wren, ARCHIVE_WORKSHOP, "preview")
    assert [(f.kind, f.what) for f in a.faults] == [("stage", "lid screws")] and a.case.mounts and not a.case.joints
    f = next(f for f in judge(a) if f.code == "not-worked-out")
    assert f.severity == "stop" and {p.part for p in a.pieces} == {"base", "lid"}


def test_reasons_are_plain_and_carry_the_kind_of_error() -> None:
    assert faults.reason(DesignError("x", "it is too large")) == ("it is too large", "")
    assert faults.reason(MemoryError())[0].startswith("it needs more memory")
    assert faults.reason(KeyError("nose"))[1] == "KeyError: 'nose'"


def test_no_edit_makes_a_design_that_cannot_be_read_again(wren: Design) -> None:
    """Riders, towers and walls move along by copies that are not checked by themselves."""
    near = apply(wren, Move(id="board", to_mm=(1990, 30, 2.6)))
    with pytest.raises(DesignError, match="at most 2000"):
        apply(near, MoveWall(face="left", by_mm=50))
    with pytest.raises(DesignError, match="at most 2000"):
        apply(wren, Move(id="board", to_mm=(2e5, 0, 0)))
    for edit in (MoveWall(face="left", by_mm=9.0), PutCut(cut={"part": "base", "axis": "x", "at_mm": 60.0})):  # type: ignore[arg-type]
        d = apply(wren, edit)
        assert read_design(json.loads(d.model_dump_json())) == d


def test_samples_have_no_fault_and_no_broken_rule(workshop: object) -> None:
    for d in starts():
        a = analyse(d, ARCHIVE_WORKSHOP, "preview")
        assert a.faults == () and not [f for f in judge(a) if f.code == "rule-broke"], d.name


@pytest.mark.parametrize("start", range(3))
def test_mutated_documents_are_refused_by_name_or_shown(start: int) -> None:
    """A sample of `trials/documents.py`, which makes 20,000."""
    r = Random(7 + start)
    plain = json.loads(starts()[start].model_dump_json())
    seen = 0
    for _ in range(36):
        document = mutated(plain, r)
        try:
            d = read_design(document)
        except DesignError as e:
            assert e.field and e.message
            continue
        seen += 1
        assert not [f for f in shown(d) if f.code == "rule-broke"]
    assert seen >= 5


@pytest.mark.parametrize("start", range(3))
def test_random_edits_are_refused_by_name_or_shown(start: int) -> None:
    r, d = Random(90 + start), starts()[start]
    done = 0
    for _ in range(25):
        edit = random_edit(r, d)
        try:
            new = apply(d, read_edit(edit))
        except DesignError as e:
            assert e.field and e.message, edit
            continue
        d, done = new, done + 1
        assert not [f for f in shown(d) if f.code == "rule-broke"], edit
        assert read_design(json.loads(d.model_dump_json())) == d
    assert done >= 6


def test_hours_that_must_be_a_slip_do_not_lock_the_workshop() -> None:
    slips = tuple(PacedPrint(what="slip", planned_s=p, real_s=q) for p, q in ((1e-300, 3600), (3600, 1e-300)))
    good = tuple(PacedPrint(what="good", planned_s=3600, real_s=s) for s in (3900, 3960, 4020))
    p = Printer(key="x", name="X", bed_mm=(200, 200, 200), nozzle_mm=0.4, enclosed=False, paced=(*slips, *good))
    pace = pace_of(p)
    assert (pace.prints, pace.left_out) == (3, 2) and pace.factor == pytest.approx(1.1, abs=0.001)
    assert pace_of(p.model_copy(update={"paced": slips})).prints == 0


def test_vents_taken_out_again_leave_the_design_as_it_was(wren: Design) -> None:
    field = VentField(id="v", face="left", at_mm=(60, 13), size_mm=(20, 10))
    assert apply(apply(wren, PutVent(vent=field)), RemoveVent(id="v")) == wren
    assert apply(wren, Together(edits=(Set(path="brief.room_c", value=24), Set(path="brief.room_c", value=25)))) == wren


# what is told where there is no case round the components


def test_loose_panels_are_told_what_has_nothing_to_do_with_a_case() -> None:
    """Two boards in one place, a supply that is too small: true of any construction."""
    d = starts()[1]
    for id in ("one", "two"):
        d = apply(d, Add(placement=Placement(id=id, component="sbc-85x56", name=id.capitalize(), at_mm=(100, 100, 5))))
    d = apply(d, PutAdapter(adapter=Adapter(port="one/power", rail="5 V", watts=5)))
    found = {f.code: f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview"))}
    clash = found["components-collide"]
    # two boards of 85 x 56 at one place: the shortest way out is past the thickness of what overlaps
    assert clash.severity == "stop" and clash.measured < 0 and set(clash.subjects) == {"one", "two"}
    assert found["supply-too-small"].severity == "stop"
    # nothing of a lid, posts or walls that are not there
    assert not {
        "caution-inserts",
        "component-hits-wall",
        "component-hits-lid",
        "lid-screws-missing",
        "port-not-reachable",
    } & set(found)
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    assert {line.item for line in a.bill} == {"component"} and a.case.joints == () and a.openings.openings == ()


def test_the_bill_of_the_eight_panels_is_empty() -> None:
    assert analyse(starts()[1], ARCHIVE_WORKSHOP, "preview").bill == ()


def test_a_stop_with_nothing_in_it_is_not_begun(wren: Design) -> None:
    def stops(d: Design) -> tuple[str, ...]:
        return begun(analyse(d, ARCHIVE_WORKSHOP, "preview"))

    empty, panels = starts()[2], starts()[1]
    assert stops(empty) == ()
    assert stops(apply(empty, Set(path="brief.opened", value="weekly"))) == ("brief",)
    assert stops(panels) == ("brief", "shell", "cuts", "plan")
    assert stops(wren) == ("brief", "parts", "bench", "shell", "openings", "cuts", "hardware", "plan")


def test_a_remedy_beyond_what_a_design_holds_is_told_and_not_dropped() -> None:
    vents = registry.offered("Add vents", lambda: (PutVent(vent=VentField(id="v", face="top", at_mm=(9, 9), size_mm=(40, 2400))),))  # fmt: skip
    nothing = registry.offered("Do nothing", lambda: ())
    good = registry.offered("Turn the room cool", lambda: (Set(path="brief.room_c", value=20),))
    said = registry.Maker("vents-too-small", "air")(
        "weigh",
        "no way in",
        measured=0,
        limit=1,
        how="x",
        reason="Too hot.",
        source="a test",
        subjects=(),
        remedies=(*vents, *nothing, *good),
    )
    assert [r.label for r in said.remedies] == ["Turn the room cool"]
    assert said.reason == "Too hot. “Add vents” cannot be offered: it must be at most 2000, not 2400."


def test_a_source_of_next_to_nothing_breaks_no_rule(good_wren: Design) -> None:
    """Found by a random design: an adapter of 5e-324 W, whose margin was minus infinity."""
    d = apply(good_wren, PutAdapter(adapter=Adapter(port="board/power", rail="5 V", watts=5e-324)))
    found = shown(d)
    assert [f for f in found if f.code == "rule-broke"] == []
    assert any(f.severity == "stop" and "too small" in f.title for f in found)


@pytest.mark.parametrize("role", ["keepout", "plug"])
def test_a_component_of_room_alone_breaks_no_rule_and_is_told(role: str) -> None:
    """Rules that look where bodies end have nothing to look at there: on the floor, on another component, on a wall."""
    start = heron()
    for id in ("drive", "cooler", "supply", "fan-top"):
        of = start.component(next(p.component for p in start.placements if p.id == id))
        assert of is not None
        room = tuple(s.model_copy(update={"role": role}) for s in of.solids)
        own = of.model_copy(update={"key": "own-room", "solids": room})
        d = apply(start, Swap(id=id, component=own.key, custom=own))
        found = shown(d)
        assert not [f for f in found if f.code == "rule-broke"]
        told = next(f for f in found if f.code == "no-solid-body")
        assert (told.subjects, told.measured, told.limit, told.severity) == ((id,), 0, 1, "weigh")
        (way,) = told.remedies
        again = apply(d, Together(edits=way.edits))
        body = again.component("own-room")
        assert body is not None and {s.role for s in body.solids} == {"body"}
        assert "no-solid-body" not in {f.code for f in shown(again)}
