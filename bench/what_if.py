"""What-if round trip: an arrow key on the battery to new numbers painted, in the real browser; and the first load's size.

``python -m bench.what_if`` (needs the built front end, Chromium and ChromeDriver)
"""

from __future__ import annotations

import gzip
import multiprocessing
import socket
import tempfile
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
TOOLS = ("airframe", "items")
LONGEST_MS = 1500
_PRESS = """
const [steps, longest, done] = arguments;
const battery = document.querySelector('[data-testid=battery]');
const times = [];
let begun = 0, pressed = 0, given = 0;
const next = (time) => {
  clearTimeout(given);
  if (begun && time !== null) times.push(time);
  begun = 0;
  if (pressed < steps) setTimeout(press, 250); else done(times);
};
new MutationObserver(() => requestAnimationFrame(() => setTimeout(() => { if (begun) next(performance.now() - begun); }))).observe(
  document.querySelector('[data-testid=bench-numbers]'), {subtree: true, characterData: true, childList: true});
const press = () => {
  const answered = () => performance.getEntriesByType('resource').filter(e => e.name.endsWith('/what-if')).length;
  const before = answered();
  begun = performance.now();
  // Key down only: the release would save; a what-if is what is measured. Out and back: none is asked again while it is remembered.
  battery.dispatchEvent(new KeyboardEvent('keydown', {key: pressed++ < steps / 2 ? 'ArrowLeft' : 'ArrowRight', bubbles: true}));
  // A millimetre of a light pack may change no digit that is shown: then nothing is painted. What never came counts as the longest.
  given = setTimeout(() => next(answered() > before ? null : longest), longest);
};
press();
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
    # A process of its own, as the product runs: the one that drives the browser shall not take turns with the program.
    program = multiprocessing.get_context("spawn").Process(target=_serve, args=(server.url("bench"), port), daemon=True)
    program.start()
    _await(port)
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu"):
        options.add_argument(flag)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    try:
        _print_machine(driver)
        for tool in TOOLS:
            driver.get(f"http://127.0.0.1:{port}/m/{model_id}/bench?tool={tool}")
            time.sleep(3)
            _print_times(driver, tool)
        _print_machine(driver)
        _print_load(driver, f"http://127.0.0.1:{port}/m/{model_id}/fly", "console")
        _print_load(driver, f"http://127.0.0.1:{port}/m/{model_id}/bench", "bench")
    finally:
        driver.quit()
        program.terminate()
        program.join(10)


def _print_machine(driver: webdriver.Chrome) -> None:
    turns = driver.execute_script(
        "const t = performance.now(); let x = 0; for (let i = 0; i < 1e7; i++) x += Math.sqrt(i); return performance.now() - t + 0 * x"
    )
    begun = time.perf_counter()
    total = 0
    for i in range(1_000_000):
        total += i
    plain = 1000 * (time.perf_counter() - begun)
    print(f"machine: a million turns of plain Python {plain:.0f} ms, ten million of the browser {turns:.0f} ms")


def _print_times(driver: webdriver.Chrome, tool: str) -> None:
    times = _press(driver)
    asked = driver.execute_script(
        "return performance.getEntriesByType('resource').filter(e => e.name.endsWith('/what-if')).map(e => e.duration)"
    )
    median, most = (np.percentile(times, share) for share in (50, 95))
    print(f"what-if, {tool} open, key to painted numbers: median {median:.0f} ms, p95 {most:.0f} ms, n {len(times)}")
    print(f"  of it the program's answer: median {np.median(asked):.0f} ms, p95 {np.percentile(asked, 95):.0f} ms")


def _serve(url: str, port: int) -> None:
    uvicorn.run(create_app(url, web_dist=DIST), host="127.0.0.1", port=port, log_level="warning")


def _await(port: int) -> None:
    until = time.monotonic() + 60.0
    while True:
        try:
            socket.create_connection(("127.0.0.1", port), timeout=1.0).close()
            return
        except OSError:
            if time.monotonic() > until:
                raise
            time.sleep(0.1)


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
    """Return what each press took [ms]: pressed and timed in the page itself, nobody asks meanwhile."""
    driver.set_script_timeout(300)
    times = driver.execute_async_script(_PRESS, STEPS, LONGEST_MS)
    driver.find_element(By.CSS_SELECTOR, "[data-testid=battery]").send_keys(Keys.ESCAPE)
    return np.array(times)


if __name__ == "__main__":
    main()
