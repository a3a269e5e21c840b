"""The tables: shapes, drawings and images by content hash, numbered scene revisions, and export jobs."""

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, LargeBinary, Text, func
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Declarative base."""

    type_annotation_map = {dict[str, Any]: JSONB, list[str]: ARRAY(Text), bytes: LargeBinary}


class ShapeRow(Base):
    """A shape, stored once under the hash of its content; never changed."""

    __tablename__ = "shape"

    hash: Mapped[str] = mapped_column(primary_key=True)
    body: Mapped[dict[str, Any]]


class DrawingRow(Base):
    """A drawing as the hashes of its shapes from back to front, under the hash of them all; never changed."""

    __tablename__ = "drawing"

    hash: Mapped[str] = mapped_column(primary_key=True)
    shapes: Mapped[list[str]]


class ImageRow(Base):
    """An image file, stored once under the hash of its bytes; never changed."""

    __tablename__ = "image"

    hash: Mapped[str] = mapped_column(primary_key=True)
    type: Mapped[str]
    data: Mapped[bytes]


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
