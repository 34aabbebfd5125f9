"""Serving: waitress on one address, sample designs where wanted."""

from __future__ import annotations

import socket
from pathlib import Path

import typer
import waitress

from rhombex.demo.scenario import SCENARIOS
from rhombex.store.designs import CannotWrite
from rhombex.web.app import make_app


def run(host: str, port: int, data: Path, demo: bool) -> int:
    """Serve until stopped. Returns an exit code."""
    try:
        listening = socket.create_server((host, port))
    except OSError as e:
        typer.echo(f"rhombex: cannot listen on {host}:{port} ({e.strerror}). Choose another --port.", err=True)
        return 2
    port = listening.getsockname()[1]
    names = {host, "127.0.0.1", "localhost"} if host in ("127.0.0.1", "localhost") else {host}
    try:
        app = make_app(data.resolve(), {f"{n}:{port}" for n in names} | ({*names} if port == 80 else set()))
    except (OSError, CannotWrite) as e:
        typer.echo(f"rhombex: the data folder {data} cannot be used ({e}).", err=True)
        return 2
    designs = app.extensions["desk"].designs
    if demo and not designs.names():
        for name, make in SCENARIOS.items():
            state = designs.create(make())
            designs.keep(state.id, state.revision, f"{name}, first sketch")
    typer.echo(f"Rhombex is at http://{host}:{port}/  (data in {data}; Ctrl-C stops it)")
    waitress.serve(app, sockets=[listening], threads=16, ident=None)
    return 0
