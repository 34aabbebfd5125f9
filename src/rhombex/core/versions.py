"""What is different between two designs, or two revisions of one: components, case, openings, printing, bill, concerns, in words."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any, Literal

from rhombex.core.analysis import Analysis
from rhombex.core.concerns import Finding
from rhombex.core.design import Placement
from rhombex.core.trail import Frozen

Of = Literal["components", "case", "openings", "printing", "pieces", "to buy", "concerns"]
_UNITS = {"mm": "mm", "g": "g", "s": "s", "c": "°C"}
_NAMES = {
    "inner_mm": "room inside",
    "wall_mm": "walls",
    "floor_mm": "floor",
    "lid_mm": "top",
    "corner_radius_mm": "corners",
    "joint_mm": "joint",
    "boss_od_mm": "bosses",
    "kind": "construction",
    "foot_mm": "feet, high",
}


class Difference(Frozen):
    """One thing that is otherwise: what of, what, and how it is in the one and the other; nothing where it is not there."""

    of: Of
    what: str
    here: str
    there: str


def differences(
    here: Analysis, found: Iterable[Finding], there: Analysis, found_there: Iterable[Finding]
) -> tuple[Difference, ...]:
    """Everything that is otherwise, in the order of the work."""
    return (
        *_components(here, there),
        *_case(here, there),
        *_openings(here, there),
        *_printing(here, there),
        *_counts("pieces", _pieces(here), _pieces(there)),
        *_counts("to buy", _bill(here), _bill(there)),
        *_concerns(found, found_there),
    )


def _components(a: Analysis, b: Analysis) -> Iterator[Difference]:
    mine, other = ({p.id: p for p in x.design.placements} for x in (a, b))
    for id in dict.fromkeys((*mine, *other)):
        p, q = mine.get(id), other.get(id)
        kinds = tuple(_label(x, o) if o else "" for x, o in ((a, p), (b, q)))
        name = (p or q).name  # type: ignore[union-attr]
        if p is None or q is None or p.component != q.component:
            yield Difference(of="components", what=name, here=kinds[0], there=kinds[1])
        if p is not None and q is not None and _stands(p) != _stands(q):
            yield Difference(of="components", what=f"place of {name}", here=_stands(p), there=_stands(q))


def _label(a: Analysis, p: Placement) -> str:
    c = a.design.component(p.component)
    return c.label if c else p.component


def _stands(p: Placement) -> str:
    on = f", on the {p.face}" if p.face else ""
    turned = f", turned by {p.turn}°" if p.turn else ""
    return " / ".join(f"{x:g}" for x in p.at_mm) + " mm" + on + turned


def _case(a: Analysis, b: Analysis) -> Iterator[Difference]:
    s, t = a.design.shell, b.design.shell
    yield from _fields("case", s.model_dump(exclude={"construction"}), t.model_dump(exclude={"construction"}))
    yield from _fields("case", s.construction.model_dump(), t.construction.model_dump())


def _fields(of: Of, here: Mapping[str, Any], there: Mapping[str, Any], whose: str = "") -> Iterator[Difference]:
    for field in dict.fromkeys((*here, *there)):
        x, y = _words(field, here.get(field)), _words(field, there.get(field))
        if x != y:
            yield Difference(of=of, what=_name(field) + whose, here=x, there=y)


def _name(field: str) -> str:
    """A field of the document as one says it."""
    if field in _NAMES:
        return _NAMES[field]
    stem, _, unit = field.rpartition("_")
    return (stem if unit in _UNITS and stem else field).replace("_", " ")


def _words(field: str, x: Any) -> str:
    unit = _UNITS.get(field.rpartition("_")[2], "")
    if x is None or x == () or x == []:
        return "none"
    if isinstance(x, bool):
        return "yes" if x else "no"
    if isinstance(x, int | float):
        return f"{x:g} {unit}".strip()
    if isinstance(x, tuple | list):
        return f"{' × '.join(f'{v:g}' if isinstance(v, int | float) else str(v) for v in x)} {unit}".strip()
    if isinstance(x, dict):
        return ", ".join(f"{_name(k)} {_words(k, v)}" for k, v in x.items())
    return str(x)


def _openings(a: Analysis, b: Analysis) -> Iterator[Difference]:
    mine, other = (
        {
            o.id: (o.label, f"{o.size_mm[0]:.1f} × {o.size_mm[1]:.1f} mm on the {o.face}" + _pane(o.pane))
            for o in x.openings.openings
        }
        for x in (a, b)
    )
    yield from _named("openings", mine, other)
    vents, others = (
        {
            v.id: (v.label, f"{len(v.holes)} holes, {v.free_area_mm2 / 100:.1f} cm² on the {v.face}")
            for v in x.openings.vents
        }
        for x in (a, b)
    )
    yield from _named("openings", vents, others)
    texts, written = (
        {
            t.id: ("text", f"“{t.text}” {t.high_mm:g} mm high, {t.deep_mm:g} deep on the {t.face}")
            for t in x.openings.texts
        }
        for x in (a, b)
    )
    yield from _named("openings", texts, written)


def _pane(pane: Any) -> str:
    if pane is None:
        return ""
    what = "a printed plate" if pane.printed else pane.material
    return f", closed by {pane.thick_mm:g} mm {what}" + (", screwed" if pane.screws else "")


def _named(of: Of, mine: Mapping[str, tuple[str, str]], other: Mapping[str, tuple[str, str]]) -> Iterator[Difference]:
    for id in dict.fromkeys((*mine, *other)):
        x, y = mine.get(id), other.get(id)
        if x != y:
            name = (x or y or ("", ""))[0]
            yield Difference(of=of, what=name, here=x[1] if x else "", there=y[1] if y else "")


def _printing(a: Analysis, b: Analysis) -> Iterator[Difference]:
    if a.printer.name != b.printer.name:
        yield Difference(of="printing", what="printer", here=a.printer.name, there=b.printer.name)
    yield from _fields("printing", a.design.process.model_dump(), b.design.process.model_dump())
    mine, other = ({p.part: p.process.model_dump() for p in x.design.part_processes} for x in (a, b))
    for part in dict.fromkeys((*mine, *other)):
        here = mine.get(part, a.design.process.model_dump())
        there = other.get(part, b.design.process.model_dump())
        if part in mine or part in other:
            yield from _fields("printing", here, there, f" of the {part}")


def _pieces(a: Analysis) -> dict[str, int]:
    found: dict[str, int] = {}
    for p in a.pieces:
        found[p.part] = found.get(p.part, 0) + 1
    return found


def _bill(a: Analysis) -> dict[str, int]:
    return {f"{line.item} {line.size}, {line.use}": line.count for line in a.bill if line.item != "component"}


def _counts(of: Of, here: Mapping[str, int], there: Mapping[str, int]) -> Iterator[Difference]:
    for what in dict.fromkeys((*here, *there)):
        x, y = here.get(what, 0), there.get(what, 0)
        if x != y:
            yield Difference(of=of, what=what, here=str(x) if x else "", there=str(y) if y else "")


def _concerns(here: Iterable[Finding], there: Iterable[Finding]) -> Iterator[Difference]:
    mine, other = ({f.key: f for f in x if f.severity != "advice"} for x in (here, there))
    for key in dict.fromkeys((*mine, *other)):
        x, y = mine.get(key), other.get(key)
        if x is None or y is None:
            f = x or y
            assert f is not None
            how = "stops" if f.severity == "stop" else "to weigh"
            yield Difference(of="concerns", what=f.title, here=how if x else "", there=how if y else "")
