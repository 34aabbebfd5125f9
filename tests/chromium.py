"""Which of Debian's two Chromiums shows the pages: without a window of its own where that one is there, it is a third less work."""

import os
from pathlib import Path

PLACES = ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")
CHROMIUM = os.environ.get("CHROMIUM") or next((p for p in PLACES if Path(p).exists()), PLACES[0])
