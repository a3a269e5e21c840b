"""What goes to others on paper: the exposure sheet, and the picture of a span's plan."""

import csv
import io
from xml.etree import ElementTree

from knead.core.inbetween import plan_span
from knead.core.model import (
    Cycle,
    Drawing,
    Ease,
    Hint,
    HintEnd,
    Key,
    Layer,
    Scene,
    SceneBundle,
    Span,
    Take,
)
from knead.formats.exposure_sheet import exposure_sheet
from knead.formats.plan_sheet import plan_sheet

EMPTY = Drawing()


def test_an_exposure_sheet_names_what_each_layer_shows_at_each_frame() -> None:
    on_twos = Span(inbetween=True, take=Take(exposure=2))
    keys = (
        Key(frame=2, drawing=EMPTY.hash, span=on_twos),
        Key(frame=6, drawing=EMPTY.hash, breakdown=True, name="turns"),
        Key(frame=8, drawing=EMPTY.hash),
    )
    fish = Layer(name="=fish", keys=keys, repeat="there and back")
    again = Layer(name="school", cycle=Cycle(layer=fish.id, start=1))
    scene = Scene(length=10, rate=10.0, layers=(fish, again, Layer(name="hidden", keys=keys, hidden=True)))
    sheet = exposure_sheet(scene, range(1, 11)).decode("utf-8-sig")
    rows = list(csv.reader(io.StringIO(sheet)))
    assert rows[0] == ["frame", "seconds", "'=fish", "school (plays =fish)"]  # a spreadsheet takes it for a name
    assert [row[:2] for row in rows[1:4]] == [["1", "0.000"], ["2", "0.100"], ["3", "0.200"]]
    assert [row[3] for row in rows[1:6]] == ["[2]", "|", "4", "|", "<6> turns"]
    assert [row[2] for row in rows[1:]] == ["", "[2]", "|", "4", "|", "<6> turns", "|", "[8]", "<6> turns", "|"]


def _sheet(pond: SceneBundle, take: Take, last: int = 13) -> ElementTree.Element:
    """The sheet of the tadpole's first span, its second key at frame `last`."""
    layer = next(layer for layer in pond.scene.layers if layer.name == "tadpole")
    first = layer.keys[0].model_copy(update={"span": Span(inbetween=True, take=take)})
    second = layer.keys[1].model_copy(update={"frame": last})
    plan = plan_span(pond.drawings[first.drawing], pond.drawings[second.drawing], take)
    return ElementTree.fromstring(plan_sheet(pond.scene, layer, first, second, plan))


def _words(sheet: ElementTree.Element) -> list[str]:
    return [element.text or "" for element in sheet.findall(".//{*}text")]


def test_a_plan_sheet_shows_keys_hints_chart_and_pairs(pond: SceneBundle) -> None:
    layer = next(layer for layer in pond.scene.layers if layer.name == "tadpole")
    tails = [next(s for s in pond.drawings[key.drawing].shapes if s.name == "tail") for key in layer.keys[:2]]
    ends = [HintEnd(shape=tail.id, at=tail.contours[0].nodes[0].at) for tail in tails]
    hint = Hint(name="tail <tip>", first=ends[0], second=ends[1])
    note = "The fin & the tail go first.\nThe legs come late."
    bell = note.replace("fin", "fin\x07")
    words = _words(_sheet(pond, Take(hints=(hint,), note=bell, exposure=2, ease=Ease(out=0.5, overshoot=0.1))))
    assert words[0] == "Pond at dusk · tadpole · key 1 to key 13"
    assert words[1].endswith("overshoot 0.1 · drawings for 2 frames each · blend auto")
    assert words[2:4] == note.splitlines()
    assert {"tail <tip>", "key 1, tadpole", "key 13, legs"} <= set(words)
    assert sorted(int(word) for word in words if word.isdecimal()) == [1, 3, 5, 7, 9, 11, 13]  # the chart, on twos
    shown = [word for word in words if word.startswith("KEY") or " · 0." in word or " · 1." in word]
    assert [word.split(" · ")[0] for word in shown] == ["KEY 1", "3", "5", "7", "9", "11", "KEY 13"]
    assert words.count("appears") == 3  # both legs and the thigh
    assert "tail" in words


def test_a_plan_sheet_of_a_long_span_shows_some_of_its_drawings_and_both_keys(pond: SceneBundle) -> None:
    words = _words(_sheet(pond, Take(), last=301))
    shown = [word for word in words if word.startswith("KEY") or " · 0." in word]
    assert 30 <= len(shown) <= 61
    assert (shown[0], shown[-1]) == ("KEY 1", "KEY 301")
