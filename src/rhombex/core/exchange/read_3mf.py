"""3MF in: what its build lists, each object where and as large as its transforms say, with hard limits against hostile files."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, field
from typing import IO
from xml.etree.ElementTree import Element, ParseError

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring, iterparse
from numpy.typing import NDArray

from rhombex.core.exchange.read_mesh import MAX_TRIANGLES, bad, finite
from rhombex.core.plain import DesignError

MAX_XML_BYTES = 400_000_000
MAX_RATIO = 200
MOST_PARTS = 200  # models in one package
MOST_USES = 20_000  # of objects, each as often as it is used
DEEPEST = 16  # components within components
_RELATIONS = "_rels/.rels"
_MODEL = "3dmodel"
_UNIT_MM = {
    "micron": 0.001,
    "millimeter": 1.0,
    "centimeter": 10.0,
    "inch": 25.4,
    "foot": 304.8,
    "meter": 1000.0,
}
Points = NDArray[np.float64]
Transform = NDArray[np.float64]


@dataclass(frozen=True)
class Body3mf:
    """An object of the build, (n, 3, 3) corners in mm where it lies; `name` may be empty."""

    name: str
    points: Points


@dataclass
class _Use:
    """A component or a build item: which object, of which part of the package, and how it is moved."""

    part: str
    id: str
    by: Transform


@dataclass
class _Object:
    name: str = ""
    printed: bool = True
    points: Points | None = None
    uses: list[_Use] = field(default_factory=list)


@dataclass
class _Model:
    unit_mm: float = 1.0
    objects: dict[str, _Object] = field(default_factory=dict)
    build: list[_Use] = field(default_factory=list)


def read_3mf(data: bytes) -> Points:
    """Corner points (n, 3, 3) in mm of all that the build lists. Raises DesignError."""
    return finite(np.concatenate([b.points for b in bodies_of_3mf(data)]))


def bodies_of_3mf(data: bytes) -> list[Body3mf]:
    """What the build of a 3MF lists, in its order; objects that are not built are left out. Raises DesignError."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as package:
            return _Package(package).built()
    except DesignError:  # which is a ValueError too
        raise
    except (zipfile.BadZipFile, EOFError, RuntimeError, NotImplementedError) as e:
        raise bad(f"the 3MF package cannot be opened ({e})") from None
    except DefusedXmlException:
        raise bad("the 3MF's XML declares entities; such files are not read") from None
    except ParseError as e:
        raise bad(f"the 3MF's XML is broken ({e})") from None
    except (KeyError, ValueError) as e:
        raise bad(f"the 3MF has a value that is missing or no number ({e})") from None


class _Package:
    """The models of a package, read when they are first named."""

    def __init__(self, package: zipfile.ZipFile) -> None:
        self.package = package
        self.files = {i.filename.lower().lstrip("/"): i for i in package.infolist()}
        self.models: dict[str, _Model] = {}
        self.triangles = self.uses = 0

    def built(self) -> list[Body3mf]:
        root = self._root()
        model = self._model(root)
        if not model.objects:
            raise bad("the 3MF has no object in it")
        if not model.build:
            raise bad("the 3MF builds nothing: its list of what is printed is empty")
        found = []
        for use in model.build:
            parts = self._placed(use, 0)
            if parts:
                found.append(Body3mf(self._object(use).name, np.concatenate(parts) * model.unit_mm))
        if not found:
            raise bad("the 3MF has no mesh in what it builds")
        return found

    def _placed(self, use: _Use, depth: int) -> list[Points]:
        """The meshes of an object where a use puts them, in the unit of the root model."""
        if depth > DEEPEST:
            raise bad(f"the 3MF has components within components more than {DEEPEST} deep")
        o = self._object(use)
        if not o.printed:
            return []
        found: list[Points] = [] if o.points is None else [o.points]
        self.uses += 1
        self.triangles += sum(len(p) for p in found)
        if self.triangles > MAX_TRIANGLES or self.uses > MOST_USES:
            raise bad(f"the 3MF builds more than {MAX_TRIANGLES} triangles or {MOST_USES} objects")
        for inner in o.uses:
            found += self._placed(inner, depth + 1)
        mirrored = np.linalg.det(use.by[:3]) < 0
        moved = [p @ use.by[:3] + use.by[3] for p in found]
        return [p[:, ::-1] for p in moved] if mirrored else moved

    def _object(self, use: _Use) -> _Object:
        found = self._model(use.part).objects.get(use.id)
        if found is None:
            raise bad(f"the 3MF names an object {use.id[:20]} that it does not have")
        return found

    def _root(self) -> str:
        """Where the main model is: by the package's own relations, else at the usual place."""
        info = self.files.get(_RELATIONS)
        if info is not None and info.file_size < 1_000_000:
            tree = fromstring(self.package.read(info), forbid_dtd=True)
            for el in tree.iter():
                if el.get("Type", "").lower().endswith(_MODEL):
                    return str(el.get("Target", "")).lower().lstrip("/")
        return "3d/3dmodel.model"

    def _model(self, part: str) -> _Model:
        if part in self.models:
            return self.models[part]
        info = self.files.get(part)
        if info is None:
            raise bad("the 3MF has no model in it" if not self.models else f"the 3MF lacks its part {part[:60]}")
        if len(self.models) >= MOST_PARTS:
            raise bad(f"the 3MF has more than {MOST_PARTS} models in it")
        if info.file_size > MAX_XML_BYTES or info.file_size > MAX_RATIO * max(info.compress_size, 4096):
            raise bad(f"the 3MF unpacks to {info.file_size // 1_000_000} MB: that is not read")
        with self.package.open(info) as stream:
            self.models[part] = _read_model(stream, part)
        return self.models[part]


