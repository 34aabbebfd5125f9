"""What the commands read and write, and how they say that it cannot be."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

from rhombex.core.plain import DesignError

if TYPE_CHECKING:  # each command imports what it needs: asking for help must not wait for all of it
    from rhombex.core.design import Design
    from rhombex.core.workshop.printer import Printer
    from rhombex.core.workshop.workshop import Workshop

MAX_DESIGN_BYTES = 20_000_000
Shop = Annotated[
    Path | None,
    typer.Option("--workshop", help="Your workshop as JSON, as the workshop page saves it; else the sample one."),
]


def fail(what: str, do: str = "") -> NoReturn:
    """Say what is wrong and what to do, and end with 2."""
    typer.echo(f"rhombex: {what}" + (f" {do}" if do else ""), err=True)
    raise typer.Exit(2)


def load(path: Path) -> Any:
    """The JSON in a file; ends with 2 where it is none."""
    try:
        if path.stat().st_size > MAX_DESIGN_BYTES:
            fail(f"{path}: larger than {MAX_DESIGN_BYTES // 1_000_000} MB; no design is that large.")
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as e:
        fail(f"{path}: cannot be read ({e.strerror}).")
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as e:
        fail(f"{path}: not whole JSON ({e}).", "Nothing was changed.")


def bytes_of(path: Path, most: int) -> bytes:
    """A file of at most so many bytes; ends with 2 where it is larger or cannot be read."""
    try:
        if path.stat().st_size > most:
            fail(f"{path}: larger than {most // 1_000_000} MB.")
        return path.read_bytes()
    except OSError as e:
        fail(f"{path}: cannot be read ({e.strerror}).")


def head_of(path: Path) -> bytes:
    """The first bytes of a file, by which its kind is told."""
    try:
        with path.open("rb") as f:
            return f.read(512)
    except OSError as e:
        fail(f"{path}: cannot be read ({e.strerror}).")


def shop_of(path: Path | None) -> Workshop:
    """The workshop of a file, or the sample one."""
    from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
    from rhombex.core.workshop.workshop import read_workshop

    if path is None:
        return ARCHIVE_WORKSHOP
    try:
        return read_workshop(load(path))
    except DesignError as e:
        fail(f"{path}: {e}.", e.do)


def one_of(workshop: Workshop) -> Printer:
    """The printer that stands for all where none is named: the design's usual one, else the first."""
    return workshop.printer("bench-220") or workshop.printers[0]


def design_of(path: Path) -> Design:
    """The design in a file; ends with 2 where there is none."""
    from rhombex.core.design import read_design

    data = load(path)
    try:
        return read_design(data)
    except DesignError as e:
        fail(f"{path}: {e}.", e.do)


def write_whole(path: Path, data: bytes) -> None:
    """Write a file completely or not at all: into a neighbour first, then renamed over."""
    room = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with room.open("wb") as f:
            f.write(data)
            f.flush()
            os.fsync(f.fileno())
        room.replace(path)
    except OSError as e:
        room.unlink(missing_ok=True)
        fail(f"{path}: cannot be written ({e.strerror}).", "What was there before is kept.")
