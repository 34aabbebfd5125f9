"""What two cuts that cross in a field of vents leave loose: against the areas of a lattice, and in the mesh."""

from __future__ import annotations

import math
from random import Random

import numpy as np
import pytest
from shapely import Point, Polygon, box, get_parts, unary_union

from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.concerns import judge_bare
from rhombex.core.cuts import crumbs
from rhombex.core.cuts.crumbs import corners_at, crumbs_at
from rhombex.core.cuts.grids import Side, plan_grid
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design, Panel, PinnedCut, VentField
from rhombex.core.edits import JoinCuts, MoveWall, PutCuts, PutPanel, PutVent, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.openings.opening import Vent
from rhombex.core.shell.panels import vents_of
from rhombex.demo.scenario import heron_panels

from ..rough import shaped

ACROSS_MM, WEB_MM = 4.0, 1.8


def lattice() -> Vent:
    """Diamonds of 4 mm, 1.8 apart, in rows that are offset by half of their pitch."""
    pitch = (ACROSS_MM + WEB_MM) * 2**0.5
    holes = tuple(
        (j * pitch + (pitch / 2 if i % 2 else 0.0), i * pitch / 2) for i in range(-12, 13) for j in range(-8, 9)
    )
    return Vent(
        id="v",
        label="Vents",
        face="top",
        at_mm=(0.0, 0.0),
        size_mm=(90.0, 90.0),
        holes=holes,
        dropped=0,
        across_mm=ACROSS_MM,
        free_area_mm2=0.0,
        follows_heat=False,
        fan=None,
        parts=("lid",),
    )


def test_bits_come_loose_where_areas_say_so(monkeypatch: pytest.MonkeyPatch) -> None:
    """Four corners at each of 250 random places: pieces of the plate that reach no side of a window round them are loose. With a web that has to be held
    by 0.3 mm there are those and a few more."""
    v, half, draw = lattice(), ACROSS_MM / 2**0.5, Random(7)
    diamonds = [Polygon([(x - half, y), (x, y - half), (x + half, y), (x, y + half)]) for x, y in v.holes]
    plate = box(-60, -60, 60, 60) - unary_union(diamonds)
    loose = 0
    for _ in range(250):
        x, y = draw.uniform(-8, 8), draw.uniform(-8, 8)
        found = 0
        for a, b in ((x - 25, x), (x, x + 25)):
            for c, d in ((y - 25, y), (y, y + 25)):
                parts = [p for p in get_parts(plate & box(a, c, b, d)) if p.area > 1e-9]
                bounds = np.array([p.bounds for p in parts])
                inside = (bounds[:, :2] > (x - 20, y - 20)).all(axis=1) & (bounds[:, 2:] < (x + 20, y + 20)).all(axis=1)
                found += int(inside.sum())
        with monkeypatch.context() as m:
            m.setattr(crumbs, "HELD_MM", 0.0)
            assert crumbs_at(v, x, y) == found, (x, y)
        assert crumbs_at(v, x, y) >= found
        loose += found > 0
    assert 50 < loose < 150
    assert crumbs_at(v, 50.0, 0.0) == 0  # beside the field
    assert crumbs_at(v.model_copy(update={"holes": v.holes[:1]}), 0.0, 0.0) == 0


def test_a_grid_crosses_elsewhere_for_its_price() -> None:
    at = tuple(float(c) for c in range(40, 61, 2))
    one, other = (Side(100.0, at, (0.0,) * len(at), (), None) for _ in range(2))
    plain = plan_grid(one, other, ((70.0, 70.0),))
    assert plain is not None and (plain.one, plain.other) == ((50.0,), (50.0,))
    dear = plan_grid(one, other, ((70.0, 70.0),), lambda a, b: float(abs(a - 50) < 3 and abs(b - 50) < 3))
    assert dear is not None and dear.proven and dear.price == pytest.approx(0.04)
    assert sorted(abs(c[0] - 50) for c in (dear.one, dear.other)) == [0, 4]
    never = plan_grid(one, other, ((70.0, 70.0),), lambda a, b: 1.0)
    assert never is not None and (never.one, never.other, never.price) == ((50.0,), (50.0,), 1.0)


def vented(good_wren: Design) -> Design:
    """A lid of 291 x 264 on the small bed, most of it vents."""
    edits = (
        Set(path="printer", value="bench-180"),
        MoveWall(face="right", by_mm=120.0),
        MoveWall(face="back", by_mm=120.0),
        PutVent(
            vent=VentField(id="field", face="top", at_mm=(175.0, 160.0), size_mm=(180.0, 170.0), follow_heat=False)
        ),
        JoinCuts(part="lid", by="glue alone"),
    )
    return apply(good_wren, Together(edits=edits))


