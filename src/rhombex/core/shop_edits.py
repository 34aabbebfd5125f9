"""What can be done to the workshop, as values. `apply_shop(workshop, edit) -> workshop`."""

from __future__ import annotations

from typing import Literal

from pydantic import ValidationError

from rhombex.core.plain import DesignError, first_error
from rhombex.core.trail import Frozen
from rhombex.core.workshop import Printer, Workshop


class AddPrinter(Frozen):
    """Put a printer into the workshop."""

    do: Literal["add-printer"] = "add-printer"
    printer: Printer


ShopEdit = AddPrinter


def apply_shop(workshop: Workshop, edit: ShopEdit) -> Workshop:
    """Do an edit to a workshop and return the new one. Raises DesignError where the result would not be a valid workshop."""
    try:
        return Workshop.model_validate({**dict(workshop), "printers": (*workshop.printers, edit.printer)})
    except ValidationError as e:
        field, said = first_error(e)
        raise DesignError(f"workshop.{field}", said) from None
