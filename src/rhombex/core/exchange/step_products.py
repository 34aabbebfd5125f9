"""The products of a STEP file as a tree: what is made of what, with the names that the file gives. Slow and large: run it confined."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from OCP.collections import Sequence_TDF_Label
from OCP.IFSelect import IFSelect_RetDone
from OCP.Message import Message
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Shape
from OCP.XCAFDoc import XCAFDoc_DocumentTool

from rhombex.core.plain import DesignError

MOST_SOLIDS = 6000
DEEPEST = 40
_DEFAULT = "Open CASCADE STEP translator"  # what the commonest writer calls a shape that nobody named


def bad(message: str, do: str = "Export it again as STEP, AP214 or AP242.") -> DesignError:
    """What a STEP file is refused with."""
    return DesignError("file", message, do)


@dataclass
class Product:
    """A product with its solids, or an assembly of products, in the frame of the file. `name` may be empty."""

    name: str
    solids: list[Any] = field(default_factory=list)
    parts: list[Product] = field(default_factory=list)

    def all_solids(self) -> Iterator[Any]:
        """Its solids and those of all that it is made of."""
        yield from self.solids
        for p in self.parts:
            yield from p.all_solids()


def shapes_in(shape: Any, kind: Any) -> Iterator[TopoDS_Shape]:
    """The faces, wires or solids of a shape."""
    it = TopExp_Explorer(shape, kind)
    while it.More():
        yield it.Current()
        it.Next()


def _name(label: Any) -> str:
    found = TDataStd_Name()
    if not label.FindAttribute(TDataStd_Name.GetID_s(), found):
        return ""
    name = str(found.Get().ToExtString())
    # a name that is only a number, or that stands for a reference, is the file's own count, and says nothing
    return "" if name.isdigit() or name.startswith(("=>", _DEFAULT)) else name


def products(path: str) -> Product:
    """The file as one product. Raises DesignError."""
    Message.DefaultMessenger_s().Printers().Clear()
    doc = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(False)
    if reader.ReadFile(path) != IFSelect_RetDone:
        raise bad("this is not a whole STEP file")
    if not reader.Transfer(doc):
        raise bad("the STEP file has nothing in it that can be read")
    tool = XCAFDoc_DocumentTool.ShapeTool_s(doc.Main())
    count = 0

    def made(label: Any, place: Any, depth: int) -> Product:
        nonlocal count
        if depth > DEEPEST or count > MOST_SOLIDS:
            raise bad(
                f"the assembly is deeper than {DEEPEST} or has more than {MOST_SOLIDS} solids", "Export only the board."
            )
        name, real = _name(label), TDF_Label()
        if tool.IsReference_s(label) and tool.GetReferredShape_s(label, real):
            place = place.Multiplied(tool.GetLocation_s(label))
            name = name or _name(real)
            label = real
        out = Product(name)
        if tool.IsAssembly_s(label):
            parts = Sequence_TDF_Label()
            tool.GetComponents_s(label, parts, False)
            out.parts = [made(parts.Value(k), place, depth + 1) for k in range(1, parts.Length() + 1)]
            return out
        shape = tool.GetShape_s(label).Moved(place)
        out.solids = [TopoDS.Solid(x) for x in shapes_in(shape, TopAbs_SOLID)]
        count += len(out.solids)
        return out

    free = Sequence_TDF_Label()
    tool.GetFreeShapes(free)
    found = [made(free.Value(k), TopLoc_Location(), 0) for k in range(1, free.Length() + 1)]
    whole = found[0] if len(found) == 1 else Product("", parts=found)
    if not any(True for _ in whole.all_solids()):
        raise bad("there is no solid in the STEP file", "Export solids, not surfaces or wires.")
    return whole
