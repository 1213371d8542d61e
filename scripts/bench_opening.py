"""Seconds until a station is whole when it is opened first: after a start, and after a pass was changed.

Share is opened by its address, the others by their knots on the rail. A station is whole when nothing
on it waits any more and no request is open.
"""

from __future__ import annotations

import random
import tempfile
import time

import httpx
from bench_base import Line, texts
from bench_screens import chromium, rest, served_at
from bench_server import answers, brought_in
from selenium import webdriver

STATIONS = ("Gather", "Clean", "Weigh", "Relate", "Fit", "Choose", "Label", "Track")
# Requests that are open, counted from where the page asks for anything.
COUNT = """
window.open_requests = 0
const ask = window.fetch
window.fetch = (...given) => {
  if (String(given[0].url ?? given[0]).includes('/events')) return ask(...given)
  window.open_requests += 1
  return ask(...given).finally(() => (window.open_requests -= 1))
}
"""
OPEN = """
const [name, done] = arguments
let begun = 0
const station = name && document.querySelector('main .station')
const knot = [...document.querySelectorAll('nav.rail a')].find((each) => name && each.textContent.includes(name))
let first = 0, quiet = 0, whole = 0
const waits = () =>
  [...document.querySelectorAll('.waiting, [role=progressbar]')].some((each) => each.checkVisibility())
const look = () => {
  const now = performance.now() - begun, there = document.querySelector('main .station')
  if (there && there !== station) first ||= now
  if (!first || waits() || window.open_requests) whole = quiet = 0
  else [quiet, whole] = [quiet + 1, whole || now]
  if (quiet > 12 || now > 60000) done([first, whole || now])
  else setTimeout(look, 25)
}
// A hand is over the knot for a moment before it presses.
knot?.dispatchEvent(new PointerEvent('pointerenter'))
setTimeout(() => {
  begun = name ? performance.now() : 0
  knot?.click()
  look()
}, name ? 200 : 0)
"""


def opening(size: int) -> list[Line]:
    """Every station of a corpus that is fitted, opened first."""
    with tempfile.TemporaryDirectory() as folder, chromium() as driver:
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNT})
        with served_at(folder, "serve") as base, httpx.Client(base_url=f"{base}/api", timeout=60) as http:
            strand = brought_in(http, "x.tsv", _table(size))
            for wanted in ("beside/tree", "fits"):
                body = {"topics": 12, "iterations": 40} if wanted == "fits" else {}
                http.post(f"/strands/{strand}/{wanted}", json=body).raise_for_status()
                rest(http)
            # What moves is worked out in a job when it is first looked at.
            chosen = http.get(f"/strands/{strand}/track").json()
            by = {"group": chosen["suggested_group"], "period": chosen["suggested_period"]}
            by["unit"] = next((u["unit"] for u in chosen["suggested_units"] if u["unit"] != by["group"]), None)
            if any(by.values()):
                http.post(f"/strands/{strand}/movement", json=by).raise_for_status()
                rest(http)
        with served_at(folder, "serve") as base, httpx.Client(base_url=f"{base}/api", timeout=60) as http:
            while not answers(http):
                time.sleep(0.05)
            time.sleep(10)  # until it has loaded what it loads after its start
            begun = _opened(driver, f"{base}/strand/{strand}")
            _change_a_pass(http, strand)
            changed = _opened(driver, f"{base}/strand/{strand}")
    return [
        Line(f"open {name.lower()} {when}", f"{size} texts", whole, 1, first, "whole within 1 s (first: ratio)")
        for when, found in (("after a start", begun), ("after a change", changed))
        for name, (first, whole) in found.items()
    ]


def _table(size: int) -> bytes:
    """Entries of the demo, each with some words of its own, so that the vocabulary is that of a large corpus."""
    chance = random.Random(1)
    parts = [a + b for a in "bdfgklmnprstv" for b in ("a", "e", "i", "o", "u", "an", "er", "il")]
    rows = ["group\tday\ttext"]
    for at, text in enumerate(texts(size)):
        own = " ".join("".join(chance.choices(parts, k=3)) for _ in range(chance.randrange(1, 4)))
        rows.append(f"{at % 40}\t20{10 + at % 9}-03-{1 + at % 27:02}\t{' '.join(text.split())} {own}")
    return "\n".join(rows).encode()


def _change_a_pass(http: httpx.Client, strand: int) -> None:
    record = http.get(f"/strands/{strand}").json()
    wanted = record["wanted"]
    one = next(each for each in wanted["clean"]["passes"] if each["kind"] == "short-words")
    one["under"] = 4
    body = {"revision": record["revision"], "wanted": wanted}
    http.put(f"/strands/{strand}/wanted", json=body).raise_for_status()
    http.post(f"/strands/{strand}/rebuild").raise_for_status()
    rest(http)


def _opened(driver: webdriver.Chrome, address: str) -> dict[str, tuple[float, float]]:
    """Seconds to the first sight of each station and until it is whole."""
    driver.get(f"{address}/share")
    found = {"share, with the page": driver.execute_async_script(OPEN, "")}
    found |= {name: driver.execute_async_script(OPEN, name) for name in STATIONS}
    return {name: (max(first, 1) / 1000, whole / 1000) for name, (first, whole) in found.items()}
