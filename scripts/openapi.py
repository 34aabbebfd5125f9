"""Write the API's description, from which the front end's types are made."""

import json
import sys
import tempfile
from pathlib import Path
from typing import Any

from rhombex.web.app import make_app


def told_whole(schemas: dict[str, Any]) -> None:
    """The server always tells every field of a value, those at their default too: to whoever reads one, none is missing. What is
    only asked with, and edits (which can be told of by their `do`), may leave fields out."""
    for name, schema in schemas.items():
        fields = schema.get("properties", {})
        if fields and "do" not in fields and not name.endswith(("In", "Form", "Asked")):
            schema["required"] = sorted(fields)


with tempfile.TemporaryDirectory() as room:
    app = make_app(Path(room), {"localhost"})
    described = app.api_doc
    told_whole(described["components"]["schemas"])
    Path(sys.argv[1]).write_text(json.dumps(described, indent=1, sort_keys=True) + "\n")
