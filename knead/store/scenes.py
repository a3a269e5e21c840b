"""Scenes in the database: revisions that only move forward, and a head that undo and redo move."""

import hashlib
from collections.abc import Callable, Iterable, Iterator, Mapping, Set
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, TypeVar

from sqlalchemy import ARRAY, Engine, Text, any_, literal, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from knead.core.model import Drawing, Image, Scene, Shape
from knead.store.tables import DrawingRow, ImageRow, RevisionRow, SceneRow, ShapeRow

Hashed = TypeVar("Hashed", Shape, Drawing)
NO_SCENE = "This scene does not exist; it may have been deleted."


class NotFound(LookupError):
    """No such thing in the store; the message is a sentence."""


class Stale(RuntimeError):
    """An edit was made on a revision that is no longer the head."""


@dataclass(frozen=True)
class Revision:
    """A scene as of a revision, with the labels of the steps that undo and redo would take, if there are any."""

    scene: Scene
    number: int
    undo: str | None
    redo: str | None


class SceneStore:
    """Reads and writes scenes and drawings. Every method is one transaction."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    @contextmanager
    def _session(self) -> Iterator[Session]:
        with Session(self._engine) as session, session.begin():
            yield session

    def all(self) -> list[Revision]:
        """The heads of all scenes that are not deleted, the last changed first."""
        with self._session() as session:
            rows = session.scalars(
                select(SceneRow).where(~SceneRow.deleted).order_by(SceneRow.changed.desc(), SceneRow.id)
            )
            return [self._revision(session, row) for row in rows]

    def is_empty(self) -> bool:
        """Whether there never was a scene, deleted ones counted."""
        with self._session() as session:
            return session.scalars(select(SceneRow.id).limit(1)).first() is None

    def create(self, scene: Scene, drawings: Mapping[str, Drawing], label: str) -> Revision:
        """Keep a new scene; its id must be new."""
        with self._session() as session:
            _keep_drawings(session, drawings)
            row = SceneRow(id=scene.id, head=1, last=1)
            session.add(row)
            session.flush()
            session.add(_revision_row(scene, 1, None, label))
            session.flush()
            return self._revision(session, row)

    def load(self, scene_id: str) -> Revision:
        """The head of a scene. Raises NotFound."""
        with self._session() as session:
            return self._revision(session, _scene_row(session, scene_id))

    def scene(self, scene_id: str) -> Scene:
        """A scene as its head has it: `load` without what undo and redo would do. Raises NotFound."""
        with self._session() as session:
            head = (RevisionRow.scene_id == SceneRow.id) & (RevisionRow.number == SceneRow.head)
            wanted = select(RevisionRow.body).join(SceneRow, head).where(SceneRow.id == scene_id, ~SceneRow.deleted)
            body = session.scalar(wanted)
            if body is None:
                raise NotFound(NO_SCENE)
            return Scene.model_validate(body)

    def load_number(self, scene_id: str, number: int) -> Scene:
        """The scene as of a revision. Raises NotFound."""
        with self._session() as session:
            row = session.get(RevisionRow, (scene_id, number))
            if row is None:
                raise NotFound("This state of the scene does not exist.")
            return Scene.model_validate(row.body)

    def drawings(self, hashes: Iterable[str]) -> dict[str, Drawing]:
        """The drawings with these hashes."""
        with self._session() as session:
            rows = session.execute(
                select(DrawingRow.hash, DrawingRow.shapes).where(DrawingRow.hash.in_(list(hashes)))
            ).all()
            wanted = {name for _, names in rows for name in names}
            found = session.execute(select(ShapeRow.hash, ShapeRow.body).where(ShapeRow.hash == _any_of(wanted)))
            shapes = {name: _known_as(name, Shape.model_validate(body)) for name, body in found}
            return {row: _known_as(row, Drawing(shapes=tuple(shapes[name] for name in names))) for row, names in rows}

    def keep_image(self, image: Image) -> str:
        """Keep an image; its hash."""
        name = hashlib.sha256(image.data).hexdigest()
        with self._session() as session:
            row = {"hash": name, "type": image.type, "data": image.data}
            session.execute(insert(ImageRow).on_conflict_do_nothing(), [row])
        return name

    def image(self, name: str) -> Image:
        """The image with this hash. Raises NotFound."""
        with self._session() as session:
            row = session.get(ImageRow, name)
            if row is None:
                raise NotFound("This picture does not exist.")
            return Image.model_construct(type=row.type, data=row.data)

    def commit(
        self, base: int, scene: Scene, fresh: Mapping[str, Drawing], label: str, kept: Set[str] = frozenset()
    ) -> Revision:
        """Make a new head out of `scene`, edited on revision `base`. Raises Stale when the head is another by now.

        `kept` are hashes of shapes that were read from here, so that an edit asks only for what it changed.
        """
        with self._session() as session:
            row = _scene_row(session, scene.id, lock=True)
            if row.head != base:
                raise Stale
            _keep_drawings(session, fresh, kept)
            row.last += 1
            session.add(_revision_row(scene, row.last, row.head, label))
            row.head = row.last
            session.flush()
            return self._revision(session, row)

    def undo(self, scene_id: str, base: int) -> Revision:
        """Move the head one step back; at the beginning it stays. Raises Stale."""
        return self._move(
            scene_id, base, lambda session, row: session.get_one(RevisionRow, (row.id, row.head)).previous
        )

    def redo(self, scene_id: str, base: int) -> Revision:
        """Move the head to the newest step made from it; with none it stays. Raises Stale."""

        def following(session: Session, row: SceneRow) -> int | None:
            after = _redo_row(session, row)
            return after.number if after else None

        return self._move(scene_id, base, following)

    def _move(self, scene_id: str, base: int, target: Callable[[Session, SceneRow], int | None]) -> Revision:
        with self._session() as session:
            row = _scene_row(session, scene_id, lock=True)
            if row.head != base:
                raise Stale
            row.head = target(session, row) or row.head
            session.flush()
            return self._revision(session, row)

    def set_deleted(self, scene_id: str, deleted: bool) -> None:
        """Take a scene off the shelf, or put it back. Nothing of it is lost. Raises NotFound."""
        with self._session() as session:
            row = session.get(SceneRow, scene_id)
            if row is None:
                raise NotFound("This scene does not exist.")
            row.deleted = deleted

    def _revision(self, session: Session, row: SceneRow) -> Revision:
        head = session.get_one(RevisionRow, (row.id, row.head))
        after = _redo_row(session, row)
        undo = head.label if head.previous is not None else None
        return Revision(Scene.model_validate(head.body), row.head, undo, after.label if after else None)


def _scene_row(session: Session, scene_id: str, lock: bool = False) -> SceneRow:
    row = session.get(SceneRow, scene_id, with_for_update=lock)
    if row is None or row.deleted:
        raise NotFound(NO_SCENE)
    return row


def _redo_row(session: Session, row: SceneRow) -> RevisionRow | None:
    newest = select(RevisionRow).where(RevisionRow.scene_id == row.id, RevisionRow.previous == row.head)
    return session.scalars(newest.order_by(RevisionRow.number.desc()).limit(1)).first()


def _revision_row(scene: Scene, number: int, previous: int | None, label: str) -> RevisionRow:
    return RevisionRow(
        scene_id=scene.id, number=number, previous=previous, label=label, body=scene.model_dump(mode="json")
    )


def _known_as(name: str, kept: Hashed) -> Hashed:
    """What was kept under this hash need not be hashed anew: it took most of the first edit of a large key."""
    kept.__dict__["hash"] = name
    return kept


def _any_of(names: Iterable[str]) -> Any:
    """One parameter for any number of names."""
    return any_(literal(list(names), ARRAY(Text)))


def _keep_drawings(session: Session, drawings: Mapping[str, Drawing], kept: Set[str] = frozenset()) -> None:
    """Keep drawings, and those of their shapes that are not kept yet."""
    if not drawings:
        return
    shapes = {s.hash: s for drawing in drawings.values() for s in drawing.shapes if s.hash not in kept}
    known = set(session.scalars(select(ShapeRow.hash).where(ShapeRow.hash == _any_of(shapes))))
    fresh = [{"hash": k, "body": shape.model_dump(mode="json")} for k, shape in shapes.items() if k not in known]
    if fresh:
        session.execute(insert(ShapeRow).on_conflict_do_nothing(), fresh)
    rows = [{"hash": name, "shapes": [s.hash for s in drawing.shapes]} for name, drawing in drawings.items()]
    session.execute(insert(DrawingRow).on_conflict_do_nothing(), rows)
