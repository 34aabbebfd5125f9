"""The SQLite engine: WAL, foreign keys, explicit transactions, migrations at start."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event, text

_PRAGMAS = ("journal_mode=WAL", "synchronous=NORMAL", "busy_timeout=10000")


def _engine(path: Path, foreign_keys: bool) -> Engine:
    engine = create_engine(f"sqlite:///{path}")

    @event.listens_for(engine, "connect")
    def on_connect(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # SQLAlchemy begins; the driver must not
        for pragma in (*_PRAGMAS, f"foreign_keys={'ON' if foreign_keys else 'OFF'}"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def on_begin(connection: Any) -> None:
        write = connection.get_execution_options().get("write", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if write else "BEGIN")

    return engine


def migrate(path: Path) -> None:
    """Bring a database file to the newest schema, whole or not at all."""
    engine = _engine(path, foreign_keys=False)  # batch operations rebuild tables
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    try:
        with engine.execution_options(write=True).begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
            broken = connection.execute(text("PRAGMA foreign_key_check")).all()
            if broken:
                raise RuntimeError(f"{path}: {len(broken)} rows point nowhere after migration")
    finally:
        engine.dispose()


def open_database(path: Path) -> Engine:
    """Open a database file, made and migrated where needed."""
    path.parent.mkdir(parents=True, exist_ok=True)
    migrate(path)
    return _engine(path, foreign_keys=True)
