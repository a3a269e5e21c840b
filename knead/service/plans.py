"""Plans kept for reuse: the same keys and settings are planned once; a small change re-plans only its pair."""

from collections import OrderedDict
from concurrent.futures import Future
from threading import Lock

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Drawing, Take
from knead.service.recent import Recent

MOST = 400
PLAIN = Take()
UNPLANNED = "name", "note", "ease", "chart", "exposure"  # what a plan does not hang on

Name = tuple[str, str, Take]


class PlanCache:
    """A least-recently-used cache of span plans by the content they were made of. Safe to share between threads.

    Who asks for a plan that is being made waits for it instead of making it again.
    """

    def __init__(self) -> None:
        self._plans: OrderedDict[Name, Future[SpanPlan]] = OrderedDict()
        self._latest: Recent[str, SpanPlan] = Recent(MOST)
        self._lock = Lock()

    def get(self, span: str, first: Drawing, second: Drawing, take: Take) -> SpanPlan:
        """The plan; `span` names the span whose last plan may have pairs to take over."""
        settings = take.model_copy(update={field: getattr(PLAIN, field) for field in UNPLANNED})
        name = (first.hash, second.hash, settings)
        with self._lock:
            made = self._plans.get(name)
            mine = made is None
            made = made or Future()
            self._plans[name] = made
            self._plans.move_to_end(name)
            while len(self._plans) > MOST:
                self._plans.popitem(last=False)
        if mine:
            try:
                latest = self._latest.found([span]).get(span)
                made.set_result(plan_span(first, second, settings, latest))
            except BaseException as error:
                with self._lock:
                    self._plans.pop(name, None)
                made.set_exception(error)
        plan = made.result()
        self._latest.keep({span: plan})
        return plan
