"""The design as a file, and which formats a package can hold: light to import, for what needs no geometry."""

from __future__ import annotations

import json
from typing import Literal

from rhombex.core.design import Design

Format = Literal["3mf", "stl", "step"]
FORMATS: tuple[Format, ...] = ("3mf", "stl", "step")


def design_json(design: Design) -> str:
    """The design as JSON, fields in their order, so that equal designs give equal bytes."""
    return json.dumps(design.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"
