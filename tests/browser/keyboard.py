"""A person at the screen who has a keyboard and nothing else: what is pressed is reached by Tab and arrow keys."""

from __future__ import annotations

import time

from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from tests.browser.pages import WAIT_S, Browser

_WAY = """
    const [to] = arguments;
    const reached = (e) => e.tabIndex >= 0 && !e.disabled && e.checkVisibility()
      && (e.type !== 'radio' || e.checked || ![...document.getElementsByName(e.name)].some((r) => r.checked));
    const all = [...document.querySelectorAll('a[href], button, input, select, textarea, summary, [tabindex]')].filter(reached);
    const here = all.indexOf(document.activeElement);
    return [all.indexOf(to), here];
"""


class Keyboard(Browser):
    """Clicks nothing: goes to what is meant by keys, and presses it by Enter, Space or an arrow."""

    def keys(self, *pressed: str) -> None:
        ActionChains(self.driver).send_keys(*pressed).perform()

    @property
    def here(self) -> WebElement:
        return self.driver.switch_to.active_element

    def go_to(self, element: WebElement) -> None:
        """Press Tab, or Shift and Tab, until the focus stands on an element; it must be reached that way."""
        for _ in range(12):
            if self.here == element:
                return
            to, now = self.driver.execute_script(_WAY, element)
            if to < 0:
                # Out of reach while something is being saved; for good, it is an error.
                time.sleep(0.5)
                continue
            steps = to - now if now >= 0 else to + 1
            chain = ActionChains(self.driver)
            if steps < 0:
                chain.key_down(Keys.SHIFT).send_keys(Keys.TAB * -steps).key_up(Keys.SHIFT).perform()
            else:
                chain.send_keys(Keys.TAB * max(steps, 1)).perform()
        stands = self.here.get_attribute("outerHTML")[:160]
        raise AssertionError(f"Tab does not lead to {element.get_attribute('outerHTML')[:160]}; it stands on {stands}")

    def click(self, find) -> None:
        end = time.monotonic() + WAIT_S
        while time.monotonic() < end:
            try:
                element = find()
                if element.is_enabled():
                    self._press(element)
                    return
            except StaleElementReferenceException:
                pass
            time.sleep(0.1)
        raise AssertionError("nothing to press")

    def _press(self, element: WebElement) -> None:
        role, kind = element.get_attribute("role"), element.get_attribute("type")
        if role == "tab" and element.get_attribute("tabindex") == "-1":
            self._to_tab(element)
            return
        if element.tag_name == "label":
            element = self.driver.execute_script("return arguments[0].control", element)
            kind = element.get_attribute("type")
        if kind == "radio":
            self._to_radio(element)
            return
        self.go_to(element)
        self.keys(Keys.SPACE if kind == "checkbox" else Keys.ENTER)

    def _to_tab(self, element: WebElement) -> None:
        chosen = "return arguments[0].closest('[role=tablist]').querySelector('[tabindex=\"0\"]')"
        self.go_to(self.driver.execute_script(chosen, element))
        order = "return [...arguments[0].closest('[role=tablist]').children].map((e) => e.dataset.tab)"
        names = self.driver.execute_script(order, element)
        wanted, now = element.get_attribute("data-tab"), self.here.get_attribute("data-tab")
        step = names.index(wanted) - names.index(now)
        for _ in range(abs(step)):
            self.keys(Keys.ARROW_RIGHT if step > 0 else Keys.ARROW_LEFT)

    def _to_radio(self, element: WebElement) -> None:
        group = "return [...document.getElementsByName(arguments[0].name)]"
        members = self.driver.execute_script(group, element)
        first = next((m for m in members if m.is_selected()), members[0])
        self.go_to(first)
        self.keys(Keys.SPACE)
        step = members.index(element) - members.index(first)
        for _ in range(abs(step)):
            self.keys(Keys.ARROW_DOWN if step > 0 else Keys.ARROW_UP)

    def type(self, label: str, value: str, *, nth: int = 0, key: str = Keys.ENTER) -> WebElement:
        field = self.field(label, nth=nth)
        self.go_to(field)
        ActionChains(self.driver).key_down(Keys.CONTROL).send_keys("a").key_up(Keys.CONTROL).send_keys(
            value, key
        ).perform()
        return field

    def select(self, label: str, words: str) -> None:
        box = self.within(label, "select")
        self.go_to(box)
        names = [o.text for o in Select(box).options]
        self.keys(Keys.HOME, *[Keys.ARROW_DOWN] * names.index(words))
