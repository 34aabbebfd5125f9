"""What is to be bought: the bill's small components less what lies in the drawer, in whole packs, with money."""

from __future__ import annotations

from math import ceil

from rhombex.core.hardware.bill import Line
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


class Shopping(Frozen):
    """`lines`: what the case takes of what a drawer holds; `money`: what is missing costs, EUR."""

    lines: tuple[Bought, ...]
    money: Shown


def shopping(bill: tuple[Line, ...], stock: tuple[StockItem, ...]) -> Shopping:
    """The small components of a bill against the drawer."""
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
    return Shopping(lines=tuple(lines), money=sum(x.money.value for x in lines))
