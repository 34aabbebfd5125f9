"""Load on a server of this machine: `python trials/load.py CLIENTS SECONDS [PAUSE_S]`. It starts one on loopback, lets clients edit
designs of their own, undo, look at meshes and list the shelf, and prints how long the answers took, errors, memory, files.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from http.client import HTTPConnection
from pathlib import Path
from random import Random

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from rhombex.demo.scenario import wren


class Client:
    """A window: one connection, one design of its own."""

    def __init__(self, port: int, seed: int) -> None:
        self.connection = HTTPConnection("127.0.0.1", port, timeout=120)
        self.r = Random(seed)
        self.took: list[tuple[str, float]] = []
        self.statuses: Counter[int] = Counter()
        document = wren().model_dump_json()
        head = '--x\r\nContent-Disposition: form-data; name="file"; filename="d.json"\r\n\r\n'
        again = '--x\r\nContent-Disposition: form-data; name="again"\r\n\r\ntrue'
        body = f"{head}{document}\r\n{again}\r\n--x--\r\n".encode()
        self.state = self.call("read", "POST", "/api/designs/read", body, "multipart/form-data; boundary=x")

    def call(
        self, what: str, method: str, path: str, body: bytes | None = None, kind: str = "application/json"
    ) -> dict:
        began = time.perf_counter()
        self.connection.request(method, path, body, {"Content-Type": kind} if body is not None else {})
        answer = self.connection.getresponse()
        data = answer.read()
        self.took.append((what, time.perf_counter() - began))
        self.statuses[answer.status] += 1
        if answer.status >= 400:
            raise RuntimeError(f"{what}: {answer.status} {data[:200]!r}")
        return json.loads(data) if data[:1] == b"{" else {}

    def step(self) -> None:
        r, s = self.r, self.state
        at = f"/api/designs/{s['id']}"
        way = r.random()
        if way < 0.1 and s["can_undo"]:
            self.state = self.call("undo", "POST", f"{at}/undo", json.dumps({"base_version": s["version"]}).encode())
        elif way < 0.2:
            self.call("list", "GET", "/api/designs")
        elif way < 0.3:
            self.call("mesh", "GET", f"/api/meshes/{r.choice(s['view']['pieces'])['digest']}")
        else:
            id = r.choice(["board", "drive"])
            board = next(t for t in s["view"]["things"] if t["id"] == id)
            x, y, z = board["at_mm"]
            edit = r.choice(
                [
                    {
                        "do": "move",
                        "id": board["id"],
                        "to_mm": [round(x + r.uniform(-1, 1), 2), round(y + r.uniform(-1, 1), 2), z],
                    },
                    {"do": "set", "path": "brief.room_c", "value": r.randint(18, 30)},
                    {"do": "set", "path": "shell.floor_mm", "value": round(r.uniform(2.6, 3.6), 2)},
                    {"do": "rename", "id": "drive", "name": f"Drive {r.randint(1, 99)}"},
                ]
            )
            body = json.dumps({"base_version": s["version"], "edits": [edit]}).encode()
            self.state = self.call("edit", "POST", f"{at}/edits", body)


def main(clients: int, seconds: float, pause: float) -> None:
    errors: list[str] = []
    with tempfile.TemporaryDirectory() as room:
        server = subprocess.Popen(
            [sys.executable, "-m", "rhombex.cli", "serve", "--demo", "--port", "0", "--data", room],
            stdout=subprocess.PIPE,
            text=True,
        )
        assert server.stdout
        port = int(re.search(r":(\d+)/", server.stdout.readline()).group(1))  # type: ignore[union-attr]
        all_clients: list[Client] = []
        until = time.monotonic() + seconds

        def run(k: int) -> None:
            try:
                c = Client(port, k)
                all_clients.append(c)
                while time.monotonic() < until:
                    c.step()
                    time.sleep(pause * c.r.uniform(0.5, 1.5))
            except Exception as e:
                errors.append(f"{k}: {type(e).__name__} {e}")

        def size() -> str:
            status = Path(f"/proc/{server.pid}/status").read_text()
            rss = int(re.search(r"VmRSS:\s+(\d+)", status).group(1)) // 1024  # type: ignore[union-attr]
            files = len(list(Path(f"/proc/{server.pid}/fd").iterdir()))
            disk = sum(f.stat().st_size for f in Path(room).rglob("*") if f.is_file()) >> 20
            return f"{rss} MB, {files} files, {disk} MB on disk"

        threads = [threading.Thread(target=run, args=(k,)) for k in range(clients)]
        for t in threads:
            t.start()
            time.sleep(0.02)
        began = time.monotonic()
        while time.monotonic() < until:
            time.sleep(min(max(seconds / 12, 10), until - time.monotonic() + 0.1))
            print(f"{time.monotonic() - began:6.0f} s: {size()}", flush=True)
        for t in threads:
            t.join()
        took: dict[str, list[float]] = {}
        for c in all_clients:
            for what, s in c.took:
                took.setdefault(what, []).append(s * 1000)
        for what, ms in sorted(took.items()):
            p = np.percentile(ms, [50, 95, 99])
            print(
                f"{what:6} {len(ms):6} answers, ms: median {p[0]:.0f}, p95 {p[1]:.0f}, p99 {p[2]:.0f}, most {max(ms):.0f}"
            )
        print("statuses", sum((c.statuses for c in all_clients), Counter()), "errors", errors[:5], size())
        server.terminate()
        server.wait(20)


if __name__ == "__main__":
    main(int(sys.argv[1]), float(sys.argv[2]), float(sys.argv[3]) if len(sys.argv) > 3 else 0.5)
