"""How long work says how far it is, and how it is stopped."""

from __future__ import annotations

from collections.abc import Callable


class Stopped(Exception):
    """Somebody stopped it."""


Progress = Callable[[float, str], None]


def silent(share: float, what: str) -> None:
    """Tell nobody."""
