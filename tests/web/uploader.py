"""Uploads to a real server that is killed at a random moment: what it had answered for is there when it is started again."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import threading
import time
from http.client import HTTPConnection, HTTPException
from pathlib import Path
from random import Random

from rhombex.core.exchange.write_mesh import stl
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.demo.scenario import wren


class Server:
    """`rhombex serve` on a folder, in a process of its own."""

    def __init__(self, folder: Path) -> None:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "rhombex.cli", "serve", "--port", "0", "--data", str(folder)],
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
        assert self.process.stdout
        said = self.process.stdout.readline()
        found = re.search(r":(\d+)/", said)
        assert found, said
        self.port = int(found.group(1))

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()

    def call(self, method: str, path: str, body: bytes | None = None, kind: str = "application/json") -> bytes:
        c = HTTPConnection("127.0.0.1", self.port, timeout=30)
        try:
            c.request(method, path, body, {"Content-Type": kind} if body is not None else {})
            answer = c.getresponse()
            data = answer.read()
            if answer.status >= 400:
                raise AssertionError(f"{path}: {answer.status} {data[:200]!r}")
            return data
        finally:
            c.close()

    def upload(self, path: str, name: str, data: bytes) -> bytes:
        head = f'--x\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode()
        again = b'\r\n--x\r\nContent-Disposition: form-data; name="again"\r\n\r\ntrue'  # designs that are there already, too
        return self.call("POST", path, head + data + again + b"\r\n--x--\r\n", "multipart/form-data; boundary=x")


def upload_part(server: Server, seed: int) -> tuple[str, str]:
    """A block of random size as an STL file, read, confirmed and kept: its key, and the hash its mesh is kept under."""
    r = Random(seed)
    block = stl(mk.Manifold.cube((r.uniform(5, 50), r.uniform(5, 50), r.uniform(5, 50))))
    out = json.loads(server.upload("/api/jobs/read", "block.stl", block))
    while out["state"] in ("waiting", "running"):
        time.sleep(0.02)
        out = json.loads(server.call("GET", f"/api/jobs/{out['id']}"))
    confirmed = json.dumps(
        {"job": out["id"], "confirmed": out["result"]["proposal"] | {"label": f"Block {seed}"}}
    ).encode()
    part = json.loads(server.call("POST", "/api/library/confirm", confirmed))["component"]
    server.call("POST", "/api/library/own", json.dumps({"component": part}).encode())
    return part["key"], part["shape"]


def killed_while_uploading(folder: Path, seed: int, after_s: float, both: bool = False) -> list[tuple[str, str, str]]:
    """Upload designs and parts from two windows until the server is killed; what was answered for: kind, id, shape.
    `both`: not before one of each was answered for, however slow the machine."""
    server = Server(folder)
    said: list[tuple[str, str, str]] = []

    def designs() -> None:
        while True:
            data = server.upload("/api/designs/read", "d.json", wren().model_dump_json().encode())
            said.append(("design", json.loads(data)["id"], ""))

    def parts() -> None:
        k = 0
        while k < 40:  # a library has its limit
            k += 1
            said.append(("part", *upload_part(server, seed * 1000 + k)))

    def until_killed(work: object) -> None:
        try:
            work()  # type: ignore[operator]
        except (OSError, HTTPException):
            return

    windows = [threading.Thread(target=until_killed, args=(w,)) for w in (designs, parts)]
    for w in windows:
        w.start()
    time.sleep(after_s)
    while both and len({kind for kind, _, _ in said}) < 2 and any(w.is_alive() for w in windows):
        time.sleep(0.05)
    server.kill()
    for w in windows:
        w.join()
    return said


def not_there(folder: Path, said: list[tuple[str, str, str]]) -> list[str]:
    """What was answered for and is gone, or is half-written, once the server was started again."""
    server = Server(folder)
    try:
        listed = json.loads(server.call("GET", "/api/designs"))
        shelf = {x["id"]: x["trouble"] for x in listed["designs"]}
        library = {c["key"] for c in json.loads(server.call("GET", "/api/library"))["components"]}
        wrong = [f"{kind} {id}" for kind, id, _ in said if id not in (shelf if kind == "design" else library)]
        wrong += [f"unreadable {id}" for id, trouble in shelf.items() if trouble]
        for kind, id, shape in said:
            if kind == "part" and len(server.call("GET", f"/api/shapes/{shape}")) != 12 * 36:
                wrong.append(f"shape of {id}")
        return wrong + [str(p) for p in (folder / "shapes").glob("*.part")]
    finally:
        server.kill()
