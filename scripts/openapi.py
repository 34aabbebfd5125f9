"""Write the API's description, from which the front end's types are made."""

import json
import sys
import tempfile
from pathlib import Path

from rhombex.web.app import make_app
from rhombex.web.description import without_nulls

with tempfile.TemporaryDirectory() as room:
    app = make_app(Path(room), {"localhost"})
    Path(sys.argv[1]).write_text(json.dumps(without_nulls(app.api_doc), indent=1, sort_keys=True) + "\n")
