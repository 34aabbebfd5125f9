"""Meshes of own parts, kept beside the database as files named by their content."""

from __future__ import annotations

import os
from pathlib import Path


class Shapes:
    """A folder of meshes. A file is written whole or not at all."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def put(self, digest: str, data: bytes) -> None:
        """Keep a mesh; one that is there already stays."""
        path = self.folder / f"{digest}.bin"
        if path.exists():
            return
        part = path.with_suffix(f".{os.getpid()}.part")
        part.write_bytes(data)
        part.replace(path)

    def get(self, digest: str) -> bytes | None:
        try:
            return (self.folder / f"{digest}.bin").read_bytes()
        except OSError:
            return None
