"""Plans that are kept: made once, whoever asks, and not kept where they could not be made."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event, Lock

import pytest

from knead.core.inbetween import SpanPlan
from knead.core.model import Drawing, Ease, Take
from knead.service import plans
from knead.service.plans import PlanCache
from tests.forms import blob, drawing, filled, star

FIRST, SECOND = drawing(filled(star())), drawing(filled(blob([90, 60, 100, 70, 80])))


class Planner:
    """Plans, and notes for whom; it can be held up, and made to fail."""

    def __init__(self, monkeypatch: pytest.MonkeyPatch) -> None:
        self.asked: list[tuple[Take, SpanPlan | None]] = []
        self.go, self.failing = Event(), False
        self.go.set()
        self._lock, self._real = Lock(), plans.plan_span
        monkeypatch.setattr(plans, "plan_span", self)

    def __call__(self, first: Drawing, second: Drawing, take: Take, reuse: SpanPlan | None) -> SpanPlan:
        with self._lock:
            self.asked.append((take, reuse))
        assert self.go.wait(20)
        if self.failing:
            raise MemoryError
        return self._real(first, second, take, reuse)


@pytest.fixture
def planner(monkeypatch: pytest.MonkeyPatch) -> Planner:
    return Planner(monkeypatch)


def test_who_asks_for_a_plan_that_is_being_made_waits_for_it(planner: Planner) -> None:
    cache = PlanCache()
    planner.go.clear()
    with ThreadPoolExecutor(4) as pool:
        asked = [pool.submit(cache.get, "k", FIRST, SECOND, Take()) for _ in range(4)]
        planner.go.set()
        found = [future.result(20) for future in asked]
    assert len(planner.asked) == 1
    assert all(plan is found[0] for plan in found)


def test_the_pace_does_not_change_a_plan_other_settings_do(planner: Planner) -> None:
    cache = PlanCache()
    plan = cache.get("k", FIRST, SECOND, Take())
    assert cache.get("k", FIRST, SECOND, Take(ease=Ease(out=1.0))) is plan
    assert cache.get("k", FIRST, SECOND, Take(blend="direct")) is not plan
    assert len(planner.asked) == 2


def test_the_last_plan_of_a_span_may_be_taken_over_from_and_only_that_spans(planner: Planner) -> None:
    cache = PlanCache()
    plan = cache.get("k", FIRST, SECOND, Take())
    cache.get("k", FIRST, SECOND, Take(blend="direct"))
    cache.get("other", FIRST, SECOND, Take(blend="arc"))
    assert [reuse for _, reuse in planner.asked] == [None, plan, None]


def test_a_plan_that_could_not_be_made_is_not_kept(planner: Planner) -> None:
    cache = PlanCache()
    planner.failing = True
    with pytest.raises(MemoryError):
        cache.get("k", FIRST, SECOND, Take())
    planner.failing = False
    assert cache.get("k", FIRST, SECOND, Take()).pairs


def test_what_was_asked_for_longest_ago_is_forgotten_first(planner: Planner, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(plans, "MOST", 2)
    cache = PlanCache()
    takes = [Take(tolerance=tolerance) for tolerance in (1.0, 2.0, 3.0)]
    first = cache.get("k", FIRST, SECOND, takes[0])
    cache.get("k", FIRST, SECOND, takes[1])
    assert cache.get("k", FIRST, SECOND, takes[0]) is first, "asked for again: it is the newest now"
    cache.get("k", FIRST, SECOND, takes[2])
    assert cache.get("k", FIRST, SECOND, takes[0]) is first
    cache.get("k", FIRST, SECOND, takes[1])
    assert [take.tolerance for take, _ in planner.asked] == [1.0, 2.0, 3.0, 2.0]
