"""A page of another origin in the same browser: it reads nothing, lands nothing, frames nothing."""

from __future__ import annotations

import http.server
import threading
from collections.abc import Iterator

import pytest

from tests.api.steps import V1
from tests.browser.pages import Browser
from tests.states import TARN

PAGE = """<!doctype html><title>elsewhere</title><iframe id="f" src="{there}/"></iframe><script>
const ask = (what) => what.then((r) => r.type + " " + r.status, () => "refused");
window.tried = Promise.all([
  ask(fetch("{there}{v1}/models")),
  ask(fetch("{there}{v1}/models", {{method: "POST", mode: "no-cors", body: "{{}}"}})),
  ask(fetch("{there}{v1}/archives", {{method: "POST", mode: "no-cors", body: "PK"}})),
  ask(fetch("{there}{v1}/models/{model}/undo", {{method: "POST", mode: "no-cors"}})),
]);
</script>"""


@pytest.fixture
def elsewhere(program) -> Iterator[str]:
    """Serve a page of another origin; yield its address."""
    content = PAGE.format(there=program.address, v1=V1, model=TARN).encode()

    class Page(http.server.BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.send_response(200)
            self.send_header("Content-Type", "text/html")
            self.end_headers()
            self.wfile.write(content)

        def log_message(self, *_: object) -> None:
            pass

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Page)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_port}"
    server.shutdown()


def shelf(b: Browser) -> str:
    b.open("/?shelf")
    b.see("Tarn")
    return b.text


def test_another_page_in_the_same_browser_reads_and_changes_nothing(browser: Browser, elsewhere: str):
    b = browser
    before = shelf(b)
    b.away = True
    b.driver.get(elsewhere)
    tried = b.driver.execute_async_script("const d = arguments[0]; window.tried.then(d)")
    assert set(tried[1:]) <= {"opaque 0", "refused"}, "sent, perhaps, but nothing of the answer is seen"
    assert tried[0] == "refused", "what is on the shelf is not told"
    framed = b.driver.execute_script(
        "const f = document.getElementById('f'); try { return f.contentDocument ? 'ours' : 'closed' } catch { return 'closed' }"
    )
    assert framed == "closed"
    b.driver.switch_to.frame("f")
    assert "Tarn" not in b.text
    b.driver.switch_to.default_content()
    assert shelf(b) == before


def test_under_a_foreign_name_the_program_is_not_reached(browser: Browser, program):
    browser.away = True
    browser.driver.get(f"http://evil.example:{program.port}/")
    browser.see("is not reached under this name")
