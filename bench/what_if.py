"""What-if round trip: an arrow key on the battery to new numbers painted, in the real browser; and the first load's size.

``python -m bench.what_if`` (needs the built front end, Chromium and ChromeDriver)
"""

from __future__ import annotations

import gzip
import socket
import tempfile
import threading
import time
import uuid
from dataclasses import replace
from pathlib import Path

import numpy as np
import uvicorn
from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from sqlalchemy.orm import Session, sessionmaker

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.core.mass.items import ItemKind
from jinba.persistence.database import make_engine, unit_of_work, upgrade
from jinba.services import shelf
from jinba.services.bench import save_setup
from jinba.services.demo import fly_one, load_demo
from jinba.services.history import history

DIST = Path(__file__).resolve().parents[1] / "web" / "dist"
STEPS = 60
ITEMS, SORTIES = 40, 8
_WATCH = """
window.__t = []; window.__start = 0;
document.querySelector('[data-testid=battery]').addEventListener('keydown', () => { window.__start = performance.now(); }, true);
new MutationObserver(() => requestAnimationFrame(() => setTimeout(() => {
  if (window.__start) { window.__t.push(performance.now() - window.__start); window.__start = 0; }
}))).observe(document.querySelector('[data-testid=bench-numbers]'), {subtree: true, characterData: true, childList: true});
"""


def main() -> None:
    """Print the 50th and 95th percentile of the round trip and the size of the console's first load."""
    with tempfile.TemporaryDirectory(prefix="jinba-bench-") as folder:
        Path(folder).chmod(0o755)
        server = postgres.start(Path(folder) / "pg", fast=True)
        try:
            _run(server)
        finally:
            postgres.stop(server)


def _run(server: postgres.Server) -> None:
    postgres.ensure_database(server, "bench")
    upgrade(server.url("bench"))
    with unit_of_work(sessionmaker(make_engine(server.url("bench")))) as session:
        load_demo(session)
        model_id = next(m.id for m in shelf.shelf(session) if m.name == "Scree")
        _loaded_and_flown(session, model_id)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    app = uvicorn.Server(
        uvicorn.Config(create_app(server.url("bench"), web_dist=DIST), host="127.0.0.1", port=port, log_level="warning")
    )
    threading.Thread(target=app.run, daemon=True).start()
    while not app.started:
        time.sleep(0.05)
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu"):
        options.add_argument(flag)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    try:
        driver.get(f"http://127.0.0.1:{port}/m/{model_id}/bench")
        time.sleep(3)
        driver.execute_script(_WATCH)
        times = _press(driver)
        asked = driver.execute_script(
            "return performance.getEntriesByType('resource').filter(e => e.name.endsWith('/what-if')).map(e => e.duration)"
        )
        turns = driver.execute_script(
            "const t = performance.now(); let x = 0; for (let i = 0; i < 1e7; i++) x += Math.sqrt(i); return performance.now() - t + 0 * x"
        )
        begun = time.perf_counter()
        total = 0
        for i in range(1_000_000):
            total += i
        plain = 1000 * (time.perf_counter() - begun)
        print(f"machine: a million turns of plain Python {plain:.0f} ms, ten million of the browser {turns:.0f} ms")
        print(f"of it the program's answer: median {np.median(asked):.0f} ms, p95 {np.percentile(asked, 95):.0f} ms")
        print(
            f"what-if, key to painted numbers: median {np.median(times):.0f} ms, p95 {np.percentile(times, 95):.0f} ms, n {len(times)}"
        )
        _print_load(driver, f"http://127.0.0.1:{port}/m/{model_id}/fly", "console")
        _print_load(driver, f"http://127.0.0.1:{port}/m/{model_id}/bench", "bench")
    finally:
        driver.quit()
        app.should_exit = True


def _print_load(driver: webdriver.Chrome, url: str, what: str) -> None:
    # A fresh browser has nothing: what was fetched before does not count as there.
    driver.execute_cdp_cmd("Network.clearBrowserCache", {})
    driver.get(url)
    time.sleep(3)
    names = set(driver.execute_script("return performance.getEntriesByType('resource').map(e => e.name)"))
    files = [n.rsplit("/", 1)[1] for n in names if "/assets/" in n and not n.endswith((".woff2", ".woff"))]
    size = sum(len(gzip.compress((DIST / "assets" / n).read_bytes())) for n in files)
    print(f"{what}'s first load without fonts: {size / 1000:.0f} kB gzip in {len(files)} files")


class _ForAll(dict[str, str]):
    """A reason for whatever would stop it: what is measured is how fast the bench answers."""

    def get(self, key: str, default: str = "") -> str:  # type: ignore[override]
        """Return the reason."""
        _ = key, default
        return "a benchmark"


def _loaded_and_flown(session: Session, model_id: uuid.UUID) -> None:
    """Forty items and eight landed sorties: the largest model the bench is promised to follow."""
    known = history(session, model_id)
    few = [
        replace(i, key=f"{i.key} {n}", name=f"{i.name} {n}", mass_kg=0.004) for n in range(9) for i in known.setup.items
    ]
    items = (*known.setup.items, *(replace(i, kind=ItemKind.PART, bay_m=None) for i in few))[:ITEMS]
    setup = replace(known.setup, items=items)
    save_setup(session, model_id, base_version=known.version, setup=setup, words="forty items")
    for n in range(SORTIES - len(known.landed)):
        fly_one(session, f"scree-more-{n}", reasons=_ForAll(balance="a benchmark"))


def _press(driver: webdriver.Chrome) -> np.ndarray:
    battery = driver.find_element(By.CSS_SELECTOR, "[data-testid=battery]")
    for i in range(STEPS):
        seen = len(driver.execute_script("return window.__t"))
        # Key down only: the release would save; a what-if is what is measured.
        driver.execute_script(
            "arguments[0].dispatchEvent(new KeyboardEvent('keydown', {key: arguments[1], bubbles: true}))",
            battery,
            # Out and back over thirty places: none is asked again while an answer could still be remembered.
            "ArrowLeft" if i < STEPS // 2 else "ArrowRight",
        )
        for _ in range(50):
            if len(driver.execute_script("return window.__t")) > seen:
                break
            time.sleep(0.01)
        time.sleep(0.05)
    battery.send_keys(Keys.ESCAPE)
    return np.array(driver.execute_script("return window.__t"))


if __name__ == "__main__":
    main()
