"""The jobs over every broker: two at a time and the rest in order, stopped, left alone, refused, told as they go."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fakeredis import TcpFakeServer

from rhombex.core.design import Design
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.jobs import jobs as module
from rhombex.jobs.broker import broker
from rhombex.jobs.job import ENDED, Job
from rhombex.jobs.jobs import Jobs, Say
from rhombex.jobs.kinds import _write
from rhombex.store.trouble import CannotOpen, CannotWrite

order: list[int] = []
gate = threading.Event()


def held(say: Say, *, k: int) -> int:
    order.append(k)
    while not gate.is_set():
        say(0.5, "working")
        time.sleep(0.01)
    return k


def endless(say: Say) -> None:
    while True:
        say(0.25, "turning round")
        time.sleep(0.01)


def looking(say: Say, *, most: int) -> int:
    for k in range(most):
        say(k / most, f"at {k}")
        say.best(k)
    return most


def refused(say: Say) -> None:
    raise DesignError("file", "it is no board", "Take another.")


def broken(say: Say) -> None:
    raise ZeroDivisionError("odd")


KINDS: dict[str, Any] = {"held": held, "endless": endless, "looking": looking, "refused": refused, "broken": broken}


@pytest.fixture(scope="module")
def redis() -> Iterator[str]:
    with socket.create_server(("127.0.0.1", 0)) as s:
        port = s.getsockname()[1]
    server = TcpFakeServer(("127.0.0.1", port))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"redis://127.0.0.1:{port}/0"
    server.shutdown()


@pytest.fixture(params=["sqlite", "file", "memory", "redis"])
def jobs(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Jobs]:
    setting = request.getfixturevalue("redis") if request.param == "redis" else request.param
    order.clear()
    gate.clear()
    work = Jobs(broker(setting, tmp_path), KINDS)
    yield work
    gate.set()
    work.close()


def ended(jobs: Jobs, id: str, *others: str) -> Job:
    for _ in range(400):
        for other in others:
            jobs.job(other)
        job = jobs.job(id)
        assert job is not None
        if job.state in ENDED:
            return job
        time.sleep(0.02)
    raise AssertionError(job)


def until(what: Any) -> None:
    for _ in range(400):
        if what():
            return
        time.sleep(0.02)
    raise AssertionError("it never comes")


def test_two_at_a_time_and_the_rest_wait_in_order(jobs: Jobs) -> None:
    ids = []
    for k in range(5):
        ids.append(jobs.start("held", {"k": k}).id)
        until(lambda n=k: len(order) == min(n + 1, 2))
    until(lambda: jobs.job(ids[1]).share == 0.5)  # type: ignore[union-attr]
    assert order == [0, 1]
    told = [jobs.job(i) for i in ids]
    assert [j and j.state for j in told] == ["running", "running", "waiting", "waiting", "waiting"]
    assert [j and j.what for j in told[1:]] == [
        "working",
        "waiting for a free place",
        "waiting: 1 before it in the queue",
        "waiting: 2 before it in the queue",
    ]
    stopped = jobs.stop(ids[2])
    assert stopped and stopped.state == "stopped"
    assert [jobs.job(i).what for i in ids[3:]] == ["waiting for a free place", "waiting: 1 before it in the queue"]  # type: ignore[union-attr]
    gate.set()
    assert [ended(jobs, i).result for i in ids] == [0, 1, None, 3, 4]
    assert order[:2] == [0, 1] and sorted(order[2:]) == [3, 4]  # both places were free at once: either may be first
    assert jobs.job(ids[2]).state == "stopped"  # type: ignore[union-attr]


def test_a_running_one_is_stopped_and_keeps_its_best(jobs: Jobs) -> None:
    job = jobs.start("endless", {})
    until(lambda: jobs.job(job.id).share == 0.25)  # type: ignore[union-attr]
    jobs.stop(job.id)
    assert jobs.job(job.id).state == "stopped"  # type: ignore[union-attr]
    after = jobs.start("looking", {"most": 3})
    assert ended(jobs, after.id).best == 2  # the place of the stopped one is free
    jobs.stop(after.id)
    assert jobs.job(after.id).state == "done"  # type: ignore[union-attr]


def test_what_fails_says_why_and_what_to_do(jobs: Jobs) -> None:
    job = ended(jobs, jobs.start("refused", {}).id)
    assert (job.state, job.message, job.do, job.result) == ("failed", "it is no board", "Take another.", None)
    job = ended(jobs, jobs.start("broken", {}).id)
    assert job.state == "failed" and "odd" in job.message and job.do == "Try it again."
    with pytest.raises(DesignError, match="it is no board"):
        jobs.finished("refused", {})
    assert jobs.finished("looking", {"most": 4}) == 4


def test_the_same_asked_for_twice_is_worked_out_once(jobs: Jobs) -> None:
    first = jobs.start("looking", {"most": 2}, key=("a", 1))
    assert jobs.start("looking", {"most": 2}, key=("a", 1)).id == first.id
    ended(jobs, first.id)
    assert jobs.start("looking", {"most": 2}, key=("a", 1)).id == first.id
    assert jobs.start("looking", {"most": 2}, key=("a", 2)).id != first.id
    bad = jobs.start("refused", {}, key="bad")
    ended(jobs, bad.id)
    assert jobs.start("refused", {}, key="bad").id != bad.id  # what failed is tried again
    assert jobs.asked(first.id) == {"most": 2}


def test_who_vanishes_frees_the_place(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setattr(module, "GONE_S", 0.4)
    jobs = Jobs(broker("sqlite", tmp_path), KINDS, at_once=1)
    first = jobs.start("endless", {})
    second = jobs.start("looking", {"most": 7})
    assert ended(jobs, second.id).result == 7  # somebody still asks for the second
    gone = jobs._read(first.id)
    assert gone and gone.state == "stopped" and "nobody asked" in gone.message
    jobs.close()


def test_a_queue_that_is_too_long_refuses_and_what_ended_is_forgotten(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setattr(module, "MOST_WAITING", 3)
    monkeypatch.setattr(module, "KEEP", 2)
    gone: list[str] = []
    gate.clear()
    jobs = Jobs(broker("memory", tmp_path), KINDS, dropped=lambda j: gone.append(j.id))
    running = [jobs.start("held", {"k": k}).id for k in range(2)]
    until(lambda: all(jobs.job(i).state == "running" for i in running))  # type: ignore[union-attr]
    waiting = [jobs.start("looking", {"most": 1}).id for _ in range(3)]
    with pytest.raises(DesignError, match="3 jobs wait"):
        jobs.start("looking", {"most": 1})
    gate.set()
    for i in (*running, *waiting):
        ended(jobs, i)
    last = jobs.start("looking", {"most": 1})
    assert gone == [*running, *waiting[:2]]  # with the new one two are kept
    assert jobs.job(running[0]) is None and jobs.job(waiting[2]) and jobs.job(last.id)
    jobs.close()


def test_settings_that_are_no_broker_and_disks_that_refuse(tmp_path: Path) -> None:
    with pytest.raises(CannotOpen, match="no broker"):
        broker("carrier pigeon", tmp_path)
    jobs = Jobs(broker("sqlite", tmp_path), KINDS)
    jobs.queue.storage.sql("drop table kv", commit=True)
    with pytest.raises(CannotWrite):
        jobs.start("looking", {"most": 1})


def test_an_export_says_from_the_first_what_it_does(good_wren: Design, tmp_path: Path) -> None:
    """Before the first file is written: parts, then hours; never backwards, up to the last file."""
    seen: list[tuple[float, str]] = []
    target = tmp_path / "x.zip"
    _write(
        good_wren.model_dump_json(),
        ARCHIVE_WORKSHOP.model_dump_json(),
        ("stl",),
        False,
        str(target),
        lambda *x: seen.append(x),
    )
    assert [what for _, what in seen][:3] == [
        "making the parts of the case",
        "adding up hours and grams",
        "base as STL",
    ]
    assert [share for share, _ in seen] == sorted(share for share, _ in seen) and seen[-1][1] == "bill of materials"
    assert target.stat().st_size > 10_000
