"""STEP in: a board with its holes and what stands on it, or a body. Slow and large: run it confined."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from OCP.TopLoc import TopLoc_Location

from rhombex.core.exchange.step_products import Product, bad, products
from rhombex.core.exchange.step_slab import (
    Slab,
    along,
    box_of,
    cut_off,
    frame_of,
    is_board,
    outline_of,
    ring_of,
    round_holes,
    slabs,
    trsf_of,
)
from rhombex.core.parts.recognised import Found, Recognised, overhang
from rhombex.core.progress import Progress, silent

Array = NDArray[np.float64]
Kind = Literal["board", "body"]
COVERS = 0.5  # a product that lies over so much of a board is no component, but a group of them
SMALL_MM, LOW_MM = 6.0, 3.5  # what is smaller and lower than this is one of many small components
NEAR_MM = 1.0  # small components so near to one another are drawn as one


@dataclass
class _Thing:
    """A component: by product, not by solid."""

    name: str
    solids: list[Any]


def recognise_step(
    data: bytes, name: str = "board", progress: Progress = silent, as_kind: Kind | None = None
) -> Recognised:
    """Recognise a board, or else a body, in a STEP file; `as_kind` says which it is. Raises DesignError where it cannot be read, or is
    not what it is said to be."""
    if b"ISO-10303-21" not in data[:4096]:
        raise bad("this does not begin as a STEP file does")
    progress(0.05, "reading the file")
    with tempfile.TemporaryDirectory(prefix="rhombex-") as room:
        path = Path(room) / "in.step"
        path.write_bytes(data)
        whole = products(str(path))
    found = _named(whole, ())
    bodies = [solid for solid, _ in found]
    progress(0.4, f"{len(bodies)} solids: looking for the board")
    slab = None
    if as_kind != "body":
        slab = next(
            (
                s
                for s in slabs(bodies)
                if as_kind == "board"
                or is_board(s, bodies, (found[s.body][1] or ("",))[-1], " / ".join((name, *found[s.body][1])))
            ),
            None,
        )
    if slab is None:
        if as_kind == "board":
            raise bad("nothing in it is as flat as a board, 0.3 to 3.5 mm thick", "Read it as a body.")
        return _body(whole, name, as_kind is None)
    return _board(whole, bodies, slab, name, progress)


def _named(p: Product, above: tuple[str, ...]) -> list[tuple[Any, tuple[str, ...]]]:
    """All solids with the names of the products they are in, the innermost last."""
    names = (*above, p.name) if p.name else above
    return [(s, names) for s in p.solids] + [x for q in p.parts for x in _named(q, names)]


def _board(whole: Product, bodies: list[Any], slab: Slab, name: str, progress: Progress) -> Recognised:
    solid = bodies[slab.body]
    frame, origin = frame_of(slab)
    n = slab.normal
    u = along(outline_of(slab.top, frame, origin))
    x = frame[:, 0] * u[0] + frame[:, 1] * u[1]
    if x[int(np.abs(x).argmax())] < 0:  # along the file's own axis rather than against it
        x = -x
    frame = np.column_stack([x, np.cross(n, x), n])
    notes: list[str] = []
    thick = slab.upper - slab.lower
    low, high = box_of(solid.Moved(TopLoc_Location(trsf_of(frame, origin))))
    things = _things(whole, solid, float(np.prod((high - low)[:2])), TopLoc_Location(trsf_of(frame, origin)))
    # small components fused to a large board hardly change its volume: what stands out of the slab tells
    if slab.fused or low[2] < -0.05 or high[2] > thick + 0.05:
        things += [_Thing("fused component", [s]) for s in cut_off(solid, frame, origin, thick)]
        notes.append("Board and components are one solid; the board was cut out between its two planes.")
    progress(0.6, "measuring the components")
    boxes = _boxes(things, frame, origin, progress)
    # up is the side on which the components stand
    above = sum(float(np.prod(b - a)) for _, a, b in boxes if (a[2] + b[2]) / 2 > thick / 2)
    below = sum(float(np.prod(b - a)) for _, a, b in boxes if (a[2] + b[2]) / 2 <= thick / 2)
    down = below > above
    if down:
        frame = frame @ np.diag([1.0, -1.0, -1.0])  # half a turn about x
        origin = n * slab.upper
    area = outline_of(slab.top, frame, origin)
    x0, y0, x1, y1 = area.bounds
    origin = origin + frame @ np.array([x0, y0, 0.0])
    size = (float(x1 - x0), float(y1 - y0), thick)
    if down:
        slab.top, slab.bottom = slab.bottom, slab.top
    holes, odd = round_holes(slab, frame, origin, solid)
    if odd:
        notes.append(f"{odd} openings are not round holes through the board.")
    progress(0.92, "finding edges")
    found = []
    seen: dict[str, int] = {}
    boxes = _boxes(things, frame, origin)
    small = sum(_is_small(a, b, size) for _, a, b in boxes)
    if small > 1:
        notes.append(f"{small} small components are drawn together, as high as the highest of their neighbours.")
    for which, a, b in _small_together(boxes, size):
        seen[which] = seen.get(which, 0) + 1
        label = which if seen[which] == 1 else f"{which} {seen[which]}"
        edge, over = overhang(tuple(a), tuple(b), size)
        found.append(
            Found(
                name=label[:80],
                lo=tuple(a),
                hi=tuple(b),
                side="top" if (a[2] + b[2]) / 2 > thick / 2 else "bottom",
                edge=edge,
                overhang_mm=over,
            )
        )
    outline = ring_of(area.exterior) - np.array([x0, y0])
    up = frame[:, 2]
    return Recognised(
        kind="board",
        name=name,
        format="STEP",
        unit="mm",
        unit_from="the file",
        size_mm=size,
        outline=tuple((float(p[0]), float(p[1])) for p in outline[:400]),
        holes=tuple(sorted(holes, key=lambda h: (h.at[1], h.at[0]))),
        found=tuple(found),
        up=_axis_words(up),
        turned=_turn_words(frame),
        notes=tuple(notes),
    )


def _things(whole: Product, slab: Any, area: float, place: TopLoc_Location) -> list[_Thing]:
    """What stands on the board: the products beside it, each as one thing. A product that lies over much of the board holds several;
    loose solids without products are things by themselves."""

    def holds(p: Product) -> bool:
        return any(s.IsSame(slab) for s in p.all_solids())

    def wide(p: Product) -> bool:
        boxes = [box_of(s.Moved(place)) for s in p.all_solids()]
        lo, hi = np.min([a for a, _ in boxes], axis=0), np.max([b for _, b in boxes], axis=0)
        return float(np.prod((hi - lo)[:2])) > COVERS * area

    def split(p: Product) -> list[_Thing]:
        solids = list(p.all_solids())
        if not solids:
            return []
        if len(solids) > 1 and wide(p):
            return [t for q in p.parts for t in split(q)] + [_Thing(p.name or "component", [s]) for s in p.solids]
        return [_Thing(p.name or next((q.name for q in p.parts if q.name), "component"), solids)]

    def beside(p: Product) -> list[_Thing]:
        out = [_Thing(p.name or "component", [s]) for s in p.solids if not s.IsSame(slab)]
        for q in p.parts:
            out += beside(q) if holds(q) else split(q)
        return out

    return beside(whole)


def _boxes(
    things: list[_Thing], frame: Array, origin: Array, progress: Progress = silent
) -> list[tuple[str, Array, Array]]:
    """Name and box of each thing in the board's frame."""
    place = TopLoc_Location(trsf_of(frame, origin))
    out = []
    for k, t in enumerate(things):
        if k % 50 == 0:
            progress(0.6 + 0.3 * k / max(1, len(things)), f"component {k + 1} of {len(things)}")
        ends = [box_of(s.Moved(place)) for s in t.solids]
        a, b = np.min([x for x, _ in ends], axis=0), np.max([x for _, x in ends], axis=0)
        if (b - a).min() > 1e-6:
            out.append((t.name, a, b))
    return out


