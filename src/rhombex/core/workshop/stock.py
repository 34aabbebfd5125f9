"""The drawer: screws, inserts, nuts, standoffs, pins, rods, magnets and feet that a workshop has, how many, and what a pack of them costs here."""

from __future__ import annotations

import re
from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Input, given, looked_up

Item = Literal[
    "screw, socket cap",
    "screw, button head",
    "screw, countersunk",
    "screw, pan head",
    "heat-set insert",
    "nut",
    "standoff, with stud",
    "dowel pin",
    "steel rod",
    "threaded rod",
    "disc magnet",
    "block magnet",
    "foot, stick-on",
]
ITEMS: tuple[Item, ...] = get_args(Item)
_THREAD = r"(M2|M2\.5|M3|M4|#6-32)"
_LENGTH = r"\d+(\.\d+)?"
_SIZES: dict[Item, tuple[str, str]] = {
    "screw, socket cap": (rf"{_THREAD} x {_LENGTH}", "M3 x 10"),
    "screw, button head": (rf"{_THREAD} x {_LENGTH}", "M3 x 10"),
    "screw, countersunk": (rf"{_THREAD} x {_LENGTH}", "M3 x 10"),
    "screw, pan head": (rf"{_THREAD} x ({_LENGTH}|(\d+ )?\d+/\d+ in|\d+ in)", "#6-32 x 1/4 in"),
    "heat-set insert": (rf"{_THREAD} x {_LENGTH}", "M3 x 5.7"),
    "nut": (_THREAD, "M3"),
    "standoff, with stud": (rf"{_THREAD} x {_LENGTH}", "M2.5 x 12"),
    "dowel pin": (rf"{_LENGTH} x {_LENGTH}", "3 x 12"),
    "threaded rod": (rf"{_THREAD} x {_LENGTH}", "M3 x 60"),
    "steel rod": (rf"{_LENGTH} x {_LENGTH}", "4 x 60"),
    "disc magnet": (rf"{_LENGTH} x {_LENGTH}, N(35|42|52)", "8 x 3, N42"),
    "block magnet": (rf"{_LENGTH} x {_LENGTH} x {_LENGTH}, N(35|42|52)", "10 x 5 x 2, N42"),
    "foot, stick-on": (rf"{_LENGTH} mm", "10 mm"),
}
_PACK: dict[Item, str] = {
    "screw, socket cap": "screw",
    "screw, button head": "screw",
    "screw, countersunk": "screw",
    "screw, pan head": "screw",
    "heat-set insert": "insert",
    "nut": "nut",
    "standoff, with stud": "standoff",
    "dowel pin": "dowel",
    "steel rod": "rod",
    "threaded rod": "threaded_rod",
    "disc magnet": "magnet",
    "block magnet": "block",
    "foot, stick-on": "foot",
}


class StockItem(Frozen):
    """How many of one kind and size lie in the drawer, as a bill writes it. `pack` and `pack_money`: what is bought at once, and what it costs;
    None: as is usual."""

    item: Item
    size: Annotated[str, Field(max_length=40)]
    count: Annotated[int, Field(ge=0, le=100_000)] = 0
    pack: Annotated[int, Field(ge=1, le=10_000)] | None = None
    pack_money: Annotated[float, Field(ge=0, le=10_000)] | None = None

    @model_validator(mode="after")
    def _written_so(self) -> StockItem:
        pattern, example = _SIZES[self.item]
        if not re.fullmatch(pattern, self.size):
            raise ValueError(f"size '{self.size[:40]}' is not written as the bill writes a {self.item}: like {example}")
        return self

    @property
    def key(self) -> tuple[str, str]:
        """What tells it from the others."""
        return (self.item, self.size)


def example(item: Item) -> str:
    """How the size of a kind is written."""
    return _SIZES[item][1]


def in_drawer(stock: tuple[StockItem, ...], item: str, size: str) -> int:
    """How many there are; 0 where the drawer has none."""
    return next((s.count for s in stock if s.key == (item, size)), 0)


def pack_of(stock: tuple[StockItem, ...], item: Item, size: str) -> tuple[int, Input]:
    """How many are bought at once, and what that costs: as the drawer says, else as is usual. Without a size: of the one that the drawer shows as its example."""
    own = next((s for s in stock if s.key == (item, size)), None)
    name = _PACK[item]
    pieces = own.pack if own and own.pack else _usual_pack(item, size)
    if own and own.pack_money is not None:
        return pieces, given("a pack", own.pack_money, "EUR", "this workshop")
    usual = ref(f"fasteners.pack.{name}_money")
    scaled = usual.value * pieces / _usual_pack(item, size)
    return pieces, looked_up("a pack", usual).model_copy(update={"value": round(scaled, 4)})


def _usual_pack(item: Item, size: str) -> int:
    """How many are bought at once where the drawer does not say; of rods what a bar as they are sold gives."""
    usual = val(f"fasteners.pack.{_PACK[item]}")
    if item not in ("threaded rod", "steel rod"):
        return int(usual)
    long = float((size or example(item)).split(" x ")[1])
    return max(1, int(usual // (long + val("fasteners.rule.saw"))))
