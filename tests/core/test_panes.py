"""Openings of one's own that are closed by a pane: its seat in the wall, measured on the mesh, what the rules see of it, how it goes out."""

from __future__ import annotations

import io
from itertools import product
from random import Random

import ezdxf
import numpy as np
import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.brief.asks import asks
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge_bare
from rhombex.core.design import Design, OwnOpening, Pane
from rhombex.core.edits import CloseBy, Edit, PutOwnOpening, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel
from rhombex.core.openings.free import largest_free
from rhombex.core.openings.opening import Opening, outline
from rhombex.core.plain import DesignError
from rhombex.core.plan.opened import opened_by
from rhombex.core.remedies import effect_of
from rhombex.core.space import Face
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import alone
from ..rough import shaped

ON_TOP = OwnOpening(
    id="window", name="Window", face="top", at_mm=(115, 70), size_mm=(60, 40), allowed=False, pane=Pane()
)
ON_LEFT = ON_TOP.model_copy(update={"face": "left", "at_mm": (70, 12), "size_mm": (30, 8), "pane": Pane(overlap_mm=2)})


def with_(design: Design, *edits: Edit) -> Analysis:
    return shaped(apply(design, Together(edits=edits)))


def the(a: Analysis) -> Opening:
    return next(o for o in a.openings.openings if o.pane is not None)


def hole(a: Analysis, part: str, behind_mm: float) -> tuple[float, float]:
    """How large the hole round the middle of the window is, so far behind the outside of its wall."""
    o, face = the(a), a.case.face(the(a).face)
    frame = np.array(
        [[*axis, -sum(x * y for x, y in zip(axis, face.frame.origin, strict=True))] for axis in face.frame[1:]]
    )
    rings = mesh_kernel.evaluate(a.recipes[part], 0.002).transform(frame).slice(-behind_mm).to_polygons()
    round_it = [r for r in map(np.array, rings) if (r.min(0) < o.at_mm).all() and (r.max(0) > o.at_mm).all()]
    ring = min(round_it, key=lambda r: float(np.prod(np.ptp(r, 0))))
    return tuple(float(x) for x in np.ptp(ring, 0))  # type: ignore[return-value]


@pytest.mark.parametrize(
    ("face", "own", "part", "wall"), [("top", ON_TOP, "lid", 3.0), ("left", ON_LEFT, "base", 2.9)], ids=["top", "left"]
)
def test_the_seat_is_as_deep_as_the_pane_is_thick(
    good_wren: Design, face: Face, own: OwnOpening, part: str, wall: float
) -> None:
    """Ports' openings: 0.35 a side and half of 0.3 % of the longer side. Of the side's 2.89 two lines of 0.45 stay, so that the pane stands out by 0.01."""
    assert own.pane is not None
    a = with_(good_wren, PutOwnOpening(opening=own))
    o, (w, h), over = the(a), own.size_mm, own.pane.overlap_mm
    play = 0.35 + 0.003 * (w + 2 * over) / 2
    assert o.pane is not None and (o.pane.from_mm, o.pane.to_mm) == pytest.approx((wall - 2, wall), abs=1e-3)
    for behind in (0.05, wall - 2.05):
        assert hole(a, part, behind) == pytest.approx((w, h), abs=0.01)
    for behind in (wall - 1.95, wall - 0.05):
        assert hole(a, part, behind) == pytest.approx((w + 2 * (over + play), h + 2 * (over + play)), abs=0.01)
    pane = mesh_kernel.evaluate(a.recipes["pane-window"])
    assert pane.volume() == pytest.approx((w + 2 * over) * (h + 2 * over) * 2.0)
    assert (pane ^ mesh_kernel.evaluate(a.recipes[part])).volume() < 1e-6
    # it lies on its seat, and what is behind it is the room
    assert pane.min_gap(mesh_kernel.evaluate(a.recipes[part]), 1.0) == pytest.approx(0.0, abs=1e-3)
    assert opened_by(a, "pane-window") == opened_by(a, part)


def test_a_thick_pane_leaves_a_web_before_it_and_stands_into_the_room(good_wren: Design) -> None:
    """Two lines of 0.45 stay of the wall: 0.9 + 4 is 1.9 more than 3."""
    a = with_(good_wren, PutOwnOpening(opening=ON_TOP.model_copy(update={"pane": Pane(thick_mm=4)})))
    o = the(a)
    assert o.pane is not None and (o.pane.from_mm, o.pane.to_mm) == pytest.approx(
        (2 * a.case.line_mm, 2 * a.case.line_mm + 4)
    )
    assert hole(a, "lid", 2 * a.case.line_mm - 0.05)[0] == pytest.approx(60, abs=0.01)
    assert mesh_kernel.evaluate(a.recipes["pane-window"]).bounding_box()[2] < a.case.cavity.hi[2] - 1.5


