"""A hand does not wait for hours that are being settled: they give way to it, and stop where what they are for has changed."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from threading import Event, Thread
from typing import Any

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design
from rhombex.core.edits import Set
from rhombex.core.memo import forget_all
from rhombex.core.process import simulate
from rhombex.core.progress import Stopped, between_steps, giving_way
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.web.app import make_app
from rhombex.web.hand import Hand
from tests.web.conftest import HOST, Calls


def own(wren: Design, wall: float) -> Design:
    """A case that nobody has looked at before: nothing of it is remembered."""
    return apply(wren, Set(path="shell.wall_mm", value=wall))


class Gate:
    """Holds work up until it is opened."""

    def __init__(self) -> None:
        self.reached, self.opened = Event(), Event()


def held_up(monkeypatch: pytest.MonkeyPatch) -> Gate:
    """Holds up at its first step whatever gives way to hands."""
    g, rests = Gate(), Hand.rests

    def held(hand: Hand) -> None:
        g.reached.set()
        g.opened.wait(60)
        rests(hand)

    monkeypatch.setattr(Hand, "rests", held)
    return g


@pytest.fixture
def gate(monkeypatch: pytest.MonkeyPatch) -> Iterator[Gate]:
    g, lay = Gate(), simulate.exact_row

    def held(*args: Any) -> Any:
        g.reached.set()
        g.opened.wait(60)
        return lay(*args)

    monkeypatch.setattr(simulate, "exact_row", held)
    yield g
    g.opened.set()


def levels(state: Any) -> set[str]:
    return {p["estimate"]["level"] for p in state["view"]["pieces"]}


def test_an_edit_is_answered_while_hours_are_settled(tmp_path: Path, wren: Design, gate: Gate) -> None:
    app = make_app(tmp_path, {HOST})
    one, other = Calls(app.test_client()), Calls(app.test_client())
    made = one.upload("/api/designs/read", "d.json", own(wren, 3.371).model_dump_json().encode()).json
    path, answers = f"/api/designs/{made['id']}", []
    background = Thread(target=lambda: answers.append(other.get(f"{path}/settled").json))
    background.start()
    assert gate.reached.wait(60)
    edited = one.post(
        f"{path}/edits",
        {
            "base_version": made["version"],
            "edits": [{"do": "set", "path": "shell.lid_mm", "value": 3.4}],
            "said": "lid",
        },
    )
    assert edited.status_code == 200 and not gate.opened.is_set() and not answers
    assert levels(edited.json) == {"preview"}
    gate.opened.set()
    background.join(60)
    # what it was for has changed: it is answered with what is, and not worked out to its end
    assert answers[0]["version"] == edited.json["version"] > made["version"] and levels(answers[0]) == {"preview"}
    after = one.get(f"{path}/settled").json
    assert after["version"] == edited.json["version"] and levels(after) == {"settled"}


def test_a_remedy_is_tried_no_further_once_the_design_has_changed(
    tmp_path: Path, wren: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    """It is held up at the first part that it makes, until an edit has been answered."""
    app = make_app(tmp_path, {HOST})
    one, other = Calls(app.test_client()), Calls(app.test_client())
    made = one.upload("/api/designs/read", "d.json", own(wren, 3.374).model_dump_json().encode()).json
    path, answers, gate = f"/api/designs/{made['id']}", [], held_up(monkeypatch)
    tried = {"key": "none", "edits": [{"do": "set", "path": "shell.lid_mm", "value": 3.45}]}
    background = Thread(target=lambda: answers.append(other.post(f"{path}/effect", tried)))
    background.start()
    assert gate.reached.wait(60)
    edit = {
        "base_version": made["version"],
        "edits": [{"do": "set", "path": "shell.lid_mm", "value": 3.4}],
        "said": "lid",
    }
    assert one.post(f"{path}/edits", edit).status_code == 200 and not answers
    gate.opened.set()
    background.join(60)
    assert (
        answers[0].status_code == 422 and "has been changed while this was tried" in answers[0].json["error"]["message"]
    )
    assert other.post(f"{path}/effect", tried).status_code == 200  # as the design is now


def test_remedies_are_looked_for_no_further_once_the_design_has_changed(
    tmp_path: Path, wren: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The search is held up at its first step, until an edit has been answered, which waits for none of it."""
    app = make_app(tmp_path, {HOST})
    one, other = Calls(app.test_client()), Calls(app.test_client())
    made = one.upload("/api/designs/read", "d.json", own(wren, 3.376).model_dump_json().encode()).json
    path, answers, gate = f"/api/designs/{made['id']}", [], held_up(monkeypatch)
    background = Thread(target=lambda: answers.append(other.get(f"{path}/concerns")))
    background.start()
    assert gate.reached.wait(60)
    edit = {
        "base_version": made["version"],
        "edits": [{"do": "set", "path": "shell.lid_mm", "value": 3.4}],
        "said": "lid",
    }
    edited = one.post(f"{path}/edits", edit)
    assert edited.status_code == 200 and not answers
    gate.opened.set()
    background.join(60)
    assert answers[0].json == {"version": edited.json["version"], "concerns": []}
    now = other.get(f"{path}/concerns").json
    assert now["version"] == edited.json["version"] and any(c["remedies"] for c in now["concerns"])


