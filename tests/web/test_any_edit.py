"""Any edits over HTTP: answered whole or refused in words, undone to what was, done again to what became of it."""

import base64
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given, settings
from hypothesis import strategies as st

from knead.core.edit import Work
from knead.core.model import Image, SceneBundle
from knead.formats.bundle import read_bundle, write_bundle
from tests.edits import any_edit, start
from tests.examples import few
from tests.web.test_api import opened
from tests.web.test_drawing import keep, picture


def brought_in(web: TestClient) -> str:
    """A scene of a bit of everything; its id."""
    data = picture("png")
    image = keep(web, "rough.png", data).json()["image"]
    work = start(image)
    kept = Image(type="image/png", data=base64.b64encode(data))
    bundle = SceneBundle(scene=work.scene, drawings={**work.drawings}, images={image: kept})
    made = web.post("/api/scenes/files", files=[("files", ("any.knead.json", write_bundle(bundle)))])
    assert made.status_code == 201, made.text
    scene: str = made.json()["scene"]["id"]
    return scene


def content(web: TestClient, scene: str) -> tuple[dict[str, Any], dict[str, Any]]:
    """All that is in a scene: itself and its drawings."""
    view = opened(web, scene)
    return view["scene"], view["drawings"]


@given(st.data())
@settings(few, report_multiple_bugs=False)
def test_any_edits_are_kept_undone_and_done_again(web: TestClient, data: st.DataObject) -> None:
    scene = brought_in(web)
    states = [content(web, scene)]
    for _ in range(data.draw(st.integers(2, 7))):
        bundle = read_bundle(web.get(f"/api/scenes/{scene}/bundle").content)
        edit = data.draw(any_edit(Work(bundle.scene, bundle.drawings)))
        body = {"base": opened(web, scene)["revision"], "operation": edit.model_dump(mode="json")}
        answer = web.post(f"/api/scenes/{scene}/edits", json=body)
        assert answer.status_code in (200, 422), answer.text
        if answer.status_code == 422:
            assert answer.json()["detail"].endswith(".")
            assert content(web, scene) == states[-1]
        else:
            states.append(content(web, scene))
            assert states[-1][0] == answer.json()["scene"]
            assert_shown(web, answer.json()["scene"])
    for state in reversed(states[:-1]):
        stepped(web, scene, "undo")
        assert content(web, scene) == state
    assert opened(web, scene)["undo"] is None
    for state in states[1:]:
        stepped(web, scene, "redo")
        assert content(web, scene) == state
    assert opened(web, scene)["redo"] is None


def assert_shown(web: TestClient, scene: dict[str, Any]) -> None:
    """Every span can be looked at, and every frame is a picture."""
    for layer in scene["layers"]:
        for key in layer["keys"][:-1]:
            answer = web.get(f"/api/scenes/{scene['id']}/spans/{key['id']}")
            assert answer.status_code == 200, answer.text
            assert len(answer.json()["frames"]) == len(answer.json()["order"])
    for frame in (1, 7, scene["length"]):
        answer = web.get(f"/api/scenes/{scene['id']}/picture", params={"frame": frame, "width": 120, "r": 0})
        assert answer.status_code == 200, answer.text


def stepped(web: TestClient, scene: str, way: str) -> None:
    answer = web.post(f"/api/scenes/{scene}/{way}", json={"base": opened(web, scene)["revision"]})
    assert answer.status_code == 200, answer.text
