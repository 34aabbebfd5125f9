"""Openings of one's own: where they are put, how large they are cut, that they go along and leave wall enough."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from manifold3d import Manifold

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge, judge_bare
from rhombex.core.constructions import SlidingPanels
from rhombex.core.design import Design, OwnOpening
from rhombex.core.edits import (
    AnchorOwnOpening,
    Construct,
    Edit,
    Move,
    MoveOnFace,
    MoveWall,
    PutOwnOpening,
    Remove,
    RemoveOwnOpening,
    Set,
    Together,
)
from rhombex.core.geometry import mesh_kernel
from rhombex.core.openings.opening import Opening
from rhombex.core.plain import DesignError
from rhombex.core.space import Face
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import SCENARIOS

from ..conftest import alone
from ..rough import shaped

SLOT = OwnOpening(id="lead", name="Lead", face="left", at_mm=(60, 12), shape="slot", size_mm=(20, 6), allowed=False)


def with_(design: Design, *edits: Edit) -> Analysis:
    for e in edits:
        design = apply(design, e)
    return analyse(design, ARCHIVE_WORKSHOP, "preview")


def cut(a: Analysis, id: str = "lead") -> Opening:
    return next(o for o in a.openings.openings if o.id == f"own/{id}")


def volume(a: Analysis, part: str) -> float:
    return sum(float(mesh_kernel.evaluate(a.piece_recipes[p.name]).volume()) for p in a.pieces if p.part == part)


@pytest.mark.parametrize(
    ("shape", "corner", "area"),
    [
        ("slot", 0.0, 14 * 6 + pi * 9),  # a rectangle between two half discs
        ("rectangle", 0.0, 20 * 6),
        ("rectangle", 2.0, 20 * 6 - (4 - pi) * 4),
        ("round", 0.0, pi * 36),
    ],
)
def test_what_is_cut_away_is_the_outline_times_the_wall(
    good_wren: Design, shape: str, corner: float, area: float
) -> None:
    """By hand: area x wall of the left side, which nothing else stands behind there."""
    o = SLOT.model_copy(update={"shape": shape, "corner_mm": corner})
    if shape == "round":
        o = o.model_copy(update={"size_mm": (12, 3)})  # its width is its diameter
    before = with_(good_wren)
    after = with_(good_wren, PutOwnOpening(opening=o))
    gone = volume(before, "base") - volume(after, "base") + volume(before, "lid") - volume(after, "lid")
    assert gone == pytest.approx(area * good_wren.shell.wall_mm, rel=0.01)
    for p in after.pieces:
        assert mesh_kernel.watertight(mesh_kernel.evaluate(after.piece_recipes[p.name]))


def test_through_a_thick_post_it_is_open_to_the_room(good_wren: Design) -> None:
    """Posts of 28 stand in the corners of the room: a slot through one of them is as deep as that and its wall, not as the floor beside it. What is cut away is its
    outline times 31.2."""
    bare = apply(good_wren, Together(edits=tuple(Remove(id=p.id) for p in good_wren.placements if p.on is None)))
    posts = apply(bare, Construct(construction=SlidingPanels(post_mm=28)))
    own = SLOT.model_copy(update={"at_mm": (14.0, 18.0), "size_mm": (10.0, 6.0)})
    before, after = with_(posts), with_(posts, PutOwnOpening(opening=own))
    o = cut(after)
    assert o.parts == ("base",)
    deep = 28 + posts.shell.wall_mm
    area = 4 * 6 + pi * 9
    assert volume(before, "base") - volume(after, "base") == pytest.approx(area * deep, rel=0.01)
    x, y = after.case.face("left").at(o.at_mm)[1:], 0.1
    rod = Manifold.cylinder(deep + 2, y, y, 8).rotate((0, 90, 0)).translate((-1.0, *x))
    assert (rod ^ mesh_kernel.evaluate(after.recipes["base"])).volume() < 1e-6


def test_the_allowance_is_added_to_what_goes_through(good_wren: Design) -> None:
    """20 x 6 through a wall in PLA: 0.35 + 20 x 0.3 % / 2 = 0.38 on each side; a round one of 10, lying: 0.3 + 10 x 0.3 %."""
    a = with_(good_wren, PutOwnOpening(opening=SLOT.model_copy(update={"allowed": True})))
    assert cut(a).size_mm == pytest.approx((20.76, 6.76))
    assert cut(a).corner_mm == pytest.approx(3.38)
    hole = SLOT.model_copy(update={"allowed": True, "shape": "round", "size_mm": (10, 3)})
    assert cut(with_(good_wren, PutOwnOpening(opening=hole))).size_mm == pytest.approx((10.33, 10.33))
    bare = with_(good_wren, PutOwnOpening(opening=SLOT))
    assert cut(bare).size_mm == (20, 6) and "as large as it says" in cut(bare).allowance.formula


@pytest.mark.parametrize("wall", ["front", "back", "left", "bottom"])
def test_it_stays_on_its_place_when_walls_move(good_wren: Design, wall: Face) -> None:
    """A wall 10 outward: the opening stays where it is beside the board."""
    before = with_(good_wren, PutOwnOpening(opening=SLOT))
    after = with_(good_wren, PutOwnOpening(opening=SLOT), MoveWall(face=wall, by_mm=10))
    was, now = (a.case.face("left").frame.point((*cut(a).at_mm, 0.0)) for a in (before, after))
    board = [next(t for t in a.things if t.id == "board").frame.origin for a in (before, after)]
    apart = [np.subtract(at, b) for at, b in zip((was, now), board, strict=True)]
    apart[1][0] += 10 if wall == "left" else 0  # it is in that wall, and goes out with it
    assert apart[1] == pytest.approx(apart[0])


@pytest.mark.parametrize("face", ["front", "back", "left", "right", "top", "bottom"])
def test_anchored_it_goes_along_and_is_not_moved_by_anchoring(good_wren: Design, face: Face) -> None:
    o = SLOT.model_copy(update={"face": face, "at_mm": (60, 14)})
    free = with_(good_wren, PutOwnOpening(opening=o))
    tied = apply(apply(good_wren, PutOwnOpening(opening=o)), AnchorOwnOpening(id="lead", on="drive"))
    assert cut(analyse(tied, ARCHIVE_WORKSHOP, "preview")).at_mm == pytest.approx(cut(free).at_mm)
    x, y, z = next(p for p in tied.placements if p.id == "drive").at_mm
    along = with_(tied, Move(id="drive", to_mm=(x + 3, y + 2, z)))
    frame = free.case.face(face).frame
    by = (np.dot((3, 2, 0), frame.x), np.dot((3, 2, 0), frame.y))
    assert np.subtract(cut(along).at_mm, cut(free).at_mm) == pytest.approx(by)
    loose = apply(tied, AnchorOwnOpening(id="lead", on=None))
    assert cut(analyse(loose, ARCHIVE_WORKSHOP, "preview")).at_mm == pytest.approx(cut(free).at_mm)
    assert with_(tied, Remove(id="drive")).design.own_openings == ()


def test_it_is_moved_along_its_face_and_closed(good_wren: Design) -> None:
    d = apply(good_wren, PutOwnOpening(opening=SLOT))
    a = with_(d, MoveOnFace(what="own/lead", by_mm=(2.5, -1)))
    assert np.subtract(cut(a).at_mm, cut(with_(d)).at_mm) == pytest.approx((2.5, -1))
    assert apply(d, RemoveOwnOpening(id="lead")).own_openings == ()
    with pytest.raises(DesignError, match="no opening 'x'"):
        apply(d, AnchorOwnOpening(id="x", on=None))
    with pytest.raises(DesignError, match="there is no 'nobody'"):
        apply(d, PutOwnOpening(opening=SLOT.model_copy(update={"on": "nobody"})))


def _said(a: Analysis, code: str) -> list[tuple[str, str, float]]:
    return [(f.severity, f.title, f.measured) for f in judge(a) if f.code == code and "own/" in " ".join(f.subjects)]


def test_over_the_edge_it_is_stopped_and_moved_in(good_wren: Design) -> None:
    """The left face is 144 wide; its cavity begins 3.15 in. A slot of 20 with its middle at -1: 2.15 - 10 = -7.85 over the edge."""
    a = with_(good_wren, PutOwnOpening(opening=SLOT.model_copy(update={"at_mm": (-1, 12)})))
    inset = a.case.face("left").inset_mm[0]
    found = [f for f in judge(a) if f.code == "web-too-thin"]
    assert [(f.severity, f.title) for f in found] == [("stop", "Lead runs into the edge of the left face")]
    assert found[0].measured == pytest.approx(inset - 1 - 10, abs=0.01)
    assert found[0].limit == pytest.approx(2 * 0.45)
    mend = found[0].remedies[0]
    assert mend.label == f"Move Lead {0.9 - (inset - 11):.1f} mm onto the left face"
    assert _said(with_(a.design, Together(edits=mend.edits)), "web-too-thin") == []


def test_beside_another_it_leaves_a_web_or_is_moved(good_wren: Design) -> None:
    """Slots of 20 with their middles 20.5 apart leave 0.5 mm of 0.9; 18 apart they run 2 mm into one another."""
    one = PutOwnOpening(opening=SLOT)
    for apart, severity, gap in ((20.5, "weigh", 0.5), (18.0, "stop", -2.0)):
        two = SLOT.model_copy(update={"id": "tool", "name": "Tool", "at_mm": (60 + apart, 12)})
        a = with_(good_wren, one, PutOwnOpening(opening=two))
        found = [f for f in judge(a) if f.code == "web-too-thin"]
        assert [f.severity for f in found] == [severity] and found[0].measured == pytest.approx(gap, abs=0.01)
        assert found[0].remedies
        for r in found[0].remedies:
            assert _said(with_(a.design, Together(edits=r.edits)), "web-too-thin") == [], r.label
    clear = SLOT.model_copy(update={"id": "tool", "name": "Tool", "at_mm": (81, 12)})
    assert _said(with_(good_wren, one, PutOwnOpening(opening=clear)), "web-too-thin") == []


def test_the_joint_through_it_is_told(good_wren: Design) -> None:
    joint = good_wren.shell.construction.joint_mm  # type: ignore[union-attr]
    a = with_(good_wren, PutOwnOpening(opening=SLOT.model_copy(update={"at_mm": (60, joint)})))
    assert [s for s, *_ in _said(a, "joint-cuts-opening")] == ["stop"]


def test_what_holds_the_case_is_not_cut_through(good_wren: Design) -> None:
    """Beside the boss of a lid screw (9.2 across) it is told from touching on, from inside a side wall as from above."""
    a = with_(good_wren)
    joint = a.case.joints[0]
    near = 9.2 / 2 + 3  # half the boss and half the opening
    faces: tuple[Face, ...] = ("top", "left")
    for face in faces:
        frame = a.case.face(face)
        u, v = frame.on((joint.at[0], joint.at[1], joint.at[2]))
        way = 1 if u < frame.size_mm[0] / 2 else -1
        for apart, told in ((near - 0.05, 1), (near + 0.05, 0)):
            at = (u - frame.inset_mm[0] + way * apart, v - frame.inset_mm[1] - (3 if face == "left" else 0))
            o = SLOT.model_copy(update={"face": face, "at_mm": at, "shape": "rectangle", "size_mm": (6, 3)})
            assert len(_said(with_(good_wren, PutOwnOpening(opening=o)), "opening-meets-screw")) == told, (face, apart)


def test_a_fault_in_one_leaves_the_others(good_wren: Design) -> None:
    tall = SLOT.model_copy(update={"id": "tall", "size_mm": (20, 400)})
    a = with_(good_wren, PutOwnOpening(opening=SLOT), PutOwnOpening(opening=tall), Set(path="name", value="x"))
    assert cut(a).size_mm == (20, 6)
    assert any(f.severity == "stop" for f in judge(a))


def part_volume(d: Design, part: str) -> float:
    return float(mesh_kernel.evaluate(shaped(d).recipes[part], mesh_kernel.FILE_TOL).volume())


@pytest.mark.parametrize(
    ("name", "face", "part", "words", "far"),
    [
        # the post of Heron's base ends 13.84 from its outer edge: an opening of 6 whose middle is 5 inside the wall of 3.84 begins at 5.84
        ("heron-sliding", "front", "base", "a corner post", 13.84 - 5.84),
        ("heron-sliding", "left", "base", "a corner post", 13.84 - 5.84),
        # Dunlin's wall is 3.72, its beam 13 wide
        ("dunlin", "front", "beam-1", "a corner beam", 16.72 - 5.72),
        ("dunlin", "left", "beam-3", "a corner beam", 16.72 - 5.72),
    ],
)
def test_one_through_what_stands_in_a_corner_is_told(name: str, face: Face, part: str, words: str, far: float) -> None:
    """Both are on the left end of their side as it is seen from outside; beside the post, with a web between, nothing of it is cut."""
    d = SCENARIOS[name]()
    own = OwnOpening(id="hole", name="Hole", face=face, at_mm=(5, 65), size_mm=(6, 6), allowed=False)
    holed = apply(d, PutOwnOpening(opening=own))
    (f,) = [f for f in alone(holed, "opening-meets-screw") if "Hole" in f.title]
    assert (f.severity, f.title, f.subjects) == ("stop", f"Hole runs through {words}", ("own/hole", part))
    # the nearer way out: of the post 13.84 - 5.84 to the right, of the beam 11.72 - 3.72 to the left
    assert f.measured == pytest.approx(-8, abs=0.01) and f.limit == 0
    (beside,) = f.remedies
    web = 2 * shaped(d).case.line_mm
    (move,) = beside.edits
    assert isinstance(move, MoveOnFace) and move.by_mm[0] == pytest.approx(far + web + 0.05, abs=0.06)
    then = apply(holed, Together(edits=beside.edits))
    assert not [f for f in alone(then, "opening-meets-screw") if "Hole" in f.title]
    whole, less, after = (part_volume(x, part) for x in (d, holed, then))
    assert whole - less > 100 and after == pytest.approx(whole, abs=1e-3)
    assert not [f for f in judge_bare(analyse(then, ARCHIVE_WORKSHOP, "preview")) if "Hole" in f.title]
