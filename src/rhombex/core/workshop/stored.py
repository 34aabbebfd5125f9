"""A workshop as it was stored: one bad entry of a list harms only itself."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from rhombex.core.migrations import WORKSHOP_STEPS, brought_up
from rhombex.core.plain import first_error
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop


def read_stored(document: str) -> tuple[Workshop, tuple[str, ...]]:
    """A workshop that was stored, with what of it cannot be read: one bad entry of a list harms only itself. Where nothing
    can be read, the sample workshop stands in."""
    lost: list[str] = []
    try:
        data = json.loads(document)
        if not isinstance(data, dict):
            raise ValueError("it is no object of fields")
        data = brought_up(data, WORKSHOP_STEPS, "workshop")
        while True:
            try:
                return Workshop.model_validate(data), tuple(lost)
            except ValidationError as e:
                lost.append(_taken_out(data, e))
    except (ValueError, RecursionError, LookupError, TypeError) as e:
        message = f"the whole workshop: {str(e).splitlines()[0][:120]}"
        return ARCHIVE_WORKSHOP, (message,)


def _taken_out(data: Any, e: ValidationError) -> str:
    """Take the entry that a complaint is about out of its list and say which it was. Raises ValueError where it is in none."""
    where, message = first_error(e)
    path = e.errors(include_url=False)[0]["loc"]
    if not path:  # two of the same key
        for what, key in (("printers", "key"), ("spools", "id"), ("components", "key")):
            ids = [x.get(key) for x in data.get(what, [])]
            for i, id in enumerate(ids):
                if id in ids[:i]:
                    del data[what][i]
                    return f"{what}.{i}: {message}"
    lists = [i for i in range(1, len(path)) if isinstance(path[i], int) and isinstance(_at(data, path[:i]), list)]
    if lists:
        # the innermost list that may be shorter: an entry of a diary before its printer
        inner = next(
            (i for i in reversed(lists) if path[i - 1] in ("paced", "spools", "components", "stock", "printers")),
            lists[0],
        )
        del _at(data, path[:inner])[path[inner]]
    elif len(path) == 1 and path[0] != "printers" and path[0] in data:
        del data[path[0]]
    else:
        raise ValueError(f"{where}: {message}")
    return f"{where}: {message}"


def _at(data: Any, path: tuple[Any, ...]) -> Any:
    for key in path:
        data = data[key]
    return data
