"""A step whose results change must get a new version: golden digests of every step.

Each result is digested whole, with what its summary says, for several settings. When one of these
fails because results were meant to change, raise the version of what changed (a pass, a method, a
measure, the step) and write the new pairs into ``golden.json``.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from skeinwork.core.corpus.shaping import OPERATIONS
from skeinwork.core.identity import canonical_json
from skeinwork.demo.generator import write_files
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import steps
from skeinwork.work.steps.step import Step
from skeinwork.work.strands.strands import Wanted
from tests.making import follow, read

EVERY_PASS: list[dict[str, Any]] = [
    {"kind": "markup"},
    {"kind": "addresses", "hashtags": True},
    {"kind": "multiword", "terms": ["north wind", "outer breakwater", "pilot launch"]},
    {"kind": "case", "possessives": False},
    {"kind": "numbers", "keep_with_letters": True},
    {"kind": "word-forms"},
    {"kind": "stop-words", "own": ["ferry"], "keep": ["not"]},
    {"kind": "short-words", "under": 4},
    {"kind": "domain-words", "words": ["harbour", "pilot launch"]},
    {"kind": "stop-words", "language": "none", "own": ["gale"]},
    {"kind": "punctuation", "on": False},
]
MORE_PASSES: list[dict[str, Any]] = [
    {"kind": "keep-list", "words": ["Kelpwick"]},
    {"kind": "emoji"},
    {"kind": "accents", "compatibility": True},
    {"kind": "contractions"},
    {"kind": "case", "fold": "at sentence starts"},
    {"kind": "repeats"},
    {"kind": "replacements", "pairs": ["stbd = starboard side"], "patterns": ["(?<=l)our$ = or"]},
    {"kind": "numbers", "become": "kind", "units": True},
    {"kind": "corpus-words", "over": 0.4, "under": 2},
    {"kind": "stop-words", "language": "of each document"},
    {"kind": "stop-words", "own": ["gale"], "within": {"field": "harbour", "values": ["Quellan"]}},
    {"kind": "character-ngrams", "scripts": "all", "within": {"values": ["German", "French"]}},
]
CLEANINGS: dict[str, dict[str, Any]] = {
    "suggested": {},
    "every pass": {"passes": EVERY_PASS},
    "more passes": {"rule": {"hyphens": "both"}, "passes": MORE_PASSES},
    "letters": {"rule": {"rule": "letters", "hyphens": "split"}, "passes": EVERY_PASS[3:6]},
}
MATRICES: dict[str, dict[str, Any]] = {
    "suggested": {},
    "trigrams": {"longest": 3, "min_documents": 2, "max_share": 0.3, "keep_top": 400},
}
FITS: dict[str, dict[str, Any]] = {
    "fixed priors": {"topics": 4, "iterations": 20, "alpha": 0.1, "beta": 0.01},
    "seven": {"topics": 7, "iterations": 30, "seed": 5, "alpha": 0.3, "beta": 0.02},
    "factorised": {"method": "nmf", "topics": 5, "iterations": 6, "start": "random"},
    "divergence": {"method": "nmf", "topics": 4, "iterations": 6, "start": "random", "loss": "kl"},
}
GROUPED: dict[str, Any] = {
    "method": "clusters",
    "iterations": 3,
    "smallest": 6,
    "dimensions": 8,
    "reach": 0.6,
    "vectors": {"dimensions": 12},
}
BESIDE: dict[str, tuple[str, dict[str, Any]]] = {
    "words": ("tree", {"most": 40, "resamples": 3}),
    "documents": ("tree", {"of": "documents", "most": 20, "distance": "jensen-shannon", "linkage": "average"}),
    "k-means": ("groups", {"groups": 5}),
    "k-medoids": ("groups", {"groups": 4, "method": "k-medoids", "weighting": {}, "distance": "jaccard"}),
    "counts": ("group_counts", {"most": 5, "seeds": 2}),
    "harbours": ("group_words", {"field": "harbour"}),
    "years": ("group_words", {"period": "year", "unit": "writer"}),
    "near": ("word_vectors", {"dimensions": 12}),
    "weights": ("document_vectors", {"dimensions": 10}),
    "means": ("document_vectors", {"of": "words", "words": {"dimensions": 10}}),
}
GOLDEN: dict[str, list[str]] = json.loads((Path(__file__).parent / "golden.json").read_text(encoding="utf-8"))


def rounded(value: Any) -> Any:
    """A summary with its decimals rounded, as processors differ."""
    if isinstance(value, float):
        return round(value, 4)
    if isinstance(value, dict):
        return {key: rounded(each) for key, each in value.items()}
    return [rounded(each) for each in value] if isinstance(value, list) else value


def versions(making: Making) -> str:
    """Every version that took part."""
    told = dict(making.told or {})
    passes = ".".join(str(v) for each in told.get("passes", []) for v in each["versions"])
    parts = ".".join(map(str, told.get("versions", {}).values()))
    return " ".join(filter(None, [str(making.version), parts, passes]))


def digest(store: ArtefactStore, identity: str) -> str:
    """One digest over a result's files and summary; decimals are rounded."""
    stored = store.open(identity)
    whole = hashlib.sha256(canonical_json(rounded(stored.summary)))
    for name in sorted(stored.checksums):
        if name.endswith(".npy"):
            array = stored.array(name.removesuffix(".npy"))
            whole.update(array.round(4).tobytes() if array.dtype.kind == "f" else array.tobytes())
        else:
            whole.update(canonical_json(rounded(stored.document(name.removesuffix(".json")))))
    return whole.hexdigest()[:16]


