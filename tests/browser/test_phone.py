"""A phone at the field: paired over TLS by a code, trusting the authority, without the program, forgotten; and a helper's."""

from __future__ import annotations

import os
import socket
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from jinba.api.app import create_app
from jinba.cli.field.serving import FieldDoor
from tests.api.steps import V1, new_id, ok, plan_sortie
from tests.browser.conftest import DIST, FLAGS
from tests.browser.pages import Browser
from tests.browser.test_away import keep
from tests.conftest import OWN, cloned
from tests.states import TARN


class Silent:
    """Announces nothing: the browsers here are told where the name is."""

    def __init__(self, *_: object) -> None: ...

    def say(self, _addresses: object) -> None: ...

    def stop(self) -> None: ...


class Place:
    """A laptop that serves the field door; it can be closed and opened again."""

    def __init__(self, url: str, folder: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.url, self.folder = url, folder
        self.open()
        self.laptop = TestClient(create_app(url, site=self.door.site), base_url=OWN)

    def open(self) -> None:
        self.door = FieldDoor(self.folder, port=self.port, addresses=lambda: {"127.0.0.1"}, announcer=Silent)  # type: ignore[arg-type, return-value]
        self.door.start(create_app(self.url, web_dist=DIST, site=self.door.site, for_paired=True))

    def code(self, sortie_id: str | None = None) -> str:
        return str(ok(self.laptop.post(f"{V1}/field/codes", json={"sortie_id": sortie_id}))["code"])


@pytest.fixture(scope="module")
def place(server, flown_template, tmp_path_factory) -> Iterator[Place]:
    with cloned(server, flown_template) as url:
        found = Place(url, tmp_path_factory.mktemp("state") / "field")
        yield found
        found.door.stop()


def trusting(place: Place, home: Path) -> None:
    """Take the authority's certificate into the browser's own store, as its settings page does."""
    store = home / ".pki" / "nssdb"
    store.mkdir(parents=True)
    for command in (
        ["-N", "--empty-password"],
        ["-A", "-t", "C,,", "-n", "jinba", "-i", str(place.folder / "authority.crt")],
    ):
        subprocess.run(["certutil", *command, "-d", f"sql:{store}"], check=True)


@pytest.fixture
def phones(place: Place, tmp_path: Path) -> Iterator[object]:
    """A maker of phones, each a browser of its own; by default it trusts the authority."""
    made: list[webdriver.Chrome] = []

    def phone(*, trusts: bool = True) -> Browser:
        home = tmp_path / f"phone{len(made)}"
        home.mkdir()
        if trusts:
            trusting(place, home)
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        site = place.door.site
        for flag in (*FLAGS, f"--user-data-dir={home / 'profile'}", f"--host-resolver-rules=MAP {site.name} 127.0.0.1"):
            options.add_argument(flag)
        options.accept_insecure_certs = not trusts
        made.append(
            webdriver.Chrome(
                options=options, service=Service("/usr/bin/chromedriver", env={**os.environ, "HOME": str(home)})
            )
        )
        page = Browser(made[-1], site.address)
        page.size(390, 844, phone=True)
        return page

    yield phone
    for driver in made:
        driver.quit()


def pair(b: Browser, code: str) -> None:
    """Scan the code that is shown: the address with it behind the #."""
    b.open(f"/pair#{code}")
    b.see("Pair this device")
    b.press("Pair it")


def test_a_paired_phone_starts_without_the_program_and_is_told_when_it_is_forgotten(place, phones):
    b = phones()
    b.open(f"/m/{TARN}/plan")
    b.see("Pair this device")
    assert "Tarn" not in b.text
    pair(b, "0000-0000")
    b.see("This code pairs nothing")
    pair(b, place.code())
    b.see("This device is paired")
    b.until(lambda: b.one("[data-testid=trust]").get_attribute("data-kept") == "kept", "the page to be kept")
    assert b.one("[data-testid=fingerprint]").text.replace("\n", "") == place.door.site.fingerprint
    assert b.driver.current_url.endswith("/pair"), "the code is not left in the address"
    b.open(f"/m/{TARN}")
    b.until(lambda: b.one("[data-testid=kit]").get_attribute("data-ready") == "true", "the kit to be on the phone")
    place.door.stop()
    b.open(f"/m/{TARN}/plan")
    b.see("The program does not answer.")
    b.see("Gates")
    place.open()
    device = ok(place.laptop.get(f"{V1}/field/paired-devices"))[0]["id"]
    ok(place.laptop.delete(f"{V1}/field/paired-devices/{device}"))
    b.open(f"/m/{TARN}/plan")
    b.see("It is not let in yet.")
    b.open("/waiting")
    b.see("Only on this device")


def test_a_phone_that_does_not_trust_the_name_works_while_the_page_is_open_and_says_so(place, phones):
    b = phones(trusts=False)
    pair(b, place.code())
    b.see("This device is paired")
    b.see("Until then the page works while it is kept open.")
    b.see("Take the certificate")
    b.open(f"/m/{TARN}")
    b.see("Tarn")


def test_a_helper_logs_the_sortie_on_a_phone_of_his_own_and_opens_nothing_else(place, phones):
    sortie_id = plan_sortie(place.laptop, str(TARN))
    b = phones()
    pair(b, place.code(sortie_id))
    b.see("you help log it")
    keep(b, "F1 kept.")
    log = ok(place.laptop.get(f"{V1}/sorties/{sortie_id}"))["log"]
    assert [e["record"]["card_id"] for e in log] == ["F1"]
    for path in ("/", f"/m/{TARN}/plan", "/phones", "/new"):
        b.open(path)
        b.see("you help log it")
        assert b.driver.current_url.endswith("/help")
    assert not b.all("[data-testid=helped]")
    b.open("/help/emergency")
    b.see("What is it?")
    b.open("/help")
    # The pilot logs too, on the laptop: the helper sees it without doing anything.
    body = {"id": new_id(), "record": {"card_id": "F2", "outcome": "skipped"}}
    ok(place.laptop.post(f"{V1}/sorties/{sortie_id}/records", json=body))
    b.see("F3 ")
    ok(place.laptop.post(f"{V1}/sorties/{sortie_id}/land"))
    b.see("This sortie has landed.")