def lid(a: Analysis) -> PartCuts:
    return next(c for c in a.cuts if c.part == "lid")


def test_rows_and_columns_cross_where_nothing_comes_loose(good_wren: Design) -> None:
    d = vented(good_wren)
    a = shaped(d)
    c = lid(a)
    assert len(c.pieces) == c.least == 4 and c.proven
    field = next(v for v in a.openings.vents if v.id == "field")
    face, at = a.case.face("top"), {x.axis: x.at_mm for x in c.cuts}
    (u, w), (mu, mv) = face.on((at["x"], at["y"], 0.0)), field.at_mm
    assert abs(u - mu) < field.size_mm[0] / 2 and abs(w - mv) < field.size_mm[1] / 2  # it is in the field
    assert all(len(mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL).decompose()) == 1 for p in c.pieces)
    # by hand somewhere else in it: what the sum says is loose is a body of its own, and told
    lo, (x, y) = a.case.cavity.lo, (at["x"], at["y"])
    loose = next(
        (x + i, y + j)
        for i in range(-6, 7)
        for j in range(-6, 7)
        if crumbs_at(field, *face.on((x + i, y + j, 0.0))) > 1
    )
    cuts = tuple(
        PinnedCut(part="lid", axis=n, at_mm=p - lo[k])  # type: ignore[arg-type]
        for k, (n, p) in enumerate(zip("xy", loose, strict=True))
    )
    b = shaped(apply(d, PutCuts(part="lid", cuts=cuts)))
    bodies = [len(mk.evaluate(b.pieces_in_case[p.name], mk.FILE_TOL).decompose()) for p in lid(b).pieces]
    assert len(bodies) == 4 and sum(bodies) > 4
    assert "piece-in-bodies" in {f.code for f in judge_bare(b)} and "piece-in-bodies" not in {
        f.code for f in judge_bare(a)
    }


def round_vents(d_mm: float, pitch_mm: float, wide_mm: float = 300.0, deep_mm: float = 250.0) -> Panel:
    """A panel with round vents nearly to its edges."""
    return Panel(id="own", name="Own", size_mm=(wide_mm, deep_mm), vent_d_mm=d_mm, vent_pitch_mm=pitch_mm, margin_mm=8)


def test_corners_come_loose_beside_round_vents_where_areas_say_so(monkeypatch: pytest.MonkeyPatch) -> None:
    """As with diamonds: four corners at each of 120 random places, of vents of 12 in rows that are offset, 3 apart."""
    middles = np.array(vents_of(round_vents(12.0, 15.0)))
    holes = unary_union([Point(p).buffer(6.0, quad_segs=256) for p in middles])
    draw, loose = Random(11), 0
    for _ in range(120):
        x, y = draw.uniform(60, 240), draw.uniform(60, 190)
        near, found = box(x - 40, y - 40, x + 40, y + 40) - holes, 0
        for a, b in ((x - 40, x), (x, x + 40)):
            for c, d in ((y - 40, y), (y, y + 40)):
                bits = np.array([p.bounds for p in get_parts(near & box(a, c, b, d)) if p.area > 1e-9])
                found += int(((bits[:, :2] > (x - 30, y - 30)) & (bits[:, 2:] < (x + 30, y + 30))).all(axis=1).sum())
        with monkeypatch.context() as m:
            m.setattr(crumbs, "HELD_MM", 0.0)
            assert corners_at(middles, 12.0, x, y) == found, (x, y)
        assert corners_at(middles, 12.0, x, y) >= found
        loose += found > 0
    assert 10 < loose < 60


@pytest.mark.parametrize(
    ("wide_mm", "deep_mm", "d_mm", "pitch_mm"),
    [(465, 246, 12.0, 16.9), (352, 190, 9.0, 11.9)],
)
def test_a_vented_panel_is_cut_both_ways_where_nothing_comes_loose(
    wide_mm: float, deep_mm: float, d_mm: float, pitch_mm: float
) -> None:
    """On a bed of 168, at no more pieces than the bed asks for: each is one body, though vents lie all over the panel."""
    panel = PutPanel(panel=round_vents(d_mm, pitch_mm, wide_mm, deep_mm))
    edits = (panel, Set(path="printer", value="bench-180"), JoinCuts(part="own", by="glue alone"))
    a = shaped(apply(heron_panels(), Together(edits=edits)))
    c = next(x for x in a.cuts if x.part == "own")
    assert len(c.pieces) == c.least == 2 * math.ceil(wide_mm / 168) and {x.axis for x in c.cuts} == {"x", "y"}
    for p in c.pieces:
        assert len(mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL).decompose()) == 1, p.name
