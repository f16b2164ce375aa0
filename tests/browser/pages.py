"""Page objects: what a person does on the screens, found by what a person reads."""

from __future__ import annotations

import contextlib
import re
import time

import httpx2
from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    StaleElementReferenceException,
    TimeoutException,
)
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select, WebDriverWait

from tests.api.steps import close_gates

WAIT_S = 25


class Browser:
    """A person at the screen."""

    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver = driver
        self.address = address
        self.away = False
        """Set where the server is stopped on purpose: the browser's own complaints are then expected."""

    def size(self, width: int, height: int, *, phone: bool = False) -> None:
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": phone},
        )

    def open(self, path: str) -> None:
        self.driver.get(self.address + path)

    @property
    def path(self) -> str:
        return str(self.driver.execute_script("return location.pathname"))

    @property
    def text(self) -> str:
        return str(self.driver.execute_script("return document.body.innerText"))

    def until(self, condition, what: str):
        wait = WebDriverWait(self.driver, WAIT_S, 0.1, ignored_exceptions=(StaleElementReferenceException,))
        try:
            return wait.until(lambda _: condition())
        except TimeoutException:
            # What it says now, not what it said when the waiting began.
            raise AssertionError(f"waited for {what}; the page says:\n{self.text[:1500]}") from None

    def see(self, words: str) -> None:
        self.until(lambda: words in self.text, repr(words))

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def one(self, css: str) -> WebElement:
        return self.until(lambda: next((e for e in self.all(css) if e.is_displayed()), None), css)

    def button(self, words: str, *, nth: int = 0) -> WebElement:
        script = """
            const visible = (e) => e.getClientRects().length > 0;
            return [...document.querySelectorAll('button, a, summary, [role=tab]')].filter(
              (e) => visible(e) && (e.innerText.includes(arguments[0]) || e.getAttribute('aria-label') === arguments[0]))[arguments[1]] ?? null;
        """
        return self.until(lambda: self.driver.execute_script(script, words, nth), f"a button {words!r}")

    def press(self, words: str, *, nth: int = 0) -> None:
        self.click(lambda: self.button(words, nth=nth))

    def click(self, find) -> None:
        # What is still being saved keeps its button shut: on a busy machine that takes longer than a moment.
        end = time.monotonic() + WAIT_S
        while time.monotonic() < end:
            with contextlib.suppress(StaleElementReferenceException, ElementClickInterceptedException):
                element = find()
                self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
                if element.is_enabled():
                    element.click()
                    return
            time.sleep(0.1)
        find().click()

    def field(self, label: str, *, nth: int = 0) -> WebElement:
        script = """
            const labels = [...document.querySelectorAll('label[for]')].filter((e) => e.innerText.split('\\n')[0].trim() === arguments[0]);
            const label = labels.at(arguments[1]);
            return label ? document.getElementById(label.htmlFor) : null;
        """
        return self.until(lambda: self.driver.execute_script(script, label, nth), f"a field {label!r}")

    def type(self, label: str, value: str, *, nth: int = 0, key: str = Keys.ENTER) -> WebElement:
        field = self.field(label, nth=nth)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", field)
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(value, key)
        return field

    def within(self, label: str, css: str, *, nth: int = 0) -> WebElement:
        """Return the control that its label, read by its first words, encloses."""
        script = """
            const labels = [...document.querySelectorAll('label')].filter(
              (e) => e.innerText.trim().startsWith(arguments[0]) && e.querySelector(arguments[1]));
            return labels.at(arguments[2])?.querySelector(arguments[1]) ?? null;
        """
        return self.until(lambda: self.driver.execute_script(script, label, css, nth), f"{css} of {label!r}")

    def select(self, label: str, words: str) -> None:
        Select(self.within(label, "select")).select_by_visible_text(words)

    def tick(self, label: str, *, nth: int = 0) -> None:
        self.click(lambda: self.within(label, "input[type=checkbox]", nth=nth))

    def area(self, label: str, text: str) -> None:
        box = self.within(label, "textarea")
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(text)

    def saved(self, label: str, shown: str, *, nth: int = 0) -> None:
        self.until(lambda: self.field(label, nth=nth).get_attribute("value") == shown, f"{label} to read {shown}")

    def number(self, label: str) -> str:
        for e in self.all("[data-testid=bench-numbers] summary"):
            if e.text.startswith(label):
                return e.text.split("\n")[1]
        return ""

    def settled_number(self, label: str) -> str:
        """Return a number once it has not changed for half a second."""
        shown, since = self.number(label), time.monotonic()
        while time.monotonic() - since < 0.5:
            now = self.number(label)
            if now != shown:
                shown, since = now, time.monotonic()
            time.sleep(0.05)
        return shown

    def drag(self, element: WebElement, dx: int) -> None:
        ActionChains(self.driver).click_and_hold(element).move_by_offset(dx // 2, 0).move_by_offset(
            dx - dx // 2, 0
        ).release().perform()

    def hold(self, element: WebElement, seconds: float) -> None:
        ActionChains(self.driver).click_and_hold(element).pause(seconds).release().perform()

    def close_gates(self, *, by_hand: bool = False) -> None:
        """Answer every question of every gate with yes: at the program itself, or ``by_hand``, gate by gate as a pilot does."""
        if not by_hand:
            with httpx2.Client(base_url=self.address, trust_env=False, timeout=60.0) as client:
                close_gates(client, self.path.split("/")[2])  # type: ignore[arg-type]
            self.open(self.path)
        self.until(lambda: any(h.text.startswith("Gates") for h in self.all("h2")), "the gates to be listed")
        # What was kept on the device is shown first: the gates are those the program says, where it answers.
        self.until(lambda: self.all("main[aria-busy=false]"), "the page to come to rest")
        gates = (
            []
            if not by_hand
            else [
                g.get_attribute("data-gate")
                for g in self.all("details[data-gate]")
                if g.get_attribute("data-state") != "done"
            ]
        )
        for gate in gates:
            self.click(lambda gate=gate: self.one(f"details[data-gate={gate}] summary"))
            for i in range(len(self.all(f"details[data-gate={gate}] .join"))):
                self.click(
                    lambda gate=gate, i=i: self.all(f"details[data-gate={gate}] .join")[i].find_elements(
                        By.TAG_NAME, "button"
                    )[0]
                )
            self.click(
                lambda gate=gate: next(b for b in self.all(f"details[data-gate={gate}] button") if "Log as" in b.text)
            )
            self.until(
                lambda gate=gate: self.one(f"details[data-gate={gate}]").get_attribute("data-state") == "done",
                f"gate {gate} to close",
            )
        self.override("a rehearsal of the tests")

    def land(self) -> None:
        """Say that it is down, asked once, and go to the debrief without the cards after landing."""
        self.press("It has landed")
        self.press("It is down")
        self.press("To the debrief at once")

    def override(self, reason: str) -> None:
        """Say for every stop why it is flown all the same."""
        for k in range(len(self.all("[data-testid=stops] input"))):
            field = self.all("[data-testid=stops] input")[k]
            field.clear()
            field.send_keys(reason)

    def open_proofs(self) -> int:
        """Return how many actions of a work order wait for their reading."""
        return len(self.all("input[aria-label^='reading for:']"))

    def read_proof(self, number: str | None = None) -> None:
        """Enter what proves the first open action: what its words say; or a wrong ``number``, of the first that asks for one."""
        entry = "input[aria-label^='reading for:']"
        box = self.one(entry if number is None else f"[data-testid=proof] {entry}")
        said = box.find_element(By.XPATH, "ancestor::li").text.split("Proof:")[1].split("\n")[0]
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
        if not (asked := box.find_elements(By.XPATH, "ancestor::*[@data-testid='proof']")):
            self.press("Done")
            return
        found = re.search(r"([\d.]+) (?:mm (?:behind|ahead)|click)|(?:up|down|left|right) ([\d.]+) mm", said)
        wanted = "0" if found is None else found[1] or found[2]
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(number or wanted)
        for way in asked[0].find_elements(By.CSS_SELECTOR, "button[aria-pressed]"):
            if way.text in said or f" {way.text} " in said:
                way.click()
                break
        self.press("It reads so")

    def step(self) -> str:
        """Where the card of the console is: what is flown, the question asked, or keeping it."""
        found = self.all(".console")
        return (found[0].get_attribute("data-step") or "") if found else ""

    def ask(self, capture: str) -> None:
        """Have a question of the card on the console asked, wherever the card is."""

        def there() -> bool:
            if self.step() == capture:
                return True
            ways = self.all("[data-start]") or self.all(f"[data-ask={capture}]")
            if ways:
                self.driver.execute_script("arguments[0].click()", ways[0])
            elif self.step() not in ("", "keep"):
                # What may be said besides is asked from where the card is kept.
                self.driver.execute_script("document.querySelector('[data-onward]').click()")
            return False

        self.until(there, f"{capture} to be asked")

    def choose(self, capture: str, words: str) -> None:
        """Tap a worded choice of a measure on the console."""
        self.ask(capture)

        def find() -> WebElement | None:
            return next((b for b in self.all(f"[data-capture={capture}] button") if words in b.text), None)

        self.click(lambda: self.until(find, f"{words!r} under {capture}"))

    def start(self) -> None:
        """Say that the card on the console was flown: its first question comes."""

        def asked() -> bool:
            self.driver.execute_script("document.querySelector('[data-start]')?.click()")
            return self.step() not in ("", "flying")

        self.until(asked, "its first question")

    def left_alone(self) -> None:
        """Say that it could be left alone before the card on the console."""
        self.ask("proof")
        self.press("yes, some seconds")

    def to_the_end(self) -> None:
        """Go on to where the card on the console is kept."""
        self.until(lambda: self.step() == "keep" or self._on(), "the end of the card")

    def _on(self) -> bool:
        self.driver.execute_script("document.querySelector('[data-onward]').click()")
        return self.step() == "keep"

    def answer_all(self) -> None:
        """Answer whatever the card on the console needs with its first choice, none where clicks are counted."""

        def one() -> bool:
            step = self.step()
            if step == "keep":
                return True
            script = """
                const b = [...document.querySelectorAll('.console-body [data-answer]')];
                const start = document.querySelector('[data-start]');
                (start ?? b.find((e) => e.innerText.includes('none needed')) ?? b[0])?.click();
            """
            if step:
                self.driver.execute_script(script)
            return False

        self.until(one, "every question to be answered")

    def tap(self, words: str) -> None:
        """Tap a choice until it stands pressed: a page that is still moving may let the first tap fall beside it."""
        for _ in range(5):
            self.press(words)
            if self.button(words).get_attribute("aria-pressed") == "true":
                return
        raise AssertionError(f"{words!r} does not stay pressed")

    def card(self) -> str:
        return self.one("main h1").text.split()[0]

    def keep(self) -> None:
        before = self.card()
        self.to_the_end()
        self.press("Keep, next card")
        self.until(lambda: not self.all("main h1") or self.card() != before, f"the card after {before}")
