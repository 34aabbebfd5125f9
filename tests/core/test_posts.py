"""Posts at the edge of the room: none stands in a wall of another part, whichever way the case is made."""

from __future__ import annotations

import itertools

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge_bare
from rhombex.core.design import Design, Placement
from rhombex.core.edits import Add, MoveWall, Remove, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

KINDS = ("core and wrap", "sliding panels", "frame and covers", "corners and sheet", "tray in a sleeve", "two halves")


def at_the_wall(good_wren: Design, kind: str, gap: float, corner_mm: float = 2.0) -> Analysis:
    """A 3.5-inch disc so near to two walls of a room that its posts (their screws 3.18 from its side, SFF-8301) would stand in them."""
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    taken = tuple(Remove(id=p.id) for p in d.placements if p.id in ("drive", "button", "fan"))
    disc = Placement(id="disc", component="drive-3.5", name="Disc", at_mm=(0, 0, 20))
    wide = (MoveWall(face="right", by_mm=180), MoveWall(face="back", by_mm=120), MoveWall(face="top", by_mm=30))
    sizes = (Set(path="shell.corner_radius_mm", value=corner_mm),)
    d = apply(d, Together(edits=(*taken, *wide, *sizes, Add(placement=disc))))
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    t = next(t for t in a.things if t.id == "disc")
    box = next(s.box for s in t.solids if s.role == "body")
    p = next(p for p in d.placements if p.id == "disc")
    to = [p.at_mm[i] + a.case.cavity.hi[i] - gap - box.hi[i] for i in (0, 1)]
    moved = p.model_copy(update={"at_mm": (round(to[0], 3), round(to[1], 3), 20.0)})
    placed = tuple(moved if q.id == "disc" else q for q in d.placements)
    return analyse(d.model_copy(update={"placements": placed}), ARCHIVE_WORKSHOP, "none")


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("corner_mm", [2.0, 14.0])
def test_posts_of_a_part_end_where_others_walls_begin(good_wren: Design, kind: str, corner_mm: float) -> None:
    a = at_the_wall(good_wren, kind, 0.3, corner_mm)
    mine = [m for m in a.case.mounts if m.of == "disc"]
    over = [m for m in mine if m.at[0] + m.od_mm / 2 > a.case.cavity.hi[0]]
    assert len(mine) == 4 and over
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.recipes.items()}
    for (one, m), (other, q) in itertools.combinations(parts.items(), 2):
        assert (m ^ q).volume() < 1e-3, (one, other)
    assert "parts-overlap" not in {f.code for f in judge_bare(a)}
    # within the room they are as they were: full beside the screw's hole, up to their top
    for m in over:
        x, y, top = *m.at, m.top_mm
        beside = Box((x - m.od_mm / 2 + 1.0, y - 0.5, top - 2), (x - m.hole_mm / 2 - 0.5, y + 0.5, top - 0.1))
        probe = mk.evaluate(block(beside), mk.FILE_TOL)
        assert (parts[m.part] ^ probe).volume() == pytest.approx(probe.volume(), rel=1e-3)
