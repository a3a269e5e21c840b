"""How many examples a property states, and morphs of each kind with the plans that are made for them."""

from functools import cache

from hypothesis import settings

from benchmarks.quality.cases import Case, all_cases
from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Take

few = settings(max_examples=settings.default.max_examples * 2 // 5)  # where each plans whole spans

KINDS = ("font", "bent", "posed", "designed", "lines", "warped")


@cache
def case_of(kind: str) -> tuple[Case, SpanPlan]:
    """A morph of a kind, and the plan that is made for it."""
    found = next(each for each in all_cases(3, 1) if each.kind == kind)
    return found, plan_span(found.first, found.second, Take())
