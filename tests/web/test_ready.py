"""What a server has ready before its threads answer."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

SERVED = """
import sys
from pathlib import Path
from rhombex.web.app import make_app
from rhombex.core.trail import Frozen

make_app(Path(sys.argv[1]), {"localhost"})

def kinds(base=Frozen):
    for kind in base.__subclasses__():
        yield kind
        yield from kinds(kind)

print([k.__name__ for k in kinds() if not k.__pydantic_complete__])
"""


def test_no_thread_builds_a_kind_of_value_that_another_is_building(tmp_path: Path) -> None:
    r = subprocess.run([sys.executable, "-c", SERVED, str(tmp_path)], capture_output=True, text=True, check=False)
    assert (r.stdout, r.stderr) == ("[]\n", "")
