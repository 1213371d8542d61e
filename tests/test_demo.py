"""The made-up corpus: known truth, planted effects, the noise of real logbooks."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from datetime import date
from pathlib import Path

import numpy as np
import pytest

from skeinwork.demo import generator
from skeinwork.demo.generator import HARBOURS, THEMES, WRITERS, Entry, load_bank, theme_weights, write_entries


def test_the_bank_has_twelve_themes_of_at_least_25_frames() -> None:
    bank = load_bank()
    assert set(bank) == {*THEMES, "common"}
    assert len(THEMES) == 12
    for theme in THEMES:
        frames = bank[theme]["frames"]
        assert len(set(frames)) >= 25, theme
        for frame in frames:
            assert frame.rstrip().endswith("."), frame
            assert set(re.findall(r"\{(\w+)\}", frame)) <= {*bank[theme], *bank["common"]}, frame


def test_frames_read_like_entries() -> None:
    """No frame is a bare list of slots: most of its words stand in it."""
    bank = load_bank()
    for theme in THEMES:
        for frame in bank[theme]["frames"]:
            words = re.findall(r"[A-Za-z']+", re.sub(r"\{\w+\}", " ", frame))
            assert len(words) >= 2, frame


def test_every_slot_is_filled(entries: list[Entry]) -> None:
    assert not [entry.row["text"] for entry in entries if re.search(r"[{}]", entry.row["text"])]


def test_the_same_seed_writes_the_same_entries() -> None:
    assert write_entries(60, seed=3) == write_entries(60, seed=3)
    assert write_entries(60, seed=3) != write_entries(60, seed=4)


def test_files_hold_no_truth(tmp_path: Path) -> None:
    path = generator.write_files(tmp_path, size=40)
    assert path.read_text().splitlines()[0] == "entry,date,harbour,writer,watch,text"
    assert sorted(p.name for p in tmp_path.iterdir()) == ["harbours.csv", "sollen-harbours.csv"]
    second = (tmp_path / "harbours.csv").read_text().splitlines()
    assert second[0] == "harbour,island,inhabitants,latitude"
    assert {line.split(",")[0] for line in second[1:]} == set(HARBOURS)


def test_mixtures_are_shares(entries: list[Entry]) -> None:
    for entry in entries:
        if entry.mixture:
            assert sum(entry.mixture.values()) == pytest.approx(1)
            assert set(entry.mixture) <= set(THEMES)
            assert len(entry.mixture) <= 3


def test_entries_are_in_order_numbered_and_spread(entries: list[Entry]) -> None:
    rows = [entry.row for entry in entries]
    assert [row["entry"] for row in rows] == [f"{n:04d}" for n in range(1, len(rows) + 1)]
    broken = {"31 February 2013", "2016-13-04", "last Tuesday", "0000-00-00"}
    known = [row["date"] for row in rows if row["date"] not in broken]
    assert known == sorted(known)
    assert {row["harbour"] for row in rows} == set(HARBOURS)
    assert {row["writer"] for row in rows} == set(WRITERS)
    assert {row["watch"] for row in rows} == {"day", "night"}
    assert len(known) == len(rows) - 4
    years = Counter(day[:4] for day in known)
    assert set(years) == {str(year) for year in range(2011, 2021)}
    assert max(years.values()) < 1.35 * min(years.values())


def test_the_noise_of_real_logbooks_is_there(entries: list[Entry]) -> None:
    texts = [entry.row["text"] for entry in entries]
    for pattern, least in (
        (r"<p>", 10),
        (r"@\w[\w-]*\.example", 30),
        (r"\bharbor\b", 20),
        (r"\bgray\b|\bGray\b", 1),
        (r"\bvis\.", 1),
        (r"\d+kn\b", 50),
        (r"hPa", 50),
        (r"Jorren|Sunniva|Dagny", 100),
        (r"\bHafen\b|\bbateaux\b|\bhavn|\bgoed zicht\b", 3),
        (r"^$", 2),
        (r"^\w+\.?$", 3),
    ):
        assert sum(bool(re.search(pattern, text)) for text in texts) >= least, pattern
    near = Counter(text.replace(" th ", " the ")[:80] for text in texts if len(text) > 100)
    assert sum(count > 1 for count in near.values()) >= 4


def shares(entries: list[Entry], theme: str) -> dict[str, float]:
    """Mean true share of a theme by year."""
    found = defaultdict(list)
    for entry in entries:
        if entry.mixture and entry.row["date"][:4].isdigit():
            found[entry.row["date"][:4]].append(entry.mixture.get(theme, 0.0))
    return {year: float(np.mean(values)) for year, values in found.items() if len(values) > 50}


def test_planted_effects_stand_in_the_truth(entries: list[Entry]) -> None:
    visitors = shares(entries, "visitors")
    years = sorted(visitors)
    slope = np.polyfit([int(year) for year in years], [visitors[year] for year in years], 1)[0]
    assert slope > 0.008
    dues = shares(entries, "dues")
    flat = np.polyfit([int(year) for year in years], [dues[year] for year in years], 1)[0]
    assert abs(flat) < 0.004
    engines = defaultdict(list)
    for entry in entries:
        if entry.mixture:
            engines[entry.row["harbour"]].append(entry.mixture.get("engine", 0.0))
    means = {harbour: np.mean(values) for harbour, values in engines.items()}
    assert means.pop("Ossingby") > 2 * max(means.values())


def test_the_flat_theme_has_one_entry_in_twelve_whatever_happens() -> None:
    for day, harbour, writer in (
        (date(2014, 1, 10), "Kelpwick", "keeper"),
        (date(2018, 5, 1), "Quellan", "pilot"),
        (date(2020, 5, 1), "Ossingby", "warden"),
    ):
        weights = theme_weights(day, harbour, writer)
        assert weights["dues"] / sum(weights.values()) == pytest.approx(1 / 12)
