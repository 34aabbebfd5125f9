"""Meshes in: the triangles of STL, OBJ, PLY and GLB, with hard limits against hostile files."""

from __future__ import annotations

import io
import struct
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rhombex.core.plain import DesignError

MAX_TRIANGLES = 3_000_000


def bad(message: str, do: str = "Export it again from where it was made, as binary STL or 3MF.") -> DesignError:
    return DesignError("file", message, do)


def read_stl(data: bytes) -> NDArray[np.float64]:
    """Corner points (n, 3, 3) of an STL, binary or text. Raises DesignError."""
    if len(data) >= 84:
        (count,) = struct.unpack_from("<I", data, 80)
        if 84 + 50 * count == len(data):
            if count > MAX_TRIANGLES:
                raise bad(f"the STL has {count} triangles; at most {MAX_TRIANGLES} are read")
            rows = np.frombuffer(data, dtype=[("n", "<f4", 3), ("p", "<f4", (3, 3)), ("a", "<u2")], offset=84)
            return finite(rows["p"].astype(np.float64))
        if not data.lstrip()[:5].lower() == b"solid":
            raise bad(
                f"the STL says it has {count} triangles, but its length is that of {(len(data) - 84) / 50:.1f}: it is cut short"
            )
    words = data.split()
    if not words or words[0].lower() != b"solid" or words[-1][:0] != b"" or b"endsolid" not in data[-400:].lower():
        raise bad("this is not a whole STL file")
    at = [i for i, w in enumerate(words) if w == b"vertex"]
    if len(at) % 3 or not at or len(at) // 3 > MAX_TRIANGLES or at[-1] + 3 >= len(words):
        raise bad("the text STL has no whole number of triangles")
    try:
        values = [[float(words[i + k]) for k in (1, 2, 3)] for i in at]
    except ValueError as e:
        raise bad(f"the text STL has a corner that is no number ({e})") from None
    return finite(np.array(values).reshape(-1, 3, 3))


def read_obj(data: bytes) -> NDArray[np.float64]:
    """Corner points (n, 3, 3) of an OBJ in its own unit: v and f lines; faces of more corners are fans. Raises DesignError."""
    verts: list[tuple[float, float, float]] = []
    tris: list[tuple[int, int, int]] = []
    if data.count(b"\nf ") > MAX_TRIANGLES:  # each is a triangle at least
        raise bad(f"the OBJ has more than {MAX_TRIANGLES} triangles")
    for n, line in enumerate(data.splitlines(), 1):
        words = line.split()
        if not words:
            continue
        try:
            if words[0] == b"v":
                verts.append((float(words[1]), float(words[2]), float(words[3])))
            elif words[0] == b"f":
                ring = [int(w.split(b"/", 1)[0]) for w in words[1:]]
                ring = [k - 1 if k > 0 else len(verts) + k for k in ring]
                if len(ring) < 3 or min(ring) < 0 or max(ring) >= len(verts):
                    raise ValueError("a face names a corner that is not there")
                tris += [(ring[0], ring[k], ring[k + 1]) for k in range(1, len(ring) - 1)]
        except (ValueError, IndexError) as e:
            raise bad(f"line {n} of the OBJ cannot be read ({e})") from None
        if len(tris) > MAX_TRIANGLES or len(verts) > 3 * MAX_TRIANGLES:
            raise bad(f"the OBJ has more than {MAX_TRIANGLES} triangles")
    if not tris:
        raise bad("there is no face in the OBJ")
    return finite(np.array(verts)[np.array(tris)])


def read_scene(data: bytes, kind: Literal["ply", "glb"]) -> NDArray[np.float64]:
    """Corner points (n, 3, 3) of a PLY in its own unit, or of all nodes of a GLB where they stand, in metres. Raises DesignError."""
    import trimesh  # reads both formats; slow to import

    try:
        scene = trimesh.load_scene(io.BytesIO(data), file_type=kind)
        meshes = [m for m in scene.dump() if isinstance(m, trimesh.Trimesh)]
        count = sum(len(m.faces) for m in meshes)
        if count > MAX_TRIANGLES:
            raise bad(f"the {kind.upper()} has {count} triangles; at most {MAX_TRIANGLES} are read")
        points = [np.asarray(m.vertices, np.float64)[np.asarray(m.faces)] for m in meshes if len(m.faces)]
    except DesignError:
        raise
    except Exception as e:  # whatever a strange file does to the reader, it is the file that is told
        raise bad(f"the {kind.upper()} is damaged or cut short ({str(e)[:120] or type(e).__name__})") from None
    if not points:
        raise bad(f"the {kind.upper()} has no triangles in it")
    return finite(np.concatenate(points))


def finite(points: NDArray[np.float64]) -> NDArray[np.float64]:
    if len(points) == 0:
        raise bad("there are no triangles in the file")
    if not np.isfinite(points).all():
        raise bad("a corner has no finite number")
    return points
