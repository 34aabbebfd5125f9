"""Trials too long for the suite: `python trials/documents.py documents 20000 [seed]`, `workshops 5000`, `edits 10000`.

Each prints what broke and a closing line with counts; figures go into docs/measured.md with date and machine.
"""

from __future__ import annotations

import json
import sys
import tempfile
import time
import traceback
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from sqlalchemy import text

from rhombex.core.design import read_design
from rhombex.core.edits import read_edit
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import read_workshop
from rhombex.store.designs import Designs
from rhombex.store.workshops import Workshops
from rhombex.web.desk import Desk
from rhombex.web.look import view_of
from tests.mutate import mutated, random_edit, starts


def shown(desk: Desk, document: object) -> tuple[int, int]:
    """Read, analyse, judge and write a document as the browser gets it. Returns how many faults and broken rules it has."""
    a, findings = desk.look(read_design(document))
    view_of(a, findings, {}).model_dump_json()
    return len(a.faults), sum(f.code == "rule-broke" for f in findings)


def documents(n: int, seed: int) -> None:
    """Mutated documents: each that is accepted must be shown, and shown again after it has been kept and undone."""
    r = Random(seed)
    count: Counter[str] = Counter()
    kinds: Counter[str] = Counter()
    slow: list[tuple[float, int]] = []
    with tempfile.TemporaryDirectory() as room:
        designs = Designs(Path(room) / "t.db")
        desk = Desk(designs, Workshops(designs.engine))
        plain = [json.loads(d.model_dump_json()) for d in starts()]
        for k in range(n):
            document = mutated(r.choice(plain), r)
            began = time.perf_counter()
            try:
                design = read_design(document)
            except DesignError:
                count["refused"] += 1
                continue
            try:
                s = designs.create(design)
                assert designs.state(s.id).design == design
                a, findings = desk.look(design)
                view_of(a, findings, {}).model_dump_json()
                count["accepted"] += 1
                count["with faults"] += bool(a.faults)
                for f in findings:
                    if f.code == "rule-broke":
                        kinds[f"{f.subjects[0]}: {f.reason[-160:]}"] += 1
                for x in a.faults:
                    kinds[f"{x.kind} {x.what[:30]}: {x.message[:60]} {x.code}"] += 1
                s = designs.edit(s.id, s.version, read_edit({"do": "set", "path": "brief.room_c", "value": 24}))
                s = designs.undo(s.id, s.version)
                assert s.design == design
                desk.look(s.design)
            except Exception:
                count["CRASHED"] += 1
                print(f"--- {k} seed {seed}")
                traceback.print_exc(limit=-4)
                Path(f"/tmp/crash-{seed}-{k}.json").write_text(json.dumps(document))
            slow.append((time.perf_counter() - began, k))
            if k % 500 == 0:
                print(k, dict(count), f"slowest {max(slow)[0]:.1f} s (no. {max(slow)[1]})", flush=True)
    for said, times in kinds.most_common(40):
        print(times, said)
    slow.sort(reverse=True)
    print("slowest", [f"{t:.1f} s no. {k}" for t, k in slow[:8]], "median", f"{slow[len(slow) // 2][0]:.3f} s")
    print("documents", n, dict(count))


