"""STEP out: one named and coloured solid, or an assembly of many in their places. Slow and large: import it only where STEP is made."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import count
from typing import Any

from OCP.APIHeaderSection import APIHeaderSection_MakeHeader
from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.Message import Message, Message_Gravity
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString, TCollection_HAsciiString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Shape
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from rhombex.core.geometry.brep_kernel import BrepError

SCHEMA = "AP242DIS"


@dataclass(frozen=True)
class StepBody:
    """A shape with its name and colour (red, green, blue, 0-255), in the frame of the file."""

    name: str
    shape: TopoDS_Shape
    colour: tuple[int, int, int]


def write_step(bodies: Sequence[StepBody], path: str, name: str) -> None:
    """Write one body as a part of its name, or several as an assembly, as STEP AP242 in millimetres. Raises BrepError where the
    writer refuses."""
    doc = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(doc.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(doc.Main())

    def called(label: Any, words: str) -> Any:
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(words, True))
        return label

    whole: TDF_Label | None = called(shapes.NewShape(), name) if len(bodies) > 1 else None
    for b, words in zip(bodies, _told_apart(b.name for b in bodies), strict=True):
        part = called(shapes.AddShape(b.shape, False), words if whole is not None else name)
        rgb = Quantity_Color(*(x / 255 for x in b.colour), Quantity_TOC_sRGB)
        colours.SetColor(part, rgb, XCAFDoc_ColorSurf)
        if whole is not None:
            called(shapes.AddComponent(whole, part, TopLoc_Location()), words)
    shapes.UpdateAssemblies()
    for printer in Message.DefaultMessenger_s().Printers():
        printer.SetTraceLevel(Message_Gravity.Message_Fail)  # the writer is chatty on standard output
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    # the settings exist once a writer does
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    Interface_Static.SetCVal_s("write.step.schema", SCHEMA)
    if not writer.Transfer(doc):
        raise BrepError(f"STEP could not be made of {name}")
    head = APIHeaderSection_MakeHeader(writer.ChangeWriter().Model())
    head.SetName(TCollection_HAsciiString(name.encode("ascii", "replace").decode()))
    for k, said in ((1, head.SetAuthorValue), (1, head.SetOrganizationValue)):
        said(k, TCollection_HAsciiString(""))
    head.SetOriginatingSystem(TCollection_HAsciiString("Rhombex"))
    head.SetAuthorisation(TCollection_HAsciiString(""))
    if writer.Write(path) != IFSelect_RetDone:
        raise BrepError(f"STEP could not be written to {path}")


def _told_apart(names: Iterator[str]) -> list[str]:
    """Names as they are, a number after those that were there before."""
    out: list[str] = []
    for n in names:
        taken = n
        for k in count(2):
            if taken not in out:
                break
            taken = f"{n} ({k})"
        out.append(taken)
    return out
