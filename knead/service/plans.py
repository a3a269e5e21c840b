"""Plans kept for reuse: the same keys and settings are planned once; a small change re-plans only its pair."""

from collections import OrderedDict
from threading import Lock

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Take

MOST = 400


class PlanCache:
    """A least-recently-used cache of span plans by the content they were made of. Safe to share between threads."""

    def __init__(self) -> None:
        self._plans: OrderedDict[tuple[str, str, Take], SpanPlan] = OrderedDict()
        self._latest: dict[str, SpanPlan] = {}
        self._lock = Lock()

    def get(self, span: str, first: Drawing, second: Drawing, take: Take) -> SpanPlan:
        """The plan; `span` names the span whose last plan may have pairs to take over."""
        settings = take.model_copy(update={"ease": Take().ease})  # the pace does not change the plan
        name = (first.hash, second.hash, settings)
        with self._lock:
            plan, latest = self._plans.get(name), self._latest.get(span)
        if plan is None:
            plan = plan_span(first, second, settings, latest)
        with self._lock:
            self._plans[name] = self._latest[span] = plan
            self._plans.move_to_end(name)
            while len(self._plans) > MOST:
                self._plans.popitem(last=False)
            while len(self._latest) > MOST:
                self._latest.pop(next(iter(self._latest)))
        return plan
