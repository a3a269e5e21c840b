"""The real interface in headless Chromium, on a real server with a real database."""

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator

import httpx
import pytest
from selenium.webdriver import Chrome, ChromeOptions
from selenium.webdriver.chrome.service import Service
from sqlalchemy import Engine

from knead.formats.bundle import write_bundle
from knead.service.demo import demo_bundles
from tests.browser.screen import Screen
from tests.conftest import ROOT

FLAGS = (
    "--headless --no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync "
    "--no-first-run --window-size=1280,800 --force-device-scale-factor=1"
)


class Server:
    """`knead serve` as a process of its own, which a test may kill and start again."""

    def __init__(self, database: str) -> None:
        self._database = database
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [sys.executable, "-m", "knead.cli", "serve", "--database", self._database, "--port", str(self.port)]
        self._process = subprocess.Popen(command, cwd=ROOT)
        end = time.monotonic() + 60
        while time.monotonic() < end:
            try:
                if httpx.get(f"{self.address}/api/scenes").status_code == 200:
                    return
            except httpx.TransportError:
                if self._process.poll() is not None:
                    break
        raise AssertionError("the server did not start")

    def kill(self) -> None:
        """End it at once, as a power cut would."""
        assert self._process is not None
        os.kill(self._process.pid, signal.SIGKILL)
        self._process.wait()


@pytest.fixture(scope="session")
def knead(database: str) -> Iterator[Server]:
    server = Server(database)
    server.start()
    yield server
    server.kill()


@pytest.fixture(scope="session")
def chrome(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Chrome]:
    options = ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in [*FLAGS.split(), f"--user-data-dir={tmp_path_factory.mktemp('chrome')}"]:
        options.add_argument(flag)
    driver = Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    yield driver
    driver.quit()


@pytest.fixture
def pond(knead: Server, engine: Engine) -> str:
    """The id of a fresh pond scene."""
    (bundle,) = demo_bundles()
    files = [("files", ("pond.knead.json", write_bundle(bundle)))]
    scene: str = httpx.post(f"{knead.address}/api/scenes/files", files=files, timeout=30).json()["scene"]["id"]
    return scene


@pytest.fixture
def screen(chrome: Chrome, knead: Server, pond: str) -> Screen:
    """The desk with a fresh pond scene open, all its in-betweens there."""
    found = Screen(chrome, knead.address)
    found.open(pond)
    return found
