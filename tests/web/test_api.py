"""The HTTP face, on a real database, with the real export worker."""

import json
import subprocess
import time
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from knead.formats.bundle import write_bundle
from knead.service.demo import DEMO, read_demo
from tests.conftest import ROOT


@pytest.fixture
def pond(web: TestClient) -> dict[str, Any]:
    bundle = read_demo(DEMO / "pond-at-dusk")
    made = web.post("/api/scenes/files", files=[("files", ("pond.knead.json", write_bundle(bundle)))])
    assert made.status_code == 201
    return opened(web, made.json()["scene"]["id"])


def opened(web: TestClient, scene: str) -> dict[str, Any]:
    found: dict[str, Any] = web.get(f"/api/scenes/{scene}").json()
    return found


def tadpole(view: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = next(layer for layer in view["scene"]["layers"] if layer["name"] == "tadpole")
    return found


def edit(web: TestClient, view: dict[str, Any], **operation: Any) -> Any:
    body = {"base": view["revision"], "operation": operation}
    return web.post(f"/api/scenes/{view['scene']['id']}/edits", json=body)


def test_an_edit_answers_with_the_next_revision_and_only_the_new_drawings(
    web: TestClient, pond: dict[str, Any]
) -> None:
    key = tadpole(pond)["keys"][0]
    shape = pond["drawings"][key["drawing"]]["shapes"][3]["id"]
    answer = edit(web, pond, type="transform_shapes", key=key["id"], shapes=[shape], matrix=[1, 0, 0, 1, 5, 0]).json()
    assert answer["revision"] == pond["revision"] + 1
    assert answer["undo"] == "Move"
    (part,) = answer["drawings"].values()
    assert list(answer["drawings"]) == [tadpole(answer)["keys"][0]["drawing"]]
    assert part["base"] == key["drawing"]
    assert [s["id"] for s in part["shapes"]] == [shape], "of the drawing, only what changed"
    undone = web.post(f"/api/scenes/{pond['scene']['id']}/undo", json={"base": answer["revision"]}).json()
    assert undone["scene"] == pond["scene"]
    assert undone["redo"] == "Move"


def test_a_stale_edit_gets_409_and_changes_nothing(web: TestClient, pond: dict[str, Any]) -> None:
    edit(web, pond, type="set_scene", name="first")
    late = edit(web, pond, type="set_scene", name="late")
    assert late.status_code == 409
    assert late.headers["content-type"] == "application/problem+json"
    assert "nothing is lost" in late.json()["detail"]
    assert opened(web, pond["scene"]["id"])["scene"]["name"] == "first"


def test_a_preview_shows_the_edit_of_its_revision_and_keeps_nothing(web: TestClient, pond: dict[str, Any]) -> None:
    key, scene = tadpole(pond)["keys"][0]["id"], pond["scene"]["id"]
    before = web.get(f"/api/scenes/{scene}/spans/{key}").json()
    ease = {"type": "set_ease", "key": key, "ease": {"out": 1, "into": 1}}
    asked = {"base": pond["revision"], "operation": ease, "key": key}
    tried = web.post(f"/api/scenes/{scene}/preview", json=asked).json()
    assert tried["places"] != before["places"]
    assert tried["tracks"][0]["points"][0] == before["tracks"][0]["points"][0]
    unseen = web.post(f"/api/scenes/{scene}/preview", json={**asked, "look": False}).json()
    assert unseen == {**tried, "found": None}
    assert web.get(f"/api/scenes/{scene}/spans/{key}").json() == before
    assert opened(web, scene)["revision"] == pond["revision"]
    held = edit(web, pond, type="set_blend", key=key, blend="direct").json()
    later = web.post(f"/api/scenes/{scene}/preview", json={**asked, "base": held["revision"]}).json()
    assert later["take"]["blend"] == "direct"
    assert web.post(f"/api/scenes/{scene}/preview", json=asked).json() == tried


def test_a_span_comes_in_one_answer_compressed_and_is_not_sent_twice(web: TestClient, pond: dict[str, Any]) -> None:
    key, scene = tadpole(pond)["keys"][0]["id"], pond["scene"]["id"]
    first = web.get(f"/api/scenes/{scene}/spans/{key}")
    span = first.json()
    assert first.headers["content-encoding"] == "gzip"
    assert (len(span["frames"]), len(span["tracks"])) == (13, 20)
    lengths = {len(row) for row in span["tracks"][0]["points"]}
    assert lengths == {6 * sum(c["nodes"] for c in span["tracks"][0]["contours"])}
    again = web.get(f"/api/scenes/{scene}/spans/{key}", headers={"If-None-Match": first.headers["etag"]})
    assert (again.status_code, again.content) == (304, b"")


def test_files_to_save_are_named_after_what_is_in_them(web: TestClient, pond: dict[str, Any]) -> None:
    address = f"/api/scenes/{pond['scene']['id']}"
    sheet = web.get(f"{address}/spans/{tadpole(pond)['keys'][0]['id']}/sheet")
    assert sheet.headers["content-type"].startswith("image/svg+xml")
    assert sheet.headers["content-disposition"].endswith("''pond-at-dusk-tadpole-1-13.svg")
    bundle = web.get(f"{address}/bundle")
    assert bundle.headers["content-disposition"].endswith("''pond-at-dusk.knead.json")
    last = web.get(f"{address}/spans/{tadpole(pond)['keys'][-1]['id']}/sheet")
    assert last.headers["content-type"] == "application/problem+json"


def test_the_picture_of_a_scene_is_drawn_again_only_after_an_edit(web: TestClient, pond: dict[str, Any]) -> None:
    address = f"/api/scenes/{pond['scene']['id']}/picture?frame=3"
    first = web.get(address)
    seen = {"If-None-Match": first.headers["etag"]}
    assert web.get(address, headers=seen).status_code == 304
    edit(web, pond, type="set_scene", width=700)
    after = web.get(address, headers=seen)
    assert (after.status_code, after.content != first.content) == (200, True)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Host": "evil.example"}, 421),
        ({"Host": "127.0.0.1.evil.example:8420"}, 421),
        ({"Origin": "http://evil.example"}, 403),
        ({"Origin": "http://127.0.0.1:9999"}, 403),
        ({"Origin": "null"}, 403),
        ({"Content-Length": str(10**9)}, 413),
        ({"Origin": "http://127.0.0.1:8420"}, 200),
        ({"Host": "localhost:8420"}, 200),
    ],
)
def test_only_this_machines_own_pages_are_answered(web: TestClient, headers: dict[str, str], status: int) -> None:
    assert web.get("/api/scenes", headers=headers).status_code == status


