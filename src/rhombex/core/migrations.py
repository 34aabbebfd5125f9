"""Documents of older versions brought up to today's, one version at a time; every reader goes through here.

A step takes a document of its version as plain data and returns it as the next version has it. A step is never changed once it has landed;
`tests/kept/` holds a document of each version as it was written then.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rhombex.core.parts import library, port_kinds
from rhombex.core.plain import DesignError

Plain = dict[str, Any]
Step = Callable[[Plain], Plain]


def _design_1(data: Plain) -> Plain:
    """Version 1 went through eight shapes while Rhombex was made: fields were added, each with a default that means what was so
    before. From 2 on every change of shape has a number of its own."""
    return data


def _workshop_1(data: Plain) -> Plain:
    """Version 1 had no number. Its first diaries kept the seconds of speeding up, which the curves of a print replace."""
    printers = data.get("printers")
    for p in printers if isinstance(printers, list) else ():
        paced = p.get("paced") if isinstance(p, dict) else None
        for entry in paced if isinstance(paced, list) else ():
            if isinstance(entry, dict):
                entry.pop("rush_s", None)
    return data


def _workshop_2(data: Plain) -> Plain:
    """From 3 on a workshop has allowances and figures of filaments of its own, which a Rhombex before would drop."""
    return data


def _design_2(data: Plain) -> Plain:
    """Version 2 kept the joint of the halves beside the walls, and openings, vents and cuts from the outer corner of the case. From 3
    on a construction is a value of its own, and everything placed is kept from the cavity."""
    shell = data.get("shell")
    if not isinstance(shell, dict):
        return data  # the reader says what is wrong with it
    if isinstance(shell.get("construction"), dict):
        return data  # written by hand as it is today, with no number
    kept = {k: v for k, v in shell.items() if k not in ("construction", *_HALVES)}
    kind = shell.get("construction", "two halves")
    if kind == "two halves":
        kept["construction"] = {"kind": kind, **{k: shell[k] for k in _HALVES if k in shell}}
    else:
        kept["construction"] = {"kind": kind}
    wall, floor = shell.get("wall_mm", 3.15), shell.get("floor_mm", 3.0)
    if not all(isinstance(x, int | float) and not isinstance(x, bool) for x in (wall, floor)):
        return {**data, "shell": kept}

    def from_cavity(entry: object, flat: bool, change: Plain) -> object:
        at = entry.get("at_mm") if isinstance(entry, dict) else None
        if not isinstance(entry, dict) or not isinstance(at, list | tuple) or len(at) != 2:
            return entry
        if not all(isinstance(x, int | float) for x in at):
            return entry
        return {**entry, "at_mm": [_less(at[0], wall), _less(at[1], wall if flat else floor)], **change}

    upward = _flat_ports(data)
    out = {**data, "shell": kept}
    if isinstance(data.get("vents"), list):
        out["vents"] = [
            from_cavity(v, isinstance(v, dict) and v.get("face") in ("top", "bottom"), {}) for v in data["vents"]
        ]
    if isinstance(data.get("openings"), list):
        out["openings"] = [
            from_cavity(o, isinstance(o, dict) and o.get("port") in upward, {"anchor": "face"})
            for o in data["openings"]
        ]
    if isinstance(data.get("cuts"), list):
        out["cuts"] = [
            {**c, "at_mm": _less(c["at_mm"], wall)}
            if isinstance(c, dict) and isinstance(c.get("at_mm"), int | float)
            else c
            for c in data["cuts"]
        ]
    return out


_HALVES = ("joint_mm", "joint_thread", "lid_screw_mm")


def _less(at: float, inset: float) -> float:
    return max(-2000.0, round(at - inset, 6)) if at >= -2000 else at  # what was out of bounds stays so and is refused


def _ports(data: Plain) -> list[tuple[str, str, str, tuple[object, object]]]:
    """Every port of a document's components, as plain data: of what, its name, its kind; which way it looks and the face it is on."""
    known: Plain = {key: [(p.name, p.kind, p.facing) for p in c.ports] for key, c in library().items()}
    for c in data["custom"] if isinstance(data.get("custom"), list | tuple) else ():
        if isinstance(c, dict) and isinstance(c.get("ports"), list | tuple):
            ports = [p for p in c["ports"] if isinstance(p, dict)]
            known[str(c.get("key"))] = [(str(p.get("name")), str(p.get("kind")), p.get("facing")) for p in ports]
    out: list[tuple[str, str, str, tuple[object, object]]] = []
    for p in data["placements"] if isinstance(data.get("placements"), list | tuple) else ():
        if isinstance(p, dict):
            for name, kind, facing in known.get(str(p.get("component")), ()):
                out.append((str(p.get("id")), name, kind, (facing, p.get("face"))))
    return out


