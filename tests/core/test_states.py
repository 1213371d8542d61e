"""A fit that stopped goes on with the bytes of one that did not, whenever that was."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_array_equal

from skeinwork.core.errors import CancelledError
from skeinwork.core.topics.foretelling import Foretelling
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.topics.states import FORGETFUL, State
from skeinwork.store.states import StatesFolder
from tests.conftest import Prepared

SHORT = LdaSettings(topics=5, iterations=60, seed=3)


class Stopped:
    """A report that stops a fit after so many iterations."""

    def __init__(self, after: int) -> None:
        self.after = after

    def __call__(self, phase: str, done: float, **details: Any) -> None:
        if details.get("iteration", 0) >= self.after:
            raise CancelledError("Cancelled.")


class Remembered:
    """All states after a fit's iterations; of these the ones there were at a kill."""

    def __init__(self) -> None:
        self.states: dict[int, State] = {}
        self.killed_after = 10_000

    def latest(self, most: int) -> State | None:
        there = [each for each in self.states if each <= min(most, self.killed_after)]
        return self.states[max(there)] if there else None

    def keep(self, iteration: int, state: State) -> None:
        self.states[iteration] = {name: array.copy() for name, array in state.items()}

    def wanted(self) -> bool:
        return True


@pytest.fixture(scope="module")
def parts(demo: Prepared) -> Any:
    """Counts of 300 documents, and of 100 others."""
    return demo.matrix.counts[:300], demo.matrix.counts[300:400]


def same(one: TopicModel, other: TopicModel) -> bool:
    assert one.samples and other.samples
    pairs = [(one.topic_word, other.topic_word), (one.doc_topic, other.doc_topic), (one.trace, other.trace)]
    pairs += [(one.samples.data, other.samples.data), (one.by_topic["alpha"], other.by_topic["alpha"])]
    return one.overall == other.overall and all(a.tobytes() == b.tobytes() for a, b in pairs)


@pytest.mark.parametrize("sampler", ["dense", "constant-time"])
@pytest.mark.parametrize("seed_words", [(), ("storm gale",)])
def test_a_cancelled_fit_goes_on_where_it_was(
    parts: Any, demo: Prepared, tmp_path: Path, sampler: str, seed_words: tuple[str, ...]
) -> None:
    counts, others = parts
    wanted = SHORT.model_copy(update={"sampler": sampler, "seed_words": seed_words})
    columns = demo.matrix.columns_named(np.arange(counts.shape[1]))
    whole = lda.fit(counts, wanted, columns=columns, others=others)
    folder = StatesFolder(tmp_path)
    with pytest.raises(CancelledError):
        lda.fit(counts, wanted, Stopped(30), columns, folder, others)
    assert folder.iterations() == 30
    assert same(lda.fit(counts, wanted, columns=columns, states=folder, others=others), whole)


@pytest.fixture(scope="module")
def uninterrupted(parts: Any) -> tuple[Remembered, TopicModel]:
    states = Remembered()
    return states, lda.fit(parts[0], SHORT, states=states)


@settings(max_examples=6, deadline=None)
@given(after=st.integers(1, 60))
def test_after_a_kill_at_any_iteration(parts: Any, uninterrupted: tuple[Remembered, TopicModel], after: int) -> None:
    """Of what was on disk then: the states that were kept until it, nothing later."""
    before, whole = uninterrupted
    states = Remembered()
    states.states, states.killed_after = dict(before.states), after
    assert same(lda.fit(parts[0], SHORT, states=states), whole)


def test_more_iterations_go_on_from_the_end(parts: Any, tmp_path: Path) -> None:
    counts, _ = parts
    lda.fit(counts, SHORT, states=StatesFolder(tmp_path))
    longer = SHORT.model_copy(update={"iterations": 100})
    begun: list[int] = []

    def report(phase: str, done: float, **details: Any) -> None:
        begun.append(details.get("iteration", 0))

    again = lda.fit(counts, longer, report, states=StatesFolder(tmp_path))
    assert min(begun) > SHORT.iterations
    assert same(again, lda.fit(counts, longer, states=FORGETFUL))
    # Fewer than were done begin anew, and are as if there had been none.
    fewer = SHORT.model_copy(update={"iterations": 40})
    assert same(lda.fit(counts, fewer, states=StatesFolder(tmp_path)), lda.fit(counts, fewer))


@pytest.mark.parametrize(
    ("name", "wrong"),
    [
        ("z", np.full(7, 2, np.int16)),
        ("z", None),
        ("alpha", np.full(5, np.nan)),
        ("beta", np.array([-1.0])),
        ("stream", np.zeros(1)),
        ("done", np.array([55])),
        ("trace", np.zeros((3, 2))),
        ("by_chance", np.array([7])),
        ("given", np.full(3, 900, np.int16)),
    ],
)
def test_a_state_that_is_none_is_not_used(parts: Any, tmp_path: Path, name: str, wrong: Any) -> None:
    counts, _ = parts
    wanted = SHORT.model_copy(update={"sampler": "constant-time"})
    folder = StatesFolder(tmp_path)
    with pytest.raises(CancelledError):
        lda.fit(counts, wanted, Stopped(20), states=folder)
    state = {**(folder.latest(20) or {}), name: wrong}
    if wrong is None:
        del state[name]
    elif name == "z":
        state[name] = np.full(len(state[name]), 5, np.int16)  # there are five topics
    folder.keep(20, state)
    assert same(lda.fit(counts, wanted, states=folder), lda.fit(counts, wanted))


