"""Write the harbour logbooks of a made-up archipelago, with known truth for the tests.

Every entry is put together from whole hand-written sentences (``bank/*.toml``) whose slots are
filled from word lists. The mixture of themes of every entry is returned beside the entries; only
tests read it.
"""

from __future__ import annotations

import csv
import re
import tomllib
from dataclasses import dataclass, field
from datetime import date, timedelta
from importlib.resources import files
from pathlib import Path

import numpy as np

SIZE = 2_400
HARBOURS = ("Kelpwick", "Tarnholt", "Ossingby", "Little Marre", "Quellan")
WRITERS = ("keeper", "pilot", "warden")
ISLANDS = (
    ("Kelpwick", "Sollen Mainland", 2140, 58.92),
    ("Tarnholt", "Sollen Mainland", 860, 58.97),
    ("Ossingby", "Skarn", 1310, 59.08),
    ("Little Marre", "Marre", 240, 59.15),
    ("Quellan", "Quellan", 95, 59.21),
)
THEMES = (
    *("storm", "engine", "ferry", "seabird", "fishing", "fog"),
    *("visitors", "dues", "cargo", "dredging", "rescue", "slipway"),
)
FIRST_DAY = date(2011, 1, 1)
LAST_DAY = date(2020, 12, 31)
COLUMNS = ("entry", "date", "harbour", "writer", "watch", "text")
SPELLINGS = (
    ("harbour", "harbor"),
    ("Grey", "Gray"),
    ("metres", "meters"),
    ("morning", "mornin"),
    ("visibility", "vis."),
    ("reported", "rep."),
    ("about", "abt"),
)
_SLOT = re.compile(r"\{(\w+)\}")


@dataclass(frozen=True)
class Entry:
    """One logbook entry as it stands in the file, with the mixture it was written from."""

    row: dict[str, str]
    mixture: dict[str, float] = field(default_factory=dict)


def load_bank() -> dict[str, dict[str, list[str]]]:
    """Slots and sentences by theme; ``common`` holds what every theme shares."""
    bank = {}
    for path in files("skeinwork.demo").joinpath("bank").iterdir():
        raw = tomllib.loads(path.read_text(encoding="utf-8"))["slots"]
        bank[path.name.removesuffix(".toml")] = {
            name: value.strip().split("\n" if "\n" in value else "|") for name, value in raw.items()
        }
    return bank


def load_titles() -> dict[str, str]:
    """What each theme is called."""
    paths = {path.name.removesuffix(".toml"): path for path in files("skeinwork.demo").joinpath("bank").iterdir()}
    return {theme: tomllib.loads(paths[theme].read_text(encoding="utf-8"))["title"] for theme in THEMES}


def theme_weights(day: date, harbour: str, writer: str) -> dict[str, float]:
    """How likely each theme leads an entry; the planted effects stand here and nowhere else."""
    years = (day - FIRST_DAY).days / 365.25
    weights = dict.fromkeys(THEMES, 1.0)
    if date(2013, 12, 1) <= day <= date(2014, 3, 31):
        weights["storm"] = 9.0 if harbour in ("Kelpwick", "Tarnholt") else 3.0
    if day >= date(2017, 4, 1):
        weights["ferry"] = 0.08 if harbour == "Quellan" else 0.5
    if day >= date(2019, 1, 1) and writer == "warden":
        weights["seabird"] = 5.0
    if harbour == "Ossingby":
        weights["engine"] = 4.0
    weights["visitors"] = 0.4 + 0.22 * years
    others = sum(weights.values()) - weights["dues"]
    weights["dues"] = others / 11.0  # one entry in twelve, whatever else happens
    return weights


