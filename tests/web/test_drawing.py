"""What the Draw view asks for besides edits: trials, pictures to draw over, SVG files as keys."""

import io
from typing import Any

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.web.test_api import edit, opened

SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><rect width="40" height="20" fill="#123456"/></svg>'


@pytest.fixture
def scene(web: TestClient) -> dict[str, Any]:
    return opened(web, web.post("/api/scenes", json={"name": "Reeds"}).json()["id"])


def key_of(view: dict[str, Any]) -> str:
    found: str = view["scene"]["layers"][0]["keys"][0]["id"]
    return found


def picture(kind: str, width: int = 30, height: int = 20) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#88aa77").save(out, kind)
    return out.getvalue()


def keep(web: TestClient, name: str, data: bytes) -> Any:
    return web.post("/api/images", files={"file": (name, data)})


def test_a_trial_says_what_would_change_and_keeps_nothing(web: TestClient, scene: dict[str, Any]) -> None:
    key = key_of(scene)
    samples = [{"x": 4.0 * k, "y": 60 * ((k % 20) / 20) ** 2} for k in range(60)]
    operation = {"type": "add_freehand", "key": key, "shape": "line", "samples": samples, "stroke": {"width": 2}}
    url = f"/api/scenes/{scene['scene']['id']}/trial"
    trial = web.post(url, json={"base": scene["revision"], "operation": operation, "key": key}).json()
    assert trial["nodes"][0] == 0
    assert 4 <= trial["nodes"][1] == len(trial["shapes"][0]["contours"][0]["nodes"]) < 60
    assert opened(web, scene["scene"]["id"]) == scene
    drawn = edit(web, scene, **operation).json()
    simplify = {"type": "simplify", "key": key, "shapes": ["line"], "tolerance": 15}
    looser = web.post(url, json={"base": drawn["revision"], "operation": simplify, "key": key}).json()
    assert looser["nodes"][0] == trial["nodes"][1] > looser["nodes"][1]
    assert 0 < looser["deviation"] < 16
    box = {"type": "add_path", "key": key, "closed": False, "stroke": {"width": 2}}
    corners = [(0, 0), (100, 0), (100, 100), (0, 100), (0, 8)]
    nodes = [{"at": p, "before": p, "after": p} for p in corners]
    boxed = edit(web, drawn, **box, nodes=nodes).json()
    pour = {"type": "pour", "key": key, "x": 50, "y": 50, "gap": 10}
    assert web.post(url, json={"base": boxed["revision"], "operation": pour, "key": key}).json()["gaps"][0][0] == [0, 8]


@pytest.mark.parametrize(("name", "kind"), [("a.png", "PNG"), ("a.jpg", "JPEG"), ("a.webp", "WEBP")])
def test_a_picture_is_kept_as_it_was_given(web: TestClient, name: str, kind: str) -> None:
    kept = keep(web, name, picture(kind)).json()
    assert (kept["width"], kept["height"]) == (30, 20)
    shown = web.get(f"/api/images/{kept['image']}")
    assert shown.content == picture(kind)
    assert shown.headers["content-type"] == f"image/{kind.lower()}"


def test_an_svg_to_draw_over_becomes_the_picture_it_shows_without_what_lies_in_other_files(web: TestClient) -> None:
    elsewhere = '<image href="/usr/share/pixmaps/debian-logo.png" width="40" height="20"/></svg>'
    kept = keep(web, "reed.svg", SVG.replace("</svg>", elsewhere).encode()).json()
    shown = Image.open(io.BytesIO(web.get(f"/api/images/{kept['image']}").content))
    assert shown.size == (kept["width"], kept["height"]) == (1600, 800)
    assert shown.convert("RGB").getpixel((800, 400)) == (0x12, 0x34, 0x56)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.gif", picture("GIF"), "of another kind"),
        ("a.png", picture("PNG")[:60], "damaged"),
        ("notes.png", b"no picture at all", "not a picture"),
        ("a.svg", b"<svg><path", "not well-formed"),
    ],
)
def test_what_is_no_picture_is_refused_with_a_sentence(web: TestClient, name: str, data: bytes, words: str) -> None:
    answer = keep(web, name, data)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]


def test_a_rough_is_laid_under_the_drawing_travels_with_the_file_and_is_not_in_the_film(
    web: TestClient, scene: dict[str, Any]
) -> None:
    names = web.get("/api/roughs").json()
    assert "froglet face" in names
    assert web.get("/api/roughs/nothing").status_code == 404
    kept = web.post("/api/roughs/froglet face").json()
    laid = edit(web, scene, type="add_picture", name="rough", picture={**kept, "at": [480, 270]}).json()
    assert laid["scene"]["layers"][0]["picture"]["image"] == kept["image"]
    bundle = web.get(f"/api/scenes/{scene['scene']['id']}/bundle").content
    again = web.post("/api/scenes/files", files=[("files", ("reeds.knead.json", bundle))]).json()["scene"]["id"]
    assert opened(web, again)["scene"]["layers"][0]["picture"] == laid["scene"]["layers"][0]["picture"]
    assert "<image" not in web.get(f"/api/scenes/{again}/picture").text


def test_an_svg_is_brought_in_as_a_key_and_what_is_lost_is_told(web: TestClient, scene: dict[str, Any]) -> None:
    text = SVG.replace("</svg>", "<text>pond</text></svg>").encode()
    read = web.post("/api/shapes", files={"file": ("reed.svg", text)}).json()
    assert any("text" in words for words in read["lost"])
    layer = scene["scene"]["layers"][0]["id"]
    brought = edit(web, scene, type="bring_key", layer=layer, frame=9, shapes=read["shapes"]).json()
    assert [key["frame"] for key in brought["scene"]["layers"][0]["keys"]] == [1, 9]
