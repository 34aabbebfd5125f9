"""A simulated printer: prints what it is told a thousand times faster than a real one, with its own pace and faults.

GET  .../<key>         how it stands: state, share done, real seconds so far, grams used, what went wrong
POST .../<key>/print   {"what", "planned_s", "mass_g", "spool_g"}: begin
POST .../<key>/stop    end it
"""

from __future__ import annotations

import time
from dataclasses import dataclass
from threading import Lock
from typing import Literal

import numpy as np
from flask import Flask, Response
from pydantic import BaseModel, Field

from rhombex.web.api import Asked, blueprint

FASTER = 1000.0
TRUE_PACE = {"bench-180": 1.09, "bench-220": 1.16, "bench-300": 0.94}  # what a diary can find out; made up
FAULTY = 0.12  # share of prints that fail; made up
FAULTS = ("the first layer came off the bed", "the nozzle clogged", "a layer shifted")


class PrintIn(Asked):
    what: str = Field(min_length=1, max_length=60)
    planned_s: float = Field(gt=0, le=3e6)
    mass_g: float = Field(ge=0, le=1e5)
    spool_g: float = Field(ge=0, le=1e5)
    fault: Literal["by chance", "none", "clog"] = "by chance"


class PrinterState(BaseModel):
    """Seconds are the printer's own, not those on the wall."""

    key: str
    state: Literal["idle", "heating", "printing", "done", "failed", "stopped"]
    what: str
    share: float
    real_s: float
    used_g: float
    nozzle_c: float
    message: str


@dataclass
class _Print:
    order: PrintIn
    began: float
    real_s: float
    fails_at: float
    fault: str
    stopped: float | None = None


class SimulatedPrinter:
    """One printer. Its state follows from the clock, so nothing runs in the background."""

    def __init__(self, key: str, clock: object = time.monotonic) -> None:
        self.key = key
        self.clock = clock
        self.count = 0
        self.lock = Lock()
        self.now: _Print | None = None

    def begin(self, order: PrintIn) -> PrinterState:
        """Begin a print; what it did before is forgotten."""
        with self.lock:
            self.count += 1
            chance = np.random.default_rng([self.count, *self.key.encode()])
            pace = TRUE_PACE.get(self.key, 1.05) * float(np.exp(chance.normal(0, 0.03)))
            fails_at, fault = 2.0, ""
            if order.fault == "clog" or (order.fault == "by chance" and chance.random() < FAULTY):
                fails_at = float(chance.uniform(0.05, 0.9))
                fault = FAULTS[1] if order.fault == "clog" else str(chance.choice(FAULTS))
            if order.mass_g > order.spool_g > 0 and order.spool_g / order.mass_g < fails_at:
                fails_at, fault = order.spool_g / order.mass_g, "the spool ran out"
            self.now = _Print(order, self._time(), order.planned_s * pace, fails_at, fault)
            return self._state()

    def stop(self) -> PrinterState:
        with self.lock:
            if self.now is not None and self.now.stopped is None:
                self.now.stopped = self._time()
            return self._state()

    def state(self) -> PrinterState:
        with self.lock:
            return self._state()

    def _time(self) -> float:
        return float(self.clock())  # type: ignore[operator]

    def _state(self) -> PrinterState:
        p = self.now
        if p is None:
            return PrinterState(
                key=self.key, state="idle", what="", share=0, real_s=0, used_g=0, nozzle_c=25, message=""
            )
        end = p.stopped if p.stopped is not None else self._time()
        real = (end - p.began) * FASTER
        share = min(real / p.real_s, p.fails_at, 1.0)
        state: Literal["heating", "printing", "done", "failed", "stopped"] = "printing"
        message = ""
        if share >= p.fails_at:
            state, message = "failed", p.fault
        elif share >= 1.0:
            state = "done"
        elif p.stopped is not None:
            state = "stopped"
        elif real < 180:
            state = "heating"
        return PrinterState(
            key=self.key,
            state=state,
            what=p.order.what,
            share=round(share, 4),
            real_s=round(min(real, p.real_s * share + 1e-6 if share >= p.fails_at else p.real_s), 1),
            used_g=round(p.order.mass_g * share, 2),
            nozzle_c=round(min(25 + real, 210.0), 1) if state in ("heating", "printing") else 40.0,
            message=message,
        )


class KeyPath(BaseModel):
    key: str = Field(pattern=r"^[a-z0-9._-]{1,40}$")


bp = blueprint("devices", __name__, "/api/devices/printers")
_printers: dict[str, SimulatedPrinter] = {}


def _printer(key: str) -> SimulatedPrinter:
    if len(_printers) > 60:
        _printers.clear()
    return _printers.setdefault(key, SimulatedPrinter(key))


def _answer(s: PrinterState) -> Response:
    return Response(s.model_dump_json(), mimetype="application/json")


@bp.get("/<key>", responses={200: PrinterState}, operation_id="printerState")
def state(path: KeyPath) -> Response:
    return _answer(_printer(path.key).state())


@bp.post("/<key>/print", responses={200: PrinterState}, operation_id="printerPrint")
def begin(path: KeyPath, body: PrintIn) -> Response:
    return _answer(_printer(path.key).begin(body))


@bp.post("/<key>/stop", responses={200: PrinterState}, operation_id="printerStop")
def stop(path: KeyPath) -> Response:
    return _answer(_printer(path.key).stop())


def device_app() -> Flask:
    """The simulated printers alone, to stand on an address of their own."""
    from flask_openapi3.openapi import OpenAPI

    app = OpenAPI(__name__, doc_ui=False)
    app.register_api(bp)
    return app