def _is_small(a: Array, b: Array, size: tuple[float, float, float]) -> bool:
    """Whether a box on the board is one of the many small and low components that stay inside its outline."""
    inside = bool((a[:2] >= -0.02).all() and (b[:2] <= np.array(size[:2]) + 0.02).all())
    high = max(float(b[2]) - size[2], -float(a[2]))
    return inside and float((b - a)[:2].max()) < SMALL_MM and high < LOW_MM


def _small_together(
    boxes: list[tuple[str, Array, Array]], size: tuple[float, float, float]
) -> list[tuple[str, Array, Array]]:
    """The boxes with small components of one side that are near one another made one, as high as the highest of them."""
    small = [x for x in boxes if _is_small(x[1], x[2], size)]
    if len(small) < 2:
        return boxes
    out = [x for x in boxes if not _is_small(x[1], x[2], size)]
    for top in (True, False):
        groups: list[tuple[Array, Array]] = []
        for _, a, b in sorted(small, key=lambda x: (x[1][0], x[1][1])):
            if ((a[2] + b[2]) / 2 > size[2] / 2) != top:
                continue
            for k, (lo, hi) in enumerate(groups):
                gap = np.maximum(lo[:2] - b[:2], a[:2] - hi[:2]).max()
                both = np.minimum(lo, a), np.maximum(hi, b)
                if gap < NEAR_MM and float((both[1] - both[0])[:2].max()) < 4 * SMALL_MM:
                    groups[k] = both
                    break
            else:
                groups.append((a, b))
        out += [("small components", lo, hi) for lo, hi in groups]
    return out


