"""What is suggested fits the corpus: group field, period, date role, sweep; and what is doubted."""

from __future__ import annotations

from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.corpus.periods import PERIODS, bounds, period_index, said
from skeinwork.core.corpus.shaping import Sources, apply
from skeinwork.core.formats.dates import MISSING, to_days
from skeinwork.core.formats.roles import guess_roles
from skeinwork.core.topics.choose import suggest_grid
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.topics.words import telling_words
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.store.models import Result
from skeinwork.work.evidence import EvidenceRequest, read_request
from skeinwork.work.evidence import find as find_evidence
from skeinwork.work.results.finding import find_unindexed
from skeinwork.work.results.flags import FLAGS, Flag
from skeinwork.work.results.view import View
from skeinwork.work.screens import choose
from skeinwork.work.screens.choose import ComparedBy
from skeinwork.work.screens.opening import opening
from skeinwork.work.topics import breakdowns, fits


def corpus_of(years: list[int], **fields: list[str]) -> Corpus:
    """A corpus of one-word texts, each of the first of January of its year; year 0 has no date."""
    n = len(years)
    days = [int(np.datetime64(f"{year:04d}-01-01").astype(int)) if year else MISSING for year in years]
    columns = [encode_column(name, "group", cells) for name, cells in fields.items()]
    return Corpus(
        np.frombuffer(b"a" * n, dtype=np.uint8),
        np.arange(n + 1, dtype=np.int64),
        columns,
        np.array(days, dtype=np.int32),
        np.zeros(n, dtype=np.uint8),
        np.arange(n, dtype=np.int32),
        np.zeros(n, dtype=np.int32),
        np.arange(n, dtype=np.int32),
        ["x"],
    )


def looked_at(corpus: Corpus, tmp_path: Path) -> View:
    view = View(ArtefactStore(tmp_path), {})
    view.loaded["corpus"] = corpus
    return view


def fitted(corpus: Corpus, tmp_path: Path, shares: Any = None) -> View:
    """The same with a fit of three topics, by chance where nothing is given."""
    view = looked_at(corpus, tmp_path)
    if shares is None:
        shares = np.random.default_rng(0).dirichlet([1, 1, 1], len(corpus))
    view.loaded["fit"] = TopicModel(np.eye(3), shares, None, np.zeros((1, 3)))
    view.__dict__["token_weights"] = np.ones(len(corpus))
    return view


def test_a_field_of_few_values_spread_over_the_time_goes_before_one_of_many(tmp_path: Path) -> None:
    """Two hundred years; speakers each of a few years, parties of most, one label of a single year."""
    cells = [(year, n) for year, n in product(range(1800, 2000), range(40))]
    corpus = corpus_of(
        [year for year, _ in cells],
        speaker=[f"s{year // 2}" for year, _ in cells],
        age=["old" if year < 1850 else "new" if year < 1950 else "late" for year, _ in cells],
        party=[("a", "b", "c")[n % 3] for _, n in cells],
    )
    found = breakdowns.suggested(fitted(corpus, tmp_path))
    assert found.group == "party" and found.period == "decade"
    assert "party has 3 values" in found.why and "100\u202f% of their decades hold 20" in found.why


def test_a_flag_that_stands_in_few_periods_is_not_suggested(tmp_path: Path) -> None:
    """Of 24 decades a flag's second value has documents in three; parties fill half-centuries, not decades."""
    rng = np.random.default_rng(3)
    years = np.repeat(np.arange(1770, 2010), 5)
    flag = np.where((years >= 1860) & (years < 1890) & (rng.random(len(years)) < 0.5), "yes", "no")
    party = np.array(["a", "b", "c", "d", "e"])[rng.integers(0, 5, len(years))]
    corpus = corpus_of(years.tolist(), flag=flag.tolist(), party=party.tolist())
    found = breakdowns.suggested(fitted(corpus, tmp_path))
    assert (found.group, found.period) == ("party", "half-century")


def test_of_fields_that_fill_their_cells_the_one_that_tells_topics_apart_is_suggested(tmp_path: Path) -> None:
    rng = np.random.default_rng(4)
    years, tells = [year for year in range(1990, 2000) for _ in range(100)], rng.integers(0, 2, 1000)
    alphas = np.array([[4.0, 1, 1], [1, 1, 4]])
    shares = rng.standard_gamma(alphas[tells])
    fields = {"any": [f"a{at}" for at in rng.integers(0, 3, 1000)], "tells": [f"t{at}" for at in tells]}
    view = fitted(corpus_of(years, **fields), tmp_path, shares / shares.sum(axis=1, keepdims=True))
    found = breakdowns.suggested(view)
    assert found.group == "tells" and "more alike in topics than those of one any" in found.why


