"""Revisions, undo and redo in a real PostgreSQL."""

from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import Engine, text

from knead.core.model import Drawing, Key, Layer, Scene
from knead.store.scenes import NotFound, Revision, SceneStore, Stale
from tests.forms import drawing, filled, star


@pytest.fixture
def store(engine: Engine) -> SceneStore:
    return SceneStore(engine)


def with_name(revision: Revision, name: str) -> Scene:
    return revision.scene.model_copy(update={"name": name})


def test_undo_and_redo_move_the_head_and_a_new_step_leaves_the_old_branch(store: SceneStore) -> None:
    first = store.create(Scene(name="a"), {}, "New")
    second = store.commit(first.number, with_name(first, "b"), {}, "Rename to b")
    back = store.undo(first.scene.id, second.number)
    assert (back.scene.name, back.undo, back.redo) == ("a", None, "Rename to b")
    assert store.undo(first.scene.id, back.number).number == back.number, "at the beginning it stays"
    again = store.redo(first.scene.id, back.number)
    assert (again.scene.name, again.undo, again.redo) == ("b", "Rename to b", None)
    back = store.undo(first.scene.id, again.number)
    other = store.commit(back.number, with_name(back, "c"), {}, "Rename to c")
    assert other.number > second.number, "numbers are never used twice"
    assert store.redo(first.scene.id, other.number).scene.name == "c"
    assert store.redo(first.scene.id, store.undo(first.scene.id, other.number).number).scene.name == "c"


def test_of_edits_on_the_same_revision_exactly_one_gets_through(store: SceneStore) -> None:
    base = store.create(Scene(name="race"), {}, "New")

    def attempt(k: int) -> bool:
        try:
            store.commit(base.number, with_name(base, f"writer {k}"), {}, "Rename")
        except Stale:
            return False
        return True

    with ThreadPoolExecutor(8) as pool:
        assert sum(pool.map(attempt, range(8))) == 1
    assert store.load(base.scene.id).number == base.number + 1


def test_drawings_are_kept_once_and_come_back_equal(store: SceneStore, engine: Engine) -> None:
    form = drawing(filled(star()))
    key = Key(frame=1, drawing=form.hash)
    scene = Scene(layers=(Layer(keys=(key,)),))
    first = store.create(scene, {form.hash: form}, "New")
    store.commit(first.number, with_name(first, "again"), {form.hash: form}, "Rename")
    with engine.connect() as connection:
        assert connection.scalar(text("SELECT count(*) FROM drawing WHERE hash = :h"), {"h": form.hash}) == 1
    (again,) = store.drawings([form.hash]).values()
    assert again == form
    assert again.hash == form.hash


def test_a_failed_commit_leaves_no_trace(store: SceneStore, engine: Engine) -> None:
    base = store.create(Scene(name="whole"), {}, "New")
    form = Drawing(shapes=(filled(star(7)),))
    with pytest.raises(Stale):
        store.commit(base.number + 5, with_name(base, "half"), {form.hash: form}, "Rename")
    assert store.load(base.scene.id) == base
    assert store.drawings([form.hash]) == {}


def test_a_deleted_scene_is_off_the_shelf_until_it_is_restored(store: SceneStore) -> None:
    scene = store.create(Scene(name="gone"), {}, "New").scene
    store.set_deleted(scene.id, True)
    assert scene.id not in {r.scene.id for r in store.all()}
    with pytest.raises(NotFound):
        store.load(scene.id)
    with pytest.raises(NotFound):
        store.scene(scene.id)
    store.set_deleted(scene.id, False)
    assert store.load(scene.id).scene == store.scene(scene.id) == scene
