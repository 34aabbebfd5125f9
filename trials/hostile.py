"""Hostile files through the reader's own process: `python trials/hostile.py`. Each must end within 15 s and 1 GB with a message that says why."""

from __future__ import annotations

import io
import os
import struct
import sys
import time
import zipfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

import ezdxf
import numpy as np

from rhombex.core.exchange.recognise import recognise
from rhombex.core.plain import DesignError
from rhombex.jobs.apart import apart, seconds_for
from tests.step_boards import random_board, step_bytes
from tests.step_components import BODIES

CUBE = [(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)]


def model(resources: str, build: str = '<item objectid="1"/>', head: str = "", unit: str = "millimeter") -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr(
            "3D/3dmodel.model",
            f'<?xml version="1.0"?>{head}<model unit="{unit}"><resources>{resources}</resources><build>{build}</build></model>',
        )
    return out.getvalue()


def mesh(verts: str = "", tris: str = '<triangle v1="0" v2="1" v3="2"/>', id: int = 1) -> str:
    v = verts or '<vertex x="0" y="0" z="0"/><vertex x="9" y="0" z="0"/><vertex x="0" y="9" z="1"/>'
    return f'<object id="{id}"><mesh><vertices>{v}</vertices><triangles>{tris}</triangles></mesh></object>'


def nested(depth: int, width: int) -> bytes:
    """Components within components: width to the power of depth meshes."""
    out = mesh()
    for k in range(2, depth + 2):
        out += f'<object id="{k}"><components>' + f'<component objectid="{k - 1}"/>' * width + "</components></object>"
    return model(out, f'<item objectid="{depth + 1}"/>')


def dxf(blocks: int = 0, inside: int = 10, cycle: bool = False, text: str = "") -> bytes:
    doc = ezdxf.new()
    if blocks:
        doc.blocks.new("b0").add_circle((0, 0), 1)
        for k in range(1, blocks):
            b = doc.blocks.new(f"b{k}")
            for i in range(inside):
                b.add_blockref(f"b{k - 1}", (i, 0))
        doc.modelspace().add_blockref(f"b{blocks - 1}", (0, 0))
    if cycle:
        doc.blocks.new("me").add_blockref("me", (0, 0))
        doc.modelspace().add_blockref("me", (0, 0))
    out = io.StringIO()
    doc.write(out)
    return (out.getvalue() + text).encode()


def stl(count: int, data: bytes) -> bytes:
    return b"x".ljust(80) + struct.pack("<I", count) + data


def many_obj(faces: int) -> bytes:
    return b"v 0 0 0\nv 9 0 0\nv 0 9 1\n" + b"f 1 2 3\n" * faces


def spheres(n: int) -> bytes:
    """Triangles without end, as binary STL."""
    r = np.random.default_rng(1)
    rows = np.zeros(n, dtype=[("n", "<f4", 3), ("p", "<f4", (3, 3)), ("a", "<u2")])
    rows["p"] = r.uniform(0, 100, (n, 3, 3))
    return stl(n, rows.tobytes())


def zipped(inside: bytes, name: str = "3D/3dmodel.model") -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr(name, inside)
    return out.getvalue()