def test_where_no_field_is_spread_none_is_suggested(tmp_path: Path) -> None:
    years = [year for year in range(1990, 2020) for _ in range(60)]
    corpus = corpus_of(years, section=[f"s{year}" for year in years])
    found = breakdowns.suggested(fitted(corpus, tmp_path))
    assert found.group is None and found.period == "year"
    undated = breakdowns.suggested(fitted(corpus_of([0] * 50, section=["a"] * 50), tmp_path))
    assert (undated.group, undated.period) == (None, None)


def test_the_unit_is_the_field_whose_documents_are_alike(tmp_path: Path) -> None:
    """Clerks write much alike; hands are dealt out; halls are too few to be a sample."""
    rng = np.random.default_rng(1)
    clerks = np.repeat(np.arange(30), 10)
    corpus = corpus_of(
        [2000] * 300,
        clerk=[f"c{each}" for each in clerks],
        hand=[f"h{each}" for each in rng.integers(0, 40, 300)],
        hall=[f"l{each % 4}" for each in clerks],
    )
    view = looked_at(corpus, tmp_path)
    shares = 0.5 * rng.dirichlet([1, 1, 1], 30)[clerks] + 0.5 * rng.dirichlet([1, 1, 1], 300)
    view.loaded["fit"] = TopicModel(np.eye(3), shares, None, np.zeros((1, 3)))
    view.__dict__["token_weights"] = np.ones(300)
    found = breakdowns.suggested_units(view)
    assert [each.unit for each in found] == ["clerk"]
    assert "intraclass correlation 0." in found[0].why
    assert breakdowns.unit_fields(view) == ["clerk", "hand", "hall"]
    view.loaded["fit"] = TopicModel(np.eye(3), rng.dirichlet([1, 1, 1], 300), None, np.zeros((1, 3)))
    assert breakdowns.suggested_units(view) == []


@pytest.mark.parametrize(
    ("first", "last", "each", "expected"),
    [
        (2011, 2020, 30, "year"),
        (1800, 2000, 100, "decade"),
        (1500, 2000, 1, "half-century"),
        (2015, 2015, 500, "day"),
        (1990, 1992, 3, "year"),
    ],
)
def test_the_period_is_the_finest_that_its_documents_fill(
    tmp_path: Path, first: int, last: int, each: int, expected: str
) -> None:
    years = [year for year in range(first, last + 1) for _ in range(each)]
    assert breakdowns.suggested_period(looked_at(corpus_of(years), tmp_path)) == expected


@pytest.mark.parametrize("period", list(PERIODS))
def test_periods_hold_the_days_that_their_names_say_and_sort_by_time(period: str) -> None:
    chance = np.random.default_rng(4)
    days = chance.integers(-90_000, 20_000, 300).astype(np.int32)
    index, names = period_index(days, np.zeros(300, dtype=np.uint8), period)  # type: ignore[arg-type]
    assert names == sorted(names) and len(set(names)) == len(names)
    for day, at in zip(days.tolist(), index.tolist(), strict=True):
        first, last = bounds(names[at])
        assert to_days(first) <= day <= to_days(last)
    assert said("1750–1799") == "1750–1799" and said("1790s") == "1790s"


def test_days_go_before_bare_years_for_the_date() -> None:
    days = [f"{year}-03-0{1 + n}" for n in range(5) for year in (1990, 1991, 1992)]
    years = [day[:4] for day in days]
    text = ["a gale at the outer ramp, and the ferry late again"] * len(days)
    roles = guess_roles({"year": years, "date": days, "text": text})
    assert roles["date"] == "date" and roles["year"] == "group"
    assert guess_roles({"year": years, "text": text})["year"] == "date"


@pytest.mark.parametrize(("documents", "tokens"), [(20, 100), (80, 2000), (2400, 110_000), (64_000, 400_000)])
def test_a_sweep_reaches_further_in_larger_corpora(documents: int, tokens: int) -> None:
    grid = suggest_grid(documents, tokens)
    assert grid.counts == sorted(set(grid.counts)) and 2 <= len(grid.counts) <= 8
    assert grid.counts[-1] <= max(3, documents**0.5 / 2 + 1)
    assert suggest_grid(documents, tokens, unsettled=700).iterations == 1400
    assert suggest_grid(4 * documents, 4 * tokens).counts[-1] >= grid.counts[-1]


