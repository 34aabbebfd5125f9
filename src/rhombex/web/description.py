"""The description of the API as OpenAPI has it. It is worked out once somebody asks for it: at every start it would take seconds."""

from __future__ import annotations

from collections.abc import Callable
from copy import deepcopy
from functools import cache, partial
from typing import Any

from flask_openapi3 import utils
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.openapi import OpenAPI
from flask_openapi3.types import ParametersTuple

# where a null is a value of its own
_VALUES = ("default", "const", "enum", "example", "examples")

# The library describes every answer anew for every call that may give it.
_described = cache(utils.get_model_schema)
utils.get_model_schema = lambda model, mode="validation": deepcopy(_described(model, mode))


class Calls(APIBlueprint):
    """A blueprint whose calls are described later."""

    def __init__(self, *args: Any, **told: Any) -> None:
        super().__init__(*args, **told)
        self._left: list[Callable[[], object]] = []

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **told: Any) -> ParametersTuple:
        self._left.append(partial(super()._collect_openapi_info, rule, func, **told))
        return utils.parse_parameters(func, doc_ui=False)

    def describe(self) -> None:
        """Describe the calls that are not described yet."""
        while self._left:
            self._left.pop(0)()


class Described(OpenAPI):
    """An application that can describe its calls."""

    @property
    def api_doc(self) -> dict[str, Any]:
        """The description, from one to the next the same."""
        if not self.spec_json:
            for calls in self.blueprints.values():
                if isinstance(calls, Calls):
                    calls.describe()
                    self.paths.update(calls.paths)
                    self.components_schemas.update(calls.components_schemas)
                    self.tags += [t for t in calls.tags if t.name not in self.tag_names]
                    self.tag_names += [n for n in calls.tag_names if n not in self.tag_names]
        return dict(without_nulls(super().api_doc))


def without_nulls(node: Any) -> Any:
    """The same description without members that are null where an object, a list or a text is meant: the library says them."""
    if isinstance(node, dict):
        return {k: v if k in _VALUES else without_nulls(v) for k, v in node.items() if v is not None or k in _VALUES}
    return [without_nulls(v) for v in node] if isinstance(node, list) else node
