"""The edges of the server: odd requests, a queue, a lock, slow callers; every error in the one form."""

from __future__ import annotations

import io
import json
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import text

from rhombex.core.design import Design
from rhombex.store.designs import Designs
from rhombex.web import server
from rhombex.web.app import make_app
from rhombex.web.session import COOKIE, Keys

HOST = "localhost:8137"
BASE = f"http://{HOST}"


def upload(client: FlaskClient, design: Design) -> Any:
    data = {"file": (io.BytesIO(design.model_dump_json().encode()), "d.json")}
    return client.post("/api/designs/read", data=data, base_url=BASE).json


def in_form(r: Any, status: int | tuple[int, ...]) -> Any:
    """An answer is an error of one of these statuses, in the one form, and names no path of the server."""
    assert r.status_code in ((status,) if isinstance(status, int) else status), (r.status_code, r.data[:300])
    e = r.json["error"]
    assert set(e) == {"field", "message", "kept", "do"} and e["message"]
    assert "/tmp" not in r.text and "site-packages" not in r.text and "Traceback" not in r.text
    return e


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("/edits", "[" * 100_000 + "]" * 100_000, 400),
        (
            "/edits",
            '{"base_version": 1, "edits": ' + '[{"do": "together", "edits": ' * 400 + "[]" + "}]" * 400 + "}",
            (400, 422),
        ),
        ("/edits", '{"base_version": ' + "9" * 5000 + ', "edits": [{"do": "fit-cavity"}]}', (400, 422)),
        ("/edits", '{"base_version": 1e400, "edits": [{"do": "fit-cavity"}]}', (400, 422)),
        ("/gaps", '{"thing": "board", "to_mm": [NaN, 0, 0]}', 400),
        ("/gaps", '{"thing": "board", "to_mm": [1e308, 0, 0]}', 422),
        ("/gaps", '{"thing": "", "to_mm": [0, 0, 0]}', 422),
        ("/gaps", '{"thing": "' + "x" * 3000 + '", "to_mm": [0, 0, 0]}', 422),
        ("/gaps", '{"thing": "nobody", "to_mm": [0, 0, 0]}', 422),
        ("/keep", '{"number": 100000000000000000000000, "name": "x"}', 422),
        ("/keep", '{"number": 77, "name": "x"}', 404),
        ("/keep", '{"number": 1, "name": "\\u0000\\uffff"}', 422),
        ("/goto", '{"base_version": 1, "number": 100000000000000000000000}', 422),
        ("/goto", '{"base_version": 100000000000000000000000, "number": 1}', 422),
        ("/undo", "7", 422),
        ("/undo", "null", 422),
        ("/undo", '"' + "x" * 100 + '"', 422),
        ("/undo", "", (400, 422)),
        ("/undo", "\udcff\udcfe", 400),
        ("/effect", '{"key": "x", "edits": [{"do": "set", "path": "shell.wall_mm", "value": Infinity}]}', 400),
    ],
)
def test_odd_json_is_refused_in_the_one_form(client: FlaskClient, at: str, path: str, body: str, status: Any) -> None:
    r = client.post(
        at + path, data=body.encode("utf-8", "surrogateescape"), content_type="application/json", base_url=BASE
    )
    in_form(r, status)
    assert client.get(at, base_url=BASE).json["version"] == 1


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("PUT", "/api/designs", 405),
        ("POST", "/api/library", 405),
        ("TRACE", "/api/designs", 405),
        ("GET", "/api/nothing", 404),
        ("GET", "/api/designs/zz", (404, 422)),
        ("GET", "/api/designs/" + "0" * 3000, (404, 422)),
        ("GET", "/api/meshes/" + "0" * 32, 404),
        ("DELETE", "/api/designs/" + "0" * 12, 404),
        ("DELETE", "/api/bin/" + "0" * 12, 404),
        ("POST", "/api/bin/" + "0" * 12 + "/restore", 404),
        ("GET", "/api/jobs/" + "0" * 12 + "/file", 404),
    ],
)
def test_wrong_methods_and_addresses_are_refused_in_the_one_form(
    client: FlaskClient, method: str, path: str, status: Any
) -> None:
    r = client.open(path, method=method, base_url=BASE)
    in_form(r, status)
    if r.status_code == 405:
        assert r.headers["Allow"]


