"""Random mutations of documents and random edits, from plain to absurd: what a hand, a script or a stranger's file could bring."""

from __future__ import annotations

import copy
from random import Random
from typing import Any, get_args

from rhombex.core.apply import apply
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Brief, Design, JoinKind, Placement, Shell, Stand
from rhombex.core.edits import Add, Set, StackOn
from rhombex.core.parts import library
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron_panels, wren

ODD = (
    0,
    -1,
    1,
    -10,
    5e-324,
    1e-300,
    1e-9,
    0.1,
    0.4,
    20,
    60,
    199,
    1990,
    1999.9,
    -1990,
    2000,
    -2000,
    2001,
    1e6,
    -1e9,
    1e300,
)
WORDS = (
    "",
    "x",
    "top",
    "bottom",
    "front",
    "back",
    "insert",
    "cut in plastic",
    "captive nut",
    "loose panels",
    "two halves",
    "ABS",
    "TPU",
    "outdoors",
    "weekly",
    "honeycomb",
    "bench-180",
    "bench-300",
    "a-printer-elsewhere",
    "board",
    "drive",
    "fan",
    "base",
    "lid",
    "sbc-85x56",
    "drive-2.5",
    "board/network",
    "\x00",
    "\uffff",
    "..",
    "e\u0301",
    "=1+1",
)


JOINS = get_args(JoinKind)


def starts() -> list[Design]:
    """Five designs to begin with: the samples, an empty one, a stack, and a sun-struck large one."""
    empty = Design(name="Empty", shell=Shell(inner_mm=(120, 90, 40), construction=TwoHalves(joint_mm=32)))
    stack = apply(wren(), Set(path="brief.opened", value="weekly"))
    upper = Placement(id="upper", component="sbc-85x56", name="Upper", at_mm=(0, 0, 0), on="board")
    stack = apply(stack, StackOn(placement=upper, stand=Stand(standoff_mm=20, made="printed")))
    large = Design(
        name="Large",
        brief=Brief(opened="weekly", sun="outdoors", size_limit_mm=(300, 300, 300)),
        shell=Shell(inner_mm=(280, 240, 90), construction=TwoHalves(joint_mm=80)),
        printer="bench-300",
    )
    for k, (key, at) in enumerate((("board-mini-itx", (95.0, 110.0, 8.0)), ("drive-3.5", (232.0, 120.0, 8.0)))):
        large = apply(large, Add(placement=Placement(id=f"p{k}", component=key, name=f"P{k}", at_mm=at)))
    return [wren(), heron_panels(), empty, stack, large]


def a_magnet(r: Random) -> dict[str, Any]:
    """A magnet of some size."""
    long = r.choice([None, None, 10, 20])
    return {
        "long_mm": max(long, 12) if long else None,
        "d_mm": r.choice([5, 6, 8, 10, 12]),
        "high_mm": r.choice([2, 3, 5]),
        "fixed": r.choice(["pressed", "glued", "closed in"]),
        "keyed": r.random() < 0.7,
        "against": r.choice(["magnets", "magnets", "screw heads"]),
    }


def a_snap(r: Random) -> dict[str, Any]:
    """Hooks of some size."""
    return {"arm_mm": r.choice([0.8, 1.6, 3]), "wide_mm": r.choice([5, 10, 20]), "catch_mm": r.choice([0.3, 0.6, 1.5])}


