"""The demo scenes are what anyone sees first."""

import pytest

from knead.core.inbetween import SpanPlan, plan_span
from knead.core.model import Key, SceneBundle
from knead.core.playback import following, pace, places
from knead.service.demo import demo_bundles
from knead.service.views import found_view

BUNDLES = {bundle.scene.name: bundle for bundle in demo_bundles()}


@pytest.mark.parametrize("bundle", BUNDLES.values(), ids=BUNDLES)
def test_a_demo_scene_has_no_snags(bundle: SceneBundle) -> None:
    def planned(one: Key, two: Key) -> SpanPlan:
        return plan_span(bundle.drawings[one.drawing], bundle.drawings[two.drawing], one.span.take)

    for layer in bundle.scene.layers:
        for first, second in zip(layer.keys, layer.keys[1:], strict=False):
            if not first.span.inbetween:
                continue
            third = following(layer, second) if second.span.inbetween else None
            onward = (pace(first, second), planned(second, third), pace(second, third)) if third else None
            plan, at = planned(first, second), places(first, second)
            assert not plan.troubles
            assert not found_view(plan, first.span.take, first.frame, at, onward).snags


def test_the_signs_need_nothing_set_by_hand_and_go_round() -> None:
    signs = BUNDLES["Pond signs"]
    layer = signs.scene.layers[-1]
    assert all(not (key.span.take.pairs or key.span.take.hints or key.span.take.travels) for key in layer.keys)
    assert layer.keys[0].drawing == layer.keys[-1].drawing
