"""Exporting a scene bundle straight to a file, without a queue."""

import os
import tempfile
from pathlib import Path

from knead.core.model import SceneBundle
from knead.service.plans import PlanCache
from knead.service.render import ExportOptions, render
from knead.service.studio import Studio
from knead.store.database import engine_for, migrate


def export_bundle(bundle: SceneBundle, options: ExportOptions, out: Path) -> None:
    """Render into `out`, whole or not at all. Raises OSError."""
    plans = PlanCache()
    data = render(
        bundle.scene,
        bundle.drawings,
        lambda a, b: plans.get(a.id, bundle.drawings[a.drawing], bundle.drawings[b.drawing], a.span.take),
        options,
    )
    with tempfile.NamedTemporaryFile(dir=out.absolute().parent, delete=False, suffix=".part") as part:
        part.write(data)
    os.chmod(part.name, 0o644)
    os.replace(part.name, out)


def find_scene(address: str, name: str) -> SceneBundle:
    """The scene with this id or name in a database. Raises LookupError with a sentence."""
    engine = engine_for(address)
    migrate(engine)
    studio = Studio(engine)
    for revision in studio.store.all():
        if name in (revision.scene.id, revision.scene.name):
            return studio.bundle(revision.scene.id)
    raise LookupError(f"'{name}' is neither a file nor the name of a scene.")