def test_a_damaged_file_is_passed_over(tmp_path: Path) -> None:
    folder = StatesFolder(tmp_path)
    for iteration in (10, 20, 30):
        folder.keep(iteration, {"z": np.full(400, iteration)})
    assert sorted(path.name for path in tmp_path.iterdir()) == ["20.npz", "30.npz"]
    path = tmp_path / "30.npz"
    data = bytearray(path.read_bytes())
    data[len(data) // 2] ^= 255
    path.write_bytes(data)
    found = folder.latest(40)
    assert found is not None
    assert_array_equal(found["z"], np.full(400, 20))
    assert folder.latest(19) is None
    (tmp_path / "20.npz").write_bytes(b"")
    assert folder.latest(40) is None


def test_words_foretold_are_those_of_document_completion(parts: Any) -> None:
    """Against the shares at which the likelihood of the halves seen stands, by plain iteration in double precision."""
    counts, others = parts
    model = lda.fit(counts, SHORT)
    alpha = model.by_topic["alpha"]
    told = Foretelling(others, 3)
    likely, tokens = 0.0, 0
    for seen, rest in zip(told.seen, told.told, strict=True):
        theta, words = np.full(5, seen.nnz / 5), seen.indices
        for _ in range(200):
            weight = (theta + alpha)[:, None] * model.topic_word[:, words]
            theta = (weight / weight.sum(axis=0)).sum(axis=1)
        share = (theta + alpha) / (theta + alpha).sum()
        likely += float(np.log(share @ model.topic_word[:, rest.indices]).sum())
        tokens += rest.nnz
    assert told(model.topic_word, alpha) == pytest.approx(likely / tokens, abs=0.005)
    even = np.full((5, counts.shape[1]), 1 / counts.shape[1])
    assert told(even, alpha) == pytest.approx(-np.log(counts.shape[1]), abs=1e-4)
    assert told(model.topic_word, alpha) > told(even, alpha)


def test_a_disk_that_takes_nothing_stops_no_fit(parts: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    folder = StatesFolder(tmp_path / "states")
    folder.keep(5, {"z": np.zeros(3)})

    def full(*_: Any, **__: Any) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(np, "savez", full)
    folder.keep(9, {"z": np.zeros(3)})
    assert [path.name for path in folder.folder.iterdir()] == ["5.npz"]
    assert same(lda.fit(parts[0], SHORT, states=folder), lda.fit(parts[0], SHORT))


def test_states_are_kept_now_and_then_and_the_last_alone_in_the_end(tmp_path: Path) -> None:
    folder = StatesFolder(tmp_path, every=1e6)
    assert not folder.wanted()
    folder.every = 0
    assert folder.wanted()
    assert (folder.iterations(), folder.size()) == (0, 0)
    for iteration in (3, 12, 7):
        folder.keep(iteration, {"z": np.zeros(5)})
    assert folder.iterations() == 12
    assert folder.size() > 0
    folder.only_last()
    assert [path.name for path in tmp_path.iterdir()] == ["12.npz"]
    folder.remove()
    assert folder.iterations() == 0
    folder.remove()  # twice is no matter


def test_what_is_told_while_it_forms(parts: Any) -> None:
    """Sizes of topics that sum to 1, never more than some points of them, and where documents are held out
    a fifth column of the trace."""
    told: list[dict[str, Any]] = []
    counts, others = parts

    def report(phase: str, done: float, **details: Any) -> None:
        if "grown" in details:
            told.append({**details, "done": done, "grown": list(details["grown"])})

    longer = SHORT.model_copy(update={"iterations": 900})
    model = lda.fit(counts, longer, report, others=others)
    assert [each["iteration"] for each in told] == sorted({each["iteration"] for each in told})
    assert [each["done"] for each in told] == sorted(each["done"] for each in told)
    for each in told:
        assert len(each["grown"]) <= 48
        assert each["grown"][-1][0] == each["iteration"]
        assert sum(each["grown"][-1][1]) == pytest.approx(1, abs=1e-3)
        iterations = [at for at, _ in each["grown"]]
        assert iterations == sorted(iterations)
    assert told[-1]["grown"][0][0] < 100
    assert model.trace.shape == (180, 5)
    # Foretold every 25 iterations; between them the last stands.
    assert len(np.unique(model.trace[:, 4])) <= 1 + 900 // 25
    assert model.trace[-1, 4] > model.trace[0, 4]
