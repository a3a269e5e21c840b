"""Exports as jobs on the queue in PostgreSQL: taken by the server's own worker, or by `knead worker` elsewhere."""

import logging
from typing import Any

import procrastinate
from sqlalchemy import Engine

from knead.service.render import Cancelled, ExportOptions, file_name, render
from knead.service.studio import Studio
from knead.store.exports import Export, ExportStore

log = logging.getLogger(__name__)


class ExportDesk:
    """Takes orders for exports and does them."""

    def __init__(self, engine: Engine, studio: Studio) -> None:
        self.store = ExportStore(engine)
        self._studio = studio
        address = engine.url.set(drivername="postgresql").render_as_string(hide_password=False)
        self.queue = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=address))
        self._task = self.queue.task(name="export")(self.do)

    async def order(self, scene_id: str, revision: int, options: ExportOptions) -> Export:
        """Queue an export of a scene as it is at a revision."""
        export = self.store.create(scene_id, revision, options.model_dump(mode="json"))
        await self._task.defer_async(export_id=export.id)
        return export

    def do(self, export_id: str) -> None:
        """Render an export and lay the file with it; a failure becomes a sentence. Runs in a worker's thread."""
        export = self.store.load(export_id)
        options = ExportOptions.model_validate(export.options)

        def progress(share: float) -> None:
            if not self.store.advance(export_id, share):
                raise Cancelled

        try:
            scene = self._studio.store.load_number(export.scene_id, export.revision)
            drawings = self._studio.drawings(scene.drawing_hashes())
            data = render(scene, drawings, lambda a, b: self._studio.plan_of(drawings, a, b), options, progress)
            self.store.finish(export_id, file_name(scene, options), data)
        except Cancelled:
            log.info("export %s was cancelled", export_id)
        except Exception as error:
            log.exception("export %s failed", export_id)
            self.store.fail(export_id, _sentence(error))

    async def work(self, **options: Any) -> None:
        """Take jobs until cancelled."""
        await self.queue.run_worker_async(concurrency=1, install_signal_handlers=False, **options)


def _sentence(error: Exception) -> str:
    if isinstance(error, MemoryError):
        return "There is not enough memory for this size; choose a smaller width or fewer frames."
    return f"The export failed ({type(error).__name__}). The scene is safe; try a smaller width or another format."
