"""The design as a file: light to import, for what needs no geometry."""

from __future__ import annotations

import json

from rhombex.core.design import Design


def design_json(design: Design) -> str:
    """The design as JSON, fields in their order, so that equal designs give equal bytes."""
    return json.dumps(design.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"
