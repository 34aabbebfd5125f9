"""Exports as jobs: each in its own process, with progress, and stoppable at any moment."""

from __future__ import annotations

import io
import json
import multiprocessing
import threading
import uuid
import zipfile
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Literal

from rhombex.core.design import read_design
from rhombex.core.exchange.design_json import Format
from rhombex.core.exchange.package import package
from rhombex.core.workshop import Workshop

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
    except Exception as e:  # the last frame of the job: whatever it was, the user is told
        Path(target + ".part").unlink(missing_ok=True)
        say.send(("failed", 1.0, f"{e}"))


@dataclass
class Job:
    id: str
    name: str
    file: Path
    process: BaseProcess
    state: Literal["running", "done", "failed", "stopped"] = "running"
    share: float = 0.0
    what: str = "starting"
    lock: threading.Lock = field(default_factory=threading.Lock)


class Exports:
    """The running and finished exports of this server."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        for old in folder.glob("*.zip*"):
            old.unlink(missing_ok=True)
        self.jobs: dict[str, Job] = {}

    def start(self, name: str, document: str, workshop: str, formats: tuple[Format, ...]) -> Job:
        """Start an export; the oldest finished ones are dropped."""
        id = uuid.uuid4().hex[:12]
        file = self.folder / f"{id}.zip"
        ours, theirs = _spawn.Pipe(duplex=False)
        process = _spawn.Process(target=_work, args=(document, workshop, formats, str(file), theirs), daemon=True)
        process.start()
        theirs.close()
        job = Job(id, name, file, process)
        self.jobs[id] = job
        threading.Thread(target=self._listen, args=(job, ours), daemon=True).start()
        ended = [j for j in self.jobs.values() if j.state != "running"]
        for j in ended[: max(0, len(ended) - KEEP)]:
            j.file.unlink(missing_ok=True)
            del self.jobs[j.id]
        return job

    def _listen(self, job: Job, ours: Connection) -> None:
        try:
            while True:
                kind, share, what = ours.recv()
                with job.lock:
                    if job.state != "running":
                        return
                    job.share, job.what = share, what
                    if kind != "at":
                        job.state = kind
                        return
        except EOFError:
            with job.lock:
                if job.state == "running":
                    job.state, job.what = "failed", "the export ended without a word; nothing was written"

    def stop(self, id: str) -> Job | None:
        """End a running export; nothing half-written stays."""
        job = self.jobs.get(id)
        if job is not None:
            with job.lock:
                if job.state == "running":
                    job.state, job.what = "stopped", "stopped"
                    job.process.terminate()
            Path(f"{job.file}.part").unlink(missing_ok=True)
        return job