def test_behind_bought_sheet_it_has_no_seat(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, "corners and sheet")))
    a = with_(d, PutOwnOpening(opening=ON_TOP.model_copy(update={"at_mm": (90, 70)})))
    o = the(a)
    assert o.pane is not None and o.pane.from_mm == a.case.face("top").thick_mm
    assert hole(a, "sheet-top", o.pane.from_mm - 0.05)[0] == pytest.approx(60, abs=0.01)


def test_a_round_window_has_a_round_pane(good_wren: Design) -> None:
    a = with_(good_wren, PutOwnOpening(opening=ON_TOP.model_copy(update={"shape": "round", "size_mm": (50, 50)})))
    assert mesh_kernel.evaluate(a.recipes["pane-window"], 0.002).volume() == pytest.approx(np.pi * 30**2 * 2, rel=1e-3)
    (sheet,) = a.sheets
    assert sheet.size_mm == pytest.approx((60, 60)) and len(sheet.loops[0]) == 2


def test_rules_look_at_the_seat_as_well(good_wren: Design) -> None:
    """The opening ends 3 before a screw's boss, its pane's seat 2.4 inside it."""
    a = analyse(good_wren, ARCHIVE_WORKSHOP, "none")
    boss = next(j.boss for j in a.case.joints if j.at[0] > 100 and j.at[1] > 100)
    face = a.case.face("top")
    u, v = boss.lo[0] - 3 - 15 - face.inset_mm[0], boss.centre[1] - face.inset_mm[1]
    near = ON_TOP.model_copy(update={"at_mm": (u, v), "size_mm": (30, 12)})
    assert (
        alone(apply(good_wren, PutOwnOpening(opening=near.model_copy(update={"pane": None}))), "opening-meets-screw")
        == []
    )
    (found, *_) = alone(apply(good_wren, PutOwnOpening(opening=near)), "opening-meets-screw")
    assert found.severity == "stop" and found.measured == pytest.approx(3 - 5 - 0.35 - 0.003 * 40 / 2, abs=0.01)


def test_the_largest_free_rectangle_is_that_of_all() -> None:
    """Against every rectangle on a small grid."""
    r = Random(7)
    for _ in range(40):
        w, h = r.randint(3, 9), r.randint(3, 9)
        taken = []
        for _ in range(r.randint(0, 6)):
            x, y = r.uniform(-1, w), r.uniform(-1, h)
            taken.append((x, y, x + r.uniform(0.1, 3), y + r.uniform(0.1, 3)))

        def free(u0: int, v0: int, u1: int, v1: int, taken: list[tuple[float, float, float, float]] = taken) -> bool:
            return not any(u0 < t[2] and u1 > t[0] and v0 < t[3] and v1 > t[1] for t in taken)

        sizes = [
            (u1 - u0) * (v1 - v0)
            for u0, u1, v0, v1 in product(range(w), range(1, w + 1), range(h), range(1, h + 1))
            if u1 > u0 and v1 > v0 and free(u0, v0, u1, v1)
        ]
        found = largest_free(
            (10.0, 20.0, 10.0 + w, 20.0 + h), [(t[0] + 10, t[1] + 20, t[2] + 10, t[3] + 20) for t in taken]
        )
        if found is None:
            assert not sizes
            continue
        u0, v0, u1, v1 = found
        assert free(round(u0 - 10), round(v0 - 20), round(u1 - 10), round(v1 - 20))
        assert (u1 - u0) * (v1 - v0) == max(sizes)
    assert largest_free((0, 0, 0.5, 9), []) is None


@pytest.mark.parametrize(
    "kind", ["two halves", "tray in a sleeve", "sliding panels", "core and wrap", "frame and covers"]
)
def test_a_window_that_is_wished_is_put_where_there_is_room(good_wren: Design, kind: str) -> None:
    d = apply(good_wren, Set(path="brief.window", value="top"))
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, kind)))
    sheeted = kind in ("frame and covers", "sliding panels")
    if sheeted:  # the usual cover or panel is clear where a window is wished
        assert alone(d, "wish-unmet") == []
        d = apply(d, Set(path="shell.construction.sheet", value=()))
    (found,) = alone(d, "wish-unmet")
    first = found.remedies[0]
    others = [*(["Cut the top from acrylic"] if sheeted else []), "Do without"]
    assert first.label.startswith("Put a window of ") and [r.label for r in found.remedies[1:]] == others
    if sheeted:
        whole = effect_of(d, ARCHIVE_WORKSHOP, found.key, found.remedies[1].edits)
        assert whole.clears and whole.new == ()
    told = effect_of(d, ARCHIVE_WORKSHOP, found.key, first.edits)
    assert told.clears
    a = shaped(apply(d, Together(edits=first.edits)))
    before = {f.key for f in judge_bare(shaped(d)) if f.severity == "stop"}
    new = {f.key for f in judge_bare(a) if f.severity == "stop"} - before
    # a sleeve is printed standing on its end, with the window's upper edge in the air
    assert new == ({"long-bridge:sleeve:bridge"} if kind == "tray in a sleeve" else set())
    (ask,) = [x for x in asks(a) if x.key == "window"]
    assert (ask.state, ask.finding) == ("met", "the pane-window of acrylic")
    # as large as there is room: its seat with a little to spare in the plain wall
    u0, v0, u1, v1 = outline(the(a))
    c0, d0, c1, d1 = a.case.face("top").clear_mm
    assert c0 <= u0 and d0 <= v0 and u1 <= c1 and v1 <= d1
    assert all(
        m.volume() > 0 and len(m.decompose()) == 1 for m in (mesh_kernel.evaluate(a.recipes[p]) for p in a.recipes)
    )


