"""The description of the API as OpenAPI has it: what the library leaves empty is left out, not said to be null."""

from __future__ import annotations

from typing import Any

# where a null is a value of its own
_VALUES = ("default", "const", "enum", "example", "examples")


def without_nulls(node: Any) -> Any:
    """The same description without members that are null where an object, a list or a text is meant."""
    if isinstance(node, dict):
        return {k: v if k in _VALUES else without_nulls(v) for k, v in node.items() if v is not None or k in _VALUES}
    return [without_nulls(v) for v in node] if isinstance(node, list) else node