def _axis_words(v: Array) -> str:
    k = int(np.abs(v).argmax())
    if abs(v[k]) > 0.999:
        return f"{'+' if v[k] > 0 else '-'}{'xyz'[k]} of the file"
    return "tilted in the file: ({:.3f}, {:.3f}, {:.3f})".format(*v)


def _turn_words(frame: Array) -> str:
    return (
        "as it lies in the file"
        if np.allclose(frame, np.eye(3), atol=1e-6)
        else "turned to lie flat, longer side along x"
    )


def _body(whole: Product, name: str, unasked: bool) -> Recognised:
    """No board in it: every solid as a box, those within others left out, standing on the lowest point."""
    boxes = [((names or ("part",))[-1], *box_of(s)) for s, names in _named(whole, ())]
    boxes.sort(key=lambda x: -float(np.prod(x[2] - x[1])))
    kept: list[tuple[str, Array, Array]] = []
    for n, a, b in boxes:
        if not any((a >= c - 0.01).all() and (b <= d + 0.01).all() for _, c, d in kept) and (b - a).min() > 1e-6:
            kept.append((n, a, b))
    kept.sort(key=lambda x: -float(np.prod((x[2] - x[1])[:2])))  # the picture from above shows what lies on another
    lo = np.min([a for _, a, _ in boxes], axis=0)
    hi = np.max([b for _, _, b in boxes], axis=0)
    return Recognised(
        kind="body",
        name=name,
        format="STEP",
        unit="mm",
        unit_from="the file",
        size_mm=tuple(hi - lo),
        found=tuple(
            Found(name=f"{n} {k + 1}"[:80], lo=tuple(a - lo), hi=tuple(b - lo), side="top")
            for k, (n, a, b) in enumerate(kept)
        ),
        up="+z of the file",
        turned="as it lies in the file",
        notes=("Nothing in it is a board: it is taken as a body. If it is one, say so.",) if unasked else (),
    )
