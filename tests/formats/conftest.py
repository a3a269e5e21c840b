"""What tests of files share: the demo scene."""

import pytest

from knead.core.model import SceneBundle
from knead.service.demo import DEMO, read_demo


@pytest.fixture(scope="session")
def pond() -> SceneBundle:
    return read_demo(DEMO / "pond-at-dusk")
