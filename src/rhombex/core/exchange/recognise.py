"""One door for all files that a component can come in: what it is by its name and first bytes, and what was recognised in it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import PurePath
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rhombex.core.exchange.read_3mf import read_3mf
from rhombex.core.exchange.read_mesh import read_obj, read_scene, read_stl
from rhombex.core.parts.convex import convex_cells, is_box
from rhombex.core.parts.lying import lay_flat
from rhombex.core.parts.recognised import UNIT_MM, Found, Recognised, Unit
from rhombex.core.parts.shapes import lighter, shape_bytes
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, silent

MOST_BYTES = 120_000_000
KINDS = (".step", ".stp", ".dxf", ".emn", ".idf", ".stl", ".3mf", ".obj", ".ply", ".glb")
AsKind = Literal["board", "body"]
ASKS_UNIT = (".stl", ".obj", ".ply", ".dxf")
BODIES: dict[str, Callable[[bytes], NDArray[np.float64]]] = {
    ".stl": read_stl,
    ".obj": read_obj,
    ".ply": partial(read_scene, kind="ply"),
    ".3mf": read_3mf,
    ".glb": partial(read_scene, kind="glb"),
}
UNITS_OF_FORMATS: dict[str, Unit] = {
    ".3mf": "mm",
    ".glb": "m",
}  # a 3MF is read in millimetres, whatever it names; glTF has metres


def recognise(
    data: bytes,
    name: str,
    unit: Unit | None = None,
    library: bytes | None = None,
    layers: tuple[str, ...] = (),
    as_kind: AsKind | None = None,
    progress: Progress = silent,
) -> tuple[Recognised, bytes | None]:
    """Recognise a file by its name. `unit` is for files that name none; `library`: the .emp that belongs to an .emn;
    `as_kind`: what a STEP file holds, if somebody knows.

    A body of triangles comes with a lighter copy of its mesh (see `shapes`), to be looked at. Raises DesignError saying what is wrong and what to do.
    """
    suffix = PurePath(name).suffix.lower()
    stem = PurePath(name).stem[:80] or "component"
    if len(data) > MOST_BYTES:
        raise DesignError(
            "file", f"it is larger than {MOST_BYTES // 1_000_000} MB", "Export only the component that is placed."
        )
    if not data:
        raise DesignError("file", "it is empty", "Export it again from where it was made.")
    if suffix in (".step", ".stp"):
        from rhombex.core.exchange.read_step import recognise_step  # a large kernel, loaded only where it is wanted

        return recognise_step(data, stem, progress, as_kind), None
    if suffix == ".dxf":
        from rhombex.core.exchange.read_dxf import recognise_dxf

        return recognise_dxf(data, stem, unit, layers=layers, progress=progress), None
    if suffix in (".emn", ".idf"):
        from rhombex.core.exchange.read_idf import recognise_idf

        return recognise_idf(data, library, stem, progress), None
    if suffix in BODIES:
        return _body(data, suffix, stem, unit, progress)
    if suffix == ".emp":
        raise DesignError("file", "this is the library of an IDF board", "Give the .emn file, and this one beside it.")
    raise DesignError("file", f"'{suffix or name}' is not a kind that is read", f"Choose one of {', '.join(KINDS)}.")


def _body(data: bytes, suffix: str, stem: str, unit: Unit | None, progress: Progress) -> tuple[Recognised, bytes]:
    progress(0.1, "reading triangles")
    points = BODIES[suffix](data)
    own = UNITS_OF_FORMATS.get(suffix)
    asked: Unit = own or unit or "mm"
    points = points * UNIT_MM[asked]
    size = points.max(axis=(0, 1)) - points.min(axis=(0, 1))
    if not ((size >= 0.1).all() and (size <= 1000).all()):
        raise DesignError(
            "file",
            "the body measures "
            + " x ".join(f"{x:.3g}" for x in size)
            + f" mm if its unit is {asked}; 0.1 to 1000 are taken",
            "Say its unit.",
        )
    progress(0.4, "laying it down")
    points, words = lay_flat(points)
    cells, closed = convex_cells(points, progress=lambda share, what: progress(0.5 + share / 2, what))
    notes = [] if unit or own else ["The file names no unit; millimetres were taken."]
    if not closed:
        notes.append("Its faces do not close, so hollows cannot be told from what is full: they are taken as full.")
    digest, shape = shape_bytes(lighter(points))
    found = Recognised(
        kind="body",
        name=stem,
        format=suffix[1:].upper(),
        unit=asked,
        unit_from="the file" if own else "asked" if unit else "assumed",
        size_mm=tuple(points.max(axis=(0, 1))),
        found=tuple(
            Found(
                name=f"cell {k + 1}" if len(cells) > 1 else "body",
                lo=tuple(corners.min(axis=0)),
                hi=tuple(corners.max(axis=0)),
                side="top",
                corners=() if is_box(corners) else tuple(tuple(c) for c in corners.tolist()),
            )
            for k, corners in enumerate(np.round(c, 3) for c in cells)
        ),
        up="z after turning",
        turned=words,
        notes=tuple(notes),
        shape=digest,
    )
    return found, shape
