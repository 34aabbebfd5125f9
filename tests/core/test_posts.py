"""Posts at the edge of the room: none stands in a wall of another part, whichever way the case is made."""

from __future__ import annotations

import itertools

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.dodge import ways_clear
from rhombex.core.bench.gaps import hard
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge, judge_bare
from rhombex.core.constructions import FrameAndCovers, TwoHalves
from rhombex.core.design import Design, Placement, Shell
from rhombex.core.edits import Add, Move, MoveWall, Remove, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.reference import val
from rhombex.core.space import OUTWARD, Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

KINDS = ("core and wrap", "sliding panels", "frame and covers", "corners and sheet", "tray in a sleeve", "two halves")


def _looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


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


def test_a_shield_that_is_raised_stands_on_posts_that_miss_its_socket() -> None:
    """Its holes are 3.5 mm beside the socket that hangs under it; posts for inserts of M2.5 are 3.8 mm thick to a side, cut ones less."""
    d = Design(name="x", shell=Shell(inner_mm=(120, 100, 60), construction=TwoHalves(joint_mm=50)))
    d = apply(d, Add(placement=Placement(id="shield", component="shield-power", name="Shield", at_mm=(55, 50, 6))))
    a = _looked(d)
    (f,) = [f for f in judge(a) if f.code == "underside-meets-floor"]
    assert f.remedies[0].label.endswith(", on thinner posts, their threads cut in plastic")
    plain = apply(d, f.remedies[0].edits[0])
    (met,) = [f for f in judge(_looked(plain)) if f.code == "component-in-part"]
    assert [r.label for r in met.remedies] == [
        "Stand Shield on thinner posts, their threads cut in plastic",
        "Take Shield out",
    ]
    for after in (apply(d, Together(edits=f.remedies[0].edits)), apply(plain, Together(edits=met.remedies[0].edits))):
        b = _looked(after)
        assert {"underside-meets-floor", "component-in-part"}.isdisjoint({x.code for x in judge(b)})
        base = mk.evaluate(b.in_place()["base"])
        socket = next(s for t in b.things for s in t.solids if s.name == "header socket")
        lo, hi = socket.box.lo, socket.box.hi
        box = mk.evaluate(block(Box(lo, hi)))
        assert (base ^ box).volume() < 0.01
        assert all(m.holding == "cut in plastic" for m in b.case.mounts)
    # a board whose posts miss it is raised on the posts that it has
    d = apply(d, Remove(id="shield"))
    d = apply(d, Add(placement=Placement(id="board", component="sbc-85x56", name="Board", at_mm=(55, 50, 2.2))))
    (f,) = [f for f in judge(_looked(d)) if f.code == "underside-meets-floor"]
    assert all("thinner" not in r.label and len(r.edits) == 1 for r in f.remedies)


def test_a_component_is_moved_no_nearer_to_a_beam_than_its_posts_are_thick(good_wren: Design) -> None:
    """Holes of a board of 65 x 30 are 3.5 mm from its edge, posts for inserts of M2.5 are 3.8 thick to a side. It stands 2.6 beside a beam, half a millimetre in a
    disc: 2.5 to the side would clear both, and leave a tenth for three that its posts want."""
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, "frame and covers")))
    d = apply(d, Together(edits=tuple(Remove(id=p.id) for p in d.placements if p.on is None)))
    d = apply(d, Together(edits=(MoveWall(face="right", by_mm=100), MoveWall(face="top", by_mm=20))))
    d = apply(d, Add(placement=Placement(id="board", component="sbc-65x30", name="Board", at_mm=(60, 30, 8))))
    d = apply(d, Add(placement=Placement(id="disc", component="drive-2.5", name="Disc", at_mm=(150, 60, 8))))
    a = _looked(d)
    near = val("limits.gap.between")
    inner, beam = a.case.cavity, a.case.pillar_mm

    def body(a: Analysis, id: str, name: str) -> Box:
        return next(s.box for t in a.things if t.id == id for s in t.solids if s.role == name)

    board, disc = body(a, "board", "board"), body(a, "disc", "body")
    x = inner.lo[0] + beam + near + 0.6 - board.lo[0]
    d = apply(d, Move(id="board", to_mm=(60 + x, 30 + inner.lo[1] + 1.0 - board.lo[1], 8)))
    board = body(_looked(d), "board", "board")
    d = apply(d, Move(id="disc", to_mm=(150 + board.hi[0] - 0.5 - disc.lo[0], 60 + board.lo[1] - disc.lo[1], 8)))
    a = _looked(d)
    unneeded = tuple(sorted(wanted_ports(d)))
    d = d.model_copy(update={"brief": d.brief.model_copy(update={"unneeded": unneeded})})
    ways = ways_clear(d, a.things, a.case, "board")
    assert ways
    for way in ways:
        at = next(p.at_mm for p in d.placements if p.id == "board")
        moved = apply(d, Move(id="board", to_mm=(at[0] + way.by[0], at[1] + way.by[1], at[2])))
        parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in _looked(moved).in_place().items()}
        assert all((parts["floor"] ^ m).volume() < 0.01 for n, m in parts.items() if n.startswith("beam")), way


def test_a_beam_goes_along_with_a_wall_that_is_moved_out_for_a_component() -> None:
    """A supply fills the front of a low case, a board stands in it behind: the way out that moves a wall leaves its beams where that wall will be."""
    d = Design(name="x", shell=Shell(inner_mm=(153, 190, 92), construction=FrameAndCovers(beam_mm=13)))
    d = apply(
        d,
        Add(
            placement=Placement(
                id="supply", component="supply-atx-long", name="Supply", at_mm=(76, 0, 46), face="front"
            )
        ),
    )
    d = apply(d, Add(placement=Placement(id="board", component="sbc-85x56", name="Board", at_mm=(60, 150, 8))))
    a = _looked(d)
    for way in (w for w in ways_clear(d, a.things, a.case, "board") if w.wall is not None):
        shift = [way.wall_mm if OUTWARD[way.wall][i] < 0 else 0.0 for i in (0, 1, 2)]  # type: ignore[index]
        to = tuple(x + y + z for x, y, z in zip((60, 150, 8), way.by, shift, strict=True))
        wall = MoveWall(face=way.wall, by_mm=way.wall_mm)  # type: ignore[arg-type]
        b = _looked(apply(d, Together(edits=(wall, Move(id="board", to_mm=to)))))  # type: ignore[arg-type]
        solids = [s.box for t in b.things if t.id == "board" for s in hard(t)]
        inner, side = b.case.cavity, b.case.pillar_mm
        for x in (inner.lo[0], inner.hi[0] - side):
            for y in (inner.lo[1], inner.hi[1] - side):
                beam = Box((x, y, inner.lo[2]), (x + side, y + side, inner.hi[2]))
                assert not any(beam.meets(s) for s in solids), way