def test_a_design_is_opened_before_the_shelf_is_done(
    tmp_path: Path, wren: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A look for the shelf is held up at its first step; a design that is opened meanwhile is answered, and the shelf has its look in the end."""
    app = make_app(tmp_path, {HOST})
    one, other = Calls(app.test_client()), Calls(app.test_client())
    shelved, opened = (
        one.upload("/api/designs/read", "d.json", own(wren, mm).model_dump_json().encode()).json
        for mm in (3.378, 3.379)
    )
    forget_all()
    answers, gate = [], held_up(monkeypatch)
    background = Thread(target=lambda: answers.append(other.get(f"/api/designs/{shelved['id']}/glance?settled=false")))
    background.start()
    assert gate.reached.wait(60)
    assert one.get(f"/api/designs/{opened['id']}").status_code == 200 and not answers
    gate.opened.set()
    background.join(60)
    assert answers[0].status_code == 200


def test_hours_wait_where_a_hand_is_at_work(wren: Design) -> None:
    hand, steps = Hand(), []
    hand.rests()  # nobody is: at once

    def way() -> None:
        steps.append("asked")
        hand.rests()
        steps.append("went on")

    def work() -> None:
        with giving_way(way):
            analyse(own(wren, 3.372), ARCHIVE_WORKSHOP, "settled")

    with hand.moves():
        background = Thread(target=work)
        background.start()
        background.join(0.5)
        assert steps == ["asked"] and background.is_alive()
    background.join(60)
    assert steps.count("went on") == steps.count("asked") > 30  # parts, and layers that are laid out


def test_what_is_stopped_is_no_fault(wren: Design) -> None:
    """Whichever step it is stopped at; and the same work begun anew is done as ever."""
    design, count = own(wren, 3.373), 0

    def stops_at(step: int) -> None:
        nonlocal count
        count += 1
        if count == step + 1:  # once: what goes on after that has not been stopped
            raise Stopped

    for step in (0, 1, 5, 20, 40):
        count = 0
        with pytest.raises(Stopped), giving_way(lambda step=step: stops_at(step)):  # type: ignore[misc]
            judge(analyse(design, ARCHIVE_WORKSHOP, "settled"))
    between_steps()  # nobody asks any longer
    a = analyse(design, ARCHIVE_WORKSHOP, "settled")
    assert not a.faults and not [f for f in judge(a) if f.code in ("rule-broke", "could-not-look")]
    assert {p.estimate.level for p in a.pieces if p.estimate} == {"settled"}
