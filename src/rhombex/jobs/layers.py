"""Exact estimates as jobs: every layer of a piece laid out in the background, with progress, and stoppable."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Literal

from rhombex.core.design import Process
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.process import simulate
from rhombex.core.process.estimate import Estimate, summed
from rhombex.core.process.settings import settings
from rhombex.core.process.stack import Stack
from rhombex.core.workshop import Printer

KEEP = 12


@dataclass
class LayerJob:
    """One piece: its stack, and once it is done the rows of all layers."""

    id: str
    recipe: Solid
    process: Process
    printer: Printer
    state: Literal["running", "done", "failed", "stopped"] = "running"
    share: float = 0.0
    said: str = ""
    stack: Stack | None = None
    rows: simulate.Array | None = None
    estimate: Estimate | None = None
    lock: threading.Lock = field(default_factory=threading.Lock)


class Layers:
    """Running and finished exact estimates of this server."""

    def __init__(self) -> None:
        self.jobs: OrderedDict[str, LayerJob] = OrderedDict()
        self._by_key: dict[tuple[str, str, str], str] = {}

    def start(self, recipe: Solid, process: Process, printer: Printer) -> LayerJob:
        """Start laying out, or take up the job that did it before."""
        key = (recipe.digest, process.model_dump_json(), printer.model_dump_json())
        found = self.jobs.get(self._by_key.get(key, ""))
        if found is not None and found.state in ("running", "done"):
            return found
        job = LayerJob(uuid.uuid4().hex[:12], recipe, process, printer)
        self.jobs[job.id] = job
        self._by_key[key] = job.id
        while len(self.jobs) > KEEP:
            _, old = self.jobs.popitem(last=False)
            old.state = "stopped"
        threading.Thread(target=self._run, args=(job,), daemon=True).start()
        return job

    def stop(self, id: str) -> None:
        job = self.jobs.get(id)
        if job is not None and job.state == "running":
            job.state = "stopped"

    def _run(self, job: LayerJob) -> None:
        def progress(share: float) -> None:
            if job.state != "running":
                raise simulate.Stopped
            job.share = share

        try:
            stack = Stack(mesh_kernel.evaluate(job.recipe), settings(job.process, job.printer))
            rows = simulate.exact(stack, progress)
            job.stack, job.rows = stack, rows
            job.estimate = summed(stack, rows, job.process, job.printer, "exact")
            job.share, job.state = 1.0, "done"
        except simulate.Stopped:
            pass
        except Exception as e:  # the last frame of the job: whatever it was, the user is told
            job.state, job.said = "failed", str(e)
