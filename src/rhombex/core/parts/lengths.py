"""Lengths as people write them: millimetres, inches, fractions, small sums."""

from __future__ import annotations

import ast
import operator
import re
from collections.abc import Callable
from math import isfinite
from typing import Literal

from rhombex.core.reference import val

Unit = Literal["mm", "in"]
_UNITS = {
    "": None,
    "mm": "mm",
    "cm": "cm",
    "in": "in",
    "inch": "in",
    "inches": "in",
    '"': "in",
    "″": "in",
    "'": "ft",
    "ft": "ft",
}
_OPS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}
_MIXED = re.compile(r"(\d+)[ -]+(\d+)/(\d+)")
_COMMA = re.compile(r"(?<=\d),(?=\d)")


def _value(node: ast.expr) -> float:
    match node:
        case ast.Constant(value=int() | float() as v) if not isinstance(v, bool):
            return float(v)
        case ast.BinOp(left=a, op=op, right=b) if type(op) in _OPS:
            return _OPS[type(op)](_value(a), _value(b))
        case ast.UnaryOp(op=ast.USub(), operand=a):
            return -_value(a)
        case ast.UnaryOp(op=ast.UAdd(), operand=a):
            return _value(a)
    raise ValueError


def length_mm(text: str | float | int, unit: Unit = "mm") -> float:
    """A length in mm of what was typed: `61.47`, `61,47`, `2 7/16 in`, `1.5"`, `85+2*3`. `unit` is that of a bare number.

    Raises ValueError saying what cannot be read.
    """
    if isinstance(text, int | float):
        text = repr(float(text))
    typed = text.strip()
    if len(typed) > 80:
        raise ValueError("a length is written in fewer than 80 signs")
    m = re.fullmatch(r"(.*?)\s*(mm|cm|inches|inch|in|ft|\"|″|')?", typed, re.S)
    body, named = (m.group(1), _UNITS[m.group(2) or ""]) if m else (typed, None)
    body = _COMMA.sub(".", _MIXED.sub(r"(\1+\2/\3)", body))
    try:
        value = _value(ast.parse(body, mode="eval").body)
    except (ValueError, SyntaxError, ZeroDivisionError, RecursionError, MemoryError, OverflowError):
        raise ValueError(f"'{typed}' cannot be read as a length") from None
    scale = {"mm": 1.0, "cm": 10.0, "in": val("measuring.check.inch"), "ft": 12 * val("measuring.check.inch")}
    value *= scale[named or unit]
    if not isfinite(value) or abs(value) > 1e5:
        raise ValueError(f"'{typed}' is out of reason for a length")
    return value
