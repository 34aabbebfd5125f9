"""Text on faces: whether it lies on a printed wall, can be read, leaves wall enough behind it, and keeps off what is open there."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import TEXT, FaceText
from rhombex.core.edits import MoveOnFace, PutText, RemoveText
from rhombex.core.geometry.lettering import BARS_APART, size_mm
from rhombex.core.openings.fixed import fixed
from rhombex.core.openings.opening import Lettered, outline
from rhombex.core.openings.texts import Rect, free_place, plain_mm
from rhombex.core.reference import ref, val
from rhombex.core.trail import given, looked_up

BESIDE_MM = 1.0  # of plain wall round a text; common practice


@concern("text-not-cut", "openings")
def text_not_cut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Text that nothing printed holds all of: over an edge or a seam, on bought sheet, or where no wall is."""
    made = {t.id: t for t in a.openings.texts}
    for own in a.design.texts:
        t = made.get(f"{TEXT}{own.id}")
        if t is not None and t.part is not None:
            continue
        sheet = t is not None and t.on != "" and a.case.part(t.on).sheet is not None
        share = t.share * 100 if t is not None else 0.0
        yield say(
            "stop",
            f"“{own.text}” is not cut into the {own.face}",
            measured=share,
            limit=100.0,
            unit="%",
            how="how much of the rectangle round it lies on the flat outside of one printed wall",
            of=(given("long", t.size_mm[0]), given("high", t.size_mm[1])) if t is not None else (),
            reason="The wall is bought sheet there, which no printer writes on: have it engraved, or print that wall."
            if sheet
            else "Letters over a seam, an edge or round corner come out torn, and where no wall is there is nothing to sink them into.",
            source="geometry",
            subjects=(f"{TEXT}{own.id}",),
            remedies=(
                *(_elsewhere(a, own, t, own.high_mm) if t is not None and not sheet else ()),
                *(_smaller(a, own, t) if t is not None and not sheet else ()),
                Remedy(label=f"Leave “{own.text}” out", edits=(RemoveText(id=own.id),)),
            ),
        )


