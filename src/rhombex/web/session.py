"""The lock of a server that others can reach: a password or a link that works once, then a cookie for the session."""

from __future__ import annotations

import hashlib
import hmac
import secrets
import time
from collections import deque
from threading import Lock
from typing import Any

from flask import Flask, Response, request
from pydantic import Field

from rhombex.web.api import Asked, answer, blueprint
from rhombex.web.guard import error

COOKIE = "rhombex_session"
SESSION_S = 30 * 86_400
LINK_S = 3600.0  # how long the printed link works
TRIES, WITHIN_S = 5, 60.0  # wrong passwords from one address
TRIES_IN_ALL = 30  # and from all of them together

bp = blueprint("session", __name__)


class Keys:
    """Who may come in: the password, one link, the sessions begun with either, and how many tried in vain."""

    def __init__(self, password: str, clock: Any = time.monotonic) -> None:
        self._salt = secrets.token_bytes(16)
        self._password = self._hash(password)
        self._clock = clock
        self.link: str | None = secrets.token_urlsafe(24)
        self._link_until = clock() + LINK_S
        self._sessions: dict[str, float] = {}
        self._wrong: dict[str, deque[float]] = {}
        self._lock = Lock()

    def _hash(self, text: str) -> bytes:
        return hashlib.scrypt(text.encode("utf-8", "replace"), salt=self._salt, n=2**14, r=8, p=1)

    def tired(self, address: str) -> bool:
        """Whether an address, or all together, tried in vain too often of late."""
        with self._lock:
            now = self._clock()
            for times in self._wrong.values():
                while times and times[0] < now - WITHIN_S:
                    times.popleft()
            self._wrong = {a: t for a, t in self._wrong.items() if t}
            return len(self._wrong.get(address, ())) >= TRIES or sum(map(len, self._wrong.values())) >= TRIES_IN_ALL

    def open(self, address: str, password: str, link: str) -> str | None:
        """A new session for the right password or the unused link; None for neither, which is counted."""
        with self._lock:
            if link and self.link and self._clock() < self._link_until and hmac.compare_digest(link, self.link):
                self.link = None
                return self._begin()
        right = bool(password) and hmac.compare_digest(self._hash(password), self._password)
        with self._lock:
            if right:
                return self._begin()
            self._wrong.setdefault(address, deque()).append(self._clock())
            return None

    def _begin(self) -> str:
        session = secrets.token_urlsafe(32)
        now = self._clock()
        self._sessions = {s: until for s, until in self._sessions.items() if until > now}
        self._sessions[session] = now + SESSION_S
        return session

    def known(self, session: str) -> bool:
        with self._lock:
            return bool(self._sessions.get(session, 0.0) > self._clock())

    def end(self, session: str) -> None:
        with self._lock:
            self._sessions.pop(session, None)


class ComeIn(Asked):
    """The password, or the token of the link that was printed at start."""

    password: str = Field(default="", max_length=400)
    token: str = Field(default="", max_length=200)


class InOut(Asked):
    """Whether this server asks for a password, and whether this window is in."""

    asks: bool
    inside: bool


def lock(app: Flask, keys: Keys | None) -> None:
    """Ask for a session before anything of the API is answered. Without keys the server is this machine's own."""
    app.extensions["keys"] = keys

    @app.before_request
    def inside() -> tuple[dict[str, Any], int] | None:
        if keys is None or not request.path.startswith("/api/") or request.path == "/api/session":
            return None
        if keys.known(request.cookies.get(COOKIE, "")):
            return None
        return error(401, "password", "This server asks for a password.", "Everything is kept.", "Give the password.")


def _keys() -> Keys | None:
    from flask import current_app

    keys: Keys | None = current_app.extensions["keys"]
    return keys


@bp.get("/session", responses={200: InOut}, operation_id="getSession")
def session() -> Response:
    """Whether a password is asked for, and whether this window has given it."""
    keys = _keys()
    return answer(InOut(asks=keys is not None, inside=keys is None or keys.known(request.cookies.get(COOKIE, ""))))


@bp.post("/session", responses={200: InOut}, operation_id="comeIn")
def come_in(body: ComeIn) -> Any:
    """Come in with the password or the link that works once."""
    keys = _keys()
    if keys is None:
        return answer(InOut(asks=False, inside=True))
    address = request.remote_addr or "?"
    if keys.tired(address):
        return error(429, "password", "Too many wrong tries.", "Everything is kept.", "Wait a minute, then try again.")
    found = keys.open(address, body.password, body.token)
    if found is None:
        what = "link has been used or is too old" if body.token else "password is not right"
        return error(401, "password", f"This {what}.", "Everything is kept.", "Give the password.")
    r = answer(InOut(asks=True, inside=True))
    secure = request.headers.get("Origin", "").startswith("https://")
    r.set_cookie(COOKIE, found, max_age=SESSION_S, httponly=True, samesite="Strict", secure=secure, path="/")
    return r


@bp.delete("/session", responses={200: InOut}, operation_id="goOut")
def go_out() -> Response:
    """End this window's session."""
    keys = _keys()
    if keys is not None:
        keys.end(request.cookies.get(COOKIE, ""))
    r = answer(InOut(asks=keys is not None, inside=keys is None))
    r.delete_cookie(COOKIE, path="/")
    return r