def test_words_that_every_topic_has_are_not_telling() -> None:
    shared = np.full((6, 2), 0.3)
    own = np.eye(6) * 0.4
    topic_word = np.hstack([shared, own])
    assert telling_words(topic_word, 1).ravel().tolist() == [2, 3, 4, 5, 6, 7]


def rows_of(view: View, *fits: tuple[int, int, dict[str, Any]]) -> list[Result]:
    """Fits of some counts and seeds, as if made; each with what differs in its summary."""
    fit = view.fit_record
    return [
        Result(
            identity=fit.identity,
            parent=fit.making.inputs[0],
            number=at,
            seconds=1.0,
            summary={**fit.summary, **summary},
            settings={
                **fit.making.settings,
                "topics": topics,
                "seed": seed,
                "iterations": 60,
                **summary.get("settings", {}),
            },
        )
        for at, (topics, seed, summary) in enumerate(fits)
    ]


def test_fits_that_were_not_level_are_said_in_the_suggestion(view: View) -> None:
    level, moving = {"verdict": "level"}, {"verdict": "still moving"}
    found = choose.compared(view, rows_of(view, (4, 1, level), (6, 1, moving), (6, 2, level)), [], ComparedBy())
    assert found.doubt and "1 of the 3 fits at these counts was still moving" in found.doubt
    assert found.sweep.iterations >= 120 and "1 fit was still moving after 60" in found.sweep.why
    still = choose.compared(view, rows_of(view, (4, 1, level), (6, 1, {"verdict": "settled"})), [], ComparedBy())
    assert still.doubt is None and "moving" not in still.sweep.why


def test_fits_of_other_settings_are_another_series_and_a_seed_made_twice_is_one(view: View) -> None:
    rows = rows_of(
        view,
        (4, 1, {}),
        (4, 1, {}),
        (6, 1, {}),
        (8, 1, {}),
        (4, 1, {"settings": {"iterations": 400}}),
        (6, 2, {"settings": {"alpha": 0.5}}),
    )
    found = choose.compared(view, rows, [], ComparedBy())
    assert [(fit.settings.topics, fit.settings.iterations) for fit in found.fits] == [(4, 400), (6, 60), (8, 60)]
    assert len(found.series) == 2 and any("alpha 0.5" in said for said in found.series)
    other = choose.compared(view, rows, [], ComparedBy(series=1 - found.of))
    assert [fit.settings.seed for fit in other.fits] == [2]


def test_a_seed_in_a_poorer_mode_names_the_likelier_one(view: View) -> None:
    rows = rows_of(
        view,
        (4, 1, {"watched": -6.0}),
        (4, 2, {"watched": -6.08}),
        (4, 3, {"watched": -6.03}),
        (6, 1, {"watched": -5.0}),
    )
    for at, row in enumerate(rows):
        row.identity = f"{at}" * 64
    found = fits.poorer(rows)
    assert list(found) == ["1" * 64] and found["1" * 64].seed == 1
    assert found["1" * 64].by == pytest.approx(0.08)


def test_empty_topics_are_said(view: View) -> None:
    summary = {"empty": [3, 5], "npmi": [0.1, 0.1, 0.2, None, 0.1, None]}
    found = choose.compared(view, rows_of(view, (6, 1, summary), (4, 1, {})), [], ComparedBy())
    assert found.notes[0].startswith("2 of 6 topics stayed empty")


@pytest.mark.parametrize("step", ["corpus", "cleaning", "matrix", "fit"])
def test_each_station_opens_with_evidence_worth_a_look(view: View, step: str) -> None:
    first = opening(view, step)
    assert first is not None and first.why
    assert len(find_evidence(view, read_request(first.request)).documents)
    assert opening(View(view.store, {"corpus": view.results["corpus"]}), "fit") is None


@pytest.mark.parametrize("flag", [flag for flag in FLAGS if flag.out], ids=lambda flag: flag.key)
def test_what_leaves_flagged_documents_out_leaves_exactly_those(view: View, flag: Flag) -> None:
    """A flag and the operation beside it mean the same documents."""
    assert flag.out is not None
    found = find_evidence(view, EvidenceRequest(flag=flag.key)).documents
    if len(found):
        left, _ = apply(view.corpus, flag.out(view), Sources(find_unindexed))
        gone = set(range(len(view.corpus))) - set(left.numbers.tolist())
        repeats = flag.key == "near" and set(np.flatnonzero(FLAGS[3].mask(view)).tolist())
        assert gone == set(found.tolist()) | (repeats or set())