def test_a_face_without_room_has_no_window(good_wren: Design) -> None:
    d = apply(good_wren, Set(path="brief.window", value="left"))
    (found,) = alone(d, "wish-unmet")
    assert [r.label for r in found.remedies] == ["Do without"]


def test_it_is_among_the_files(good_wren: Design) -> None:
    files = package(with_(good_wren, PutOwnOpening(opening=ON_TOP)), ("step",))
    doc = ezdxf.read(io.StringIO(files["pane-window.dxf"].decode()))
    (cut,) = doc.modelspace().query('LWPOLYLINE[layer=="CUT"]')
    assert sorted({(round(x, 3), round(y, 3)) for x, y in cut.get_points("xy")}) == [(0, 0), (0, 50), (70, 0), (70, 50)]
    assert "sheet, acrylic" in files["bill-of-materials.csv"].decode() and b"pane-window" in files["case.step"]


def test_it_is_closed_changed_and_opened(good_wren: Design) -> None:
    d = apply(good_wren, PutOwnOpening(opening=ON_TOP.model_copy(update={"pane": None})))
    d = apply(d, CloseBy(id="window", material="acrylic"))
    assert d.own_openings[0].pane == Pane(material="acrylic", thick_mm=2.0, overlap_mm=5.0)
    d = apply(d, CloseBy(id="window", material="aluminium", overlap_mm=8))
    d = apply(d, CloseBy(id="window", material="aluminium", thick_mm=3))
    assert d.own_openings[0].pane == Pane(material="aluminium", thick_mm=3.0, overlap_mm=8.0)
    assert apply(d, CloseBy(id="window", material=None)).own_openings[0].pane is None
    with pytest.raises(DesignError, match="thick_mm"):
        apply(d, CloseBy(id="window", material="acrylic", thick_mm=99))
    with pytest.raises(DesignError, match="no opening 'door'"):
        apply(d, CloseBy(id="door", material="acrylic"))


def test_a_pane_of_a_thickness_that_is_not_sold(good_wren: Design) -> None:
    d = apply(good_wren, PutOwnOpening(opening=ON_TOP.model_copy(update={"pane": Pane(thick_mm=2.4)})))
    (found,) = alone(d, "sheet-not-sold")
    assert (found.title, [r.label for r in found.remedies]) == ("Acrylic of 2.4 mm is not sold", ["Take 2 mm"])
    mended = apply(d, Together(edits=found.remedies[0].edits))
    assert alone(mended, "sheet-not-sold") == [] and mended.shell == d.shell


def test_a_pane_in_the_rim_is_moved_made_smaller_or_left_out(good_wren: Design) -> None:
    """The plain wall of the lid ends 9.x from the outside; the seat of a window that begins at the cavity's side does not lie on it."""
    off = ON_TOP.model_copy(update={"at_mm": (30.0, 70.0)})
    d = apply(good_wren, PutOwnOpening(opening=off))
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    (found,) = alone(d, "pane-has-no-seat")
    left = the(a).at_mm[0] - 35 - 0.35 - 0.003 * 70 / 2
    assert found.measured == pytest.approx(left - a.case.face("top").clear_mm[0], abs=1e-3) and found.measured < 0
    moved, smaller, without = found.remedies
    assert moved.label.startswith("Move Window ") and moved.label.endswith("mm right")
    assert smaller.label.startswith("Make Window ") and without.label == "Leave the pane out"
    for r in found.remedies:
        assert alone(apply(d, Together(edits=r.edits)), "pane-has-no-seat") == [], r.label


def test_a_pane_that_no_wall_holds_is_told(good_wren: Design) -> None:
    """An open bench has no top: the pane is not made, and that is said."""
    d = apply(good_wren, PutOwnOpening(opening=ON_TOP))
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, "open bench")))
    assert [p.name for p in analyse(d, ARCHIVE_WORKSHOP, "none").case.parts] == ["plate"]
    (found,) = alone(d, "pane-has-no-seat")
    assert (found.title, found.severity) == ("No wall holds the pane of Window", "stop")
    assert (found.measured, found.limit) == (0, 1)
    (without,) = found.remedies
    assert alone(apply(d, Together(edits=without.edits)), "pane-has-no-seat") == []