def workshops(n: int, seed: int) -> None:
    """Mutated workshops: each that is accepted must let the samples be shown, and its diaries be learned from."""
    from rhombex.web.plan import _workshop_out

    r = Random(seed)
    count: Counter[str] = Counter()
    start = json.loads(ARCHIVE_WORKSHOP.model_dump_json())
    for p in start["printers"]:
        p["paced"] = [{"what": f"part {i}", "planned_s": 3600.0 * i, "real_s": 4000.0 * i} for i in range(1, 4)]
    with tempfile.TemporaryDirectory() as room:
        designs = Designs(Path(room) / "t.db")
        shops = Workshops(designs.engine)
        desk = Desk(designs, shops)
        samples = starts()[:3]
        shops.write(0, ARCHIVE_WORKSHOP)
        for k in range(n):
            document = mutated(start, r)
            try:
                # as a hand brings it: refused, or taken and kept
                before = shops.read()
                try:
                    workshop = read_workshop(document)
                    assert shops.write(before[0], workshop).workshop == workshop
                    count["accepted"] += 1
                except DesignError:
                    count["refused"] += 1
                    assert shops.read() == before
                # and as it might be stored already, whatever it is
                with designs.engine.connect() as c:
                    c.execute(text("UPDATE workshop SET document = :d"), {"d": json.dumps(document)})
                    c.commit()
                _workshop_out(shops.state()).model_dump_json()
                count["stored with bad entries"] += bool(shops.state().left_out)
                a, findings = desk.look(samples[k % 3])
                view_of(a, findings, {}).model_dump_json()
                count["rules broke"] += any(f.code == "rule-broke" for f in findings)
                count["with faults"] += bool(a.faults)
            except Exception:
                count["CRASHED"] += 1
                print(f"--- {k} seed {seed}")
                traceback.print_exc(limit=-4)
            if k % 500 == 0:
                print(k, dict(count), flush=True)
    print("workshops", n, dict(count))


def edits(n: int, seed: int) -> None:
    """Random edits over HTTP on five designs: each is answered below 500, and each design is shown after it."""
    from rhombex.web.app import make_app

    r = Random(seed)
    count: Counter[int] = Counter()
    broke: Counter[str] = Counter()
    slow: list[tuple[float, str]] = []
    with tempfile.TemporaryDirectory() as room:
        client = make_app(Path(room), {"localhost:1"}).test_client()

        def post(path: str, body: object) -> tuple[int, dict]:
            answer = client.post(path, json=body, base_url="http://localhost:1")
            return answer.status_code, answer.json

        states = []
        for d in starts():
            import io

            answer = client.post(
                "/api/designs/read",
                data={"file": (io.BytesIO(d.model_dump_json().encode()), "d.json"), "again": "true"},
                base_url="http://localhost:1",
            )
            states.append(answer.json)
        for k in range(n):
            i = r.randrange(5)
            s = states[i]
            at = f"/api/designs/{s['id']}"
            if r.random() < 0.12 and s["can_undo"]:
                edit: dict = {}
                began = time.perf_counter()
                status, body = post(f"{at}/undo", {"base_version": s["version"]})
            else:
                edit = random_edit(r, read_design(s["design"]))
                began = time.perf_counter()
                status, body = post(f"{at}/edits", {"base_version": s["version"], "edits": [edit]})
            slow.append((time.perf_counter() - began, json.dumps(edit)[:200]))
            count[status] += 1
            if status == 200:
                states[i] = body
                for c in body["view"]["concerns"]:
                    if c["code"] == "rule-broke":
                        broke[c["subjects"][0] + c["reason"][-120:]] += 1
            elif status >= 500 or status == 409:
                print("---", k, status, json.dumps(edit)[:300], str(body)[:400], flush=True)
            if k % 500 == 0:
                print(k, dict(count), f"slowest {max(slow)[0]:.1f} s {max(slow)[1]}", flush=True)
                for j, x in enumerate(states):  # far from a case after so many edits: begin again
                    if r.random() < 0.3 and x["can_undo"]:
                        status, body = post(f"/api/designs/{x['id']}/goto", {"base_version": x["version"], "number": 1})
                        assert status == 200, body
                        states[j] = body
    for said, times in broke.most_common(20):
        print(times, said)
    slow.sort(reverse=True)
    print("slowest", slow[:4], "median", f"{slow[len(slow) // 2][0]:.3f} s")
    print("edits", n, dict(count))


if __name__ == "__main__":
    what, n = sys.argv[1], int(sys.argv[2])
    {"documents": documents, "workshops": workshops, "edits": edits}[what](
        n, int(sys.argv[3]) if len(sys.argv) > 3 else 1
    )
