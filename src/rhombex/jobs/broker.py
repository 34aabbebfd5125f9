"""The queue that carries the jobs: huey over SQLite in the data folder, or over another broker by a setting."""

from __future__ import annotations

from pathlib import Path

from huey import FileHuey, Huey, MemoryHuey, SqliteHuey

from rhombex.store.trouble import CannotOpen

SETTING = "RHOMBEX_BROKER"
NAME = "rhombex"


def broker(setting: str, folder: Path) -> Huey:
    """The queue of a setting: `sqlite` (a file in the folder), `file` (a folder there), `memory`, or the address of a server,
    `redis://HOST:PORT/NUMBER`. Raises CannotOpen for another."""
    if setting in ("", "sqlite"):
        # what waits here can be asked for again, so a power cut may take it: no fsync
        return SqliteHuey(
            NAME, results=False, filename=str(folder / "jobs.db"), fsync=False, cache_mb=1, strict_fifo=True
        )
    if setting == "file":
        return FileHuey(NAME, results=False, path=str(folder / "jobs"), use_thread_lock=True)
    if setting == "memory":
        return MemoryHuey(NAME, results=False)
    if setting.startswith(("redis://", "rediss://", "unix://")):
        try:
            from huey import RedisHuey

            return RedisHuey(NAME, results=False, url=setting)
        except ImportError as e:
            raise CannotOpen(
                "the package for this broker is not installed",
                "Install 'redis' beside Rhombex, or leave the setting out.",
            ) from e
    raise CannotOpen(
        f"{SETTING} is '{setting}', which is no broker", "Take sqlite, file, memory or redis://HOST:PORT/0."
    )
