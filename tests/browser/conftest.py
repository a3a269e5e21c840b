"""The real interface in headless Chromium, on a real server with a real database."""

from collections.abc import Iterator

import pytest
from selenium.webdriver import Chrome

from knead.core.model import SceneBundle
from knead.service.demo import DEMO, read_demo
from tests.browser.running import Server, brought_in, chromium
from tests.browser.screen import Screen


@pytest.fixture(scope="session")
def knead(database: str) -> Iterator[Server]:
    server = Server(database)
    server.start()
    yield server
    server.kill()


@pytest.fixture(scope="session")
def chrome() -> Iterator[Chrome]:
    with chromium() as driver:
        yield driver


@pytest.fixture(scope="session")
def pond_bundle() -> SceneBundle:
    """The pond, read once: the server then knows the plans of its spans from the test before."""
    return read_demo(DEMO / "pond-at-dusk")


@pytest.fixture
def pond(knead: Server, pond_bundle: SceneBundle) -> str:
    """The id of a fresh pond scene."""
    return brought_in(knead.address, pond_bundle)


@pytest.fixture
def screen(chrome: Chrome, knead: Server, pond: str) -> Screen:
    """The desk with a fresh pond scene open, all its in-betweens there."""
    found = Screen(chrome, knead.address)
    found.open(pond)
    return found