def _read_model(stream: IO[bytes], part: str) -> _Model:
    model, count = _Model(), 0
    object_: _Object | None = None
    building = False
    verts: list[tuple[float, float, float]] = []
    tris: list[tuple[int, int, int]] = []
    for event, el in iterparse(stream, events=("start", "end"), forbid_dtd=True):
        tag = el.tag.rsplit("}", 1)[-1]
        if event == "start":
            if tag == "model":
                unit = el.get("unit", "millimeter")
                if unit not in _UNIT_MM:
                    raise bad(f"the 3MF is in '{unit[:20]}', a unit that it may not have")
                model.unit_mm = _UNIT_MM[unit]
            elif tag == "object":
                # supports and helpers of other programs are no part of what is printed
                object_ = _Object(name=el.get("name", ""), printed=el.get("type", "model") == "model")
                model.objects[el.get("id", "")] = object_
            elif tag == "build":
                building = True
            elif tag == "item" and building:
                model.build.append(_use(el, part))
            elif tag == "component" and object_ is not None:
                object_.uses.append(_use(el, part))
            continue
        if tag == "vertex":
            verts.append((float(el.get("x", "")), float(el.get("y", "")), float(el.get("z", ""))))
        elif tag == "triangle":
            tris.append((int(el.get("v1", "")), int(el.get("v2", "")), int(el.get("v3", ""))))
            count += 1
            if count > MAX_TRIANGLES:
                raise bad(f"the 3MF has more than {MAX_TRIANGLES} triangles")
        elif tag == "mesh" and object_ is not None:
            v = np.array(verts, dtype=np.float64).reshape(-1, 3)
            t = np.array(tris, dtype=np.int64).reshape(-1, 3)
            if len(t) and (t.min() < 0 or t.max() >= len(v)):
                raise bad("the 3MF has a triangle that names a corner it does not have")
            object_.points = v[t]
            verts, tris = [], []
        if tag in ("vertex", "triangle", "mesh"):
            el.clear()
    return model


def _use(el: Element, part: str) -> _Use:
    """Reads objectid, the part it is in (production extension) and the twelve numbers of a transform, rows of a 4 x 3 matrix."""
    path = next((v for k, v in el.attrib.items() if k.rsplit("}", 1)[-1] == "path"), "")
    words = el.get("transform", "").split()
    by = np.vstack([np.eye(3), np.zeros(3)])
    if words:
        if len(words) != 12:
            raise bad(f"the 3MF has a transform of {len(words)} numbers; twelve are wanted")
        by = np.array([float(w) for w in words]).reshape(4, 3)
    if not np.isfinite(by).all() or abs(np.linalg.det(by[:3])) < 1e-12:
        raise bad("the 3MF has a transform that leaves nothing of an object")
    return _Use(path.lower().lstrip("/") or part, el.get("objectid", ""), by)
