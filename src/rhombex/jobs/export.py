"""Exports as jobs: each in its own process, with progress, and stoppable at any moment."""

from __future__ import annotations

import io
import json
import multiprocessing
import threading
import uuid
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Literal

from rhombex.core.design import read_design
from rhombex.core.exchange.design_json import Format
from rhombex.core.exchange.package import package
from rhombex.core.faults import plainly
from rhombex.core.workshop import Workshop
from rhombex.jobs.places import Places, Seen
from rhombex.store.trouble import explain

KEEP = 8  # finished packages held on disk
_spawn = multiprocessing.get_context("spawn")  # a fresh process: the kernels hold threads that a fork would break


def zipped(files: dict[str, bytes]) -> bytes:
    """One ZIP with fixed times, so that equal parts give equal bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        for name, data in files.items():
            z.writestr(zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0)), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _work(document: str, workshop: str, formats: tuple[Format, ...], target: str, say: Connection) -> None:
    from rhombex.core.analysis import analyse

    try:
        a = analyse(read_design(json.loads(document)), Workshop.model_validate_json(workshop))
        files = package(a, formats, lambda share, what: say.send(("at", share, what)))
        part = Path(target + ".part")
        part.write_bytes(zipped(files))
        part.replace(target)
        say.send(("done", 1.0, "done"))
    except BrokenPipeError:
        return  # nobody listens any more: it was stopped
    except OSError as e:
        Path(target + ".part").unlink(missing_ok=True)
        said, do = explain(e)
        say.send(("failed", 1.0, f"{said}. {do}"))
    except Exception as e:  # the last frame of the job: whatever it was, the user is told
        Path(target + ".part").unlink(missing_ok=True)
        say.send(("failed", 1.0, plainly(e)))


@dataclass
class Job:
    id: str
    name: str
    file: Path
    state: Literal["running", "done", "failed", "stopped"] = "running"
    share: float = 0.0
    what: str = "starting"
    process: BaseProcess | None = None
    seen: Seen = field(default_factory=Seen)
    lock: threading.Lock = field(default_factory=threading.Lock)


class Exports:
    """The waiting, running and finished exports of this server."""

    def __init__(self, folder: Path, places: Places) -> None:
        self.folder, self.places = folder, places
        folder.mkdir(parents=True, exist_ok=True)
        for old in folder.glob("*.zip*"):
            old.unlink(missing_ok=True)
        self._jobs: dict[str, Job] = {}

    def job(self, id: str) -> Job | None:
        """An export by its id: whoever asks still wants it."""
        found = self._jobs.get(id)
        if found is not None:
            found.seen.now()
        return found

    def start(self, name: str, document: str, workshop: str, formats: tuple[Format, ...]) -> Job:
        """Ask for an export; the oldest finished ones are dropped. Raises DesignError where too many wait."""
        ticket = self.places.ask()
        id = uuid.uuid4().hex[:12]
        job = Job(id, name, self.folder / f"{id}.zip")
        self._jobs[id] = job
        args = (document, workshop, formats, str(job.file))
        threading.Thread(target=self._run, args=(job, ticket, args), daemon=True).start()
        ended = [j for j in list(self._jobs.values()) if j.state != "running"]
        for j in ended[: max(0, len(ended) - KEEP)]:
            j.file.unlink(missing_ok=True)
            self._jobs.pop(j.id, None)
        return job

    def _run(self, job: Job, ticket: object, args: tuple[object, ...]) -> None:
        def wanted() -> bool:
            if job.seen.gone():
                self._end(job, "nobody asked for it any more")
            ahead = self.places.before(ticket)
            if ahead:
                job.what = f"waiting: {ahead - 1} before it in the queue" if ahead > 1 else "waiting for a free place"
            return job.state == "running"

        if not self.places.enter(ticket, wanted):
            return
        try:
            self._watch(job, args, wanted)
        finally:
            self.places.leave(ticket)

    def _watch(self, job: Job, args: tuple[object, ...], wanted: Callable[[], bool]) -> None:
        """Run the export in a process of its own and listen to it until it ends."""
        job.what = "starting"
        ours, theirs = _spawn.Pipe(duplex=False)
        process = _spawn.Process(target=_work, args=(*args, theirs), daemon=True)
        with job.lock:
            if job.state != "running":
                return
            process.start()
            job.process = process
        theirs.close()
        try:
            while wanted():
                if not ours.poll(0.2):
                    continue
                kind, share, what = ours.recv()
                with job.lock:
                    if job.state != "running":
                        break
                    job.share, job.what = share, what
                    if kind != "at":
                        job.state = kind
                        break
        except EOFError:
            with job.lock:
                if job.state == "running":
                    job.state, job.what = "failed", "the export ended without a word; nothing was written"
        finally:
            process.join(0.5 if job.state in ("done", "failed") else 0)
            process.kill()
            process.join(5)
            ours.close()
            if job.state != "done":
                Path(f"{job.file}.part").unlink(missing_ok=True)

    def _end(self, job: Job, what: str) -> None:
        with job.lock:
            if job.state == "running":
                job.state, job.what = "stopped", what
                if job.process is not None:
                    job.process.terminate()

    def stop(self, id: str) -> None:
        """End a waiting or running export; nothing half-written stays."""
        job = self._jobs.get(id)
        if job is not None:
            self._end(job, "stopped")
            Path(f"{job.file}.part").unlink(missing_ok=True)
