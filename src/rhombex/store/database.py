"""The SQLite engine: WAL, written through to the disk, foreign keys, explicit transactions, migrations at start."""

from __future__ import annotations

import os
import sqlite3
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.util.exc import CommandError
from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError

from rhombex.store.trouble import ANOTHER, CannotOpen, explain, made_private

# FULL: the log is on the disk before a change is acknowledged. With NORMAL a power cut took the last seconds.
_PRAGMAS = ("journal_mode=WAL", "synchronous=FULL")
BUSY_MS = 10_000


def _engine(path: Path, foreign_keys: bool, busy_ms: int) -> Engine:
    engine = create_engine(f"sqlite:///{path}", pool_size=32, max_overflow=32)

    @event.listens_for(engine, "connect")
    def on_connect(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # SQLAlchemy begins; the driver must not
        for pragma in (f"busy_timeout={busy_ms}", *_PRAGMAS, f"foreign_keys={'ON' if foreign_keys else 'OFF'}"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def on_begin(connection: Any) -> None:
        write = connection.get_execution_options().get("write", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if write else "BEGIN")

    return engine


def migrate(path: Path, busy_ms: int = BUSY_MS) -> None:
    """Bring a database file to the newest schema, whole or not at all."""
    engine = _engine(path, foreign_keys=False, busy_ms=busy_ms)  # batch operations rebuild tables
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    try:
        with engine.execution_options(write=True).begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
            broken = connection.execute(text("PRAGMA foreign_key_check")).all()
            if broken:
                raise CannotOpen(
                    f"{len(broken)} rows of rhombex.db point nowhere", "Put a copy from a backup in its place."
                )
    finally:
        engine.dispose()


def _ours(path: Path) -> None:
    """Look at a file before anything in it is changed. Raises CannotOpen where another program made it, sqlite3.Error where it is
    no database."""
    look = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
    try:
        tables = {name for (name,) in look.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    finally:
        look.close()
    if tables and "alembic_version" not in tables:
        raise CannotOpen(*ANOTHER)


def open_database(path: Path, busy_ms: int = BUSY_MS) -> Engine:
    """Open a database file, made for this account only and migrated where needed. Raises CannotOpen with what is wrong."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.is_dir():
            raise CannotOpen(
                "a folder stands where rhombex.db should be", "Move it away, or choose another folder with --data."
            )
        if not path.exists():
            os.close(os.open(path, os.O_CREAT | os.O_RDWR, 0o600))
        _ours(path)
        made_private(path, 0o600)
        migrate(path, busy_ms)
    except (OSError, DatabaseError, sqlite3.Error, CommandError) as e:
        raise CannotOpen(*explain(e)) from e
    return _engine(path, foreign_keys=True, busy_ms=busy_ms)
