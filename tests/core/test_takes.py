"""Takes: whole sets of a span's settings, kept beside the one in use."""

import pytest
from pydantic import TypeAdapter, ValidationError

from knead.core.edit import EditError, Operation, Work
from knead.core.model import Span, Take
from knead.service.plans import PlanCache
from tests.forms import blob, drawing, filled, star, work_of

operation: TypeAdapter[Operation] = TypeAdapter(Operation)
first, second = drawing(filled(star())), drawing(filled(blob([90, 60, 100, 70, 80])))


def do(work: Work, **fields: object) -> Work:
    return operation.validate_python({"key": "k1", **fields}).apply(work)


def span(work: Work) -> Span:
    return work.key("k1").span


def tried() -> Work:
    """A direct second take beside the first."""
    return do(do(work_of(first, second), type="new_take"), type="set_blend", blend="direct")


def test_a_new_take_is_gone_on_with_and_the_other_stays_as_it_was() -> None:
    plain = work_of(first, second)
    work = tried()
    assert (span(work).take.name, span(work).take.blend) == ("take 2", "direct")
    assert span(work).others == (span(plain).take,)
    third = do(do(work, type="rename_take", name="take 1", to="calm"), type="new_take")
    assert [take.name for take in (span(third).take, *span(third).others)] == ["take 3", "calm", "take 2"]


def test_takes_change_places_and_nothing_of_them_is_lost() -> None:
    work = tried()
    back = do(work, type="use_take", name="take 1")
    assert (span(back).take, span(back).others) == (span(work).others[0], (span(work).take,))
    assert back.plan("k1").at(0.5) == work_of(first, second).plan("k1").at(0.5)
    assert span(do(back, type="use_take", name="take 2")) == span(work)


def test_a_take_is_named_and_taken_away_but_not_the_one_in_use() -> None:
    work = do(tried(), type="rename_take", name="take 2", to="swift")
    assert span(work).take.name == "swift"
    assert span(do(work, type="remove_take", name="take 1")).others == ()
    noted = do(work, type="note_take", note="The fin lags.")
    assert [take.note for take in (span(noted).take, *span(noted).others)] == ["The fin lags.", ""]
    for edit, sentence in (
        ({"type": "remove_take", "name": "swift"}, "'swift' is in use"),
        ({"type": "use_take", "name": "swift"}, "'swift' is in use"),
        ({"type": "use_take", "name": "gone"}, "There is no 'gone'"),
        ({"type": "rename_take", "name": "take 1", "to": "swift"}, "There is a 'swift' already"),
    ):
        with pytest.raises(EditError, match=sentence):
            do(work, **edit)
    with pytest.raises(ValidationError, match="names of their own"):
        Span(take=Take(), others=(Take(),))


def test_a_breakdown_goes_by_the_take_in_use_and_leaves_the_others_which_fit_no_more() -> None:
    work = tried()
    done = operation.validate_python({"type": "new_key", "layer": "l", "frame": 7, "source": "shown"}).apply(work)
    spans = [key.span for key in done.layer("l").keys[:2]]
    assert [(own.take.blend, own.others) for own in spans] == [("direct", ()), ("direct", ())]


def test_what_a_take_is_called_and_its_pace_are_planned_once() -> None:
    plans = PlanCache()
    named = Take(name="calm", note="slow, as if asleep", exposure=2, chart=(0.2, 0.4))
    assert plans.get("k1", first, second, Take()) is plans.get("k1", first, second, named)
    assert plans.get("k1", first, second, Take(blend="direct")) is not plans.get("k1", first, second, named)
