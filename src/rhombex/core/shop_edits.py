"""What can be done to the workshop, as values. `apply_shop(workshop, edit) -> workshop`."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from rhombex.core.parts.component import Component, Key
from rhombex.core.plain import DesignError, first_error
from rhombex.core.trail import Frozen
from rhombex.core.workshop.own import OwnFilament
from rhombex.core.workshop.paced import MOST_PRINTS, PacedPrint, Positive
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.stock import Item, StockItem
from rhombex.core.workshop.workshop import Spool, Workshop, slips


class AddPrinter(Frozen):
    """Put a printer into the workshop."""

    do: Literal["add-printer"] = "add-printer"
    printer: Printer


class PutPrinter(Frozen):
    """Change a printer that is there."""

    do: Literal["put-printer"] = "put-printer"
    printer: Printer


class RemovePrinter(Frozen):
    do: Literal["remove-printer"] = "remove-printer"
    key: Key


class NotePrint(Frozen):
    """Write a print into the diary of a printer; the oldest goes where it is full."""

    do: Literal["note-print"] = "note-print"
    printer: Key
    entry: PacedPrint


class PutSpool(Frozen):
    """Put a spool on the rack, or change one."""

    do: Literal["put-spool"] = "put-spool"
    spool: Spool


class RemoveSpool(Frozen):
    do: Literal["remove-spool"] = "remove-spool"
    id: Key


class PutOwnComponent(Frozen):
    """Put a component into the workshop's own library, or change one there."""

    do: Literal["put-own-component"] = "put-own-component"
    component: Component


class RemoveOwnComponent(Frozen):
    do: Literal["remove-own-component"] = "remove-own-component"
    key: Key


class PutFilament(Frozen):
    """Say what a kind of filament costs here and how hot it is printed, or put up a filament of one's own."""

    do: Literal["put-filament"] = "put-filament"
    filament: OwnFilament


class RemoveFilament(Frozen):
    """Take a filament of one's own out of the workshop; what is on the rack of it is of the plain kind then."""

    do: Literal["remove-filament"] = "remove-filament"
    key: Key


class PutStock(Frozen):
    """Say how many of something lie in the drawer, and what a pack costs; what is not said of one that lies there stays as it is."""

    do: Literal["put-stock"] = "put-stock"
    stock: StockItem


class RemoveStock(Frozen):
    """Take a kind and size out of the drawer's list."""

    do: Literal["remove-stock"] = "remove-stock"
    item: Item
    size: Annotated[str, Field(max_length=40)]


class SetStandoffs(Frozen):
    """Say which lengths of standoff are bought."""

    do: Literal["set-standoffs"] = "set-standoffs"
    lengths_mm: Annotated[tuple[Positive, ...], Field(max_length=60)]


class PutWorkshop(Frozen):
    """Put a whole workshop in place, as one that is read from a file."""

    do: Literal["put-workshop"] = "put-workshop"
    workshop: Workshop


ShopEdit = Annotated[
    AddPrinter
    | PutPrinter
    | RemovePrinter
    | NotePrint
    | PutSpool
    | RemoveSpool
    | PutOwnComponent
    | RemoveOwnComponent
    | PutFilament
    | RemoveFilament
    | PutStock
    | RemoveStock
    | SetStandoffs
    | PutWorkshop,
    Field(discriminator="do"),
]


def _put(items: tuple[Any, ...], new: Any, key: str) -> tuple[Any, ...]:
    """A list with one of its entries changed in its place, or a new one at its end."""
    there = any(getattr(x, key) == getattr(new, key) for x in items)
    return tuple(new if getattr(x, key) == getattr(new, key) else x for x in items) if there else (*items, new)


def _without(items: tuple[Any, ...], id: str, key: str, what: str) -> tuple[Any, ...]:
    left = tuple(x for x in items if getattr(x, key) != id)
    if len(left) == len(items):
        raise DesignError(
            f"edit.{key}", f"there is no {what} '{id}' in the workshop", "It may have been taken out elsewhere."
        )
    return left