def everything(store: ArtefactStore, folder: Path) -> Iterator[tuple[str, str]]:
    """Names and identities of results over several settings."""
    corpus = read(store, [write_files(folder, size=150)])
    yield "corpus", corpus
    shape = OPERATIONS.validate_python(
        [
            {"kind": "duplicates", "near": True},
            {"kind": "filter", "words_from": 5},
            {"kind": "small-groups", "field": "harbour", "least": 20},
            {"kind": "sample", "size": 90, "seed": 2},
        ]
    )
    yield "corpus, shaped", steps.make(store, steps.CORPUS.shaped(corpus, shape))
    for clean, wanted in CLEANINGS.items():
        settings = steps.CLEANING.parse(wanted)
        tokens = steps.make(store, steps.TOKENS.making(corpus, settings.tokenising()))
        yield f"tokens: {clean}", tokens
        cleaning = steps.make(store, steps.CLEANING.making(tokens, settings))
        yield f"cleaning: {clean}", cleaning
        if wanted.get("passes") is MORE_PASSES:
            continue
        for weigh, pruning in MATRICES.items():
            matrix = steps.make(store, steps.MATRIX.making(cleaning, steps.MATRIX.parse(pruning)))
            yield f"matrix: {clean}, {weigh}", matrix
            for fit, chosen in FITS.items():
                made = steps.make(store, steps.FIT.making(matrix, steps.FIT.parse(chosen)))
                yield f"fit: {clean}, {weigh}, {fit}", made
            if (clean, weigh) == ("suggested", "suggested"):
                for name, (step, chosen) in BESIDE.items():
                    beside = steps.beside(step)
                    yield f"{step}: {name}", steps.make(store, beside.making(matrix, beside.parse(chosen)))
                for kind, making in mapped(matrix, made):
                    yield kind, steps.make(store, making)
                for name, making in compared_with(matrix, made, cleaning):
                    yield name, steps.make(store, making)


