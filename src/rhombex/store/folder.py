"""The data folder: made for this account only, and used by one server at a time."""

from __future__ import annotations

import fcntl
import json
import os
from io import TextIOWrapper
from pathlib import Path

from rhombex.store.trouble import CannotOpen, explain, made_private

LOCK = "server.lock"


class Claim:
    """A data folder held by this server until it is released or the process ends, however it ends."""

    def __init__(self, folder: Path, file: TextIOWrapper) -> None:
        self.folder, self._file = folder, file

    def release(self) -> None:
        self._file.close()


def claim(folder: Path, address: str) -> Claim:
    """Make the folder if need be and hold it. Raises CannotOpen where another server holds it, naming its address, or where
    the folder cannot be used."""
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        made_private(folder, 0o700)
        file = os.fdopen(os.open(folder / LOCK, os.O_RDWR | os.O_CREAT, 0o600), "r+", encoding="utf-8")
    except OSError as e:
        raise CannotOpen(*explain(e)) from e
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as e:
        raise CannotOpen(
            f"another Rhombex serves this folder at {_address(file)}",
            "Use that one, stop it first, or choose another folder with --data.",
        ) from e
    file.seek(0)
    file.truncate()
    json.dump({"address": address, "pid": os.getpid()}, file)
    file.flush()
    return Claim(folder, file)


def _address(file: TextIOWrapper) -> str:
    try:
        return str(json.load(file)["address"])
    except (ValueError, KeyError, TypeError):
        return "an address that it has not written down yet"