def _change(w: Workshop, e: ShopEdit) -> dict[str, Any]:
    """The fields of the workshop that an edit replaces."""
    match e:
        case AddPrinter(printer=p):
            return {"printers": (*w.printers, p)}
        case PutPrinter(printer=p):
            _without(w.printers, p.key, "key", "printer")
            return {"printers": _put(w.printers, p, "key")}
        case RemovePrinter(key=key):
            return {"printers": _without(w.printers, key, "key", "printer")}
        case NotePrint(printer=key, entry=entry):
            _without(w.printers, key, "key", "printer")
            return {
                "printers": tuple(
                    p.model_copy(update={"paced": (*p.paced, entry)[-MOST_PRINTS:]}) if p.key == key else p
                    for p in w.printers
                )
            }
        case PutSpool(spool=spool):
            return {"spools": _put(w.spools, spool, "id")}
        case RemoveSpool(id=id):
            return {"spools": _without(w.spools, id, "id", "spool")}
        case PutOwnComponent(component=c):
            return {"components": _put(w.components, c, "key")}
        case RemoveOwnComponent(key=key):
            return {"components": _without(w.components, key, "key", "own component")}
        case PutFilament(filament=f):
            return {"filaments": _put(w.filaments, f, "ident")}
        case RemoveFilament(key=key):
            return {
                "filaments": _without(w.filaments, key, "key", "filament"),
                "spools": tuple(s.model_copy(update={"own": None}) if s.own == key else s for s in w.spools),
            }
        case PutStock(stock=x):
            there = next((s for s in w.stock if s.key == x.key), None)
            if there is not None:  # what is not said of it stays: two hands may each change one number of it
                x = there.model_copy(update={f: getattr(x, f) for f in x.model_fields_set})
            elif "count" not in x.model_fields_set:
                raise DesignError(
                    "edit.stock.count",
                    f"there is no {x.item} {x.size} in the drawer, and how many there are is not said",
                    "It may have been taken out elsewhere.",
                )
            return {"stock": _put(w.stock, x, "key")}
        case RemoveStock(item=item, size=size):
            left = tuple(x for x in w.stock if x.key != (item, size))
            if len(left) == len(w.stock):
                raise DesignError(
                    "edit.size", f"there is no {item} {size} in the drawer", "It may have been taken out elsewhere."
                )
            return {"stock": left}
        case SetStandoffs(lengths_mm=lengths):
            return {"standoffs_mm": lengths}
        case PutWorkshop(workshop=new):
            return dict(new)
    raise AssertionError(e)


def apply_shop(workshop: Workshop, edit: ShopEdit) -> Workshop:
    """Do an edit to a workshop and return the new one. Raises DesignError where the result would not be a valid workshop, or
    where hours that are new in it cannot be."""
    try:
        changed = Workshop.model_validate({**dict(workshop), **_change(workshop, edit)})
    except ValidationError as e:
        field, message = first_error(e)
        raise DesignError(f"workshop.{field}", message) from None
    slips(changed, workshop)
    return changed


def describe_shop(edit: ShopEdit) -> str:
    """An edit in a few words, for the button that undoes it."""
    match edit:
        case AddPrinter(printer=p) | PutPrinter(printer=p):
            return f"{'add' if isinstance(edit, AddPrinter) else 'change'} {p.name}"
        case NotePrint(entry=entry):
            return f"note {entry.what}"
        case PutSpool(spool=s):
            return f"spool of {s.filament} {s.colour}"
        case PutFilament(filament=f):
            return f"figures of {f.name or f.kind}"
        case PutStock(stock=x):
            many = f"{x.count} " if "count" in x.model_fields_set else ""
            return f"drawer: {many}{x.item} {x.size}"
        case RemoveStock(item=item, size=size):
            return f"drawer without {item} {size}"
        case PutOwnComponent(component=c):
            return f"own component {c.label}"
    words = edit.model_dump(mode="json")
    return f"{edit.do.replace('-', ' ')} {words.get('key') or words.get('id') or ''}".strip()