def constructions(r: Random, mm: float) -> list[dict[str, Any]]:
    """One of each kind that stands round its components, with a number of its own."""
    thread = r.choice(["insert", "cut in plastic"])
    nut = r.choice([thread, "captive nut"])
    through = r.choice([nut, "through bolt", "threaded rod"])
    magnets = r.choice([None, None, a_magnet(r)])
    return [
        {
            "kind": "two halves",
            "joint_mm": mm,
            "joint_thread": through,
            "magnets": magnets,
            "snaps": None if magnets else r.choice([None, a_snap(r)]),
            "hinge": r.choice(
                [
                    None,
                    None,
                    {
                        "side": r.choice(["front", "back", "left", "right"]),
                        "along": r.choice(["two hinges", "whole side"]),
                        "pin_mm": r.choice([1.5, 1.75, 2, 3, 6]),
                        "knuckle_mm": r.choice([5, 8, 20, 40]),
                    },
                ]
            ),
        },
        {"kind": "open bench", "gusset_mm": mm, "plate": r.choice(["printed", "sheet"])},
        {
            "kind": "tray in a sleeve",
            "opens": r.choice(["front", "back", "left", "right"]),
            "tab_mm": r.choice([0, 6, 16, 60]),
            "floor": r.choice(["printed", "printed", "sheet"]),
            "joint_thread": nut,
        },
        {
            "kind": "core and wrap",
            "lip_mm": mm,
            "floor": r.choice(["printed", "printed", "sheet"]),
            "joint_thread": thread,
            "snaps": r.choice([None, a_snap(r)]),
        },
        {
            "kind": "sliding panels",
            "post_mm": mm,
            "joint_thread": through,
            "magnets": magnets,
            "sheet": r.choice(
                [
                    (),
                    (),
                    ("top",),
                    ("left", "front"),
                    ("front", "back", "left", "right", "top"),
                    ("bottom",),
                    ("left", "bottom"),
                ]
            ),
            "sheet_mm": r.choice([1.0, 2.0, 2.0, 3.0]),
        },
        {
            "kind": "frame and covers",
            "beam_mm": mm,
            "joint_thread": thread,
            "sheet": r.choice([(), ("top",), ("left", "front"), ("bottom",), ("bottom", "top")]),
            "magnets": magnets,
        },
        {
            "kind": "corners and sheet",
            "corner_mm": mm,
            "material": r.choice(["acrylic", "plywood", "aluminium", "glass", "mesh"]),
            "floor": r.choice(["printed", "sheet"]),
            "wrap": r.choice(["none", "left to right", "front to back"]),
            "bend_mm": r.choice([0.2, 3, 6, 12, 60]),
            "joint_thread": thread,
        },
    ]