def test_text_where_a_file_is_expected(client: FlaskClient) -> None:
    for path in (
        "/api/designs/read",
        "/api/jobs/read",
        "/api/library/file",
        "/api/gcode",
        "/api/printers/bench-220/diary",
    ):
        in_form(client.post(path, data={"file": "just text", "what": "x", "real_s": "3600"}, base_url=BASE), 422)
    r = client.post("/api/jobs/read", data={"file": (io.BytesIO(b"x"), "x.stl"), "library": "text"}, base_url=BASE)
    assert "a file is wanted" in in_form(r, 422)["message"]


@pytest.mark.parametrize(
    "hold",
    [
        {"how": "edges", "of": ["left"]},
        {"how": "diameter", "of": ["left"]},
        {"how": "diameter", "of": ["A", "B"]},
        {"how": "edges", "of": ["left", "board"]},
        {"how": "edges", "of": ["left", "front"]},
        {"how": "edges", "of": ["left", "right"], "along": "y"},
        {"how": "edges", "of": ["nose", "right"]},
        {"how": "edges", "of": []},
    ],
)
def test_calipers_held_where_nothing_can_be_measured(client: FlaskClient, hold: Any) -> None:
    in_form(client.post("/api/devices/caliper/type", json=hold, base_url=BASE), 422)


def test_edits_within_edits_are_counted(client: FlaskClient, at: str) -> None:
    one = {"do": "set", "path": "brief.room_c", "value": 24}
    inner = {"do": "together", "edits": [one] * 199}
    nested = {"base_version": 1, "edits": [inner] * 200}
    assert "200 edits" in in_form(client.post(f"{at}/edits", json=nested, base_url=BASE), 422)["message"]
    assert client.post(f"{at}/effect", json={"key": "x", "edits": [inner, inner]}, base_url=BASE).status_code == 422
    r = client.post(f"{at}/edits", json={"base_version": 1, "edits": [inner]}, base_url=BASE)
    assert r.status_code == 200 and r.json["design"]["brief"]["room_c"] == 24


def test_names_are_cleaned_before_they_are_kept(client: FlaskClient, at: str) -> None:
    edit = {"do": "set", "path": "name", "value": "W\u0000r\uffffen\u001b "}
    r = client.post(f"{at}/edits", json={"base_version": 1, "edits": [edit]}, base_url=BASE)
    assert r.json["design"]["name"] == "W r en"
    edit["value"] = "\u0000\u0001"
    in_form(client.post(f"{at}/edits", json={"base_version": 2, "edits": [edit]}, base_url=BASE), 422)


