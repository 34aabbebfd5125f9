"""Plain data into values: the complaint that names the field, says what happened, what is kept and what to do."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, TypeVar

if TYPE_CHECKING:  # the command line says what it can do before any document is read: it must not wait for this
    from pydantic import BaseModel, ValidationError

M = TypeVar("M", bound="BaseModel")


class DesignError(ValueError):
    """Input that cannot be taken. Says which field, what happened, what is kept and what to do."""

    def __init__(self, field: str, message: str, do: str = "Correct it and try again.") -> None:
        super().__init__(f"{field}: {message}")
        self.field = field
        self.message = message
        self.kept = "The design is unchanged."
        self.do = do


def _plain(kind: str, context: dict[str, Any], fallback: str) -> str:
    """A complaint of the validation in plain words."""
    match kind:
        case "missing":
            return "it is missing"
        case "float_parsing" | "float_type" | "int_parsing" | "int_type" | "int_from_float":
            return "a number is wanted here"
        case "finite_number":
            return "the number must be finite"
        case "greater_than":
            return f"it must be more than {context['gt']:g}"
        case "greater_than_equal":
            return f"it must be at least {context['ge']:g}"
        case "less_than_equal":
            return f"it must be at most {context['le']:g}"
        case "literal_error":
            return f"it must be {context['expected']}"
        case "extra_forbidden":
            return "there is no such field"
        case "too_long" | "string_too_long":
            return f"there are more than {context['max_length']}"
        case "union_tag_invalid" | "union_tag_not_found":
            field = str(context.get("discriminator", "")).strip("'")
            if field == "do":
                return "this is not a known edit"
            if kind == "union_tag_invalid":
                return f"its {field} must be one of {context['expected_tags']}"
            return f"its {field} is missing"
    return fallback


def first_error(e: ValidationError) -> tuple[str, str]:
    """The first complaint of a validation: the field's path and its message, in plain words."""
    err = e.errors(include_url=False)[0]
    message = err["msg"].removeprefix("Value error, ")
    field = ".".join(str(x) for x in err["loc"])
    if err["type"] == "value_error":
        if not field and ": " in message:
            field, message = message.split(": ", 1)
        return field or "design", message
    message = _plain(err["type"], err.get("ctx", {}), message[:1].lower() + message[1:])
    got = err.get("input")
    if isinstance(got, int | float | str) and err["type"] != "extra_forbidden":
        message += f", not {str(got)[:40]!r}" if isinstance(got, str) else f", not {got:g}"
    return field or "design", message


def read_as(model: type[M], data: Any, name: str = "") -> M:
    """A value of plain data. Raises DesignError naming the field; `name` is put before it."""
    from pydantic import ValidationError

    try:
        return model.model_validate(data)
    except ValidationError as e:
        field, message = first_error(e)
        if name:
            field = name if field == "design" else f"{name}.{field}"
        raise DesignError(field, message) from None
