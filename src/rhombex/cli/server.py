"""The server for the browser."""

from __future__ import annotations

import atexit
import os
import sys
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import bytes_of, fail


def serve(
    host: Annotated[str, typer.Option()] = "127.0.0.1",
    port: Annotated[int, typer.Option(min=0, max=65535)] = 8137,
    data: Annotated[Path, typer.Option("--data")] = Path("data"),
    demo: Annotated[bool, typer.Option(help="Start with the sample designs where there are none.")] = False,
    name: Annotated[
        list[str] | None,
        typer.Option(help="A name or address that it is called by; once for each.", show_default=False),
    ] = None,
    password_file: Annotated[
        Path | None, typer.Option(help="A file that holds the password; else RHOMBEX_PASSWORD.", show_default=False)
    ] = None,
) -> None:
    """Start Rhombex for the browser. Only this machine reaches it, unless another --host and a password are given."""
    from rhombex.web.server import run

    password = os.environ.get("RHOMBEX_PASSWORD", "")
    if password_file is not None:
        password = bytes_of(password_file, 10_000).decode("utf-8", "replace").strip()
        if not password:
            fail(f"{password_file}: it is empty; a password is wanted.")
    code = run(host, port, data, demo, tuple(name or ()), password)
    sys.stdout.flush()
    sys.stderr.flush()
    if code:
        sys.exit(code)
    # A job that is still at work in the mesh kernel as the interpreter ends would be unwound through it, which aborts; and what the kernel prints then
    # is no use to anybody. All is kept: what is left to do is done, and the process ends.
    atexit._run_exitfuncs()
    os._exit(0)