def test_whatever_breaks_is_told_with_a_note_and_no_trace(
    client: FlaskClient, at: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> object:
        raise ZeroDivisionError("/home/somebody/secret.py")

    monkeypatch.setattr(Designs, "revisions", broken)
    e = in_form(client.get(f"{at}/revisions", base_url=BASE), 500)
    assert "ZeroDivisionError" in e["message"] and "secret" not in json.dumps(e)


def test_an_unreadable_design_can_be_taken_home_undone_and_deleted(client: FlaskClient, at: str) -> None:
    edit = {"do": "set", "path": "brief.room_c", "value": 24}
    client.post(f"{at}/edits", json={"base_version": 1, "edits": [edit]}, base_url=BASE)
    engine = client.application.extensions["desk"].designs.engine
    with engine.connect() as c:
        c.execute(text("UPDATE revision SET document = '{\"schema_version\": 99}' WHERE number = 2"))
        c.commit()
    e = in_form(client.get(at, base_url=BASE), 422)
    assert e["field"] == "document" and "newer" in e["message"] and "kept" in e["kept"]
    row = client.get("/api/designs", base_url=BASE).json["designs"][0]
    assert "newer" in row["trouble"]
    assert client.get(f"{at}/stored", base_url=BASE).json == {"schema_version": 99}
    assert [s["number"] for s in client.get(f"{at}/revisions", base_url=BASE).json["steps"]] == [2, 1]
    # the workshop is not held up by it
    w = client.get("/api/workshop", base_url=BASE).json
    assert put_workshop(client, w).status_code == 200
    assert client.post(f"{at}/undo", json={"base_version": 2}, base_url=BASE).status_code == 200
    assert client.delete(at, base_url=BASE).json["bin"][0]["days_left"] == 30
    assert client.get(at, base_url=BASE).status_code == 404
    id = at.rsplit("/", 1)[1]
    assert client.post(f"/api/bin/{id}/restore", base_url=BASE).json["bin"] == []
    client.delete(at, base_url=BASE)
    assert client.delete("/api/bin", base_url=BASE).json == {"designs": [], "bin": []}


def put_workshop(client: FlaskClient, w: Any) -> Any:
    body = {"base_version": w["version"], "edits": [{"do": "put-workshop", "workshop": w["workshop"]}]}
    return client.post("/api/workshop/edits", json=body, base_url=BASE)


def test_a_printer_from_elsewhere_is_added_by_its_remedy(client: FlaskClient, good_wren: Design) -> None:
    s = upload(client, Design.model_validate(good_wren.model_dump() | {"printer": "attic-400"}))
    c = next(c for c in s["view"]["concerns"] if c["code"] == "printer-not-here")
    # saving the workshop is not held up by a printer that was never there
    w = client.get("/api/workshop", base_url=BASE).json
    assert put_workshop(client, w).status_code == 200
    add = c["remedies"][-1]
    tried = client.post(
        f"/api/designs/{s['id']}/effect", json={"key": c["key"], "shop": add["shop"]}, base_url=BASE
    ).json
    assert tried["clears"]
    done = client.post("/api/workshop/edits", json={"edits": add["shop"]}, base_url=BASE).json
    assert [p["key"] for p in done["workshop"]["printers"]][-1] == "attic-400"
    now = client.get(f"/api/designs/{s['id']}", base_url=BASE).json
    assert not [x for x in now["view"]["concerns"] if x["code"] == "printer-not-here"]
    in_form(client.post("/api/workshop/edits", json={"edits": add["shop"]}, base_url=BASE), 422)  # it is there now


def test_hours_that_cannot_be_are_refused_at_the_door_and_those_stored_lock_nothing(
    client: FlaskClient, at: str
) -> None:
    r = client.post(f"{at}/diary/base", json={"real_s": 5e6}, base_url=BASE)
    assert "cannot be" in in_form(r, 422)["message"]
    w = client.get("/api/workshop", base_url=BASE).json
    slip = {"what": "slip", "planned_s": 1e-300, "real_s": 3600.0, "curves": None}
    w["workshop"]["printers"][1]["paced"] = [slip]
    in_form(put_workshop(client, w), 422)
    put_workshop(client, client.get("/api/workshop", base_url=BASE).json)  # so that there is something stored
    with client.application.extensions["desk"].designs.engine.connect() as c:
        c.execute(text("UPDATE workshop SET document = :d"), {"d": json.dumps(w["workshop"])})
        c.commit()
    now = client.get("/api/workshop", base_url=BASE).json
    assert now["paces"]["bench-220"] == {"factor": 1.0, "high": 1.15, "left_out": 1, "low": 0.85, "prints": 0}
    assert client.get(at, base_url=BASE).status_code == 200
    assert put_workshop(client, now).status_code == 200


# the queue


def test_exports_share_the_queue(client: FlaskClient, at: str) -> None:
    ask = {"kind": "export", "design": at.rsplit("/", 1)[1], "formats": ["stl"]}
    jobs = [client.post("/api/jobs", json={"ask": ask}, base_url=BASE).json["id"] for _ in range(4)]
    time.sleep(0.8)
    states = [client.get(f"/api/jobs/{j}", base_url=BASE).json for j in jobs]
    assert [s["state"] for s in states] == ["running", "running", "waiting", "waiting"]
    assert [s["what"] for s in states[2:]] == ["waiting for a free place", "waiting: 1 before it in the queue"]
    for j in reversed(jobs):
        assert client.post(f"/api/jobs/{j}/stop", base_url=BASE).json["state"] == "stopped"


# the lock of a server that others can reach


def test_without_a_password_other_machines_are_not_served(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert server.run("0.0.0.0", 0, tmp_path / "d", False) == 2
    assert "a password is wanted" in capsys.readouterr().err
    assert server.run("127.0.0.1", 0, tmp_path / "d", False, names=("cases.example",)) == 2  # a name is for others
    assert "cases.example can be reached" in capsys.readouterr().err
    assert server.run("0.0.0.0", 0, tmp_path / "d", False, password="x") == 2
    assert "--name" in capsys.readouterr().err
    assert not (tmp_path / "d").exists()


@pytest.fixture
def keys() -> Keys:
    return Keys("lantern street", clock=lambda: NOW[0])


NOW = [1000.0]


@pytest.fixture
def locked(tmp_path: Path, keys: Keys) -> FlaskClient:
    NOW[0] = 1000.0
    return make_app(tmp_path, {"cases.example:8137", "cases.example"}, keys).test_client()


NAMED = "http://cases.example:8137"


def test_a_forged_host_is_turned_away_and_the_named_one_asked_for_the_password(locked: FlaskClient) -> None:
    assert locked.get("/api/designs", base_url="http://evil.example:8137").status_code == 421
    assert in_form(locked.get("/api/designs", base_url=NAMED), 401)["do"] == "Give the password."
    assert locked.get("/api/session", base_url=NAMED).json == {"asks": True, "inside": False}
    in_form(locked.post("/api/session", json={"password": "lantern"}, base_url=NAMED), 401)
    r = locked.post("/api/session", json={"password": "lantern street"}, base_url=NAMED)
    assert r.status_code == 200
    cookie = r.headers["Set-Cookie"]
    assert "HttpOnly" in cookie and "SameSite=Strict" in cookie and "Secure" not in cookie
    assert locked.get("/api/designs", base_url=NAMED).status_code == 200
    locked.delete("/api/session", base_url=NAMED)
    assert locked.get("/api/designs", base_url=NAMED).status_code == 401


def test_behind_a_proxy_the_name_has_no_port_and_the_cookie_is_secure(locked: FlaskClient) -> None:
    r = locked.post(
        "/api/session",
        json={"password": "lantern street"},
        base_url="http://cases.example",
        headers={"Origin": "https://cases.example"},
    )
    assert r.status_code == 200 and "Secure" in r.headers["Set-Cookie"]


def test_the_printed_link_works_once_and_for_an_hour(locked: FlaskClient, keys: Keys) -> None:
    link = keys.link
    assert locked.post("/api/session", json={"token": link}, base_url=NAMED).status_code == 200
    locked.delete_cookie(COOKIE, domain="cases.example")
    assert (
        "used or is too old"
        in in_form(locked.post("/api/session", json={"token": link}, base_url=NAMED), 401)["message"]
    )
    late = Keys("x", clock=lambda: NOW[0])
    NOW[0] += 3601
    assert late.open("a", "", late.link or "") is None


def test_wrong_passwords_are_limited(locked: FlaskClient) -> None:
    for _ in range(5):
        assert locked.post("/api/session", json={"password": "guess"}, base_url=NAMED).status_code == 401
    in_form(locked.post("/api/session", json={"password": "lantern street"}, base_url=NAMED), 429)
    NOW[0] += 61
    assert locked.post("/api/session", json={"password": "lantern street"}, base_url=NAMED).status_code == 200


def test_many_addresses_are_limited_together(keys: Keys) -> None:
    NOW[0] = 1000.0
    for k in range(30):
        assert not keys.tired(f"10.0.0.{k}")
        keys.open(f"10.0.0.{k}", "guess", "")
    assert keys.tired("10.0.1.1")


def test_a_session_ends(keys: Keys) -> None:
    NOW[0] = 1000.0
    session = keys.open("a", "lantern street", "")
    assert session and keys.known(session) and not keys.known("other")
    NOW[0] += 31 * 86_400
    assert not keys.known(session)


# slow callers


@pytest.fixture
def served(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    """A real server with short patience."""
    monkeypatch.setattr(server, "HEAD_S", 1.0)
    monkeypatch.setattr(server, "IDLE_S", 1)
    listening = socket.create_server(("127.0.0.1", 0))
    port = listening.getsockname()[1]
    app = make_app(tmp_path, {f"127.0.0.1:{port}"})
    threading.Thread(target=server.serve, args=(app, listening, 4), daemon=True).start()
    yield port


def test_half_requests_hold_nobody_up(served: int) -> None:
    half = [socket.create_connection(("127.0.0.1", served)) for _ in range(150)]
    for s in half:
        s.sendall(b"POST /api/designs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Le")
    with socket.create_connection(("127.0.0.1", served), timeout=10) as s:
        s.sendall(f"GET /api/designs HTTP/1.1\r\nHost: 127.0.0.1:{served}\r\nConnection: close\r\n\r\n".encode())
        assert s.recv(100).startswith(b"HTTP/1.1 200")
    gone = 0
    until = time.monotonic() + 20
    while gone < 150 and time.monotonic() < until:
        time.sleep(0.5)
        gone = sum(_closed(s) for s in half)
    assert gone == 150
    for s in half:
        s.close()


def test_a_dripping_request_is_closed(served: int) -> None:
    with socket.create_connection(("127.0.0.1", served)) as s:
        s.sendall(b"GET /api/designs HTTP/1.1\r\n")
        for _ in range(60):
            time.sleep(0.1)
            try:
                s.sendall(b"X")
            except OSError:
                break
            if _closed(s):
                break
        else:
            raise AssertionError("it still listens")


def _closed(s: socket.socket) -> bool:
    s.setblocking(False)
    try:
        return s.recv(1000) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True
