"""The tables: drawings by content hash, numbered scene revisions, and export jobs."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, LargeBinary, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Declarative base."""

    type_annotation_map = {dict[str, Any]: JSONB, bytes: LargeBinary}


class DrawingRow(Base):
    """A drawing, stored once under the hash of its content; never changed."""

    __tablename__ = "drawing"

    hash: Mapped[str] = mapped_column(primary_key=True)
    body: Mapped[dict[str, Any]]


class SceneRow(Base):
    """A scene: which revision is its head, and the last number given out (numbers are never used twice)."""

    __tablename__ = "scene"

    id: Mapped[str] = mapped_column(primary_key=True)
    head: Mapped[int]
    last: Mapped[int]
    deleted: Mapped[bool] = mapped_column(default=False)
    changed: Mapped[datetime] = mapped_column(server_default=func.now(), onupdate=func.clock_timestamp())


class RevisionRow(Base):
    """One state of a scene and the label of the step that led to it; `previous` is what undo goes to."""

    __tablename__ = "revision"

    scene_id: Mapped[str] = mapped_column(ForeignKey("scene.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    previous: Mapped[int | None]
    label: Mapped[str]
    body: Mapped[dict[str, Any]]


class ExportRow(Base):
    """An export job, its progress, and the file when it is done."""

    __tablename__ = "export"

    id: Mapped[str] = mapped_column(primary_key=True)
    scene_id: Mapped[str] = mapped_column(ForeignKey("scene.id"))
    revision: Mapped[int]
    options: Mapped[dict[str, Any]]
    state: Mapped[str] = mapped_column(default="waiting")
    progress: Mapped[float] = mapped_column(default=0.0)
    message: Mapped[str] = mapped_column(default="")
    file_name: Mapped[str] = mapped_column(default="")
    file: Mapped[bytes | None] = mapped_column(default=None, deferred=True)
    made: Mapped[datetime] = mapped_column(server_default=func.now())
