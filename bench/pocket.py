"""The program in the pocket, in the real browser at a phone's size and a quarter of this processor's speed.

``python -m bench.pocket`` (needs the built front end, Chromium and ChromeDriver): a start without a server, a tap until the card is on
the device, two thousand readings sent, a first visit over a slow line, and what that visit fetches.
"""

from __future__ import annotations

import gzip
import socket
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import uvicorn
from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from sqlalchemy.orm import sessionmaker

from jinba.api.app import create_app
from jinba.cli import postgres
from jinba.cli.warm import warm_up
from jinba.persistence.database import make_engine, unit_of_work, upgrade
from jinba.services import shelf
from jinba.services.demo import load_demo

DIST = Path(__file__).resolve().parents[1] / "web" / "dist"
SLOWER = 4
VISITS, STARTS, TAPS, CARDS = 3, 10, 8, 1000
_SENTENCE = """
new MutationObserver(() => {
  if (!window.__read && document.querySelector('main')?.innerText.match(/Scree/)) window.__read = performance.now();
}).observe(document, {subtree: true, childList: true, characterData: true});
"""
_TAPS = """
window.__taps = []; window.__tap = 0;
document.addEventListener('click', (e) => { if (e.target.innerText === 'Keep, next card') window.__tap = performance.now(); }, true);
const put = IDBObjectStore.prototype.put;
IDBObjectStore.prototype.put = function (...given) {
  const asked = put.apply(this, given);
  if (this.name === 'waiting' && window.__tap) {
    const tapped = window.__tap;
    window.__tap = 0;
    this.transaction.addEventListener('complete', () => window.__taps.push(performance.now() - tapped));
  }
  return asked;
};
"""
_FILL = """
const [sortie, count, done] = arguments;
const asked = indexedDB.open('jinba-outbox');
asked.onsuccess = () => {
  const store = asked.result.transaction('waiting', 'readwrite').objectStore('waiting');
  for (let i = 0; i < count; i++) {
    const readings = [{key: 'pitch_clicks', number: 1 + (i % 9), direction: 'nose_up'}, {key: 'left_over', choice: 'holds'}];
    store.put({what: 'record', id: crypto.randomUUID(), place: i, target: {kind: 'sortie', sortieId: sortie}, version: 2, replaces: null,
      madeAt: new Date().toISOString(), seen: 0, refused: null,
      record: {card_id: 'F2', outcome: 'done', readings: readings.map((r) => ({none: false, entered: '', ...r})), left_alone: true,
        confidence: 'fair', from_memory: false, note: '', conditions: {pack: ''}}});
  }
  store.transaction.oncomplete = () => done(count);
};
"""


_BARE = """
const done = arguments[0];
const asked = indexedDB.open('bench-bare', 1);
asked.onupgradeneeded = () => asked.result.createObjectStore('waiting', {keyPath: 'id'});
asked.onsuccess = async () => {
  const loops = [], puts = [];
  const card = {readings: Array.from({length: 6}, (_, i) => ({key: `k${i}`, number: i, choice: '', direction: 'nose_up'}))};
  for (let i = 0; i < 9; i++) {
    await new Promise((go) => setTimeout(go, 50));
    let begun = performance.now(), sum = 0;
    for (let k = 0; k < 3e6; k++) sum += Math.sqrt(k);
    loops.push(performance.now() - begun);
    await new Promise((go) => setTimeout(go, 50));
    begun = performance.now();
    const kept = asked.result.transaction('waiting', 'readwrite');
    kept.objectStore('waiting').put({id: crypto.randomUUID(), ...card, sum});
    await new Promise((go) => (kept.oncomplete = go));
    puts.push(performance.now() - begun);
  }
  const median = (x) => x.sort((a, b) => a - b)[4];
  done([median(loops), median(puts)]);
};
"""


UP_S = 12.0
"""How long the program has been up when a phone comes for the first time [s]."""


