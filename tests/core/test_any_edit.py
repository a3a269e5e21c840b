"""Any edits, in any order, of anything: they are done whole or refused in a sentence, and what they leave is sound."""

import re
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from knead.core.edit import EditError, Operation, Work, carried_out
from knead.core.inbetween import plan_span
from knead.core.model import Drawing, Scene
from knead.core.playback import exposures, places
from knead.core.snags.find import findings
from tests.edits import any_edit, start


def assert_sound(work: Work) -> None:
    """All that a scene refers to is there, everything is within its limits, and every frame can be shown."""
    assert Scene.model_validate_json(work.scene.model_dump_json()) == work.scene
    for layer in work.scene.layers:
        for key in layer.keys:
            drawn = work.of(key.drawing)
            assert Drawing.model_validate_json(drawn.model_dump_json()) == drawn
            shapes = [shape.id for shape in drawn.shapes]
            assert len(shapes) == len(set(shapes))
            nodes = [n.id for shape in drawn.shapes for contour in shape.contours for n in contour.nodes]
            assert len(nodes) == len(set(nodes))
        assert len(exposures(work.scene, layer, work.scene.length)) == work.scene.length


def assert_shown(work: Work) -> None:
    """Every span has in-betweens that are drawings themselves, and can be looked at for snags."""
    for layer in work.scene.layers:
        for one, two in pairwise(layer.keys):
            plan = plan_span(work.of(one.drawing), work.of(two.drawing), one.span.take)
            for t in (0.0, 0.37, 1.0):
                made = plan.at(t)
                assert Drawing.model_validate_json(made.model_dump_json()) == made
            findings(plan, one.span.take, places(one, two))


def outcome(edit: Operation, work: Work) -> tuple[Work | None, str]:
    """What an edit makes, or why it does not."""
    try:
        return carried_out(edit, work), ""
    except EditError as refusal:
        return None, str(refusal)


@given(st.data())
@settings(max_examples=20, report_multiple_bugs=False)
def test_any_edit_is_done_whole_or_refused_in_a_sentence(data: st.DataObject) -> None:
    work = start()
    for _ in range(data.draw(st.integers(1, 8))):
        edit = data.draw(any_edit(work))
        before = work.scene.model_dump_json()
        done, refusal = outcome(edit, work)
        assert work.scene.model_dump_json() == before, "an edit makes a new scene and leaves the old one"
        if done is None:
            assert re.fullmatch(r"[A-Z'].+\.", refusal), refusal
        else:
            assert edit.label
            assert_sound(done)
            work = done
    assert_shown(work)