def files() -> dict[str, tuple[str, bytes]]:
    """What it is -> name and bytes."""
    whole = random_board(3).data
    usb = step_bytes(BODIES["usb-c receptacle"]())
    entity = (
        "<!DOCTYPE x [<!ENTITY a 'aaaaaaaaaa'>"
        + "".join(f"<!ENTITY {chr(98 + i)} '{f'&{chr(97 + i)};' * 10}'>" for i in range(9))
        + "]>"
    )
    emn = '.HEADER\nBOARD_FILE 3.0 "x" 1 1\nb MM\n.END_HEADER\n.BOARD_OUTLINE E\n1.6\n'
    glb = b"glTF" + struct.pack("<II", 2, 0xFFFFFFF0)
    return {
        "empty step": ("a.step", b""),
        "empty stl": ("a.stl", b""),
        "empty 3mf": ("a.3mf", b""),
        "empty dxf": ("a.dxf", b""),
        "empty idf": ("a.emn", b""),
        "empty obj": ("a.obj", b""),
        "empty ply": ("a.ply", b""),
        "empty glb": ("a.glb", b""),
        "no such kind": ("a.exe", b"MZ"),
        "step cut in half": ("a.step", whole[: len(whole) // 2]),
        "step cut at its end": ("a.step", whole[:-40]),
        "step of zeros": ("a.step", b"ISO-10303-21;" + b"\0" * 2_000_000),
        "step without data": ("a.step", b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n"),
        "step that refers to itself": (
            "a.step",
            b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=PRODUCT('a','a','',(#1));\n#2=SHAPE_DEFINITION_REPRESENTATION(#2,#2);\nENDSEC;\nEND-ISO-10303-21;\n",
        ),
        "step with a deep list": (
            "a.step",
            b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=A("
            + b"(" * 200_000
            + b")" * 200_000
            + b");\nENDSEC;\nEND-ISO-10303-21;\n",
        ),
        "step with numbers that are none": ("a.step", whole.replace(b"0.,0.,1.", b"NaN,inf,1.")),
        "step with huge numbers": ("a.step", whole.replace(b"CARTESIAN_POINT('',(", b"CARTESIAN_POINT('',(1E300", 40)),
        "step of a million lines": (
            "a.step",
            b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n"
            + b"".join(b"#%d=CARTESIAN_POINT('',(1.,2.,3.));\n" % k for k in range(1, 1_000_000))
            + b"ENDSEC;\nEND-ISO-10303-21;\n",
        ),
        "step that is a picture": ("a.step", b"\x89PNG\r\n\x1a\n" + os.urandom(5000)),
        "step with a broken half": ("a.step", usb[: len(usb) // 2] + usb[len(usb) // 3 :]),
        "stl that lies about its count": ("a.stl", stl(4_000_000_000, b"\0" * 500)),
        "stl cut short": ("a.stl", spheres(1000)[:-30]),
        "stl of nan": ("a.stl", stl(2, b"\xff" * 100)),
        "stl of infinite size": ("a.stl", stl(1, struct.pack("<12fH", *([0.0] * 3 + [3e38] * 9), 0))),
        "stl of no size": ("a.stl", stl(2, b"\0" * 100)),
        "stl text without end": ("a.stl", b"solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0"),
        "stl text with words for numbers": (
            "a.stl",
            b"solid x\nfacet\nvertex a b c\nvertex a b c\nvertex 1 2 3\nendsolid",
        ),
        "stl of 1.5 million loose triangles": ("a.stl", spheres(1_500_000)),
        "obj of five million faces": ("a.obj", many_obj(5_000_000)),
        "obj with far corners": ("a.obj", b"v 0 0 0\nf 1 2 99999999999\n"),
        "obj with a number of 5,000 digits": ("a.obj", b"v 0 0 " + b"9" * 5000 + b"\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"),
        "ply that lies about its count": (
            "a.ply",
            b"ply\nformat ascii 1.0\nelement vertex 2000000000\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n",
        ),
        "ply binary cut short": (
            "a.ply",
            b"ply\nformat binary_little_endian 1.0\nelement vertex 100000000\nproperty float x\nend_header\n"
            + b"\0" * 50,
        ),
        "glb that lies about its length": ("a.glb", glb + b"\0" * 20),
        "glb with absurd counts": (
            "a.glb",
            b"glTF"
            + struct.pack("<III", 2, 120, 80)
            + b"JSON"
            + b'{"asset":{"version":"2.0"},"accessors":[{"count":4000000000,"type":"VEC3"}]}'.ljust(80),
        ),
        "glb of json alone": ("a.glb", b'{"asset":{}}'),
        "3mf that is no zip": ("a.3mf", b"PK\x03\x04" + b"\0" * 100),
        "3mf without a model": ("a.3mf", zipped(b"x", "x.txt")),
        "3mf with entities": ("a.3mf", model(mesh(), head=entity)),
        "3mf that names a file": (
            "a.3mf",
            model(mesh(), head='<!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]>'),
        ),
        "3mf that unpacks without end": ("a.3mf", zipped(b" " * 300_000_000)),
        "3mf of 10^12 components": ("a.3mf", nested(12, 10)),
        "3mf 60 deep": ("a.3mf", nested(60, 1)),
        "3mf in a circle": (
            "a.3mf",
            model('<object id="1"><components><component objectid="1"/></components></object>'),
        ),
        "3mf that builds nothing": ("a.3mf", model(mesh(), "")),
        "3mf that builds what is not there": ("a.3mf", model(mesh(), '<item objectid="7"/>')),
        "3mf with a flat transform": (
            "a.3mf",
            model(mesh(), '<item objectid="1" transform="0 0 0 0 0 0 0 0 0 0 0 0"/>'),
        ),
        "3mf with a transform of words": (
            "a.3mf",
            model(mesh(), '<item objectid="1" transform="a b c d e f g h i j k l"/>'),
        ),
        "3mf with nan": ("a.3mf", model(mesh('<vertex x="nan" y="0" z="0"/>' * 3))),
        "3mf in a unit of its own": ("a.3mf", model(mesh(), unit="parsec")),
        "3mf with a triangle to nowhere": ("a.3mf", model(mesh(tris='<triangle v1="0" v2="1" v3="99"/>'))),
        "3mf cut short": ("a.3mf", model(mesh())[:-30]),
        "dxf of blocks in blocks": ("a.dxf", dxf(blocks=9, inside=12)),
        "dxf that holds itself": ("a.dxf", dxf(cycle=True)),
        "dxf that is a text": ("a.dxf", b"hello\nworld\n" * 1000),
        "dxf cut short": ("a.dxf", dxf()[:800]),
        "dxf of nothing": ("a.dxf", dxf()),
        "idf of no number": ("a.emn", (emn + "0 a b c\n").encode()),
        "idf of nan": ("a.emn", (emn + "0 nan 0 0\n0 9 0 0\n0 9 9 0\n.END_BOARD_OUTLINE\n").encode()),
        "idf of two million lines": ("a.emn", (emn + "0 1 1 0\n" * 2_000_000).encode()),
        "idf of a quote without end": ("a.emn", b'.HEADER\nBOARD_FILE 3.0 "x\n' + b"\xff" * 1000),
    }


def main() -> None:
    slow = worst = 0.0
    wrong = 0
    every = files()
    for what, (name, data) in every.items():
        begun = time.monotonic()
        try:
            found, _ = apart(recognise, data, name, None, None, (), None, seconds=seconds_for(len(data)))
            said = f"read as {found.kind} of {' x '.join(f'{x:.3g}' for x in found.size_mm)}"
            wrong += not all(np.isfinite(found.size_mm))
        except DesignError as e:
            said = f"{e.message} [{e.do}]"
            wrong += not e.message or not e.do
        took = time.monotonic() - begun
        slow += took > 15
        worst = max(worst, took)
        print(f"{took:5.1f} s  {what}: {said[:150]}", flush=True)
    print(f"{len(every)} files, worst {worst:.1f} s, {slow:.0f} over 15 s, {wrong} without a word")


if __name__ == "__main__":
    main()