class Served:
    """The program on one port; it goes away and comes back."""

    def __init__(self, url: str) -> None:
        self.url = url
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.address = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self) -> None:
        """Serve, as the program does: it asks itself first what a visitor will."""
        config = uvicorn.Config(
            create_app(self.url, web_dist=DIST), host="127.0.0.1", port=self.port, log_level="warning"
        )
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        while not self.server.started:
            time.sleep(0.05)
        threading.Thread(target=warm_up, args=(self.address,), daemon=True).start()

    def stop(self) -> None:
        """Be away."""
        self.server.should_exit = self.server.force_exit = True
        self.thread.join(timeout=10)


def _phone() -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--disable-gpu"):
        options.add_argument(flag)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    driver.set_page_load_timeout(120)
    shape = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", shape)
    return driver


def _until(condition: Callable[[], object], what: str, seconds: float = 120.0) -> None:
    end = time.monotonic() + seconds
    while not condition():
        if time.monotonic() > end:
            raise RuntimeError(f"waited in vain for {what}")
        time.sleep(0.02)


def _read_after_ms(driver: webdriver.Chrome, address: str) -> float:
    # Only while it is read: it lays the page out at every change, which is no part of what a tap costs.
    watch = driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _SENTENCE})
    driver.get(address)
    _until(lambda: driver.execute_script("return window.__read"), "Today's sentence")
    driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", watch)
    return float(driver.execute_script("return window.__read"))


def _first_visit(address: str) -> None:
    driver = _phone()
    try:
        driver.execute_cdp_cmd("Network.enable", {})
        line = {"offline": False, "latency": 400, "downloadThroughput": 50_000, "uploadThroughput": 50_000}
        driver.execute_cdp_cmd("Network.emulateNetworkConditions", line)
        driver.execute_cdp_cmd("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
        read = _read_after_ms(driver, address)
        print(f"first visit, 400 kbit/s, 400 ms, {SLOWER}x CPU: Today's sentence after {read / 1000:.1f} s")
        names = driver.execute_script(
            "return performance.getEntriesByType('resource').filter(e => e.startTime < window.__read).map(e => e.name)"
        )
        files = {n.rsplit("/", 1)[1] for n in names if "/assets/" in n and not n.endswith(".woff2")}
        size = sum(len(gzip.compress((DIST / "assets" / f).read_bytes())) for f in files)
        print(f"first load without fonts: {size / 1000:.0f} kB gzip in {len(files)} files")
    finally:
        driver.quit()


def _pocket(driver: webdriver.Chrome, served: Served, model: str) -> None:
    today = f"{served.address}/m/{model}"
    driver.get(today)
    ready = "return document.querySelector('[data-testid=kit]')?.dataset.ready === 'true'"
    _until(lambda: driver.execute_script(ready), "the kit")
    served.stop()
    driver.execute_cdp_cmd("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
    starts = np.array([_read_after_ms(driver, today) for _ in range(STARTS)])
    print(
        f"start without a server, {SLOWER}x CPU: Today's sentence after {np.median(starts):.0f} ms (most {starts.max():.0f}, n {STARTS})"
    )
    driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _TAPS})
    driver.get(f"{today}/plan")
    _begin(driver)
    for _ in range(TAPS):
        _answer(driver)
    taps = np.array(driver.execute_script("return window.__taps"))
    loop, bare = driver.execute_async_script(_BARE)
    print(f"this machine, {SLOWER}x CPU: three million roots {loop:.0f} ms, a bare card on the disk {bare:.0f} ms")
    print(
        f"tap to stored, {SLOWER}x CPU: {np.median(taps):.0f} ms in the median, {taps.max():.0f} at most, n {len(taps)};"
        f" {np.median(taps) / bare:.1f} times the bare one"
    )
    served.start()
    _until(lambda: not driver.find_elements(By.CSS_SELECTOR, "[data-testid=on-device]"), "what was kept to be sent")


