"""A data folder as the first landed version left it, and looking whether it came along whole."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from rhombex.store.designs import Designs

_FIRST = """
CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL); INSERT INTO alembic_version VALUES ('0001');
CREATE TABLE design (id VARCHAR NOT NULL, name VARCHAR NOT NULL, cursor INTEGER NOT NULL, version INTEGER NOT NULL,
 created_at DATETIME NOT NULL, CONSTRAINT pk_design PRIMARY KEY (id));
CREATE TABLE revision (id INTEGER NOT NULL, design_id VARCHAR NOT NULL, number INTEGER NOT NULL, parent INTEGER NOT NULL,
 said VARCHAR NOT NULL, edit VARCHAR NOT NULL, document VARCHAR NOT NULL, kept_name VARCHAR, created_at DATETIME NOT NULL,
 CONSTRAINT pk_revision PRIMARY KEY (id), CONSTRAINT uq_revision_design_id UNIQUE (design_id, number),
 CONSTRAINT fk_revision_design_id_design FOREIGN KEY(design_id) REFERENCES design (id) ON DELETE CASCADE);
CREATE INDEX ix_revision_design_id ON revision (design_id);
"""


def first_shelf(path: Path, documents: dict[str, list[str]]) -> None:
    """Make a database file of the first schema: for each design the documents of its revisions, standing at the last one."""
    c = sqlite3.connect(path)
    c.executescript(_FIRST)
    for id, revisions in documents.items():
        c.execute("INSERT INTO design VALUES (?, 'Old', ?, 1, '2026-01-01 00:00:00.000000')", (id, len(revisions)))
        for k, document in enumerate(revisions, 1):
            c.execute(
                "INSERT INTO revision VALUES (NULL, ?, ?, ?, 'start', '{}', ?, NULL, '2026-01-01 00:00:00.000000')",
                (id, k, k - 1, document),
            )
    c.commit()
    c.close()


def not_brought_along(path: Path, documents: dict[str, list[str]]) -> list[str]:
    """What of a first shelf is not there, word for word, once it is opened."""
    shelf = Designs(path)
    with shelf.engine.connect() as c:
        whole = c.exec_driver_sql("PRAGMA integrity_check").scalar_one()
        kept = c.exec_driver_sql("SELECT design_id, number, document FROM revision").all()
        left = c.exec_driver_sql("SELECT name FROM sqlite_master WHERE name LIKE '_alembic_tmp%'").all()
    on_shelf = {x.id for x in shelf.shelf()[0]}
    shelf.close()
    there = {(id, number): document for id, number, document in kept}
    wrong = [] if whole == "ok" else ["integrity"]
    wrong += [f"left over: {x}" for (x,) in left]
    wrong += [f"design {id}" for id in documents if id not in on_shelf]
    for id, revisions in documents.items():
        wrong += [f"{id} {k}" for k, document in enumerate(revisions, 1) if there.get((id, k)) != document]
    return wrong