class _Writer:
    def __init__(self, seed: int) -> None:
        self.rng = np.random.default_rng(seed)
        self.bank = load_bank()

    def pick(self, choices: list[str] | tuple[str, ...]) -> str:
        return choices[int(self.rng.integers(len(choices)))]

    def sentence(self, frame: str, theme: str, given: dict[str, str]) -> str:
        def fill(match: re.Match[str]) -> str:
            slot = match.group(1)
            if slot in given:
                return given[slot]
            words = self.bank[theme].get(slot) or self.bank["common"][slot]
            return self.pick(words)

        text = _SLOT.sub(fill, frame)
        return text[0].upper() + text[1:]

    def mixture(self, weights: dict[str, float]) -> dict[str, float]:
        names = list(weights)
        shares = np.array([weights[name] for name in names])
        count = 1 + int(self.rng.random() < 0.35) + int(self.rng.random() < 0.08)
        chosen = self.rng.choice(len(names), size=count, replace=False, p=shares / shares.sum())
        parts = np.sort(self.rng.dirichlet(np.full(count, 2.0)))[::-1]
        return {names[topic]: float(part) for topic, part in zip(chosen, parts, strict=True)}

    def text(self, mixture: dict[str, float], given: dict[str, str]) -> tuple[str, dict[str, float]]:
        """An entry's sentences and the share of its themed words that each theme wrote."""
        length = int(self.rng.integers(4, 9))
        themes = list(mixture)
        drawn = self.rng.choice(len(themes), size=length, p=np.array(list(mixture.values())))
        drawn[0] = 0
        parts, words = [], dict.fromkeys(themes, 0)
        for index in range(len(themes)):
            count = int((drawn == index).sum())
            frames = self.bank[themes[index]]["frames"]
            for at in self.rng.choice(len(frames), size=min(count, len(frames)), replace=False):
                sentence = self.sentence(frames[at], themes[index], given)
                parts.append(sentence)
                words[themes[index]] += len(sentence.split())
        common = self.bank["common"]
        for _ in range(int(self.rng.integers(0, 2))):
            at = int(self.rng.integers(1, len(parts) + 1))
            parts.insert(at, self.sentence(self.pick(common["plain"]), "common", given))
        parts.insert(0, self.sentence(self.pick(common["open"]), "common", given))
        parts.append(self.sentence(self.pick(common["close"]), "common", given))
        total = sum(words.values())
        return " ".join(parts), {name: count / total for name, count in words.items() if count}

    def roughen(self, text: str) -> str:
        """The untidiness of real logbooks: spellings, abbreviations, units, pasted HTML."""
        for usual, other in SPELLINGS:
            if self.rng.random() < 0.06:
                text = text.replace(usual, other)
        if self.rng.random() < 0.06:
            text += f" Wind {self.rng.integers(5, 45)}kn, glass {self.rng.integers(975, 1035)} hPa."
        if self.rng.random() < 0.04:
            text += f" Sent to office@{self.pick(HARBOURS).lower().replace(' ', '-')}.example."
        if self.rng.random() < 0.012:
            text = text.replace(". ", ".</p>\n<p>", 3).replace(" and ", " &amp; ")
            text = f'<div class="entry"><p>{text}</p></div>'
        return text


def write_entries(size: int = SIZE, seed: int = 7) -> list[Entry]:
    """The logbook: ``size`` regular entries and about a dozen irregular ones, in date order."""
    writer = _Writer(seed)
    days = (LAST_DAY - FIRST_DAY).days + 1
    entries: list[Entry] = []
    for offset in np.sort(writer.rng.integers(0, days, size=size)):
        day = FIRST_DAY + timedelta(days=int(offset))
        harbour = HARBOURS[int(writer.rng.choice(5, p=[0.24, 0.22, 0.2, 0.17, 0.17]))]
        role = WRITERS[int(writer.rng.choice(3, p=[0.45, 0.25, 0.3]))]
        watch = writer.pick(("day", "night"))
        given = {"watch": watch}
        text, truth = writer.text(writer.mixture(theme_weights(day, harbour, role)), given)
        row = dict(date=day.isoformat(), harbour=harbour, writer=role, watch=watch)
        entries.append(Entry({**row, "text": writer.roughen(text)}, truth))
        if writer.rng.random() < 0.004:  # the same entry, written down twice with a slip
            again = text.replace(" the ", " th ", 1)
            entries.append(Entry({**row, "text": again}, truth))
    return _number(_with_irregular(entries, writer))


def _with_irregular(entries: list[Entry], writer: _Writer) -> list[Entry]:
    foreign = writer.bank["common"]["foreign"]
    odd = ["", "Quiet.", "", "Nil.", "ditto", *foreign, foreign[0]]
    for text in odd:
        at = int(writer.rng.integers(len(entries)))
        entries.insert(at, Entry({**entries[at].row, "text": text}))
    for broken in ("31 February 2013", "2016-13-04", "last Tuesday", "0000-00-00"):
        at = int(writer.rng.integers(len(entries)))
        entries[at] = Entry({**entries[at].row, "date": broken}, entries[at].mixture)
    return entries


def _number(entries: list[Entry]) -> list[Entry]:
    return [
        Entry({"entry": f"{number:04d}", **entry.row}, entry.mixture) for number, entry in enumerate(entries, start=1)
    ]


def write_files(folder: Path, size: int = SIZE, seed: int = 7) -> Path:
    """Write ``sollen-harbours.csv`` and the table to join, ``harbours.csv``; return the first."""
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / "sollen-harbours.csv"
    with path.open("w", encoding="utf-8", newline="") as out:
        table = csv.DictWriter(out, COLUMNS)
        table.writeheader()
        table.writerows(entry.row for entry in write_entries(size, seed))
    with (folder / "harbours.csv").open("w", encoding="utf-8", newline="") as out:
        rows = csv.writer(out)
        rows.writerow(("harbour", "island", "inhabitants", "latitude"))
        rows.writerows(ISLANDS)
    return path
