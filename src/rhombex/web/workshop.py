"""The workshop over HTTP: its printers, rack and library with what their diaries teach, changed by edits with undo."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from flask import Response
from pydantic import Field

from rhombex.core.advice.materials import KINDS
from rhombex.core.design import FilamentKind
from rhombex.core.plain import DesignError
from rhombex.core.process.learn import Learned, learned
from rhombex.core.process.pace import Pace, pace_of
from rhombex.core.reference import ref, val
from rhombex.core.shop_edits import ShopEdit, apply_shop
from rhombex.core.trail import Frozen
from rhombex.core.workshop.own import FEATURES
from rhombex.core.workshop.stock import ITEMS, Item, example, pack_of
from rhombex.core.workshop.workshop import Workshop
from rhombex.store.workshops import ShopState, WorkshopConflict
from rhombex.web.api import Asked, Version, answer, as_file, blueprint, desk, file_of

bp = blueprint("workshop", __name__)

FIGURES = (
    ("price_per_kg", "price", "Price per kg", "EUR"),
    ("nozzle_c", "nozzle", "Nozzle", "°C"),
    ("bed_c", "bed", "Bed", "°C"),
)


class Usual(Frozen):
    """A figure of the tables, for what a workshop may say otherwise."""

    what: str
    label: str
    value: float
    unit: str


class SmallPart(Frozen):
    """A kind that a drawer may hold: how its sizes are written, how many are usually in a pack and what that costs."""

    item: Item
    example: str
    pack: int
    money: float


class WorkshopOut(Frozen):
    """The workshop with the version to name when changing it, and what the diary of each printer teaches. `left_out`: stored
    entries that cannot be read, in words; `undoes`, `redoes`: what a step back or forward would change;
    `printed_on`, `printed_in`: names of designs by the printer that they are printed on, by the own filament that a part of them is
    printed in; `allowances` and `figures`: what the tables say, the latter
    by kind of filament; `small_parts`: what a drawer may hold."""

    version: int
    workshop: Workshop
    filaments: tuple[FilamentKind, ...]
    printed_in: dict[str, tuple[str, ...]]
    paces: dict[str, Pace]
    learned: dict[str, Learned]
    left_out: tuple[str, ...]
    undoes: str
    redoes: str
    printed_on: dict[str, tuple[str, ...]]
    allowances: tuple[Usual, ...]
    figures: dict[str, tuple[Usual, ...]]
    small_parts: tuple[SmallPart, ...]


class ShopEditIn(Asked):
    base_version: Version | None = None
    edits: Annotated[tuple[ShopEdit, ...], Field(min_length=1, max_length=20)]


class ShopVersionIn(Asked):
    base_version: Version


def workshop_out(s: ShopState) -> WorkshopOut:
    return WorkshopOut(
        version=s.version,
        workshop=s.workshop,
        filaments=KINDS,
        small_parts=tuple(
            SmallPart(item=x, example=example(x), pack=pack, money=money.value)
            for x in ITEMS
            for pack, money in (pack_of((), x, ""),)
        ),
        paces={p.key: pace_of(p) for p in s.workshop.printers},
        learned={p.key: learned(p) for p in s.workshop.printers},
        left_out=s.left_out,
        undoes=s.undoes,
        redoes=s.redoes,
        allowances=tuple(
            Usual(
                what=f,
                label=label,
                value=ref(f"printing.allowance.{f}").value,
                unit=ref(f"printing.allowance.{f}").unit,
            )
            for f, label in FEATURES.items()
        ),
        figures={
            kind: tuple(
                Usual(what=w, label=label, value=val(f"materials.{kind}.{key}"), unit=unit)
                for w, key, label, unit in FIGURES
            )
            for kind in KINDS
        },
        printed_in={key: tuple(names[:6]) for key, names in desk().designs.printed_in(_own_keys(s.workshop)).items()},
        printed_on={key: tuple(names[:6]) for key, names in desk().designs.printed_on().items()},
    )


def _own_keys(workshop: Workshop) -> list[str]:
    return [f.key for f in workshop.filaments if f.key is not None]


def _guarded(do: Callable[[], ShopState]) -> Response:
    try:
        return answer(workshop_out(do()))
    except WorkshopConflict as e:
        return answer(workshop_out(e.now), 409)


def _spared(edits: tuple[ShopEdit, ...]) -> None:
    """Raises DesignError where edits would take a printer away that a design is printed on, or a filament that it is printed in."""
    _, now = desk().workshops.read()
    after = now
    for e in edits:
        after = apply_shop(after, e)
    in_use = desk().designs.printed_on()
    for p in now.printers:
        if after.printer(p.key) is None and p.key in in_use:
            names = ", ".join(f"“{n}”" for n in in_use[p.key][:3])
            raise DesignError(
                "workshop.printers",
                f"{p.name} cannot go: {names} {'is' if len(in_use[p.key]) == 1 else 'are'} printed on it",
                "Give these designs another printer first.",
            )
    gone = set(_own_keys(now)) - set(_own_keys(after))
    for key, named in desk().designs.printed_in(sorted(gone)).items():
        name = next(f.name for f in now.filaments if f.key == key)
        names = ", ".join(f"“{n}”" for n in named[:3])
        raise DesignError(
            "workshop.filaments",
            f"{name} cannot go: {names} {'is' if len(named) == 1 else 'are'} printed in it",
            "Print these designs in another filament first.",
        )


SHOP: dict[Any, Any] = {200: WorkshopOut, 409: WorkshopOut}


@bp.get("/workshop", responses={200: WorkshopOut}, operation_id="getWorkshop")
def workshop() -> Response:
    return answer(workshop_out(desk().workshops.state()))


@bp.post("/workshop/edits", responses=SHOP, operation_id="editWorkshop")
def edit_workshop(body: ShopEditIn) -> Response:
    """Do edits to the workshop as one step. With a version named, 409 where another window was first: nothing is overwritten."""
    _spared(body.edits)
    return _guarded(lambda: desk().workshops.edit(body.edits, body.base_version))


@bp.post("/workshop/undo", responses=SHOP, operation_id="undoWorkshop")
def undo_workshop(body: ShopVersionIn) -> Response:
    return _guarded(lambda: desk().workshops.undo(body.base_version))


@bp.post("/workshop/redo", responses=SHOP, operation_id="redoWorkshop")
def redo_workshop(body: ShopVersionIn) -> Response:
    return _guarded(lambda: desk().workshops.redo(body.base_version))


@bp.get("/workshop/workshop.json", responses=file_of("application/json"), operation_id="getWorkshopJson")
def workshop_json() -> Response:
    """The workshop as a file, for the command line or another Rhombex."""
    return as_file(desk().workshops.read()[1].model_dump_json(indent=1) + "\n", "workshop.json")


@bp.get("/workshop/stored", responses=file_of("application/json"), operation_id="getStoredWorkshop")
def stored_workshop() -> Response:
    """The workshop's document just as it is stored, readable or not."""
    return as_file(desk().workshops.stored(), "workshop-as-stored.json")