def _places(node: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    out = [path] if path else []
    items = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in items:
        out += _places(value, (*path, key))
    return out


def _value(r: Random, old: Any) -> Any:
    if isinstance(old, bool):
        return r.choice([not old, None, 1])
    if isinstance(old, int | float):
        way = r.randrange(5)
        if way == 0:
            return r.choice(ODD)
        if way == 1:
            return old * r.choice([0.1, 0.5, 0.9, 1.1, 2, 10, -1])
        if way == 2:
            return old + r.gauss(0, 30)
        return round(old + r.gauss(0, 5), 2)
    if isinstance(old, str):
        return r.choice(WORDS)
    return r.choice([None, [], {}, 3.5, "x", old])


def mutated(document: dict[str, Any], r: Random, most: int = 3) -> dict[str, Any]:
    """A document with one to `most` things changed. Half of the changes are to numbers, so that many are accepted."""
    out = copy.deepcopy(document)
    for _ in range(r.randint(1, most)):
        places = _places(out)
        path = r.choice(places)
        if r.random() < 0.6:
            numbers = [p for p in places if isinstance(_at(out, p), int | float) and p != ("schema_version",)]
            path = r.choice(numbers) if numbers else path
        parent = _at(out, path[:-1])
        key = path[-1]
        way = r.random()
        if way < 0.06:
            del parent[key]
        elif way < 0.14 and isinstance(parent, list):
            again = copy.deepcopy(parent[key])
            if isinstance(again, dict) and "id" in again:
                again["id"] = f"{again['id']}-{r.randrange(100)}"[:40]
            parent.insert(r.randrange(len(parent) + 1), again)
        else:
            parent[key] = _value(r, parent[key])
    return out


def _at(node: Any, path: tuple[Any, ...]) -> Any:
    for key in path:
        node = node[key]
    return node


PATHS = (
    *(
        f"shell.{x}"
        for x in (
            "wall_mm",
            "floor_mm",
            "lid_mm",
            "corner_radius_mm",
            "construction.joint_mm",
            "boss_od_mm",
            "construction.lid_screw_mm",
        )
    ),
    *(
        f"process.{x}"
        for x in ("layer_mm", "line_width_mm", "nozzle_mm", "perimeters", "infill", "brim_mm", "layer_min_s")
    ),
    *(f"process.speeds.{x}_mm_s" for x in ("outer", "infill", "travel")),
    "process.supports",
    "process.filament",
    "process.own_filament",
    "process.infill_kind",
    "printer",
    "name",
    "brief.room_c",
    "brief.opened",
    "brief.sun",
    "brief.around",
    "brief.stands",
    "brief.budget",
    "shell.construction.joint_thread",
    "shell.post_thread",
    "shell.heads",
    "shell.construction",
    "shell.feet",
    "shell.stands_on",
)


def _about_text(r: Random, id: str) -> dict[str, Any] | None:
    """Text on a face, or none of it; drawn beside the others, so that these stay as they were."""
    state = r.getstate()[1]
    t = Random(f"{state[0]} {state[-1]}")
    if t.random() < 0.25:
        return None
    if t.random() < 0.2:
        on = {"do": "anchor-text", "id": t.choice("st"), "on": t.choice([id, None])}
        return t.choice([on, {"do": "remove-text", "id": t.choice("st")}])
    return {
        "do": "put-text",
        "text": {
            "id": t.choice("st"),
            "face": t.choice(["front", "back", "left", "right", "top", "bottom", "inside"]),
            "at_mm": [t.gauss(60, 60), t.gauss(20, 30)],
            "on": t.choice([None, None, id]),
            "text": t.choice(["Rhombex", "Ä 1", "é", ".", "\u2603", "W" * 60, " ", "x\u0308\u0308"]),
            "high_mm": t.choice([8.0, 4.0, 30.0, -1.0, 1e9, "tall"]),
            "deep_mm": t.choice([None, 0.4, 3.0, 20.0, 0.0]),
            "turn_deg": t.choice([0, 90, 180, 270, 45]),
        },
    }


def random_edit(r: Random, d: Design) -> dict[str, Any]:
    """An edit as plain data, of any kind, aimed at what the design has."""
    ids = [p.id for p in d.placements] or ["board"]
    id = r.choice([*ids, "nobody"]) if r.random() < 0.1 else r.choice(ids)
    faces = ("front", "back", "left", "right", "top", "bottom")
    ports = [
        f"{p.id}/{q.name}"
        for p in d.placements
        for q in (d.component(p.component).ports if d.component(p.component) else ())
    ]
    port = r.choice(ports) if ports else "board/usb-1"

    def number(scale: float = 40) -> float:
        return float(r.choice(ODD)) if r.random() < 0.25 else round(r.gauss(0, scale), 2)

    place = next((p for p in d.placements if p.id == id), None)
    near = [round(x + r.gauss(0, 15), 2) for x in place.at_mm] if place is not None else [0, 0, 0]
    component = r.choice(list(library()))
    lead = {
        "id": "lead",
        "name": "Lead",
        "start": port,
        "end": r.choice(ports or [port]),
        "length_mm": abs(number(200)),
        "bend_radius_mm": 6,
    }
    panel = {
        "id": r.choice("abc"),
        "name": "P",
        "size_mm": [abs(number(200)), abs(number(200))],
        "vent_d_mm": abs(number(5)),
    }
    field = r.choice(PATHS)
    value: Any = r.choice(WORDS) if r.random() < 0.25 else abs(number(4)) if r.random() < 0.8 else number()
    if field in ("process.supports", "shell.feet"):
        value = r.random() < 0.5
    if field == "process.perimeters":
        value = r.randint(0, 21)
    new = {
        "id": f"n{r.randrange(1000)}",
        "component": component,
        "name": "New",
        "at_mm": [number(80), number(80), abs(number(20))],
    }
    if library()[component].mounting == "panel" and r.random() < 0.9:
        new["face"] = r.choice(faces)
    edits: list[dict[str, Any]] = [
        {"do": "set", "path": field, "value": value},
        {"do": "set", "path": field, "value": value},
        {"do": "move", "id": id, "to_mm": near if r.random() < 0.6 else [number(), number(), number()]},
        {"do": "move", "id": id, "to_mm": near},
        {"do": "turn", "id": id, "by": r.choice([90, 180, 270])},
        {"do": "blow", "id": id, "blows": r.choice(["in", "out", None])},
        {"do": "to-face", "id": id, "face": r.choice(faces), "at_mm": near},
        {"do": "move-wall", "face": r.choice(faces), "by_mm": number(20)},
        {"do": "fit-cavity"},
        {
            "do": "construct",
            "construction": r.choice([*constructions(r, abs(number(30))), {"kind": "loose panels"}, {"kind": "egg"}]),
        },
        {
            "do": "magnets",
            "magnets": r.choice(
                [None, a_magnet(r), a_magnet(r) | {"d_mm": number(30)}, a_magnet(r) | {"long_mm": number(70)}]
            ),
        },
        {
            "do": "coupon",
            "feature": r.choice(["tongue_side", "dowel_slip", "round_hole_upright", "round_hole_lying"]),
            "wanted": r.random() < 0.7,
        },
        {
            "do": "feet",
            "foot": r.choice([None, "stick-on", "printed", "printed"]),
            "under": r.random() < 0.4,
            "high_mm": r.choice([None, abs(number(10)) + 2]),
        },
        {"do": "stand on", "face": r.choice(["bottom", "front", "back", "left", "right", "top"])},
        {
            "do": "ribs",
            "face": r.choice(["top", "top", "front", "left", "bottom"]),
            "count": r.choice([0, 1, 3, 7, 20]),
            "high_mm": r.choice([1, 6, abs(number(30)) + 1]),
            "lines": r.choice([2, 6, 20]),
        },
        {
            "do": "handle",
            "handle": r.choice(
                [None, {}, {"runs": "y", "grip_mm": abs(number(60)) + 40}, {"at_mm": [number(60), number(60)]}]
            ),
        },
        {"do": "snaps", "snaps": r.choice([None, a_snap(r), a_snap(r) | {"catch_mm": number(3)}])},
        {"do": "need", "port": port, "needed": r.random() < 0.7},
        {
            "do": "put-opening",
            "opening": {
                "port": port,
                "at_mm": [number(), number()],
                "anchor": r.choice(["port", "face"]),
                "size_mm": [abs(number(20)), abs(number(20))],
            },
        },
        {
            "do": "put-vent",
            "vent": {
                "id": r.choice("vw"),
                "face": r.choice(faces),
                "at_mm": [number(), number()],
                "on": r.choice([id, None, None]),
                "size_mm": [abs(number(60)), abs(number(60))],
                "follow_heat": r.random() < 0.5,
            },
        },
        {
            "do": "put-own-opening",
            "opening": {
                "id": r.choice("op"),
                "name": "Own",
                "face": r.choice(faces),
                "at_mm": [number(), number()],
                "on": r.choice([id, None, None]),
                "shape": r.choice(["round", "slot", "rectangle"]),
                "size_mm": [abs(number(20)), abs(number(20))],
                "corner_mm": abs(number(3)),
                "allowed": r.random() < 0.5,
                "pane": r.choice(
                    [
                        None,
                        {
                            "material": r.choice(["acrylic", "printed", "glass", "mesh"]),
                            "thick_mm": abs(number(4)),
                            "overlap_mm": abs(number(9)),
                            "over_under_mm": r.choice([None, abs(number(3))]),
                            "held": r.choice(["glued", "screwed"]),
                        },
                    ]
                ),
            },
        },
        {
            "do": "close-by",
            "id": r.choice("op"),
            "material": r.choice([None, "acrylic", "plywood", "aluminium", "printed"]),
            "thick_mm": r.choice([None, abs(number(4))]),
            "overlap_mm": r.choice([None, abs(number(9))]),
            "held": r.choice([None, "glued", "screwed"]),
        },
        {"do": "prop-up", "id": id, "rests_on": r.choice(["post", "hook", None])},
        {"do": "hold-fan", "id": id, "slotted": r.random() < 0.7},
        {"do": "anchor-own-opening", "id": r.choice("op"), "on": r.choice([id, None])},
        _about_text(r, id) or {"do": "remove-own-opening", "id": r.choice("op")},
        {"do": "remove-vent", "id": r.choice(["v", "w", "vent-back"])},
        {"do": "put-lead", "lead": lead},
        {
            "do": "put-cut",
            "cut": {
                "part": r.choice(["base", "lid"]),
                "axis": r.choice("xyz"),
                "at_mm": number(80),
                "by": r.choice([None, *JOINS]),
                "turn_deg": r.choice([0, 0, number(20)]),
                "lean_deg": r.choice([0, 0, 0, number(30)]),
            },
        },
        {
            "do": "put-cuts",
            "part": "base",
            "cuts": [
                {
                    "part": r.choice(["base", "base", "lid"]),
                    "axis": a,
                    "at_mm": number(80),
                    "by": r.choice([None, *JOINS]),
                    "turn_deg": r.choice([0, 0, number(20)]),
                    "lean_deg": r.choice([0, 0, 0, number(30)]),
                }
                for a in r.choice(["x", "xy", "xxy"])
            ],
        },
        {"do": "free-cuts", "part": "base"},
        {"do": "order-cuts", "parts": r.choice([[], ["lid"], ["lid", "base"], ["lid", "lid"]])},
        {
            "do": "join-cuts",
            "part": r.choice(["base", "lid"]),
            "by": r.choice(JOINS),
        },
        {
            "do": "put-joint",
            "joint": {
                "of": r.choice([f"{r.choice(['posts', 'face', 'hook', 'on'])}/{id}", "cut/base"]),
                "holding": r.choice(["insert", "cut in plastic", "captive nut", "nut from below", None]),
                "screw_mm": r.choice([None, 5, 8, abs(number(20))]),
            },
        },
        {
            "do": "put-joint",
            "joint": {"of": f"posts/{id}", "holding": "standoff", "standoff_mm": r.choice([5, 12, abs(number(20))])},
        },
        {"do": "lay-part", "part": r.choice(["base", "lid", "left", "a", "base-1"]), "down": r.choice([*faces, None])},
        {"do": "put-panel", "panel": panel},
        {"do": "remove-panel", "id": r.choice(["a", "b", "left", "top"])},
        {"do": "add", "placement": new},
        {"do": "place", "component": component},
        {"do": "move-on-face", "what": r.choice([id, port, "vent-back"]), "by_mm": [number(), number()]},
        {"do": "remove", "id": id},
        {"do": "swap", "id": id, "component": component},
        {
            "do": "set-stand",
            "id": id,
            "stand": {"standoff_mm": abs(number(15)), "made": r.choice(["bought", "printed"])},
        },
        {"do": "stack-on", "placement": new | {"on": id}, "stand": {"standoff_mm": abs(number(15))}},
        {"do": "stack-under", "id": id, "placement": new, "stand": {"standoff_mm": abs(number(15))}},
        {"do": "put-adapter", "adapter": {"port": port, "rail": "5 V", "watts": abs(number(50))}},
        {"do": "want-face", "port": port, "face": r.choice([*faces, None])},
        {"do": "rename", "id": id, "name": r.choice(WORDS)},
        {
            "do": "print-part",
            "part": r.choice(["base", "lid"]),
            "process": {"layer_mm": abs(number(0.2)), "filament": "ABS"},
        },
        {"do": "print-part", "part": "base", "process": None},
    ]
    return r.choice(edits)


WORKSHOP = ARCHIVE_WORKSHOP
