"""Export jobs in the database: any worker can take one, and the file lies with it."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, select, update
from sqlalchemy.orm import Session, undefer

from knead.core.model import new_id
from knead.store.scenes import NotFound
from knead.store.tables import ExportRow

OPEN = ("waiting", "running")


@dataclass(frozen=True)
class Export:
    """A job: state is waiting, running, done, failed or cancelled; progress 0 to 1."""

    id: str
    scene_id: str
    revision: int
    options: dict[str, Any]
    state: str
    progress: float
    message: str
    file_name: str


class ExportStore:
    """Reads and writes export jobs. Every method is one transaction."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def create(self, scene_id: str, revision: int, options: dict[str, Any]) -> Export:
        """A new job that waits."""
        with Session(self._engine) as session, session.begin():
            row = ExportRow(id=new_id(), scene_id=scene_id, revision=revision, options=options)
            session.add(row)
            session.flush()
            return _export(row)

    def load(self, export_id: str) -> Export:
        """The job. Raises NotFound."""
        with Session(self._engine) as session:
            row = session.get(ExportRow, export_id)
            if row is None:
                raise NotFound("This export does not exist.")
            return _export(row)

    def file(self, export_id: str) -> tuple[str, bytes]:
        """Name and content of a finished export. Raises NotFound."""
        with Session(self._engine) as session:
            query = select(ExportRow).where(ExportRow.id == export_id).options(undefer(ExportRow.file))
            row = session.scalars(query).first()
            if row is None or row.file is None:
                raise NotFound("This export has no file (yet).")
            return row.file_name, row.file

    def advance(self, export_id: str, progress: float) -> bool:
        """Note progress of a job; False when it was cancelled meanwhile."""
        return self._change(export_id, state="running", progress=progress)

    def finish(self, export_id: str, file_name: str, file: bytes) -> bool:
        """Lay the file with the job; False when it was cancelled meanwhile."""
        return self._change(export_id, state="done", progress=1.0, file_name=file_name, file=file)

    def fail(self, export_id: str, sentence: str) -> bool:
        """End a job with a sentence that says why."""
        return self._change(export_id, state="failed", message=sentence)

    def cancel(self, export_id: str) -> bool:
        """Cancel a job that is not over; False when it is."""
        return self._change(export_id, state="cancelled", message="Cancelled.")

    def _change(self, export_id: str, **values: Any) -> bool:
        query = update(ExportRow).where(ExportRow.id == export_id, ExportRow.state.in_(OPEN)).values(**values)
        with Session(self._engine) as session, session.begin():
            return bool(session.execute(query.returning(ExportRow.id)).first())


def _export(row: ExportRow) -> Export:
    return Export(row.id, row.scene_id, row.revision, row.options, row.state, row.progress, row.message, row.file_name)
