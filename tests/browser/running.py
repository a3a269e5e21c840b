"""A running Knead for tests, benchmarks and pictures: its server as a process, Chromium, and a scene on the desk."""

import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager

import httpx
from selenium.webdriver import Chrome, ChromeOptions
from selenium.webdriver.chrome.service import Service

from knead.core.model import SceneBundle
from knead.formats.bundle import write_bundle
from knead.store.cluster import cluster_in
from knead.store.database import engine_for, ensure_database, migrate
from tests.browser.screen import Screen
from tests.conftest import ROOT

FLAGS = (
    "--headless --no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync "
    "--no-first-run --window-size=1280,800 --force-device-scale-factor=1 "
    "--force-prefers-reduced-motion"  # a menu that still grows moves away from under a click
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


@contextmanager
def chromium() -> Iterator[Chrome]:
    """Headless Chromium with a page of 1280 by 800."""
    options = ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in [*FLAGS.split(), f"--user-data-dir={tempfile.mkdtemp()}"]:
        options.add_argument(flag)
    driver = Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    try:
        yield driver
    finally:
        driver.quit()


def brought_in(address: str, bundle: SceneBundle) -> str:
    """Bring a scene in over HTTP; its id."""
    files = [("files", ("scene.knead.json", write_bundle(bundle)))]
    scene: str = httpx.post(f"{address}/api/scenes/files", files=files, timeout=30).json()["scene"]["id"]
    return scene


@contextmanager
def desk(database: str, bundle: SceneBundle) -> Iterator[tuple[Screen, str]]:
    """A scene in Chromium, on a server and an empty database of its own; and the scene's id."""
    cluster = cluster_in(ROOT / ".knead")
    address = ensure_database(cluster.start(), database, fresh=True)
    engine = engine_for(address)
    migrate(engine)
    engine.dispose()
    server = Server(address)
    server.start()
    try:
        with chromium() as chrome:
            yield Screen(chrome, server.address), brought_in(server.address, bundle)
    finally:
        server.kill()
        cluster.stop_if_idle()
