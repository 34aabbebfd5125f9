"""Meshes in: the triangles of STL, 3MF and OBJ, with hard limits against hostile files."""

from __future__ import annotations

import io
import struct
import zipfile
from typing import IO
from xml.etree.ElementTree import ParseError

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import iterparse
from numpy.typing import NDArray

from rhombex.core.plain import DesignError

MAX_TRIANGLES = 3_000_000
MAX_XML_BYTES = 400_000_000
MAX_RATIO = 200
_SCALE = {
    "micron": 0.001,
    "millimeter": 1.0,
    "centimeter": 10.0,
    "inch": 25.4,
    "foot": 304.8,
    "meter": 1000.0,
}


def _bad(said: str, do: str = "Export it again from where it was made, as binary STL or 3MF.") -> DesignError:
    return DesignError("file", said, do)


def read_stl(data: bytes) -> NDArray[np.float64]:
    """Corner points (n, 3, 3) of an STL, binary or text. Raises DesignError."""
    if len(data) >= 84:
        (count,) = struct.unpack_from("<I", data, 80)
        if 84 + 50 * count == len(data):
            if count > MAX_TRIANGLES:
                raise _bad(f"the STL has {count} triangles; at most {MAX_TRIANGLES} are read")
            rows = np.frombuffer(data, dtype=[("n", "<f4", 3), ("p", "<f4", (3, 3)), ("a", "<u2")], offset=84)
            return _finite(rows["p"].astype(np.float64))
        if not data.lstrip()[:5].lower() == b"solid":
            raise _bad(
                f"the STL says it has {count} triangles, but its length is that of {(len(data) - 84) / 50:.1f}: it is cut short"
            )
    words = data.split()
    if not words or words[0].lower() != b"solid" or words[-1][:0] != b"" or b"endsolid" not in data[-400:].lower():
        raise _bad("this is not a whole STL file")
    at = [i for i, w in enumerate(words) if w == b"vertex"]
    if len(at) % 3 or not at or len(at) // 3 > MAX_TRIANGLES or at[-1] + 3 >= len(words):
        raise _bad("the text STL has no whole number of triangles")
    try:
        values = [[float(words[i + k]) for k in (1, 2, 3)] for i in at]
    except ValueError as e:
        raise _bad(f"the text STL has a corner that is no number ({e})") from None
    return _finite(np.array(values).reshape(-1, 3, 3))


def read_3mf(data: bytes) -> NDArray[np.float64]:
    """Corner points (n, 3, 3) in mm of all meshes of a 3MF's main model part. Raises DesignError."""
    try:
        package = zipfile.ZipFile(io.BytesIO(data))
        info = next((i for i in package.infolist() if i.filename.lower() == "3d/3dmodel.model"), None)
        if info is None:
            raise _bad("the 3MF has no model in it")
        if info.file_size > MAX_XML_BYTES or info.file_size > MAX_RATIO * max(info.compress_size, 4096):
            raise _bad(f"the 3MF unpacks to {info.file_size // 1_000_000} MB: that is not read")
        with package.open(info) as stream:
            return _finite(_model(stream))
    except (zipfile.BadZipFile, EOFError, RuntimeError) as e:
        raise _bad(f"the 3MF package cannot be opened ({e})") from None
    except DefusedXmlException:
        raise _bad("the 3MF's XML declares entities; such files are not read") from None
    except ParseError as e:
        raise _bad(f"the 3MF's XML is broken ({e})") from None
    except (KeyError, ValueError) as e:
        raise _bad(f"the 3MF has a value that is missing or no number ({e})") from None


def _model(stream: IO[bytes]) -> NDArray[np.float64]:
    scale, count = 1.0, 0
    verts: list[tuple[float, float, float]] = []
    tris: list[tuple[int, int, int]] = []
    meshes: list[NDArray[np.float64]] = []
    for event, el in iterparse(stream, events=("start", "end"), forbid_dtd=True):
        tag = el.tag.rsplit("}", 1)[-1]
        if event == "start":
            if tag == "model":
                scale = _SCALE[el.get("unit", "millimeter")]
            continue
        if tag == "vertex":
            verts.append((float(el.get("x", "")), float(el.get("y", "")), float(el.get("z", ""))))
        elif tag == "triangle":
            tris.append((int(el.get("v1", "")), int(el.get("v2", "")), int(el.get("v3", ""))))
            count += 1
            if count > MAX_TRIANGLES:
                raise _bad(f"the 3MF has more than {MAX_TRIANGLES} triangles")
        elif tag == "mesh":
            v, t = (
                np.array(verts, dtype=np.float64).reshape(-1, 3),
                np.array(tris, dtype=np.int64).reshape(-1, 3),
            )
            if len(t) and (t.min() < 0 or t.max() >= len(v)):
                raise _bad("the 3MF has a triangle that names a corner it does not have")
            meshes.append(v[t] * scale)
            verts, tris = [], []
        if tag in ("vertex", "triangle", "mesh"):
            el.clear()
    if not meshes:
        raise _bad("the 3MF has no mesh in it")
    return np.concatenate(meshes)


def read_obj(data: bytes) -> NDArray[np.float64]:
    """Corner points (n, 3, 3) of an OBJ in its own unit: v and f lines; faces of more corners are fans. Raises DesignError."""
    verts: list[tuple[float, float, float]] = []
    tris: list[tuple[int, int, int]] = []
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
            raise _bad(f"line {n} of the OBJ cannot be read ({e})") from None
        if len(tris) > MAX_TRIANGLES or len(verts) > 3 * MAX_TRIANGLES:
            raise _bad(f"the OBJ has more than {MAX_TRIANGLES} triangles")
    if not tris:
        raise _bad("there is no face in the OBJ")
    return _finite(np.array(verts)[np.array(tris)])


def _finite(points: NDArray[np.float64]) -> NDArray[np.float64]:
    if len(points) == 0:
        raise _bad("there are no triangles in the file")
    if not np.isfinite(points).all():
        raise _bad("a corner has no finite number")
    return points
