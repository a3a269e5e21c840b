"""What stays in its place in both keys stays there all the way, however the rest changes its form."""

import numpy as np
from hypothesis import example, given
from hypothesis import strategies as st

from knead.core.inbetween import plan_span
from knead.core.model import Contour, Shape, Take
from tests.examples import few
from tests.forms import backwards, by_hand, drawing, smooth, stroked

SHARES = np.linspace(0.0, 1.0, 17)
TIMES = (0.25, 0.5, 0.75)
BENDS = {
    "sags": np.sin(np.pi * SHARES),
    "rises": -np.sin(np.pi * SHARES),
    "waves": np.sin(2 * np.pi * SHARES),
    "ripples": 0.6 * np.sin(3 * np.pi * SHARES),
    "is plucked": np.interp(SHARES, [0.0, 0.25, 1.0], [0.0, 1.2, 0.0]),
}
ENDS = [(0.0, 0.0), (400.0, 0.0)]
bends = st.sampled_from(sorted(BENDS))


def rope(name: str, depth: float) -> Contour:
    """A line between the ENDS."""
    return smooth([(400 * x, depth * y) for x, y in zip(SHARES, BENDS[name].tolist(), strict=True)], closed=False)


def strays(shape: Shape, places: list[tuple[float, float]]) -> float:
    """How far off these places the nearest nodes of a shape are at most."""
    nodes = np.array([node.at for node in shape.contours[0].nodes])
    return max(float(np.linalg.norm(nodes - place, axis=1).min()) for place in places)


@few
@given(bends, bends, st.floats(40, 160), st.booleans())
@example("sags", "waves", 160.0, False)
def test_the_ends_of_a_rope_that_is_swung_stay_where_they_are(one: str, two: str, depth: float, turned: bool) -> None:
    first, second = rope(one, depth), rope(two, depth)
    plan = plan_span(drawing(stroked(first)), drawing(stroked(backwards(second) if turned else second)), Take())
    assert max(strays(plan.at(t).shapes[0], ENDS) for t in TIMES) < 0.01


def test_so_do_those_of_a_rope_drawn_anew_by_a_hand() -> None:
    for seed in range(4):
        hand = np.random.default_rng(seed)
        one, two = (stroked(by_hand(rope(name, 80), hand, 1.5)) for name in ("sags", "waves"))
        assert strays(plan_span(drawing(one), drawing(two), Take()).at(0.5).shapes[0], ENDS) < 4