def _begin(driver: webdriver.Chrome) -> None:
    button = "[...document.querySelectorAll('button')].find(b => b.innerText.includes(arguments[0]) && !b.disabled)"
    field = "[data-testid=stops] input"
    _until(lambda: driver.find_elements(By.CSS_SELECTOR, "details[data-gate]"), "the gates")
    for stop in driver.find_elements(By.CSS_SELECTOR, field):
        stop.send_keys("a run of the benchmark")
    for gate in driver.find_elements(By.CSS_SELECTOR, "details[data-gate]:not([data-state=done])"):
        driver.execute_script("arguments[0].open = true", gate)
        for pair in gate.find_elements(By.CSS_SELECTOR, ".join"):
            driver.execute_script("arguments[0].querySelector('button').click()", pair)
        log = [b for b in gate.find_elements(By.TAG_NAME, "button") if "Log as" in b.text]
        _until(log[0].is_enabled, "the gate's button")
        driver.execute_script("arguments[0].click()", log[0])
        time.sleep(0.5)
    _until(lambda: driver.execute_script(f"return !!({button})", "Fly this sortie"), "the way to the console")
    driver.execute_script(f"({button}).click()", "Fly this sortie")
    _until(lambda: driver.find_elements(By.CSS_SELECTOR, "[data-testid=thumb-bar]"), "the console")


def _answer(driver: webdriver.Chrome) -> None:
    seen = len(driver.execute_script("return window.__taps"))
    _until(lambda: _one_answer(driver), "the card's questions")
    keep = "[...document.querySelectorAll('button')].find(b => b.innerText === 'Keep, next card' && !b.disabled)"
    _until(lambda: driver.execute_script(f"return !!({keep})"), "the card to be complete")
    driver.execute_script(f"({keep}).click()")
    _until(lambda: len(driver.execute_script("return window.__taps")) > seen, "the card to be stored")
    time.sleep(0.4)


def _one_answer(driver: webdriver.Chrome) -> bool:
    """Answer the question shown by its first choice; true where the card is kept."""
    return bool(
        driver.execute_script(
            """
            const console = document.querySelector('.console');
            if (!console || console.dataset.step === 'keep') return Boolean(console);
            const b = [...document.querySelectorAll('.console-body [data-answer]')];
            const start = document.querySelector('[data-start]');
            const typed = document.querySelector('.console-body input');
            if (b.length === 0 && typed && !typed.dataset.typed) {
              typed.dataset.typed = 'true';
              Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(typed, '100');
              typed.dispatchEvent(new Event('input', {bubbles: true}));
              setTimeout(() => document.querySelector('[data-onward]').click(), 100);
            }
            const first = b.find((e) => e.innerText.includes('none needed')) ?? b[0];
            // A direction and then how much of it.
            (start ?? (first?.getAttribute('aria-pressed') === 'true' ? b.at(-1) : first))?.click();
            return false;
            """
        )
    )


def _send(driver: webdriver.Chrome, served: Served, model: str) -> None:
    sortie = driver.execute_async_script(
        "const done = arguments[1]; fetch(arguments[0]).then(r => r.json()).then(m => done(m.sorties.at(-1).id))",
        f"/api/v1/models/{model}",
    )
    served.stop()
    driver.execute_cdp_cmd("Emulation.setCPUThrottlingRate", {"rate": 1})
    driver.execute_async_script(_FILL, sortie, CARDS)
    served.start()
    begun = time.monotonic()
    driver.get(f"{served.address}/waiting")
    _until(lambda: "everything logged here is in the program" in driver.page_source, "all to be sent", 600.0)
    print(f"{CARDS} cards of two readings sent in {time.monotonic() - begun:.1f} s, from the start of the page")


def main() -> None:
    """Print the figures."""
    with tempfile.TemporaryDirectory(prefix="jinba-bench-") as folder:
        Path(folder).chmod(0o755)
        server = postgres.start(Path(folder) / "pg", fast=True)
        try:
            postgres.ensure_database(server, "bench")
            upgrade(server.url("bench"))
            with unit_of_work(sessionmaker(make_engine(server.url("bench")))) as session:
                load_demo(session)
                model = str(next(m.id for m in shelf.shelf(session) if m.name == "Scree"))
            served = Served(server.url("bench"))
            # A laptop is started before the phone comes.
            time.sleep(UP_S)
            for _ in range(VISITS):
                _first_visit(f"{served.address}/m/{model}")
            driver = _phone()
            try:
                _pocket(driver, served, model)
                _send(driver, served, model)
            finally:
                driver.quit()
                served.stop()
        finally:
            postgres.stop(server)


if __name__ == "__main__":
    main()
