"""The workshop: printers with their limits, state and pace, and the spools on the rack."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from rhombex.core.design import FilamentKind
from rhombex.core.migrations import WORKSHOP_STEPS, WORKSHOP_VERSION, brought_up
from rhombex.core.parts.component import Component, Key
from rhombex.core.plain import DesignError, first_error, read_as
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.core.words import Name, Words

Positive = Annotated[float, Field(gt=0, le=1e5)]


def usual(key: str) -> Any:
    """A field whose default is the reference value of that key."""
    return Field(default_factory=lambda: val(key), gt=0, le=1e5)


class Health(Frozen):
    """How the last parts came out: skew of a 100 mm square, and flow delivered against flow asked."""

    skew_mm_per_100: Annotated[float, Field(ge=0, le=10)] = 0.0
    flow_share: Annotated[float, Field(gt=0, le=2)] = 1.0
    checked: Annotated[Words, Field(max_length=40)] = ""


Limit = Literal["accel_mm_s2", "corner_mm_s", "speed_mm_s"]
Seconds = Annotated[float, Field(gt=0, le=1e7)]
ONE_LIMIT = (0.5, 0.7, 1.4, 2.0)  # shares of a limit that a print is planned with besides
TWO_LIMITS = (0.5, 2.0)
# which shares of (acceleration, corner speed, top speed): each by itself, then two together
CURVE_POINTS: tuple[tuple[float, float, float], ...] = (
    *((s, 1.0, 1.0) for s in ONE_LIMIT),
    *((1.0, s, 1.0) for s in ONE_LIMIT),
    *((1.0, 1.0, s) for s in ONE_LIMIT),
    *((a, b, 1.0) for a in TWO_LIMITS for b in TWO_LIMITS),
    *((a, 1.0, b) for a in TWO_LIMITS for b in TWO_LIMITS),
    *((1.0, a, b) for a in TWO_LIMITS for b in TWO_LIMITS),
)
MOST_PRINTS = 200  # in a diary; the oldest goes


class LimitCurves(Frozen):
    """What a print would take were limits of its printer others. `at`: acceleration, corner speed and top speed that it was
    planned with; `seconds`: the plan at each of CURVE_POINTS."""

    at: tuple[Positive, Positive, Positive]
    seconds: Annotated[tuple[Seconds, ...], Field(min_length=len(CURVE_POINTS), max_length=len(CURVE_POINTS))]


class PacedPrint(Frozen):
    """One print's planned and real time, for the pace and the limits of its printer."""

    what: Name
    planned_s: Seconds
    curves: LimitCurves | None = None
    real_s: Seconds


class Printer(Frozen):
    """A fused-filament printer: bed, nozzle, limits, slots for filaments, state of health, and its diary of hours.

    `speed_mm_s`, `accel_mm_s2`, `corner_mm_s` (kept round a right angle) and `flow_mm3_s` are the machine's own limits.
    """

    key: Key
    name: Name
    bed_mm: tuple[Positive, Positive, Positive]
    nozzle_mm: Annotated[float, Field(ge=0.1, le=2)]
    spare_nozzles_mm: Annotated[tuple[Annotated[float, Field(ge=0.1, le=2)], ...], Field(max_length=12)] = ()
    enclosed: bool
    margin_mm: Annotated[float, Field(ge=0, le=50)] = Field(default_factory=lambda: val("printing.feature.bed_edge"))
    speed_mm_s: float = usual("printing.speed.limit")
    accel_mm_s2: float = usual("printing.speed.acceleration")
    travel_accel_mm_s2: float = usual("printing.speed.travel_acceleration")
    corner_mm_s: float = usual("printing.speed.corner")
    flow_mm3_s: float = usual("printing.speed.hot_end")
    retract_mm: float = usual("printing.speed.retract_mm")
    retract_mm_s: float = usual("printing.speed.retract_mm_s")
    heat_up_s: float = usual("printing.speed.heat_up")
    change_s: float = usual("printing.speed.change")
    purge_mm3: float = usual("printing.speed.purge")
    nozzle_max_c: Annotated[float, Field(gt=0, le=600)] = 260
    bed_max_c: Annotated[float, Field(ge=0, le=250)] = 80
    chamber_c: Annotated[float, Field(ge=0, le=150)] = 0
    hardened: bool = False
    slots: Annotated[int, Field(ge=1, le=16)] = 1
    health: Health = Health()
    paced: tuple[PacedPrint, ...] = Field(default=(), max_length=MOST_PRINTS)


class Spool(Frozen):
    """A spool on the rack. `left_g` is filament, without the empty spool; `dried` is the day it was dried, if ever."""

    id: Key
    filament: FilamentKind
    colour: Name
    left_g: Annotated[float, Field(ge=0, le=20_000)]
    price_per_kg: Annotated[float, Field(ge=0, le=10_000)] | None = None
    dried: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""


class Workshop(Frozen):
    """Printers, the rack, own components and lengths of standoff: what every design of this workshop is made with."""

    schema_version: Annotated[int, Field(ge=WORKSHOP_VERSION, le=WORKSHOP_VERSION)] = WORKSHOP_VERSION
    printers: tuple[Printer, ...] = Field(min_length=1, max_length=40)
    spools: tuple[Spool, ...] = Field(default=(), max_length=400)
    parts: tuple[Component, ...] = Field(default=(), max_length=200)
    standoffs_mm: Annotated[tuple[Positive, ...], Field(max_length=60)] = (5, 6, 8, 10, 11, 12, 15, 16, 20, 25, 30)

    @model_validator(mode="after")
    def _told_apart(self) -> Workshop:
        for what, ids in (
            ("printers", [p.key for p in self.printers]),
            ("spools", [s.id for s in self.spools]),
            ("parts", [c.key for c in self.parts]),
        ):
            twice = {i for i in ids if ids.count(i) > 1}
            if twice:
                raise ValueError(f"{what}: '{min(twice)}' is there twice")
        return self

    def printer(self, key: str) -> Printer | None:
        """The printer of that key, or None where the workshop has none."""
        return next((p for p in self.printers if p.key == key), None)

    def left_g(self, filament: str) -> float:
        """Grams of a kind on the rack."""
        return sum(s.left_g for s in self.spools if s.filament == filament)


