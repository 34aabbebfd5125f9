"""Meshes of own components, kept beside the database as files named by their content."""

from __future__ import annotations

import os
from pathlib import Path

from rhombex.store.trouble import CannotWrite, explain


class Shapes:
    """A folder of meshes. A file is written whole and through to the disk, or not at all. `sweep`: throw away what a server that
    was killed left half-written; only whoever opens the folder first may."""

    def __init__(self, folder: Path, sweep: bool = True) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        for left in folder.glob("*.part") if sweep else ():
            left.unlink(missing_ok=True)

    def put(self, digest: str, data: bytes) -> None:
        """Keep a mesh; one that is there already stays. Raises CannotWrite where the disk refuses."""
        path = self.folder / f"{digest}.bin"
        if path.exists():
            return
        part = path.with_suffix(f".{os.getpid()}.part")
        try:
            with part.open("wb") as f:
                f.write(data)
                f.flush()
                os.fsync(f.fileno())
            part.replace(path)
            folder = os.open(self.folder, os.O_RDONLY)
            try:
                os.fsync(folder)  # the name, too
            finally:
                os.close(folder)
        except OSError as e:
            part.unlink(missing_ok=True)
            raise CannotWrite(*explain(e)) from e

    def get(self, digest: str) -> bytes | None:
        try:
            return (self.folder / f"{digest}.bin").read_bytes()
        except OSError:
            return None