def test_bad_requests_get_a_sentence_not_a_stack_trace(web: TestClient, pond: dict[str, Any]) -> None:
    answers = [
        edit(web, pond, type="fly_away"),
        edit(web, pond, type="remove_key", key="nowhere"),
        edit(web, pond, type="set_scene", rate=-3),
        web.get("/api/scenes/nowhere"),
        web.get("/api/exports/nowhere/file"),
        web.post("/api/scenes/files", files=[("files", ("x.svg", b"<svg"))]),
        web.post("/api/scenes/files", files=[("files", ("x.json", b"{}"))]),
        web.post("/api/scenes", content=b"{", headers={"Content-Type": "application/json"}),
    ]
    for answer in answers:
        assert 400 <= answer.status_code < 500
        assert answer.headers["content-type"] == "application/problem+json"
        assert answer.json()["detail"].rstrip().endswith((".", ")", "?"))


def test_two_svg_files_become_the_keys_of_a_morph_and_losses_are_told(web: TestClient) -> None:
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="%s">%s</svg>'
    one = svg % (b"10 10 80 80", b'<rect x="20" y="20" width="9" height="9"/><text>x</text>')
    two = svg % (b"0 0 80 80", b'<circle cx="40" cy="40" r="9"/>')
    made = web.post("/api/scenes/files", files=[("files", ("frog.svg", one)), ("files", ("toad.svg", two))]).json()
    assert made["lost"] == ["frog.svg: text (turn it into outlines first): 1"]
    assert made["scene"]["name"] == "frog to toad"
    view = opened(web, made["scene"]["id"])
    (layer,) = view["scene"]["layers"]
    assert [(k["frame"], k["span"]["inbetween"]) for k in layer["keys"]] == [(1, True), (13, False)]
    (shape,) = view["drawings"][layer["keys"][0]["drawing"]]["shapes"]
    assert shape["contours"][0]["nodes"][0]["at"] == [10, 10], "the scene begins where the canvas begins"
    assert shape["name"] == "shape 1", "what has no name in the file can be told from the next"


def finished(web: TestClient, job: str) -> Any:
    end = time.monotonic() + 60
    while time.monotonic() < end:
        answer = web.get(f"/api/exports/{job}").json()
        if answer["state"] not in {"waiting", "running"}:
            return answer
    raise AssertionError("the export did not end within a minute")


def test_an_export_runs_as_a_job_and_its_file_can_be_fetched(web: TestClient, pond: dict[str, Any]) -> None:
    order = {"format": "animated-svg", "first": 1, "last": 13}
    job = web.post(f"/api/scenes/{pond['scene']['id']}/exports", json=order).json()
    assert finished(web, job["id"])["state"] == "done"
    file = web.get(f"/api/exports/{job['id']}/file")
    assert file.headers["content-type"].startswith("image/svg+xml")
    assert b"<animate" in file.content


def test_a_cancelled_export_stops_and_has_no_file(web: TestClient, pond: dict[str, Any]) -> None:
    order = {"format": "png-sequence", "width": 4000, "first": 1, "last": 48}
    job = web.post(f"/api/scenes/{pond['scene']['id']}/exports", json=order).json()
    assert web.post(f"/api/exports/{job['id']}/cancel").json()["state"] == "cancelled"
    assert web.get(f"/api/exports/{job['id']}/file").status_code == 404
    small = web.post(
        f"/api/scenes/{pond['scene']['id']}/exports", json={"format": "gif", "width": 32, "last": 2}
    ).json()
    assert finished(web, small["id"])["state"] == "done", "the worker is free again"


def test_a_duplicate_is_a_scene_of_its_own_and_delete_can_be_taken_back(web: TestClient, pond: dict[str, Any]) -> None:
    scene = pond["scene"]["id"]
    copy = web.post(f"/api/scenes/{scene}/copy").json()
    edit(web, opened(web, copy["id"]), type="set_scene", name="other pond")
    assert opened(web, scene)["scene"]["name"] == "Pond at dusk"
    web.delete(f"/api/scenes/{scene}")
    assert web.get(f"/api/scenes/{scene}").status_code == 404
    web.post(f"/api/scenes/{scene}/restore")
    assert opened(web, scene) == pond


def test_the_generated_types_are_current(tmp_path: Path, web: TestClient) -> None:
    (tmp_path / "openapi.json").write_text(json.dumps(web.get("/api/openapi.json").json(), sort_keys=True))
    tool = ROOT / "frontend" / "node_modules" / ".bin" / "openapi-typescript"
    subprocess.run([tool, tmp_path / "openapi.json", "-o", tmp_path / "schema.d.ts"], check=True, capture_output=True)

    def entries(path: Path) -> list[str]:
        return sorted(path.read_text().splitlines())

    assert entries(tmp_path / "schema.d.ts") == entries(ROOT / "frontend" / "src" / "api" / "schema.d.ts")
