"""A served application with its own database, and one browser for the whole run."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from jinba.api.app import create_app
from tests.browser.pages import Browser
from tests.conftest import cloned

DIST = Path(__file__).resolve().parents[2] / "web" / "dist"
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-dev-shm-usage",
    "--disable-gpu",
    "--hide-scrollbars",
    "--no-first-run",
    "--force-device-scale-factor=1",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
    "--host-resolver-rules=MAP evil.example 127.0.0.1",
)


EXPECTED = ("status of 4", "Failed to fetch dynamically imported module")
"""Refusals are what many journeys are about; and a page that is left while a part of it is on its way says so. A part that is missing
shows by what the journey waits for in vain."""


class Program:
    """The program, served on one port; it can be killed and started again as a pilot's laptop would be."""

    def __init__(self, database_url: str, port: int) -> None:
        self.database_url, self.port = database_url, port
        self.start()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        app = create_app(self.database_url, web_dist=DIST)
        self.server = uvicorn.Server(uvicorn.Config(app, host="127.0.0.1", port=self.port, log_level="warning"))
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        for _ in range(200):
            if self.server.started:
                return
            time.sleep(0.05)

    def stop(self) -> None:
        self.server.should_exit = self.server.force_exit = True
        self.thread.join(timeout=10)


@pytest.fixture(scope="module")
def program(server, flown_template: str) -> Iterator[Program]:
    assert (DIST / "index.html").exists(), "build the front end first: ./jinba setup"
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with cloned(server, flown_template) as url:
        running = Program(url, port)
        yield running
        running.stop()


@pytest.fixture(scope="module")
def address(program: Program) -> str:
    return program.address


@pytest.fixture(scope="session")
def driver() -> Iterator[webdriver.Chrome]:
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    chrome = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    yield chrome
    chrome.quit()


@pytest.fixture
def browser(driver: webdriver.Chrome, address: str) -> Iterator[Browser]:
    page = Browser(driver, address)
    page.size(1280, 800)
    driver.get(f"{address}/?shelf")
    driver.execute_script("localStorage.clear()")
    driver.get_log("browser")
    yield page
    severe = [
        e["message"]
        for e in driver.get_log("browser")
        if e["level"] == "SEVERE" and not any(known in e["message"] for known in EXPECTED)
    ]
    assert severe == [] or page.away