def read_workshop(data: Any) -> Workshop:
    """A workshop of plain data of any version. Raises DesignError naming the field."""
    if not isinstance(data, dict):
        raise DesignError("workshop", "this is not a Rhombex workshop: an object of fields is expected")
    return read_as(Workshop, brought_up(data, WORKSHOP_STEPS, "workshop"), "workshop")


def read_stored(document: str) -> tuple[Workshop, tuple[str, ...]]:
    """A workshop that was stored, with what of it cannot be read: one bad entry of a list harms only itself. Where nothing
    can be read, the sample workshop stands in."""
    lost: list[str] = []
    try:
        data = json.loads(document)
        if not isinstance(data, dict):
            raise ValueError("it is no object of fields")
        data = brought_up(data, WORKSHOP_STEPS, "workshop")
        while True:
            try:
                return Workshop.model_validate(data), tuple(lost)
            except ValidationError as e:
                lost.append(_taken_out(data, e))
    except (ValueError, RecursionError, LookupError, TypeError) as e:
        said = f"the whole workshop: {str(e).splitlines()[0][:120]}"
        return ARCHIVE_WORKSHOP, (said,)


def _taken_out(data: Any, e: ValidationError) -> str:
    """Take the entry that a complaint is about out of its list and say which it was. Raises ValueError where it is in none."""
    where, said = first_error(e)
    path = e.errors(include_url=False)[0]["loc"]
    if not path:  # two of the same key
        for what, key in (("printers", "key"), ("spools", "id"), ("parts", "key")):
            ids = [x.get(key) for x in data.get(what, [])]
            for i, id in enumerate(ids):
                if id in ids[:i]:
                    del data[what][i]
                    return f"{what}.{i}: {said}"
    lists = [i for i in range(1, len(path)) if isinstance(path[i], int) and isinstance(_at(data, path[:i]), list)]
    if lists:
        # the innermost list that may be shorter: an entry of a diary before its printer
        inner = next((i for i in reversed(lists) if path[i - 1] in ("paced", "spools", "parts", "printers")), lists[0])
        del _at(data, path[:inner])[path[inner]]
    elif len(path) == 1 and path[0] != "printers" and path[0] in data:
        del data[path[0]]
    else:
        raise ValueError(f"{where}: {said}")
    return f"{where}: {said}"


def _at(data: Any, path: tuple[Any, ...]) -> Any:
    for key in path:
        data = data[key]
    return data


def slips(new: Workshop, old: Workshop) -> None:
    """Raises DesignError for an entry of a diary that is new and cannot be: hours that are a slip of the pen are stopped at the
    door, and those that are stored already lock nothing."""
    known = {x for p in old.printers for x in p.paced}
    for p in new.printers:
        for x in p.paced:
            if x not in known:
                checked(x)


def checked(x: PacedPrint) -> PacedPrint:
    """An entry that is to be noted. Raises DesignError where it is shorter than a second or too far from its plan."""
    most = val("printing.estimate.believed")
    if x.real_s < 1 or not x.planned_s / most <= x.real_s <= x.planned_s * most:
        raise DesignError(
            "workshop.printers.paced",
            f"{x.real_s:g} s for “{x.what}”, which was planned to take {x.planned_s:g} s, cannot be: more than {most:g} times off",
            "Look at the unit: hours, not minutes or seconds.",
        )
    return x


def read_printer(data: Any) -> Printer:
    """A printer of plain data. Raises DesignError naming the field."""
    return read_as(Printer, data, "printer")


# The three made-up printers of the sound archive's workshop corner, and its rack.
ARCHIVE_WORKSHOP = Workshop(
    printers=(
        Printer(key="bench-180", name="Bench 180", bed_mm=(180, 180, 180), nozzle_mm=0.4, enclosed=False),
        Printer(
            key="bench-220",
            name="Bench 220",
            bed_mm=(220, 220, 250),
            nozzle_mm=0.4,
            spare_nozzles_mm=(0.6,),
            enclosed=False,
            bed_max_c=90,
        ),
        Printer(
            key="bench-300",
            name="Bench 300",
            bed_mm=(300, 300, 340),
            nozzle_mm=0.6,
            enclosed=True,
            accel_mm_s2=1200,
            bed_max_c=110,
            chamber_c=50,
            nozzle_max_c=290,
            hardened=True,
            slots=2,
        ),
    ),
    spools=(
        Spool(id="pla-bone", filament="PLA", colour="bone", left_g=640),
        Spool(id="pla-ink", filament="PLA", colour="ink", left_g=310, dried="2026-10-02"),
        Spool(id="petg-smoke", filament="PETG", colour="smoke", left_g=880, dried="2026-11-09"),
        Spool(id="petg-moss", filament="PETG", colour="moss", left_g=145),
        Spool(id="asa-slate", filament="ASA", colour="slate", left_g=1000, dried="2026-11-20"),
        Spool(id="abs-bone", filament="ABS", colour="bone", left_g=420),
    ),
)
