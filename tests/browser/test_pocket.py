"""The program in the pocket: prepared once, then flown from the gate to the landing without a server, in a browser that is killed."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from jinba.api.app import create_app
from tests.api.steps import V1, close_gates, create, ok
from tests.browser.conftest import FLAGS, Program
from tests.browser.pages import Browser
from tests.browser.test_away import keep
from tests.conftest import OWN
from tests.pictures import picture

LAST_GATE = "G7"


class Phone:
    """A browser that keeps what it has on its disk; it can be killed like an app that is swiped away."""

    def __init__(self, profile: Path, address: str) -> None:
        self.profile, self.address = profile, address
        self.start()

    def start(self) -> None:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in (*FLAGS, f"--user-data-dir={self.profile}"):
            options.add_argument(flag)
        self.driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        self.page = Browser(self.driver, self.address)
        self.page.size(390, 844, phone=True)

    def kill(self) -> None:
        os.kill(self.driver.capabilities["goog:processID"], signal.SIGKILL)
        self.driver.service.stop()


@pytest.fixture
def phone(tmp_path: Path, address: str) -> Iterator[Phone]:
    phone = Phone(tmp_path / "profile", address)
    yield phone
    phone.driver.quit()


@pytest.fixture
def api(program: Program) -> Iterator[TestClient]:
    """The same data by another door, open while the served program is down."""
    with TestClient(create_app(program.database_url), base_url=OWN) as client:
        yield client


def killed_and_opened(phone: Phone, path: str) -> Browser:
    phone.kill()
    phone.start()
    phone.page.open(path)
    return phone.page


def prepared(b: Browser, model_id: str) -> None:
    b.open(f"/m/{model_id}")
    b.until(lambda: b.one("[data-testid=kit]").get_attribute("data-ready") == "true", "the kit to be on the phone")


def log_of(api: TestClient, model_id: str) -> list[str]:
    sortie = ok(api.get(f"{V1}/models/{model_id}"))["sorties"][-1]
    return [e["record"]["card_id"] for e in ok(api.get(f"{V1}/sorties/{sortie['id']}"))["log"]]


def test_a_sortie_without_a_server_in_a_browser_killed_three_times_arrives_once_and_in_order(phone, program, api):
    model_id = create(api, "Fell")["id"]
    close_gates(api, model_id)
    failed = {"id": "7a000000-0000-4000-8000-0000000000f7", "record": {"card_id": LAST_GATE, "outcome": "failed"}}
    ok(api.post(f"{V1}/models/{model_id}/ground-cards", json=failed))
    prepared(phone.page, model_id)
    program.stop()

    b = killed_and_opened(phone, f"/m/{model_id}")
    b.see("The program does not answer.")
    b.press("Plan")
    b.see("1 open")
    b.close_gates(by_hand=True)
    b.see("1 only on this device")
    b.press("Fly this sortie")
    b.see("Call this sortie off")
    keep(b, "F1 kept on this device")
    keep(b, "F2 kept on this device")

    b = killed_and_opened(phone, f"/m/{model_id}/fly")
    b.see("F3 ")
    b.see("4 only on this device")
    b.press("Emergency")
    b.press("Too far out of trim to let go")
    b.see("Never let go to see what it does.")
    b.press("Back to the sortie")
    b.see("F3 ")
    program.start()
    b.until(lambda: not b.all("[data-testid=on-device]"), "what was kept to be sent by itself")
    assert log_of(api, model_id) == ["F1", "F2"]
    program.stop()
    keep(b, "F3 kept on this device")

    b = killed_and_opened(phone, f"/m/{model_id}/fly")
    b.see("It has landed")
    b.land()
    b.see("Sortie 1 has landed. It is kept on this device.")
    b.press("Plan")
    b.see("The last sortie is only on this device.")
    assert not b.button("Fly this sortie").is_enabled(), "the next one waits for what this one taught"
    program.start()
    b.until(lambda: not b.all("[data-testid=on-device]"), "the landing to be sent by itself")
    b.press("Debrief")
    b.see("Debrief of sortie 1")
    assert log_of(api, model_id) == ["F1", "F2", "F3"]
    (sortie,) = ok(api.get(f"{V1}/models/{model_id}"))["sorties"]
    assert sortie["status"] == "landed"


def test_a_sortie_another_device_has_begun_takes_in_what_this_one_logged(phone, program, api):
    model_id = create(api, "Fell")["id"]
    plan = close_gates(api, model_id)
    prepared(phone.page, model_id)
    program.stop()
    b = phone.page
    b.open(f"/m/{model_id}/plan")
    b.close_gates(by_hand=True)
    b.press("Fly this sortie")
    b.see("Call this sortie off")
    keep(b, "F1 kept on this device")
    reasons = {s["code"]: "a rehearsal of the tests" for s in plan["stops"]}
    other = {"id": "7a000000-0000-4000-8000-0000000000f8", "card_ids": plan["programme"]["flight"], "reasons": reasons}
    ok(api.post(f"{V1}/models/{model_id}/sorties", json=other), 201)
    program.start()
    b.press("1 not accepted")
    b.see("Sortie 1 is still open")
    b.press("It is the same sortie 1: put its cards there")
    b.see("everything logged here is in the program")
    assert log_of(api, model_id) == ["F1"]


NOTED = ["something buzzed or fluttered", "a photo", "a voice note"]


def noted(b: Browser, folder: Path) -> None:
    """Note a thing by one tap, a photo and a voice, where no program answers."""
    photo = folder / "crack.jpg"
    photo.write_bytes(picture((2000, 1500)))
    for act in (
        lambda: b.press("Something buzzed or fluttered"),
        lambda: b.all("[data-testid=note-sheet] input[type=file]")[0].send_keys(str(photo)),
        lambda: (b.press("Speak a note"), time.sleep(1.2), b.press("Tap to end and keep it")),
    ):
        b.click(lambda: b.one("[data-testid=note]"))
        b.one("[data-testid=note-sheet]")
        assert b.button("Hold to abort").is_enabled(), "the abort is held from here, too"
        act()
        b.see("noted on this device")
        b.until(lambda: not b.all("[data-testid=note-sheet]"), "the card again")


def gone_through(b: Browser, api: TestClient, model_id: str) -> None:
    """Go through what was noted: it stops the next flight no more."""
    sortie = ok(api.get(f"{V1}/models/{model_id}"))["sorties"][-1]["id"]
    ok(api.post(f"{V1}/sorties/{sortie}/land"))
    b.open(f"/m/{model_id}/plan")
    b.see("play in hinges, horns and pushrods")
    b.press("Listen to it")
    b.until(lambda: b.driver.execute_script("return document.querySelector('audio')?.duration > 0.5"), "the voice")
    shown = "return [...document.querySelectorAll('[data-testid=notes] img')].map((i) => i.naturalWidth)"
    b.until(lambda: b.driver.execute_script(shown) == [1280], "the photo, made small on the phone")
    for left in (2, 1, 0):
        b.press("Say what it was")
        b.type("What was it, or what was found?", "a loose horn, glued")
        b.until(lambda left=left: len(b.all("[data-testid=notes] [data-note]")) == left, "one less")
    b.until(lambda: not b.all("[data-stop=noted]"), "nothing noted to stop it")


def test_what_a_phone_without_any_network_has_logged_is_handed_over_as_a_file_and_counts_once(
    phone, program, api, browser, tmp_path
):
    model_id = create(api, "Fell")["id"]
    close_gates(api, model_id)
    prepared(phone.page, model_id)
    program.stop()
    b = phone.page
    b.open(f"/m/{model_id}/plan")
    b.press("Fly this sortie")
    b.see("Call this sortie off")
    keep(b, "F1 kept on this device")
    keep(b, "F2 kept on this device")
    noted(b, tmp_path)
    phone.driver.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    b.open("/waiting")
    # A phone that can share offers that instead; here it is the file.
    phone.driver.execute_script("navigator.canShare = undefined")
    b.press("Hand over as a file")
    b.see("It stays here, too, until the program has it.")
    (log,) = b.until(lambda: list(tmp_path.glob("*.json")), "the file")
    phone.kill()

    program.start()
    laptop = browser
    for _ in range(2):
        laptop.open("/phones")
        box = laptop.until(lambda: laptop.all("[data-testid=take-in] input[type=file]"), "the box")[0]
        box.send_keys(str(log))
        laptop.see("8 entries taken in")
        laptop.until(lambda: not laptop.all("[data-testid=on-device]"), "what was taken in to be sent")
    assert log_of(api, model_id) == ["F1", "F2"], "taken in twice, it counts once"
    phone.start()
    phone.page.open(f"/m/{model_id}/fly")
    phone.page.until(lambda: not phone.page.all("[data-testid=on-device]"), "the phone to have sent its own")
    assert log_of(api, model_id) == ["F1", "F2"], "handed over and sent as well, it counts once"
    assert [n["said"] for n in ok(api.get(f"{V1}/models/{model_id}/notes"))] == NOTED, "and each note once"
    damaged = tmp_path / "damaged.json"
    damaged.write_text(log.read_text()[:-40])
    laptop.all("[data-testid=take-in] input[type=file]")[0].send_keys(str(damaged))
    laptop.until(lambda: laptop.all("[data-testid=take-in] [role=alert]"), "why it was not taken in")
    gone_through(laptop, api, model_id)
