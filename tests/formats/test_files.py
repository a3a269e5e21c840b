"""Whole scenes to files: bundles, sequences, animations; and the command line."""

import hashlib
import io
import json
import re
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import av
import jsonschema
import numpy as np
import pytest
from click.testing import CliRunner
from PIL import Image

from knead.cli import app
from knead.core.model import SceneBundle
from knead.formats.bundle import BadBundle, bundle_schema, read_bundle, write_bundle
from knead.service.file_export import export_bundle
from knead.service.render import ExportOptions
from tests.conftest import ROOT
from tests.forms import drawing, ellipse, filled, work_of

SVG = "{http://www.w3.org/2000/svg}"


def exported(bundle: SceneBundle, tmp_path: Path, **options: object) -> bytes:
    export_bundle(bundle, ExportOptions.model_validate(options), tmp_path / "out")
    return (tmp_path / "out").read_bytes()


def test_a_bundle_is_read_back_equal_and_fits_its_published_schema(pond: SceneBundle) -> None:
    data = write_bundle(pond)
    assert read_bundle(data) == pond
    schema = (ROOT / "docs" / "scene-bundle.schema.json").read_text()
    assert schema == bundle_schema(), "run: knead schemas .knead/openapi.json docs/scene-bundle.schema.json"
    jsonschema.validate(json.loads(data), json.loads(schema))


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        (lambda d: d[: len(d) // 2], "not a scene bundle"),
        (lambda d: d.replace(b'"rate":12.0', b'"rate":0', 1).replace(b'"rate": 12.0', b'"rate": 0', 1), "rate"),
        (lambda d: re.sub(rb"#77ab54", b"#77ab55", d), "damaged"),
        (lambda d: b'{"format": "knead-scene", "version": 9}', "version"),
    ],
)
def test_a_damaged_bundle_is_refused_with_a_sentence(pond: SceneBundle, change: object, sentence: str) -> None:
    with pytest.raises(BadBundle, match=sentence):
        read_bundle(change(write_bundle(pond)))  # type: ignore[operator]


def test_an_animated_svg_has_one_structure_a_path_no_scripts_and_loops(pond: SceneBundle, tmp_path: Path) -> None:
    root = ElementTree.fromstring(exported(pond, tmp_path, format="animated-svg", first=1, last=20))
    animations = [(path, a) for path in root.iter(f"{SVG}path") for a in path.findall(f"{SVG}animate")]
    outlines = [(path, a) for path, a in animations if a.get("attributeName") == "d"]
    assert len(outlines) > 15
    assert not root.findall(f".//{SVG}script")
    for path, animation in outlines:
        values = str(animation.get("values")).split(";")
        assert len({re.sub(r"[^MCZ]", "", v) for v in [*values, str(path.get("d"))]}) == 1
        times = [float(t) for t in str(animation.get("keyTimes")).split(";")]
        assert len(times) == len(values)
        assert times == sorted(times)
        assert (times[0], animation.get("repeatCount")) == (0, "indefinite")


def test_there_and_back_shows_no_end_drawing_twice(pond: SceneBundle, tmp_path: Path) -> None:
    assert ExportOptions(format="gif", first=3, last=6, there_and_back=True).frames() == [3, 4, 5, 6, 5, 4]
    data = exported(pond, tmp_path, format="gif", first=3, last=6, there_and_back=True, width=96)
    picture = Image.open(io.BytesIO(data))
    assert (picture.n_frames, picture.size, picture.info["loop"]) == (6, (96, 54), 0)


def test_sequences_and_apng_have_every_frame_at_the_chosen_size(pond: SceneBundle, tmp_path: Path) -> None:
    for kind in ("png", "svg"):
        archive = zipfile.ZipFile(
            io.BytesIO(exported(pond, tmp_path, format=f"{kind}-sequence", first=1, last=4, width=64))
        )
        assert archive.namelist() == [f"000{k}.{kind}" for k in (1, 2, 3, 4)]
    apng = Image.open(io.BytesIO(exported(pond, tmp_path, format="apng", first=1, last=5, width=64, paper=False)))
    assert (apng.n_frames, apng.size) == (5, (64, 36))


def frames_of(film: bytes, decoder: str) -> list[av.VideoFrame]:
    container, codec = av.open(io.BytesIO(film)), av.CodecContext.create(decoder, "r")
    assert isinstance(codec, av.VideoCodecContext)
    stream = container.streams.video[0]
    assert stream.average_rate == 12
    codec.extradata = stream.codec_context.extradata
    return [
        frame for packet in container.demux(stream) if packet.size for frame in codec.decode(packet)
    ] + codec.decode()


def test_films_have_every_frame_at_the_scenes_rate_and_what_is_not_drawn_on_is_clear(tmp_path: Path) -> None:
    leaf = drawing(filled(ellipse(480, 270, 200, 200), color="#7ab854"))
    held = work_of(leaf, leaf)
    bundle = SceneBundle(scene=held.scene, drawings=held.drawings)
    options = {"first": 2, "last": 4, "there_and_back": True, "width": 101, "paper": False}
    for kind, decoder, off in (("mp4", "h264", [255, 255, 255, 255]), ("webm", "libvpx-vp9", [0, 0, 0, 0])):
        frames = frames_of(exported(bundle, tmp_path, format=kind, **options), decoder)
        assert [(f.width, f.height) for f in frames] == [(102, 58)] * 4, "films have even sizes"
        pixels = frames[0].to_ndarray(format="rgba").astype(int)
        assert np.abs(pixels[28, 50] - [122, 184, 84, 255]).max() <= 3, "colours are kept"
        assert np.abs(pixels[2, 2] - off).max() <= 3, "MP4 can't be see-through, and shows the paper"


HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100">'
ONE = HEAD + '<path id="a" d="M10 10H50V50H10Z" fill="red"/>{}</svg>'
TWO = HEAD + '<circle id="b" cx="60" cy="60" r="30" fill="red"/></svg>'


@pytest.fixture
def keys(tmp_path: Path) -> tuple[str, str]:
    extra = '<path d="M80 80H90V99Z" fill="none" stroke="blue"/>'
    (tmp_path / "one.svg").write_text(ONE.format(extra))
    (tmp_path / "two.svg").write_text(TWO)
    return str(tmp_path / "one.svg"), str(tmp_path / "two.svg")


def inbetween(*arguments: str) -> tuple[int, str]:
    done = CliRunner().invoke(app, ["inbetween", *arguments])
    return done.exit_code, done.stderr


def test_inbetween_writes_numbered_files_marked_with_what_they_are_made_of(
    keys: tuple[str, str], tmp_path: Path
) -> None:
    out, report = tmp_path / "out", tmp_path / "report.json"
    hints = tmp_path / "hints.json"
    hints.write_text(
        '{"hints": [{"from": {"shape": "a", "point": [10, 10]}, "to": {"shape": "b", "point": [60, 30]}}]}'
    )
    assert inbetween(
        *keys, "--count", "3", "--out", str(out), "--report", str(report), "--hints", str(hints), "--blend", "direct"
    ) == (0, "")
    assert sorted(p.name for p in out.iterdir()) == [f"000{k}.svg" for k in range(5)]
    roots = [ElementTree.parse(out / f"000{k}.svg").getroot() for k in range(5)]
    pairs = [
        {(p.get("data-from"), p.get("data-to")): str(p.get("d")) for p in root.iter(f"{SVG}path")} for root in roots
    ]
    assert set(pairs[0]) == {("a", "b"), ("shape-2", None)}
    assert set(pairs[4]) == {("a", "b")}
    assert len({re.sub(r"[^A-Z]", "", frame["a", "b"]) for frame in pairs}) == 1
    assert "35 20" in pairs[2]["a", "b"], "the hint's point is half way at half the time"
    told = json.loads(report.read_text())
    assert {(p["from"], p["to"]) for p in told["pairs"]} == set(pairs[0])
    assert told["warnings"] == []
    assert told["seconds"] > 0


def test_bad_input_exits_with_2_and_one_sentence_and_writes_nothing(keys: tuple[str, str], tmp_path: Path) -> None:
    (tmp_path / "bad.svg").write_text("<svg")
    (tmp_path / "bad.json").write_text(
        '{"hints": [{"from": {"shape": "zzz", "point": [0, 0]}, "to": {"shape": "b", "point": [1, 1]}}]}'
    )
    out = tmp_path / "out"
    for arguments in (
        [keys[0], str(tmp_path / "bad.svg"), "--count", "3"],
        [keys[0], str(tmp_path / "missing.svg"), "--count", "3"],
        [*keys, "--count", "-1"],
        [*keys, "--count", "3", "--hints", str(tmp_path / "bad.json")],
    ):
        code, words = inbetween(*arguments, "--out", str(out))
        assert code == 2
        assert len(words.strip().splitlines()) == 1
        assert not out.exists()
    foreign = tmp_path / "mine"
    foreign.mkdir()
    (foreign / "thesis.txt").write_text("precious")
    assert inbetween(*keys, "--count", "1", "--out", str(foreign))[0] == 2
    assert (foreign / "thesis.txt").read_text() == "precious"
    assert not [p for p in tmp_path.iterdir() if p.name.startswith(".knead-")]


def test_export_takes_a_bundle_file(pond: SceneBundle, tmp_path: Path) -> None:
    (tmp_path / "pond.knead.json").write_bytes(write_bundle(pond))
    out = tmp_path / "pond.gif"
    done = CliRunner().invoke(
        app,
        [
            "export",
            str(tmp_path / "pond.knead.json"),
            "--format",
            "gif",
            "--out",
            str(out),
            "--width",
            "64",
            "--last",
            "3",
        ],
    )
    assert done.exit_code == 0
    assert Image.open(out).n_frames == 3  # type: ignore[attr-defined]


def test_a_bundle_of_the_first_version_is_read_and_renewed(pond: SceneBundle) -> None:
    old = json.loads(write_bundle(pond))
    names = {
        name: hashlib.sha256(drawing.model_dump_json(exclude_defaults=True).encode()).hexdigest()
        for name, drawing in pond.drawings.items()
    }
    old["version"] = 1
    old["drawings"] = {names[name]: drawing for name, drawing in old["drawings"].items()}
    for layer in old["scene"]["layers"]:
        for key in layer["keys"]:
            key["drawing"] = names[key["drawing"]]
    assert read_bundle(json.dumps(old).encode()) == pond
