"""The tables of Cuts and Hardware of any design that a hand can make: they are shown, whatever was typed."""

from __future__ import annotations

from random import Random

import pytest

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.edits import read_edit
from rhombex.core.plain import DesignError
from rhombex.core.plan.pieces_map import pieces_maps
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.mutate import random_edit, starts


@pytest.mark.parametrize("seed", range(9000, 9010))
def test_any_design_has_its_tables(seed: int) -> None:
    r = Random(seed)
    d = r.choice(starts())
    for _ in range(r.randint(1, 8)):
        try:
            d = apply(d, read_edit(random_edit(r, d)))
        except DesignError:
            continue  # it was refused, and nothing is changed
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    rows = hardware_table(a).rows
    assert len(rows) == len(a.joints) and all(x.reach.free or x.reach.blocked_by for x in rows)
    parts = cuts_table(a).parts
    assert [len(p.cells) for p in parts] == [len(c.pieces) for c in a.cuts if c.part in a.recipes]
    assert len(pieces_maps(a)) == sum(len(p.cells) > 1 for p in parts)