@concern("text-too-small", "openings")
def text_too_small(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Letters so small that no line of plastic is left between their strokes."""
    for t in (t for t in a.openings.texts if t.part is not None):
        own = _own(a, t)
        line = a.case.line_mm
        left = BARS_APART * (t.high_mm - t.stroke_mm) - t.stroke_mm
        if left >= line - 1e-6:
            continue
        wants = round((line + t.stroke_mm) / BARS_APART + t.stroke_mm + 0.05, 1)
        yield say(
            "weigh",
            f"“{t.text}” is too small to be read",
            measured=left,
            limit=line,
            how="bars of an e are a third of the height between the middles of its strokes apart, less a stroke",
            of=(given("height", t.high_mm), given("stroke", t.stroke_mm)),
            reason="What stands between two grooves is narrower than a line of the nozzle, and is left out: letters run into blots.",
            source="geometry of the letters; a line is the least that prints (common practice)",
            subjects=(t.id, "height"),
            remedies=(
                Remedy(
                    label=f"Letters {wants:g} mm high", edits=(PutText(text=own.model_copy(update={"high_mm": wants})),)
                ),
            ),
        )


@concern("text-too-deep", "openings")
def text_too_deep(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Grooves that leave too little wall behind them, or none."""
    lines = ref("printing.feature.web_lines")
    for t in (t for t in a.openings.texts if t.part is not None):
        left, limit = t.before_mm - t.deep_mm, lines.value * a.case.line_mm
        if left >= limit - 1e-6:
            continue
        usual = val("printing.feature.mark_deep")
        deep = usual if t.before_mm - usual >= limit - 1e-6 else None
        less = _own(a, t).model_copy(update={"deep_mm": deep})
        yield say(
            "stop" if left <= 0 else "weigh",
            f"“{t.text}” goes through the {t.part}"
            if left <= 0
            else f"“{t.text}” leaves little of the {t.part} behind it",
            measured=left,
            limit=limit,
            how="wall less the depth of the grooves",
            of=(
                given("wall", t.before_mm),
                given("deep", t.deep_mm),
                looked_up("lines", lines),
                given("line", a.case.line_mm),
            ),
            reason="The middles of letters fall out."
            if left <= 0
            else "The wall breaks along the strokes, and light shows through them.",
            source="common practice",
            subjects=(t.id, "depth"),
            remedies=(
                *(
                    (Remedy(label=f"Grooves {usual:g} mm deep", edits=(PutText(text=less),)),)
                    if deep is not None
                    else ()
                ),
                Remedy(label=f"Leave “{t.text}” out", edits=(RemoveText(id=t.id.removeprefix(TEXT)),)),
            ),
        )


@concern("text-meets", "openings", needs=("walls",))
def text_meets(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Text over an opening, vents, a foot, a screw's head or other text."""
    for t in (t for t in a.openings.texts if t.part is not None):
        gap, name, who = min(
            ((_apart(t.rect_mm, r), name, who) for name, who, r in _on_face(a, t)), default=(BESIDE_MM, "", "")
        )
        if gap >= BESIDE_MM - 1e-6:
            continue
        own = _own(a, t)
        yield say(
            "weigh",
            f"“{t.text}” runs into {name}" if gap < 0 else f"“{t.text}” is close to {name}",
            measured=gap,
            limit=BESIDE_MM,
            how="between the rectangles round them",
            reason="What is cut there takes letters away, and slivers between them break off.",
            source="common practice",
            subjects=(t.id, who),
            remedies=(
                *_elsewhere(a, own, t, own.high_mm),
                *_smaller(a, own, t),
                Remedy(label=f"Leave “{t.text}” out", edits=(RemoveText(id=own.id),)),
            ),
        )


def _own(a: Analysis, t: Lettered) -> FaceText:
    return next(x for x in a.design.texts if f"{TEXT}{x.id}" == t.id)


def _on_face(a: Analysis, t: Lettered) -> Iterator[tuple[str, str, Rect]]:
    """What is open or lies in the outside of a text's face: in words, what it belongs to, and the rectangle round it."""
    face = a.case.face(t.face)
    for o in (o for o in a.openings.openings if o.face == t.face and o.parts):
        yield f"the opening {o.label}", o.id, outline(o)
    for v in (v for v in a.openings.vents if v.face == t.face and v.holes):
        (u, w), (du, dw) = v.at_mm, v.size_mm
        yield f"the {v.label[:1].lower()}{v.label[1:]}", v.id, (u - du / 2, w - dw / 2, u + du / 2, w + dw / 2)
    for other in (x for x in a.openings.texts if x.face == t.face and x.id < t.id and x.part is not None):
        yield f"“{other.text}”", other.id, other.rect_mm
    solid = {m.of for m in a.case.mounts if not m.open_below_mm}  # posts that nothing shows of outside
    for what, who, box in fixed(a.case, a.things):
        (u0, u1), (v0, v1), (_, near) = (
            sorted(x) for x in zip(face.frame.local(box.lo), face.frame.local(box.hi), strict=True)
        )
        if near > -t.deep_mm and who not in solid:
            yield what, who, (u0, v0, u1, v1)


def _apart(p: Rect, q: Rect) -> float:
    """How far apart two rectangles are along the face; less than nothing where they meet."""
    return max(p[0] - q[2], q[0] - p[2], p[1] - q[3], q[1] - p[3])


@searched
def _elsewhere(a: Analysis, own: FaceText, t: Lettered, high_mm: float) -> tuple[Remedy, ...]:
    """The nearest place on its face where it lies on one wall and meets nothing."""
    at = _place(a, t, high_mm)
    if at is None:
        return ()
    by = (round(at[0] - t.at_mm[0], 3), round(at[1] - t.at_mm[1], 3))
    if max(abs(x) for x in by) < 1e-3:
        return ()
    return (Remedy(label=f"Move “{t.text}” to a free place", edits=(MoveOnFace(what=t.id, by_mm=by),)),)


@searched
def _smaller(a: Analysis, own: FaceText, t: Lettered) -> tuple[Remedy, ...]:
    """Where it fits nowhere on its face as it is: the largest height, of nine tenths, eight tenths and so on, that does and can be read."""
    least = (a.case.line_mm + t.stroke_mm) / BARS_APART + t.stroke_mm
    if _place(a, t, t.high_mm) is not None:
        return ()
    for tenths in range(9, 1, -1):
        high = round(t.high_mm * tenths / 10, 1)
        at = _place(a, t, high) if high >= least else None
        if at is not None:
            moved = (round(own.at_mm[0] + at[0] - t.at_mm[0], 3), round(own.at_mm[1] + at[1] - t.at_mm[1], 3))
            smaller = own.model_copy(update={"high_mm": high, "at_mm": moved})
            return (Remedy(label=f"Letters {high:g} mm high", edits=(PutText(text=smaller),)),)
    return ()


def _place(a: Analysis, t: Lettered, high_mm: float) -> tuple[float, float] | None:
    """The free place nearest to a text where letters of a height fit, on a wall that is printed and nothing stands before."""
    x0, y0, x1, y1 = size_mm(t.text, high_mm, t.stroke_mm, t.turn_deg)
    face, b = a.case.face(t.face), BESIDE_MM
    taken = [(r[0] - b, r[1] - b, r[2] + b, r[3] + b) for _, _, r in _on_face(a, t)]
    best: tuple[float, tuple[float, float]] | None = None
    walls = sorted((w for w in a.case.walls if w.face == t.face), key=lambda w: w.depth_mm)
    for k, w in enumerate(walls):
        if a.case.part(w.part).sheet is not None:
            continue
        before: list[Rect] = [(*o.lo_mm, *o.hi_mm) for o in walls[:k] if o.part != w.part]
        shift = ((x0 + x1) / 2, (y0 + y1) / 2)  # tails hang below the middle of the capitals
        want = (t.at_mm[0] + shift[0], t.at_mm[1] + shift[1])
        plain = plain_mm(a.case, face, w, a.design.shell.corner_radius_mm)
        at = free_place(plain, [*taken, *before], (x1 - x0, y1 - y0), want)
        if at is not None:
            far = (at[0] - want[0]) ** 2 + (at[1] - want[1]) ** 2
            if best is None or far < best[0]:
                best = far, (at[0] - shift[0], at[1] - shift[1])
    return best[1] if best is not None else None
