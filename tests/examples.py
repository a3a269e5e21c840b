"""How many examples a property states."""

from hypothesis import settings

few = settings(max_examples=settings.default.max_examples * 2 // 5)  # where each plans whole spans