def _flat_ports(data: Plain) -> set[str]:
    """Ports of a document of version 2 that look up or down: their openings' second coordinate is no height. Boards stand
    upright or turned about z, so that is told by the component's port alone."""
    return {
        f"{id}/{name}"
        for id, name, _, (facing, face) in _ports(data)
        if face in ("top", "bottom") or (face is None and facing in ("+z", "-z"))
    }


def _design_3(data: Plain) -> Plain:
    """Up to version 3 a port was wanted where the brief said so. From 4 on it is wanted unless the brief says otherwise: whoever named some did
    without the others, whoever named none never said."""
    brief = data.get("brief")
    needs = brief.get("needs") if isinstance(brief, dict) else None
    if not isinstance(brief, dict) or not isinstance(needs, list | tuple) or not needs:
        return data
    kinds = port_kinds()
    every = [f"{id}/{name}" for id, name, kind, _ in _ports(data) if kind in kinds and kinds[kind].outside]
    return {**data, "brief": {**brief, "unneeded": [ref for ref in every if ref not in needs]}}


def _design_4(data: Plain) -> Plain:
    """From 5 on a design has openings of its own, which a Rhombex before would drop."""
    return data


def _design_5(data: Plain) -> Plain:
    """From 6 on a design may say how the screws of one component differ, which a Rhombex before would drop."""
    return data


def _design_6(data: Plain) -> Plain:
    """From 7 on a case may be held by magnets, and its pieces by dovetails or bolts, none of which a Rhombex before knows."""
    return data


def _design_7(data: Plain) -> Plain:
    """Up to 7 a feed named the component that it feeds its part, and a component of one's own was of the family "own part"."""
    out = dict(data)
    if isinstance(data.get("feeds"), list):
        out["feeds"] = [_renamed(f, "part", "component") for f in data["feeds"]]
    if isinstance(data.get("custom"), list):
        out["custom"] = [of_own_family(c) for c in data["custom"]]
    return out


def _design_8(data: Plain) -> Plain:
    """From 9 on a fan on a wall may say which way it blows, a part in which of the workshop's own filaments it is printed, and a case may
    have a handle; a Rhombex before would drop all three."""
    return data


def _design_9(data: Plain) -> Plain:
    """From 10 on feet may be printed, magnets closed in, and coupons printed along; a Rhombex before would drop all three."""
    return data


def _design_10(data: Plain) -> Plain:
    """From 11 on openings are closed by panes and plates, sheet is bent, feet are screwed on, pieces joined in ten ways, lids hung on hinges, free ends
    propped; a Rhombex before refuses them. (Panes, bent sheet and screwed feet were written under 10 for some days.)"""
    return data


def _design_11(data: Plain) -> Plain:
    """From 12 on pieces may be joined by magnets and panels have ribs; a Rhombex before refuses both."""
    return data


def _design_12(data: Plain) -> Plain:
    """From 13 on posts may be held by nuts from below; a Rhombex before refuses them."""
    return data


def _design_13(data: Plain) -> Plain:
    """From 14 on magnets may be blocks, and cases held by bolts and rods right through them; a Rhombex before refuses them."""
    return data


def _design_14(data: Plain) -> Plain:
    """From 15 on pieces may be joined by rods that go through all of them, and a cut may be turned; a Rhombex before refuses both."""
    return data


def _design_15(data: Plain) -> Plain:
    """From 16 on a cut may lean out of its plate's normal; a Rhombex before refuses that."""
    return data


def _design_16(data: Plain) -> Plain:
    """From 17 on ribs may stand on the floor, and a free end may rest on a hook in place of a post; a Rhombex before refuses both."""
    placed = data.get("placements")
    for p in placed if isinstance(placed, list) else ():
        if isinstance(p, dict) and isinstance(p.get("propped"), bool):
            p["rests_on"] = "post" if p.pop("propped") else None
    return data


