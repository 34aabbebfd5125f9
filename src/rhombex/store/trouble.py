"""What can be wrong with the data folder, told apart: each says what it is and what to do."""

from __future__ import annotations

import errno
from pathlib import Path

ENDS: dict[int, tuple[str, str]] = {
    errno.ENOSPC: ("the disk is full", "Make room on the disk, then do it again."),
    errno.EDQUOT: ("the disk quota is used up", "Make room within the quota, then do it again."),
    errno.EROFS: ("the disk can only be read", "Make it writable, or choose another folder with --data."),
    errno.EACCES: (
        "this account may not write there",
        "Give it the right to write, or choose another folder with --data.",
    ),
    errno.EPERM: (
        "this account may not write there",
        "Give it the right to write, or choose another folder with --data.",
    ),
    errno.ENOTDIR: (
        "a file stands where the folder should be",
        "Move that file away, or choose another folder with --data.",
    ),
    errno.EEXIST: (
        "a file stands where the folder should be",
        "Move that file away, or choose another folder with --data.",
    ),
}
# words of SQLite, in the order in which they are looked for
SAYS: tuple[tuple[str, str, str], ...] = (
    ("disk is full", "the disk is full", "Make room on the disk, then do it again."),
    ("readonly", "the data folder can only be read", "Make it writable, or choose another folder with --data."),
    ("read-only", "the data folder can only be read", "Make it writable, or choose another folder with --data."),
    (
        "locked",
        "another program holds the database",
        "Close what has opened rhombex.db (a backup, a database viewer), then do it again.",
    ),
    (
        "not a database",
        "rhombex.db in the data folder is not a Rhombex database",
        "Move that file away, or choose another folder with --data. It is left as it is.",
    ),
    (
        "malformed",
        "rhombex.db is damaged",
        "Put a copy from a backup in its place, and keep the damaged file: much of it can be saved. It is left as it is.",
    ),
    (
        "unable to open",
        "rhombex.db cannot be opened",
        "Look at the rights of the data folder, or choose another with --data.",
    ),
    (
        "disk i/o error",
        "the disk does not answer",
        "Look at the disk and at the rights of the data folder, then do it again.",
    ),
)
ANOTHER = (
    "rhombex.db is another program's database",
    "Move that file away, or choose another folder with --data. It is left as it is.",
)
NEWER = (
    "this folder was written by a newer Rhombex",
    "Start it with that Rhombex, or choose another folder with --data. Nothing in it was changed.",
)


class CannotWrite(RuntimeError):
    """The disk or the database refused; nothing of the step was kept. `do`: what helps."""

    def __init__(self, message: str, do: str = "Do it again.") -> None:
        super().__init__(message)
        self.do = do


class CannotOpen(CannotWrite):
    """The data folder cannot be used at all."""


def explain(e: BaseException) -> tuple[str, str]:
    """What an error of the disk or the database means, and what to do. No path is in it."""
    seen: BaseException | None = e
    while seen is not None:
        if isinstance(seen, OSError) and seen.errno in ENDS:
            return ENDS[seen.errno]
        words = str(getattr(seen, "orig", None) or seen).lower()
        for part, message, do in SAYS:
            if part in words:
                return message, do
        if "can't locate revision" in words:
            return NEWER
        seen = seen.__cause__
    return "the data folder does not answer as it should", "Look at the disk, then do it again."


def made_private(path: Path, mode: int) -> None:
    """Give a file or folder its rights; where the disk knows none, it stays as it is."""
    try:
        path.chmod(mode)
    except OSError:
        return
