"""Documents of older versions brought up to today's, one version at a time; every reader goes through here.

A step takes a document of its version as plain data and returns it as the next version has it. A step is never changed once it has landed;
`tests/kept/` holds a document of each version as it was written then.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

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


DESIGN_STEPS: tuple[Step, ...] = (_design_1,)
WORKSHOP_STEPS: tuple[Step, ...] = (_workshop_1,)
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