def _design_17(data: Plain) -> Plain:
    """From 18 on sliding panels may be of bought sheet; a Rhombex before refuses that."""
    return data


def _design_18(data: Plain) -> Plain:
    """From 19 on floors may be of bought sheet; a Rhombex before refuses that."""
    return data


def _design_19(data: Plain) -> Plain:
    """From 20 on a case may stand on another face than its floor, and panels slide between posts on a floor of sheet; a Rhombex before refuses both."""
    return data


def _design_20(data: Plain) -> Plain:
    """From 21 on the floor of a tray in a sleeve, and a core, may be of bought sheet, parts are cut in an order of one's own, and the case's screws have
    other heads; a Rhombex before refuses that."""
    return data


def _design_21(data: Plain) -> Plain:
    """From 22 on a wrap may be held by catches, fans by slots, and sheet is glass or mesh as well; a Rhombex before refuses that."""
    return data


def _design_22(data: Plain) -> Plain:
    """From 23 on a design has text on its faces, which a Rhombex before would refuse."""
    return data


def _workshop_9(data: Plain) -> Plain:
    """From 10 on screws with button heads and countersunk ones lie in the drawer, which a Rhombex before would refuse."""
    return data


def _workshop_8(data: Plain) -> Plain:
    """From 9 on block magnets and threaded rods lie in the drawer, which a Rhombex before would refuse."""
    return data


def _workshop_7(data: Plain) -> Plain:
    """From 8 on rods lie in the drawer, which a Rhombex before would refuse."""
    return data


def _workshop_6(data: Plain) -> Plain:
    """From 7 on a workshop has filaments of its own beside the plain kinds, which a Rhombex before would refuse."""
    return data


def _workshop_5(data: Plain) -> Plain:
    """Up to 5 a workshop called its own components parts."""
    out = _renamed(data, "parts", "components")
    assert isinstance(out, dict)
    if isinstance(out.get("components"), list):
        out["components"] = [of_own_family(c) for c in out["components"]]
    return out


def _renamed(entry: object, old: str, new: str) -> object:
    if not isinstance(entry, dict) or old not in entry or new in entry:
        return entry
    return {new if k == old else k: v for k, v in entry.items()}


def of_own_family(c: object) -> object:
    """A component as plain data; what was called one's own part has today's name."""
    return {**c, "family": "own component"} if isinstance(c, dict) and c.get("family") == "own part" else c


def _workshop_4(data: Plain) -> Plain:
    """From 5 on magnets lie in the drawer, which a Rhombex before would refuse."""
    return data


def _workshop_3(data: Plain) -> Plain:
    """From 4 on a workshop has a drawer of screws and the like, which a Rhombex before would drop."""
    return data


DESIGN_STEPS: tuple[Step, ...] = (
    _design_1,
    _design_2,
    _design_3,
    _design_4,
    _design_5,
    _design_6,
    _design_7,
    _design_8,
    _design_9,
    _design_10,
    _design_11,
    _design_12,
    _design_13,
    _design_14,
    _design_15,
    _design_16,
    _design_17,
    _design_18,
    _design_19,
    _design_20,
    _design_21,
    _design_22,
)
WORKSHOP_STEPS: tuple[Step, ...] = (
    _workshop_1,
    _workshop_2,
    _workshop_3,
    _workshop_4,
    _workshop_5,
    _workshop_6,
    _workshop_7,
    _workshop_8,
    _workshop_9,
)
DESIGN_VERSION = len(DESIGN_STEPS) + 1
WORKSHOP_VERSION = len(WORKSHOP_STEPS) + 1


def brought_up(data: Plain, steps: tuple[Step, ...], what: str) -> Plain:
    """A document as today's version has it. Raises DesignError where its version is none, or newer than this Rhombex."""
    version = data.get("schema_version", 1)
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DesignError("schema_version", f"the version of a {what} is a whole number from 1 on")
    newest = len(steps) + 1
    if version > newest:
        raise DesignError(
            "schema_version",
            f"this {what} was written by a newer Rhombex (schema {version}; this one reads up to {newest})",
            "Open it with the newer Rhombex, or export it from there again.",
        )
    for step in steps[version - 1 :]:
        data = step(data)
    return {**data, "schema_version": newest}
