"""Publish the design's JSON Schema at docs/design.schema.json; `--check` fails where it is out of date."""

import json
import sys
from pathlib import Path

from rhombex.core.design import Design

target = Path("docs/design.schema.json")
text = json.dumps(Design.model_json_schema(), indent=1) + "\n"
if "--check" in sys.argv:
    if not target.exists() or target.read_text() != text:
        sys.exit(f"{target} is out of date: run scripts/schema.py")
else:
    target.write_text(text)
