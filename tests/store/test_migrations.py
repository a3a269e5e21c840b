"""Scenes that an older Knead kept are still there, whole."""

import json

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, text

from knead.core.model import Drawing
from knead.store.database import MIGRATIONS, ensure_database, migrate
from knead.store.scenes import SceneStore
from tests.forms import drawing, filled, star


def test_drawings_that_were_kept_whole_are_kept_shape_by_shape(server: str) -> None:
    engine = create_engine(ensure_database(server, "knead_old", fresh=True))
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    form = drawing(filled(star()), filled(star(4)))
    scene = {"id": "s", "layers": [{"id": "l", "keys": [{"id": "k", "frame": 1, "drawing": "of old"}]}]}
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0002")
        keep = text("insert into drawing (hash, body) values ('of old', :body)")
        connection.execute(keep, {"body": form.model_dump_json()})
        connection.execute(text("insert into scene (id, head, last, deleted) values ('s', 1, 1, false)"))
        revise = text("insert into revision (scene_id, number, label, body) values ('s', 1, 'Bring in', :body)")
        connection.execute(revise, {"body": json.dumps(scene)})
    migrate(engine)
    store = SceneStore(engine)
    (name,) = store.load("s").scene.drawing_hashes()
    assert store.drawings([name]) == {form.hash: Drawing.model_validate(form.model_dump())}
    engine.dispose()
