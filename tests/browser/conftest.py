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
from sqlalchemy.orm import sessionmaker

from jinba.api.app import create_app
from jinba.persistence.database import make_engine, unit_of_work
from jinba.services.demo import load_demo
from tests.browser.pages import Browser

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
)


@pytest.fixture(scope="module")
def address(database_url: str) -> Iterator[str]:
    assert (DIST / "index.html").exists(), "build the front end first: ./jinba setup"
    factory = sessionmaker(make_engine(database_url))
    with unit_of_work(factory) as session:
        load_demo(session)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = uvicorn.Server(
        uvicorn.Config(create_app(database_url, web_dist=DIST), host="127.0.0.1", port=port, log_level="warning")
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    for _ in range(100):
        if server.started:
            break
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(timeout=10)


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
        e["message"] for e in driver.get_log("browser") if e["level"] == "SEVERE" and "status of 4" not in e["message"]
    ]
    assert severe == []
