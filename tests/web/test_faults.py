"""When the database is full or gone, or an export fails: a clear sentence, and nothing that was done is lost."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import psycopg
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, event, text

from knead.service import jobs
from knead.service.render import ExportOptions
from tests.web.test_api import edit, finished, opened


@contextmanager
def failing(engine: Engine, statement: str, error: Exception) -> Iterator[None]:
    """While this lasts, the database refuses statements that begin so."""

    def refuse(_conn: Any, _cursor: Any, sql: str, *_: Any) -> None:
        if sql.startswith(statement):
            raise error

    event.listen(engine, "before_cursor_execute", refuse)
    try:
        yield
    finally:
        event.remove(engine, "before_cursor_execute", refuse)


@pytest.fixture
def scene(web: TestClient) -> dict[str, Any]:
    return opened(web, web.post("/api/scenes", json={"name": "Rain"}).json()["id"])


def draw(web: TestClient, view: dict[str, Any]) -> Any:
    key = view["scene"]["layers"][0]["keys"][0]["id"]
    return edit(web, view, type="add_form", key=key, form="star", x=5, y=5, width=40, height=40)


def the_engine(web: TestClient) -> Engine:
    engine: Engine = web.app.state.studio.store._engine  # type: ignore[attr-defined]
    return engine


def test_a_full_disk_is_told_and_the_scene_is_as_it_was(web: TestClient, scene: dict[str, Any]) -> None:
    full = psycopg.errors.DiskFull("could not extend file: No space left on device")
    with failing(the_engine(web), "INSERT INTO revision", full):
        answer = draw(web, scene)
    assert answer.status_code == 503
    assert answer.json()["detail"].startswith("The disk is full. This change is not saved")
    assert opened(web, scene["scene"]["id"]) == scene
    assert draw(web, scene).status_code == 200, "the same edit goes through once there is room"


def test_a_lost_connection_is_told_and_the_edit_can_be_sent_again(web: TestClient, scene: dict[str, Any]) -> None:
    lost = psycopg.OperationalError("server closed the connection unexpectedly")
    with failing(the_engine(web), "SELECT", lost):
        answer = draw(web, scene)
    assert answer.status_code == 503
    assert answer.json()["detail"].startswith("The database can't be reached.")
    assert draw(web, scene).json()["revision"] == scene["revision"] + 1


def test_connections_that_were_cut_are_made_anew_without_anybody_noticing(
    web: TestClient, scene: dict[str, Any], engine: Engine
) -> None:
    cut = text(
        "SELECT pg_terminate_backend(pid) FROM pg_stat_activity "
        "WHERE datname = current_database() AND pid <> pg_backend_pid() AND state = 'idle' AND query NOT LIKE 'LISTEN%'"
    )
    with engine.connect() as connection:
        connection.execute(cut)
    assert draw(web, scene).status_code == 200
    assert opened(web, scene["scene"]["id"])["revision"] == scene["revision"] + 1


@pytest.mark.parametrize(
    ("error", "sentence"),
    [
        (MemoryError(), "There is not enough memory for this size; choose a smaller width or fewer frames."),
        (ZeroDivisionError(), "The export failed (ZeroDivisionError). The scene is safe;"),
    ],
)
def test_an_export_that_fails_says_what_to_do_and_the_next_one_runs(
    web: TestClient, scene: dict[str, Any], monkeypatch: pytest.MonkeyPatch, error: Exception, sentence: str
) -> None:
    def fail(*_: Any) -> bytes:
        raise error

    desk = web.app.state.exports  # type: ignore[attr-defined]
    options = ExportOptions(format="gif", width=32, last=2).model_dump(mode="json")
    # not queued: another worker on this database would do it well
    export = desk.store.create(scene["scene"]["id"], scene["revision"], options)
    with monkeypatch.context() as broken:
        broken.setattr(jobs, "render", fail)
        desk.do(export.id)
    ended = web.get(f"/api/exports/{export.id}").json()
    assert ended["state"] == "failed"
    assert ended["message"].startswith(sentence)
    assert web.get(f"/api/exports/{export.id}/file").status_code == 404
    order = {"format": "gif", "width": 32, "last": 2}
    next_one = web.post(f"/api/scenes/{scene['scene']['id']}/exports", json=order).json()
    assert finished(web, next_one["id"])["state"] == "done"
