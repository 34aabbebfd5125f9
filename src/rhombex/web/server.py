"""Serving: waitress on one address, a folder of its own, slow callers shown out, sample designs where wanted."""

from __future__ import annotations

import ctypes
import ipaddress
import logging
import socket
import time
from pathlib import Path
from typing import Any

import typer
import waitress.channel
import waitress.server

from rhombex.demo.scenario import SCENARIOS
from rhombex.jobs.apart import keep_ready
from rhombex.store.folder import claim
from rhombex.store.trouble import CannotWrite
from rhombex.web.app import make_app
from rhombex.web.session import Keys

HEAD_S = 20.0  # for the head of a request
BODY_S = 600.0  # for all of it: a large file over a slow line
IDLE_S = 20  # a connection on which nothing moves
CONNECTIONS = 800
M_ARENA_MAX = -8  # malloc.h
LOCAL = ("127.0.0.1", "localhost", "::1")


class Channel(waitress.channel.HTTPChannel):  # type: ignore[misc]
    """A connection that is closed when a request takes too long to arrive, even if it drips."""

    began: float | None = None

    def received(self, data: bytes) -> Any:
        done = super().received(data)
        waiting = self.request
        if waiting is None:
            self.began = None
            return done
        if self.began is None:
            self.began = time.monotonic()
        if time.monotonic() - self.began > (BODY_S if waiting.headers_finished else HEAD_S):
            self.will_close = True
            self.close_when_flushed = True
        return done


def run(host: str, port: int, data: Path, demo: bool, names: tuple[str, ...] = (), password: str = "") -> int:
    """Serve until stopped. Returns an exit code."""
    _few_arenas()
    keep_ready()
    outside = not _local(host)
    if (outside or names) and not password:
        typer.echo(
            f"rhombex: {names[0] if names else host} can be reached from other machines, so a password is wanted: put it into RHOMBEX_PASSWORD "
            "or name a file that holds it with --password-file. Nothing was started.",
            err=True,
        )
        return 2
    if outside and not names and host in ("0.0.0.0", "::"):
        typer.echo(
            f"rhombex: with --host {host}, say by which names it is called with --name (the machine's name or address, "
            "once for each). Nothing was started.",
            err=True,
        )
        return 2
    try:
        family = socket.AF_INET6 if ":" in host else socket.AF_INET
        listening = socket.create_server((host, port), family=family)
    except (OSError, OverflowError) as e:
        message = getattr(e, "strerror", None) or e
        typer.echo(f"rhombex: cannot listen on {host}:{port} ({message}). Choose another --port.", err=True)
        return 2
    port = listening.getsockname()[1]
    called = {*names, *({"127.0.0.1", "localhost"} if not outside else {host} - {"0.0.0.0", "::"})}
    hosts = {f"{n}:{port}" for n in called} | ({*called} if port == 80 else set()) | {*names}
    shown = f"http://{next(iter(names), host if host not in ('0.0.0.0', '::') else 'localhost')}:{port}/"
    keys = Keys(password) if password else None
    try:
        held = claim(data.resolve(), shown)
        app = make_app(data.resolve(), hosts, keys)
        designs = app.extensions["desk"].designs
        designs.purge()
        if demo and not any(designs.shelf()):
            for name, make in SCENARIOS.items():
                state = designs.create(make())
                designs.keep(state.id, state.revision, f"{name}, first sketch")
    except CannotWrite as e:
        typer.echo(f"rhombex: the data folder {data} cannot be used: {e}. {e.do}", err=True)
        return 2
    typer.echo(f"Rhombex is at {shown}  (data in {data}; Ctrl-C stops it)")
    if keys is not None:
        typer.echo(f"Open it once without the password, within an hour: {shown}?token={keys.link}")
    try:
        serve(app, listening)
    finally:
        held.release()
    return 0


def serve(app: Any, listening: socket.socket, threads: int = 32) -> None:
    """Answer on a socket until stopped."""
    server = waitress.server.create_server(
        app,
        sockets=[listening],
        threads=threads,
        ident=None,
        connection_limit=CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=5,
        asyncore_use_poll=True,
    )
    server.channel_class = Channel
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # it tells of every request that waits a moment
    server.run()


def _few_arenas() -> None:
    """Let all threads share two heaps: with one for each of them, what one frees another cannot use, and memory grew by 120 MB
    in an hour of edits. Only glibc knows this; elsewhere nothing happens."""
    try:
        ctypes.CDLL(None).mallopt(M_ARENA_MAX, 2)
    except (OSError, AttributeError):
        return


def _local(host: str) -> bool:
    if host in LOCAL:
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
