"""What tests of files share: the demo scene."""

import pytest

from knead.core.model import SceneBundle
from knead.service.demo import demo_bundles


@pytest.fixture(scope="session")
def pond() -> SceneBundle:
    (bundle,) = demo_bundles()
    return bundle
