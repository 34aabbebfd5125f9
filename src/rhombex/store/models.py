"""Tables: designs with every revision of each, the workshop, and what was set aside."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, Index, MetaData, UniqueConstraint, text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

CONVENTION = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


class Base(DeclarativeBase):
    metadata = MetaData(naming_convention=CONVENTION)


class DesignRow(Base):
    """A design: where it stands now (`cursor`), and a `version` that grows with every change, undo included.

    `printer`: of the document as it stands, so that nobody reads all of them. `deleted_at`: in the bin since. `sound`: digest
    of the document that was last found readable, with the rules it was read by.
    """

    __tablename__ = "design"
    id: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]
    cursor: Mapped[int] = mapped_column(default=0)
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime]
    printer: Mapped[str] = mapped_column(default="", server_default="")
    changed_at: Mapped[datetime | None]
    deleted_at: Mapped[datetime | None]
    sound: Mapped[str] = mapped_column(default="", server_default="")


class RevisionRow(Base):
    """A document with the edit that made it. `parent` 0 is the start. Numbers count up within a design."""

    __tablename__ = "revision"
    __table_args__ = (
        UniqueConstraint("design_id", "number"),
        Index("ix_revision_parent", "design_id", "parent", "number"),
        # a row's name stands behind its document: without this every document is passed to find one
        Index("ix_revision_kept", "design_id", "number", sqlite_where=text("kept_name IS NOT NULL")),
    )
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    design_id: Mapped[str] = mapped_column(ForeignKey("design.id", ondelete="CASCADE"))
    number: Mapped[int]
    parent: Mapped[int]
    said: Mapped[str]
    edit: Mapped[str]
    document: Mapped[str]
    kept_name: Mapped[str | None]
    created_at: Mapped[datetime]


class WorkshopRow(Base):
    """The one workshop: its document, the revision where it stands (`cursor`), and a `version` that grows with every change."""

    __tablename__ = "workshop"
    id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int]
    document: Mapped[str]
    cursor: Mapped[int] = mapped_column(default=0, server_default="0")


class ShopRevisionRow(Base):
    """A document of the workshop with the edits that made it. `parent` 0 is the start; only the newest are kept."""

    __tablename__ = "workshop_revision"
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    parent: Mapped[int]
    said: Mapped[str]
    edit: Mapped[str]
    document: Mapped[str]
    created_at: Mapped[datetime]


class AsideRow(Base):
    """A document that could not be read in full, kept as it was before something was written in its place."""

    __tablename__ = "aside"
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    what: Mapped[str]
    at: Mapped[datetime]
    document: Mapped[str]
