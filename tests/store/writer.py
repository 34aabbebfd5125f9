"""A process that changes a data folder and says each thing that was acknowledged: `python -m tests.store.writer FOLDER KIND SEED`.

The trials kill it, or copy the disk under it, and look whether all that it said is there.
"""

from __future__ import annotations

import hashlib
import json
import os
import sys
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from random import Random

from rhombex.core.edits import Set
from rhombex.core.workshop.paced import PacedPrint
from rhombex.demo.scenario import wren
from rhombex.jobs.broker import broker
from rhombex.jobs.job import ENDED
from rhombex.jobs.jobs import Jobs
from rhombex.jobs.kinds import KINDS as WORK
from rhombex.store.designs import Designs
from rhombex.store.shapes import Shapes
from rhombex.store.workshops import Workshops

KINDS = ("edits", "imports", "notes", "parts", "bin", "exports", "mixed")
QUICK = tuple(k for k in KINDS if k not in ("exports", "mixed"))


def work(folder: Path, kind: str, seed: int) -> Iterator[dict[str, object]]:
    """Do one thing after another for ever; what each made is told once it is acknowledged."""
    r = Random(seed)
    designs = Designs(folder / "rhombex.db")  # migrates where it must
    shops = Workshops(designs.engine)
    shapes = Shapes(folder / "shapes")
    jobs = Jobs(broker("memory", folder), WORK)
    (folder / "exports").mkdir(exist_ok=True)
    s = designs.create(wren())
    yield {"did": "import", "id": s.id, "revision": s.revision}
    k = 0
    while True:
        k += 1
        now = r.choice(QUICK) if kind == "mixed" else kind
        if now == "edits":
            s = designs.edit(s.id, s.version, Set(path="shell.floor_mm", value=3 + (k % 500) / 1000))
            yield {"did": "edit", "id": s.id, "revision": s.revision, "floor": s.design.shell.floor_mm}
        elif now == "imports":
            made = designs.create(wren(), "read in")
            yield {"did": "import", "id": made.id, "revision": made.revision}
        elif now == "notes":
            shops.note("bench-220", PacedPrint(what=f"note {seed} {k}", planned_s=3600, real_s=3600 + k))
            yield {"did": "note", "what": f"note {seed} {k}"}
        elif now == "parts":
            data = r.randbytes(200_000)
            digest = hashlib.sha256(data).hexdigest()[:32]
            shapes.put(digest, data)
            yield {"did": "shape", "digest": digest}
        elif now == "exports":
            documents = {"design": s.design.model_dump_json(), "workshop": shops.read()[1].model_dump_json()}
            asked = {**documents, "name": "Wren", "formats": ("stl",), "folder": str(folder / "exports")}
            job = jobs.start("export", asked)
            while job.state not in ENDED:
                time.sleep(0.05)
                job = jobs.job(job.id) or job
            yield {"did": "export", "file": job.result.file}
        else:
            made = designs.create(wren(), "for the bin")
            designs.discard(made.id)
            yield {"did": "bin", "id": made.id}


def missing(folder: Path, said: list[dict[str, object]]) -> list[str]:
    """What was acknowledged and is not there; and what is half-written or not whole."""
    designs = Designs(folder / "rhombex.db")
    shops = Workshops(designs.engine)
    wrong: list[str] = []
    with designs.engine.connect() as c:
        if c.exec_driver_sql("PRAGMA integrity_check").scalar_one() != "ok":
            wrong.append("integrity")
    on_shelf, binned = designs.shelf()
    wrong += [f"unreadable {x.id}" for x in (*on_shelf, *binned) if x.trouble]
    ids, bin_ids = {x.id for x in on_shelf}, {x.id for x in binned}
    notes = {x.what for p in shops.read()[1].printers for x in p.paced}
    newest_note = [x["what"] for x in said if x["did"] == "note"][-150:]  # a diary holds 200
    newest = {str(x["id"]): int(str(x["revision"])) for x in said if x["did"] == "edit"}
    for id, revision in newest.items():  # revisions count up, so the last one tells of all
        if designs.state(id).revision < revision or len(designs.revisions(id, 1_000_000)) < revision:
            wrong.append(f"edit {revision} of {id}")
    for x in said:
        did = x["did"]
        if did == "import" and x["id"] not in ids:
            wrong.append(f"import {x['id']}")
        elif did == "bin" and x["id"] not in bin_ids:
            wrong.append(f"bin {x['id']}")
        elif did == "note" and x["what"] in newest_note and x["what"] not in notes:
            wrong.append(f"note {x['what']}")
        elif did == "shape":
            data = (folder / "shapes" / f"{x['digest']}.bin").read_bytes()
            if hashlib.sha256(data).hexdigest()[:32] != x["digest"]:
                wrong.append(f"shape {x['digest']}")
    for made in (folder / "exports").glob("*.zip"):
        if zipfile.ZipFile(made).testzip() is not None:
            wrong.append(f"half-written {made.name}")
    for left in (folder / "shapes").glob("*.bin"):
        if hashlib.sha256(left.read_bytes()).hexdigest()[:32] != left.stem:
            wrong.append(f"half-written {left.name}")
    designs.close()
    return wrong


if __name__ == "__main__":
    for done in work(Path(sys.argv[1]), sys.argv[2], int(sys.argv[3])):
        os.write(1, (json.dumps(done) + "\n").encode())
