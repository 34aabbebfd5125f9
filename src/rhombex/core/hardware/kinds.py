"""The fewest kinds of screws that serve all joints, proven by a solver.

Each line of the table takes any stock length within its limits; a kind is head, thread and length. Among choices of equally few kinds the one
that uses what lies in the drawer comes first, then the one that changes the fewest joints.
"""

from __future__ import annotations

from collections.abc import Hashable

import numpy as np

from rhombex.core.hardware.joint_group import NO_SCREW, JointGroup
from rhombex.core.memo import Memo
from rhombex.core.parts.component import Thread
from rhombex.core.parts.threads import screw_size
from rhombex.core.trail import Frozen
from rhombex.core.workshop.stock import StockItem, in_drawer


class ScrewKind(Frozen):
    """One kind of screw: head, thread, length, as a bill writes it, and how many of it are wanted."""

    head: str
    thread: Thread
    length_mm: float
    words: str
    count: int


class ScrewChoice(Frozen):
    """The screw of one line of the table."""

    key: str
    length_mm: float


class Fewest(Frozen):
    """`now`: the kinds that are taken; `least`: the fewest that serve, by `choices`; `proven`: the solver has shown that fewer do not.
    `without`: lines that no stock length serves."""

    now: tuple[ScrewKind, ...]
    least: tuple[ScrewKind, ...]
    choices: tuple[ScrewChoice, ...]
    proven: bool
    without: tuple[str, ...]


Kind = tuple[str, Thread, float]


def kinds_now(groups: tuple[JointGroup, ...]) -> tuple[ScrewKind, ...]:
    """The kinds of screws as the table stands."""
    count: dict[Kind, int] = {}
    for g in groups:
        if g.head not in NO_SCREW and g.screw_mm is not None:
            kind = (g.head, g.thread, g.screw_mm)
            count[kind] = count.get(kind, 0) + g.count
    return _listed(count)


def _listed(count: dict[Kind, int]) -> tuple[ScrewKind, ...]:
    return tuple(
        ScrewKind(head=h, thread=t, length_mm=x, words=screw_size(t, x) + _seen(h), count=n)
        for (h, t, x), n in sorted(count.items())
    )


def _seen(head: str) -> str:
    """What is said of a head besides the size: nothing of the usual ones."""
    return f" {head}" if head in ("button head", "countersunk") else ""


def fewest_kinds(groups: tuple[JointGroup, ...], stock: tuple[StockItem, ...] = ()) -> Fewest:
    """The fewest kinds that serve every line for which some stock length does. Lengths that a hand chose may change."""
    lines = tuple((g.key, g.head, g.thread, g.serves, g.screw_mm, g.count) for g in groups)
    return _solved.make((lines, stock), lambda: _fewest(groups, stock))


_solved: Memo[Hashable, Fewest] = Memo(400)


def _fewest(groups: tuple[JointGroup, ...], stock: tuple[StockItem, ...]) -> Fewest:
    # most of a second to import: only where kinds are asked for
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import coo_matrix

    screwed = [g for g in groups if g.head not in NO_SCREW]
    rows = [g for g in screwed if g.serves]
    kinds: list[Kind] = sorted({(g.head, g.thread, x) for g in rows for x in g.serves})
    without = tuple(g.key for g in screwed if not g.serves)
    if not rows:
        return Fewest(now=kinds_now(groups), least=(), choices=(), proven=True, without=without)
    number = {kind: i for i, kind in enumerate(kinds)}
    pairs = [(j, number[(g.head, g.thread, x)]) for j, g in enumerate(rows) for x in g.serves]
    n, m = len(kinds), len(pairs)
    # Few kinds weigh more than all else together, what is not in the drawer more than all changes together.
    change = np.array([0.0 if abs(kinds[i][2] - (rows[j].screw_mm or 0.0)) < 1e-6 else 1.0 for j, i in pairs])
    missing = np.array(
        [0.0 if in_drawer(stock, f"screw, {head}", screw_size(thread, x)) > 0 else 1.0 for head, thread, x in kinds]
    )
    lot = float(len(rows) + 1)
    cost = np.concatenate([lot * (n + 1) + lot * missing, change])
    row_of, col_of, value = [], [], []
    for k, (j, _) in enumerate(pairs):  # every line takes one screw
        row_of.append(j)
        col_of.append(n + k)
        value.append(1.0)
    for k, (_, i) in enumerate(pairs):  # of a kind that is taken
        row_of += [len(rows) + k] * 2
        col_of += [n + k, i]
        value += [1.0, -1.0]
    matrix = coo_matrix((value, (row_of, col_of)), shape=(len(rows) + m, n + m))
    lower = np.concatenate([np.ones(len(rows)), np.full(m, -1.0)])
    upper = np.concatenate([np.ones(len(rows)), np.zeros(m)])
    found = milp(
        cost,
        constraints=LinearConstraint(matrix, lower, upper),
        integrality=np.ones(n + m),
        bounds=Bounds(0, 1),
        options={"time_limit": 5.0, "mip_rel_gap": 0.0},
    )
    if found.x is None:  # out of time before any answer: what is taken stands
        return Fewest(now=kinds_now(groups), least=kinds_now(groups), choices=(), proven=False, without=without)
    taken = {j: kinds[i] for (j, i), x in zip(pairs, found.x[n:], strict=True) if x > 0.5}
    count: dict[Kind, int] = {}
    for j, kind in taken.items():
        count[kind] = count.get(kind, 0) + rows[j].count
    return Fewest(
        now=kinds_now(groups),
        least=_listed(count),
        choices=tuple(ScrewChoice(key=rows[j].key, length_mm=kind[2]) for j, kind in sorted(taken.items())),
        proven=found.status == 0,
        without=without,
    )
