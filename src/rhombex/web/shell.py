"""The shell over HTTP: meshes as they will be printed, sections through them, outlines on the bed."""

from __future__ import annotations

import struct
from typing import Literal

import numpy as np
from flask import Response
from pydantic import BaseModel, Field

from rhombex.core.advice.sheet_held import HeldBy, sheet_held
from rhombex.core.edits import Edit
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.planes import section as cut_across
from rhombex.core.geometry.recipe import Solid
from rhombex.core.memo import Memo
from rhombex.store.designs import NotThere
from rhombex.web.api import Asked, DesignPath, TriedIn, answer, blueprint, desk, file_of
from rhombex.web.views import StateOut

bp = blueprint("shell", __name__)
EDGE_DEG = 30.0


class MeshPath(BaseModel):
    digest: str = Field(pattern=r"^[0-9a-f]{32}$")


class SectionQuery(Asked):
    axis: Literal["x", "y", "z"]
    at: float = Field(ge=-2000, le=2000)


class SectionPiece(BaseModel):
    part: str
    loops: list[list[tuple[float, float]]]


class SectionOut(BaseModel):
    """Closed loops of the cut of every piece, in the two other axes in their order (yz, xz or xy)."""

    pieces: list[SectionPiece]


class HeldQuery(Asked):
    by: HeldBy


class HeldOut(BaseModel):
    """What makes it so; nothing where it is."""

    edits: tuple[Edit, ...]


class OutlineOut(BaseModel):
    """The piece seen from above as it lies on the bed."""

    loops: list[list[tuple[float, float]]]


def _recipe(digest: str) -> Solid:
    found = desk().recipe(digest)
    if found is None:
        raise NotThere("this mesh is no longer at hand; reload the design")
    return found


def mesh_bytes(recipe: Solid) -> bytes:
    """Two counts, then float32 corner triples of triangles, then of feature edges (pairs of points)."""
    verts, tri = mesh_kernel.triangles(mesh_kernel.evaluate(recipe))
    p = verts[tri]
    n = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    n /= np.maximum(np.linalg.norm(n, axis=1), 1e-12)[:, None]
    ends = np.concatenate([tri[:, [0, 1]], tri[:, [1, 2]], tri[:, [2, 0]]])
    owner = np.tile(np.arange(len(tri)), 3)
    key = np.minimum(ends[:, 0], ends[:, 1]) * (int(tri.max()) + 1) + np.maximum(ends[:, 0], ends[:, 1])
    order = np.argsort(key, kind="stable")
    a, b = order[0::2], order[1::2]  # a closed mesh: every edge twice
    sharp = (n[owner[a]] * n[owner[b]]).sum(axis=1) < np.cos(np.radians(EDGE_DEG))
    edges = verts[ends[a[sharp]]]
    parts: list[bytes] = [
        struct.pack("<II", len(p), len(edges)),
        p.astype("<f4").tobytes(),
        edges.astype("<f4").tobytes(),
    ]
    return b"".join(parts)


_meshes: Memo[str, bytes] = Memo(200, len, 64e6)


@bp.get("/meshes/<digest>", responses=file_of("application/octet-stream"), operation_id="getMesh")
def mesh(path: MeshPath) -> Response:
    """A mesh by its content hash: it never changes, so it may be kept for ever."""
    data = _meshes.make(path.digest, lambda: mesh_bytes(_recipe(path.digest)))
    r = Response(data, mimetype="application/octet-stream")
    r.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return r


@bp.get("/outlines/<digest>", responses={200: OutlineOut}, operation_id="getOutline")
def outline(path: MeshPath) -> Response:
    flat = mesh_kernel.evaluate(_recipe(path.digest)).project().simplify(0.02)
    loops = [[(round(float(x), 3), round(float(y), 3)) for x, y in p] for p in flat.to_polygons()]
    r = answer(OutlineOut(loops=loops))
    r.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return r


@bp.post("/designs/<id>/tried", responses={200: StateOut}, operation_id="tryEdits")
def tried(path: DesignPath, body: TriedIn) -> Response:
    """The design as it would be after some edits, to look at beside what it is. Nothing is kept."""
    return answer(desk().tried(desk().designs.state(path.id), body.edits))


@bp.get("/designs/<id>/sheet-held", responses={200: HeldOut}, operation_id="getSheetHeld")
def held(path: DesignPath, query: HeldQuery) -> Response:
    """What makes a case of bought sheet hold it by screws or in slots. Nothing is kept."""
    design = desk().designs.state(path.id).design
    return answer(HeldOut(edits=sheet_held(design, desk().workshops.read()[1], query.by)))


@bp.get("/designs/<id>/section", responses={200: SectionOut}, operation_id="getSection")
def section(path: DesignPath, query: SectionQuery) -> Response:
    """The true section of all pieces in the case at a plane."""
    a, _ = desk().look(desk().designs.state(path.id).design)
    bodies = [(p.part, a.pieces_in_case[p.name]) for p in a.pieces] + [(x.part, a.recipes[x.part]) for x in a.sheets]
    pieces = [SectionPiece(part=part, loops=cut_across(recipe, query.axis, query.at)) for part, recipe in bodies]
    return answer(SectionOut(pieces=pieces))
