"""Text that a hand or a stranger's file gives: cleaned of what no file can carry."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from typing import Annotated, Any

from pydantic import BeforeValidator, Field

# Cc control characters, Cs halves of pairs, Cn what is no character at all (U+FFFF among them): XML cannot carry them.
_UNFIT = ("Cc", "Cs", "Cn")


def clean(text: Any) -> Any:
    """Text without control characters and non-characters (a space stands for each), trimmed. Anything else goes through."""
    if not isinstance(text, str):
        return text
    return "".join(" " if unicodedata.category(c) in _UNFIT else c for c in text).strip()


Words = Annotated[str, BeforeValidator(clean)]
Name = Annotated[str, BeforeValidator(clean), Field(min_length=1, max_length=60)]


def file_stem(name: str, taken: set[str], otherwise: str = "piece") -> str:
    """A file's name without its ending, safe on any system, that no other file of the set has, however it is cased.

    `taken` holds the lower-case names in use and gets the new one.
    """
    plain = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in name).strip("-") or otherwise
    stem, n = plain, 1
    while stem.lower() in taken:
        n += 1
        stem = f"{plain}-{n}"
    taken.add(stem.lower())
    return stem


def cell(text: str) -> str:
    """A cell that no spreadsheet runs: one that begins as a formula does, also after a space or in full width, is plain text."""
    first = unicodedata.normalize("NFKC", text).lstrip("\u200b\ufeff \t\r\n\u00a0")[:1]
    return "'" + text if first in ("=", "+", "-", "@") or (text[:1] in "\t\r\n" and text) else text


def listed(words: Sequence[str], last: str = "and") -> str:
    """Words in a row as they are said: a, b and c."""
    return f" {last} ".join(x for x in (", ".join(words[:-1]), *words[-1:]) if x)


def duration(seconds: float) -> str:
    """A time as it is said: 45 min, 5 h 47 min."""
    minutes = round(seconds / 60)
    hours, rest = divmod(minutes, 60)
    return f"{hours} h {rest} min" if hours and rest else f"{hours} h" if hours else f"{rest} min"


ACCENTS = "\u0300\u0301\u0302\u0303\u0308\u030a"  # grave, acute, circumflex, tilde, two dots, ring: what is drawn over a letter


def drawable(text: str) -> bool:
    """Whether every letter of a text can be drawn on a part: those of ASCII, and they with what may stand over them."""
    return all(" " <= c <= "~" or c in ACCENTS for c in unicodedata.normalize("NFD", text))
