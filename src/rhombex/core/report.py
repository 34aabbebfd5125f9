"""The stable report of a design: what `check --json` prints."""

from __future__ import annotations

import multiprocessing
from contextlib import suppress
from typing import Any

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.concerns import judge
from rhombex.core.concerns.registry import Remedy
from rhombex.core.design import Design
from rhombex.core.looked import look
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import tally
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.workshop import Workshop


def parts_report(a: Analysis) -> list[dict[str, Any]]:
    """One row per printed part: whole size, sums over its pieces."""
    rows = []
    for cut in a.cuts:
        pieces = [p for p in a.pieces if p.part == cut.part]
        rows.append(
            {
                "name": cut.part,
                "bbox_mm": [round(x, 3) for x in cut.bbox_mm],
                "volume_mm3": round(sum(p.volume_mm3 for p in pieces), 3),
                "watertight": all(p.watertight for p in pieces),
                "fits_bed": all(p.fits_bed for p in pieces),
                "pieces": [
                    {"name": p.name, "bbox_mm": [round(x, 3) for x in p.bbox_mm], "fits_bed": p.fits_bed}
                    for p in pieces
                ],
                "mass_g": round(sum(p.estimate.mass_g.value for p in pieces if p.estimate), 2),
                "time_s": round(sum(p.estimate.time_s.value for p in pieces if p.estimate)),
            }
        )
    return rows


class _Tries:
    """What remedies of a design do, worked out side by side in forks of this process; they are made before it has made its first shape,
    because the kernel's threads do not live on in them."""

    def __init__(self, design: Design, workshop: Workshop, at_once: int) -> None:
        self._of = (design, workshop)
        forks = at_once > 1 and "fork" in multiprocessing.get_all_start_methods()
        fork = multiprocessing.get_context("fork") if forks else None
        self._pool = fork.Pool(at_once, _ready, (*self._of,)) if fork else None

    def all(self, asked: list[tuple[str, Remedy]]) -> list[dict[str, Any]]:
        rows = [(*self._of, key, remedy) for key, remedy in asked]
        return self._pool.map(_tried, rows, chunksize=1) if self._pool else [_tried(x) for x in rows]

    def __enter__(self) -> _Tries:
        return self

    def __exit__(self, *_: object) -> None:
        if self._pool:
            self._pool.terminate()


def _ready(design: Design, workshop: Workshop) -> None:
    """The design as it is, looked at while its settled hours are worked out elsewhere. What is wrong with it is told there."""
    with suppress(DesignError):
        look(design, workshop, "preview")


def _tried(asked: tuple[Design, Workshop, str, Remedy]) -> dict[str, Any]:
    design, workshop, key, remedy = asked
    return effect_of(design, workshop, key, remedy.edits, remedy.shop).model_dump(mode="json")


def report(design: Design, workshop: Workshop, effects: bool = True, at_once: int = 1) -> dict[str, Any]:
    """Concerns with tried remedies, tally and parts, as plain data.

    `at_once`: how many remedies are tried side by side; more than one only in a process that has no other threads and has made no shapes.
    """
    with _Tries(design, workshop, at_once if effects else 1) as tries:
        a = analyse(design, workshop)
        found = judge(a)
        tried = iter(tries.all([(f.key, r) for f in found for r in f.remedies]) if effects else ())
    concerns = []
    for f in found:
        row = f.model_dump(mode="json", exclude={"remedies"})
        row["remedies"] = [
            {
                "label": r.label,
                "edits": [e.model_dump(mode="json") for e in r.edits],
                "shop": [e.model_dump(mode="json") for e in r.shop],
                **({"effect": next(tried)} if effects else {}),
            }
            for r in f.remedies
        ]
        concerns.append(row)
    return {
        "name": design.name,
        "stops": sum(c["severity"] == "stop" for c in concerns),
        "concerns": concerns,
        "tally": {t.key: {"value": round(t.trail.value, 4), "unit": t.trail.unit} for t in tally(a)},
        "parts": parts_report(a),
    }
