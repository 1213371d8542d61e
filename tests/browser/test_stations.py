"""Every station as it stands: within its window at any width, accessible in light and dark, by itself."""

from __future__ import annotations

import json
import random
import time
from collections.abc import Iterator

import pytest

from tests.browser.conftest import Browser
from tests.shared import STATIONS, Server

WIDTHS = (640, 1024, 1920, 2560, 1280)  # 640: a window of 1280 at twice its size
HOSTS = "return JSON.stringify(performance.getEntriesByType('resource').map((e) => new URL(e.name).host))"


@pytest.fixture
def station(browser: Browser, fitted: int, request: pytest.FixtureRequest) -> Iterator[Browser]:
    browser.open(f"/strand/{fitted}/{request.param}" if request.param else "/")
    browser.one("h1")
    browser.settled()
    time.sleep(0.6)
    yield browser
    browser.resize(1280)
    browser.driver.execute_script("localStorage.removeItem('skeinwork-theme')")


@pytest.mark.parametrize("station", ["", *STATIONS], indirect=True)
def test_a_station_fits_its_window_is_accessible_and_fetches_nothing_from_elsewhere(station: Browser) -> None:
    wide = {}
    for width in WIDTHS:
        station.resize(width)
        time.sleep(0.2)
        if (by := station.overflow()) > 1:
            wide[width] = by
        assert width < 1024 or station.cut() == []
    assert wide == {}
    for scheme in ("Dark", "Light"):
        assert station.axe() == []
        station.click("button.tool", scheme)
    assert set(json.loads(station.driver.execute_script(HOSTS))) == {station.base.removeprefix("http://")}


@pytest.fixture(scope="module")
def large(server: Server) -> int:
    """Two million tokens in German compounds, with a fit of sixty topics."""
    chance = random.Random(3)
    parts = "hafen sturm flut wasser schiff fahrt mole leucht turm wache dienst brücke kran anlage netz fisch".split()
    words = ["".join(chance.sample(parts, size)).capitalize() for size in (2, 3, 4, 5) for _ in range(300)]
    small = "der die und in den von zu das mit sich des auf für ist im dem nicht ein eine als".split()
    rows = ["id,date,harbour,text"]
    for number in range(3000):
        said = chance.choices(small, k=330) + chance.choices(words[number % 12 * 100 : number % 12 * 100 + 100], k=410)
        rows.append(f"{number},{2010 + number % 9}-03-11,Hafenverwaltungsgemeinschaft {number % 7},{' '.join(said)}")
    preview = server.http.post("/uploads", files={"file": ("groß.csv", "\n".join(rows).encode())}).json()
    file = {name: preview[name] for name in ("sha256", "name", "settings")}
    made = server.post("/skeins", name="Large", gather={"files": [file]})
    server.wait(made["job"], "done")
    job = server.post(f"/strands/{made['strand']}/fits", topics=60, iterations=20)["job"]
    server.wait(job, "done")
    strand: int = made["strand"]
    return strand


@pytest.mark.long
@pytest.mark.parametrize("room", STATIONS)
def test_figures_of_millions_fit_their_room(browser: Browser, large: int, room: str) -> None:
    browser.open(f"/strand/{large}/{room}")
    browser.one("h1")
    browser.settled()
    for width in (1024, 1280):
        browser.resize(width)
        time.sleep(0.3)
        assert browser.cut() == []