def mapped(matrix: str, fit: str) -> Iterator[tuple[str, Making]]:
    """Maps, each of what it is laid out from."""
    for name, step in (("near", steps.WORD_MAP), ("weights", steps.DOCUMENT_MAP)):
        (of,) = step.parents
        before = steps.beside(of.name).making(matrix, of.parse(BESIDE[name][1])).identity
        yield f"{step.name}: {name}", step.making(before, step.parse({}))
    yield "topic_map", steps.TOPIC_MAP.making(fit, steps.TOPIC_MAP.parse({"neighbours": 8, "tightness": 2}))


def compared_with(matrix: str, fit: str, cleaning: str) -> Iterator[tuple[str, Making]]:
    """What comes with the comparison of fits, and with the reading of one."""
    said = {"by": {"group": "harbour"}, "sides": [{"value": "Ossingby"}]}
    yield (
        "topic statement",
        steps.TOPIC_STATEMENT.making(fit, steps.TOPIC_STATEMENT.parse({**said, "fit": fit, "topic": 2})),
    )
    yield (
        "word statement",
        steps.WORD_STATEMENT.making(
            matrix, steps.WORD_STATEMENT.parse({**said, "cleaning": cleaning, "word": "engin"})
        ),
    )
    yield "measures", steps.MEASURES_STEP.making(fit, steps.MEASURES_STEP.parse({}))
    yield "label candidates", steps.LABEL_CANDIDATES.making(fit, steps.LABEL_CANDIDATES.parse({}))
    yield "co-occurrence", steps.CO_OCCURRENCE.making(fit, steps.CO_OCCURRENCE.parse({"permutations": 99}))
    for name, chosen in {"grouped": {}, "grouped, taken together": {"topics": 3, "merged": [[0, 1]]}}.items():
        yield f"fit: {name}", steps.FIT.making(matrix, steps.FIT.parse({**GROUPED, **chosen}))
    yield "twin: grouped", steps.TWIN.making(matrix, steps.TWIN.parse({"fit": GROUPED, "deal": 3}))
    merged = {**FITS["seven"], "merged": [[0, 3], [2, 5]]}
    yield "fit: seven, merged", steps.FIT.making(matrix, steps.FIT.parse(merged))
    for name in ("seven", "factorised"):
        twin = {"fit": FITS[name], "deal": 3}
        yield f"twin: {name}", steps.TWIN.making(matrix, steps.TWIN.parse(twin))
        continues = {"split": {"share": 0.2}, "iterations": FITS[name]["iterations"]}
        yield (
            f"fit: {name}, continued",
            steps.FIT.making(matrix, steps.FIT.parse({**FITS[name], "continues": continues})),
        )


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> tuple[ArtefactStore, dict[str, str]]:
    folder: Path = tmp_path_factory.mktemp("golden")
    store = ArtefactStore(folder / "results")
    return store, dict(everything(store, folder))


def test_results_change_only_with_their_version(made: tuple[ArtefactStore, dict[str, str]]) -> None:
    store, identities = made
    found = {
        name: [versions(store.open(identity).making), digest(store, identity)] for name, identity in identities.items()
    }
    assert found == GOLDEN


def test_making_again_gives_the_same_identity(made: tuple[ArtefactStore, dict[str, str]]) -> None:
    store, identities = made
    for name, settings in CLEANINGS.items():
        wanted = Wanted(clean=steps.CLEANING.parse(settings))
        assert follow(store, identities["corpus"], wanted, 2)["cleaning"] == identities[f"cleaning: {name}"]


@pytest.mark.parametrize("step", steps.COMPUTED)
def test_settings_at_their_defaults_enter_no_identity(step: Step[Any, Any, Any]) -> None:
    """A new setting with a default makes nothing stale; a changed one does."""
    plain = step.parse({})
    told = step.told(plain)
    assert {"topics", "seed", "longest", "min_documents", "hyphens", "possessives"}.isdisjoint(
        str(told).replace("'", " ").split()
    )
    written = step.parse(plain.model_dump(mode="json"))
    assert step.making("0" * 64, written).identity == step.making("0" * 64, plain).identity
