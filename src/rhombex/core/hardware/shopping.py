"""What is to be bought: the bill's small components less what lies in the drawer, in whole packs, and sheet cut to size, with money."""

from __future__ import annotations

from math import ceil

from rhombex.core.constructions import Material
from rhombex.core.hardware.bill import Line
from rhombex.core.hardware.sheets import BoughtSheet
from rhombex.core.trail import Frozen, Shown, Trail, given
from rhombex.core.workshop.stock import ITEMS, Item, StockItem, in_drawer, pack_of


class Bought(Frozen):
    """One kind and size: how many the case takes, how many are there, and the packs that make up for the rest."""

    item: Item
    size: str
    need: int
    have: int
    missing: int
    pack: int
    packs: int
    money: Trail
    known: bool  # False: no such size is sold, so nothing can be bought


class SheetCut(Frozen):
    """A part that is cut from bought sheet: what to ask the supplier for. `bends`: how many it has."""

    part: str
    material: Material
    thick_mm: Shown
    size_mm: tuple[Shown, Shown]
    bends: int
    money: Trail


class Shopping(Frozen):
    """`lines`: what the case takes of what a drawer holds; `sheets`: what is cut to size for it; `money`: what is missing costs, and all
    sheet, EUR."""

    lines: tuple[Bought, ...]
    sheets: tuple[SheetCut, ...]
    money: Shown


def shopping(bill: tuple[Line, ...], stock: tuple[StockItem, ...], sheets: tuple[BoughtSheet, ...]) -> Shopping:
    """The small components of a bill against the drawer, and the sheets of a case."""
    need: dict[tuple[Item, str], int] = {}
    for line in bill:
        for item in ITEMS:
            if line.item == item:
                need[(item, line.size)] = need.get((item, line.size), 0) + line.count
    lines: list[Bought] = []
    for (item, size), n in sorted(need.items(), key=lambda kv: (ITEMS.index(kv[0][0]), kv[0][1])):
        known = "none in stock" not in size
        have = in_drawer(stock, item, size)
        missing = max(0, n - have)
        pack, price = pack_of(stock, item, size)
        packs = ceil(missing / pack) if known else 0
        money = Trail(
            value=packs * price.value,
            unit="EUR",
            formula="packs x price of a pack",
            inputs=(given("packs", packs, "", "missing pieces, in whole packs"), price),
            source=price.source,
        )
        lines.append(
            Bought(
                item=item,
                size=size,
                need=n,
                have=have,
                missing=missing,
                pack=pack,
                packs=packs,
                money=money,
                known=known,
            )
        )
    cuts = tuple(
        SheetCut(
            part=x.part,
            material=x.material,
            thick_mm=x.thick_mm,
            size_mm=x.size_mm,
            bends=len(x.bends),
            money=x.money,
        )
        for x in sheets
    )
    return Shopping(
        lines=tuple(lines),
        sheets=cuts,
        money=sum(m.value for m in (*(x.money for x in lines), *(c.money for c in cuts))),
    )
