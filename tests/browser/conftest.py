"""A real server, a real browser, and words to drive them with."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, TypeVar

import pytest
from selenium import webdriver
from selenium.common.exceptions import NoSuchElementException, StaleElementReferenceException, WebDriverException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from skeinwork.demo.generator import write_files
from tests.shared import Server

Result = TypeVar("Result")
# Between two looks at a page that takes its time: looking more often slows it down.
_LONGEST_PAUSE = 0.3
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--force-prefers-reduced-motion",
)
# The text of an element as one reads it.
TEXT = r"""
const said = (e) => (e.innerText ?? e.textContent).replace(/[\t\u00a0 ]+/g, ' ').trim();
"""
# What is visible of a selector and holds a text: in one call, since each costs some milliseconds.
SEEN = f"""{TEXT}
const seen = (e) => e.checkVisibility({{opacityProperty: true, visibilityProperty: true}})
  && (e.getClientRects().length > 0);
return [...document.querySelectorAll(arguments[0])].filter((e) => seen(e) && said(e).includes(arguments[1]));
"""
SAID = f"""{TEXT}
const e = document.querySelector(arguments[0]);
return e && said(e);
"""
OVERFLOW = """
const w = document.querySelector('.station') ?? document.body;
return Math.max(document.documentElement.scrollWidth - innerWidth, w.scrollWidth - w.clientWidth);
"""
# Figures that reach out of a room that cuts them off, with the room; what scrolls or ends in … aside.
CUT = r"""
const meant = '.cut, .book, pre, select, .passage, .p-virtualscroller, .sheet-of-cells';
const range = document.createRange(), found = [];
for (const text of document.querySelectorAll('.station *, header *')) {
  if (text.closest(meant) || !text.checkVisibility({opacityProperty: true, visibilityProperty: true})) continue;
  for (const node of text.childNodes) {
    if (node.nodeType !== 3 || !/\d/.test(node.textContent)) continue;
    range.selectNodeContents(node);
    const own = range.getBoundingClientRect();
    let room = text;
    while (room !== document.body && getComputedStyle(room).overflowX === 'visible') room = room.parentElement;
    if (getComputedStyle(room).textOverflow === 'ellipsis') continue;
    const edge = room.getBoundingClientRect();
    if (own.width && (own.right > edge.right + 1 || own.left < edge.left - 1))
      found.push(`${node.textContent.trim().slice(0, 40)} in ${room.className}`);
  }
}
return found;
"""


def resize(driver: webdriver.Chrome, width: int) -> None:
    size = {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


class Browser:
    """What a person does: look for words, click, type, press keys."""

    def __init__(self, driver: webdriver.Chrome, server: Server) -> None:
        self.driver = driver
        self.server = server
        self.base = server.base.removesuffix("/api")

    def open(self, path: str = "/") -> None:
        self.driver.get(self.base + path)

    def until(self, look: Callable[[], Result], what: str, seconds: float = 20) -> Result:
        """The first true answer of ``look``; fails naming what was waited for."""
        end, pause = time.monotonic() + seconds, 0.05
        while True:
            try:
                if found := look():
                    return found
            except (StaleElementReferenceException, WebDriverException):
                pass
            if time.monotonic() > end:
                text = self.driver.find_element(By.TAG_NAME, "body").text
                raise AssertionError(f"waited for {what}; the page says:\n{text[:3000]}")
            time.sleep(pause)
            pause = min(_LONGEST_PAUSE, 1.2 * pause)

    def all(self, css: str, text: str = "") -> list[WebElement]:
        """The visible elements of a selector that hold a text."""
        found: list[WebElement] = self.driver.execute_script(SEEN, css, text)
        return found

    def one(self, css: str, text: str = "", seconds: float = 20) -> WebElement:
        """The first visible element of a selector that holds a text."""

        def look() -> WebElement | None:
            return next(iter(self.all(css, text)), None)

        found = self.until(look, f"{css} with “{text}”", seconds)
        assert found is not None
        return found

    def look_at(self, css: str) -> None:
        """Bring an element into view: some are filled only then."""
        found = self.one(css)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found)

    def named(self, label: str) -> WebElement:
        """The element with an accessible name."""
        return self.one(f'[aria-label="{label}"]')

    def click(self, css: str, text: str = "", seconds: float = 20) -> None:
        def press() -> bool:
            found = self.one(css, text, seconds)
            return found.is_enabled() and (found.click() or True)

        self.until(press, f"a click on {css} {text}", seconds)

    def sees(self, text: str, seconds: float = 20) -> None:
        self.until(lambda: text in self.text(), f"“{text}”", seconds)

    def text(self, css: str = "body") -> str:
        found: str | None = self.driver.execute_script(SAID, css)
        if found is None:
            raise NoSuchElementException(css)
        return found

    def focused(self, label: str) -> None:
        """Wait until the element with an accessible name has the focus."""

        def look() -> bool:
            return self.driver.switch_to.active_element.get_attribute("aria-label") == label

        self.until(look, f"focus on {label}")

    def gone(self, css: str, value: str) -> None:
        """Wait until a field holds something else."""
        self.until(lambda: self.one(css).get_attribute("value") != value, f"{css} not to hold {value}")

    def press(self, *keys: str) -> None:
        ActionChains(self.driver).send_keys(*keys).perform()

    def write(self, element: WebElement, text: str) -> None:
        element.send_keys(Keys.CONTROL, "a")
        element.send_keys(text)

    def choose(self, label: str, value: str) -> None:
        """Choose an option of a select by its text, as soon as it is there."""
        script = (
            "const s = arguments[0]; const o = [...s.options].find((o) => o.text.startsWith(arguments[1]));"
            "if (!o) return false;"
            "s.value = o.value; return s.dispatchEvent(new Event('change', {bubbles: true}))"
        )
        self.until(lambda: self.driver.execute_script(script, self.named(label), value), f"{value} among {label}")

    def bring_in(self, *paths: Path) -> None:
        """Choose files and bring them in, up to the overview."""
        self.open()
        picker = self.until(lambda: self.driver.find_element(By.CSS_SELECTOR, 'input[type="file"]'), "the file picker")
        picker.send_keys("\n".join(map(str, paths)))
        self.click("button", "Bring in", seconds=30)
        self.one('[role="tab"]', "Overview", seconds=60)

    def strand(self) -> int:
        return int(self.driver.current_url.split("/strand/")[1].split("/")[0])

    def go(self, station: str) -> None:
        self.open(f"/strand/{self.strand()}/{station}")

    def errors(self) -> list[str]:
        """Lines of the console that report something severe; a refused request is not one."""
        lines = self.driver.get_log("browser")
        return [each["message"] for each in lines if each["level"] == "SEVERE" and "status of 4" not in each["message"]]

    def resize(self, width: int) -> None:
        resize(self.driver, width)

    def overflow(self) -> int:
        """By how many pixels the page or the workspace is wider than its room."""
        return int(self.driver.execute_script(OVERFLOW))

    def settled(self) -> None:
        """Wait until nothing on the page waits for an answer."""
        self.until(lambda: not self.all(".waiting, [role=progressbar]"), "all of the page", 60)

    def cut(self) -> list[str]:
        """Figures that are cut off."""
        found: list[str] = self.driver.execute_script(CUT)
        return found

    def axe(self) -> list[str]:
        """What the accessibility checker finds on the page, once nothing on it is dimmed."""
        self.settled()
        source = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
        self.driver.execute_script(source.read_text(encoding="utf-8"))
        found: list[dict[str, Any]] = self.driver.execute_async_script(
            "const done = arguments[0]; axe.run({resultTypes: ['violations'],"
            "runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})"
            ".then((r) => done(r.violations))"
        )
        return [f"{each['id']}: {json.dumps([node['html'][:160] for node in each['nodes'][:3]])}" for each in found]


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    running = Server(tmp_path_factory.mktemp("browser"))
    yield running
    running.stop()


@pytest.fixture(scope="session")
def driver() -> Iterator[webdriver.Chrome]:
    options = webdriver.ChromeOptions()
    for flag in FLAGS:
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    running = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    resize(running, 1280)
    yield running
    running.quit()


@pytest.fixture
def browser(driver: webdriver.Chrome, server: Server) -> Iterator[Browser]:
    driver.get_log("browser")
    yield (page := Browser(driver, server))
    assert page.errors() == []


@pytest.fixture(scope="session")
def entries_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_files(tmp_path_factory.mktemp("entries"), size=400)


@pytest.fixture(scope="session")
def ready(server: Server, entries_file: Path) -> int:
    """A strand with a fit of six topics, made through the API; tests work on forks of it."""
    data = entries_file.read_bytes()
    preview = server.http.post("/uploads", files={"file": (entries_file.name, data)}).json()
    file = {name: preview[name] for name in ("sha256", "name", "settings")}
    made = server.post("/skeins", name="Ready", gather={"files": [file]})
    server.wait(made["job"], "done")
    sweep = {"counts": [4, 6], "seeds": [1, 2], "iterations": 60}
    server.wait(server.post(f"/strands/{made['strand']}/sweeps", **sweep)["job"], "done")
    fits = server.get(f"/strands/{made['strand']}/fits")["fits"]  # those of any skein with these documents
    fit = next(each["identity"] for each in fits if each["settings"]["topics"] == 6)
    server.wait(server.post(f"/strands/{made['strand']}/choice", fit=fit)["job"], "done")
    strand: int = made["strand"]
    return strand


@pytest.fixture
def fitted(server: Server, ready: int) -> int:
    """A fork of the ready strand for one test, which may change it as it likes."""
    strand: int = server.post(f"/strands/{ready}/fork")["strand"]
    return strand


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """A journey that fails on a laden machine is walked once more, and the report names it."""
    for item in items:
        if Path(__file__).parent in item.path.parents:
            item.add_marker(pytest.mark.flaky(reruns=1))
