"""The steps of a strand, each from stored results to a stored result.

The server runs them as jobs, ``weave`` runs them in line; both get the same bytes. A step's version
stands in the module that computes it and is raised by hand whenever its results can change.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus import gather, shape
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.dates import MISSING
from skeinwork.core.corpus.gather import GatherSettings
from skeinwork.core.corpus.join import Join
from skeinwork.core.corpus.renumber import renumber
from skeinwork.core.corpus.shape import OPERATIONS, Filter, Operation, Sources
from skeinwork.core.corpus.survey import survey
from skeinwork.core.errors import BadInputError, SkeinworkError
from skeinwork.core.matrix import counting, weigh
from skeinwork.core.matrix.weigh import Matrix, WeighSettings
from skeinwork.core.prevalence import prevalence
from skeinwork.core.progress import Report, silent
from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.tokenise import TokeniseSettings
from skeinwork.core.topics import coherence, lda, words
from skeinwork.core.topics.lda import LdaSettings, TopicModel
from skeinwork.store.artefacts import ArtefactStore, Making
from skeinwork.work import codec, finding

TOP = 10


@dataclass(frozen=True)
class SourceFile:
    """A file as it lies on this machine, with the analyst's name for it and its checksum."""

    path: Path
    name: str
    sha256: str


def sound(path: Path, sha256: str, name: str) -> Path:
    """A file brought in, as it was.

    Raises
    ------
    BadInputError
        where it is gone or is not what was brought in.
    """
    try:
        with path.open("rb") as source:
            if hashlib.file_digest(source, "sha256").hexdigest() == sha256:
                return path
    except OSError:
        pass
    raise BadInputError(
        f"{name}, as it was brought in, is damaged or missing on disk. Bring the same file in again "
        "at Gather, Files; then continue."
    )


def plain(settings: BaseModel) -> dict[str, Any]:
    """Settings as JSON values."""
    return settings.model_dump(mode="json")


def corpus_making(files: Sequence[SourceFile], settings: GatherSettings) -> Making:
    wanted = {**plain(settings), "names": [file.name for file in files]}
    return Making("corpus", gather.VERSION, wanted, [file.sha256 for file in files])


def shaped_making(base: str, operations: Sequence[Operation]) -> Making:
    return Making("corpus", shape.VERSION, {"shape": [plain(each) for each in operations]}, [base])


def wanted_corpus(base: str, operations: Sequence[Operation]) -> str:
    """The identity of a corpus shaped by operations."""
    return shaped_making(base, operations).identity if operations else base


def tokens_making(corpus: str, settings: TokeniseSettings) -> Making:
    return Making("tokens", tokenise.VERSION, plain(settings), [corpus])


def cleaning_making(corpus: str, settings: CleanSettings) -> Making:
    tokens = tokens_making(corpus, settings.tokenising())
    return Making("cleaning", clean.VERSION, plain(settings), [tokens.identity])


def matrix_making(cleaning: str, settings: WeighSettings) -> Making:
    return Making("matrix", weigh.VERSION + counting.VERSION, plain(settings), [cleaning])


def fit_making(matrix: str, settings: LdaSettings) -> Making:
    version = 100 * lda.VERSION + coherence.VERSION
    return Making("fit", version, plain(settings), [matrix])


def make_corpus(
    store: ArtefactStore, files: Sequence[SourceFile], settings: GatherSettings,
    report: Report = silent,
) -> str:  # fmt: skip
    """Read files into a corpus."""
    making = corpus_making(files, settings)
    if store.has(making.identity):
        return making.identity
    paths = [(sound(each.path, each.sha256, each.name), each.name) for each in files]
    corpus, trouble = gather.gather(paths, settings, report)
    report("Looking for languages and repeats", 0.9)
    return _write_corpus(store, making, corpus, [asdict(each) for each in trouble], [])


def make_shaped(
    store: ArtefactStore, base: str, operations: Sequence[Operation], tables: dict[str, Path],
    report: Report = silent,
) -> str:  # fmt: skip
    """Shape a corpus as brought in; without operations it is that corpus itself.

    What the operations but the last have made is taken from the store where it is there.
    """
    if not operations:
        return base
    making = shaped_making(base, operations)
    if store.has(making.identity):
        return making.identity
    before, rest = base, list(operations)
    for count in range(len(operations) - 1, 0, -1):
        earlier = shaped_making(base, operations[:count]).identity
        if store.has(earlier):
            before, rest = earlier, list(operations[count:])
            break
    for each in operations:
        if isinstance(each, Join):
            sound(tables[each.sha256], each.sha256, each.name)
    stored = store.open(before)
    sources = Sources(finding.find_unindexed, tables, codec.load_survey(stored))
    corpus, done = shape.shape(codec.load_corpus(stored), rest, sources, report)
    all_done = [*codec.load_done(stored), *(asdict(each) for each in done)]
    return _write_corpus(store, making, corpus, stored.document("trouble"), all_done)


def _write_corpus(
    store: ArtefactStore, making: Making, corpus: Corpus, trouble: list[Any], done: list[Any]
) -> str:
    lengths = np.diff(corpus.pointer)
    known = corpus.days[corpus.days != MISSING]
    summary = {
        "documents": len(corpus),
        "empty": int((lengths == 0).sum()),
        "rejected": sum(each["raw"] is not None for each in trouble),
        "noted": sum(each["raw"] is None for each in trouble),
        "bytes": int(lengths.sum()),
        "first_day": int(known.min()) if len(known) else None,
        "last_day": int(known.max()) if len(known) else None,
        "shaped": len(done),
    }
    saved = codec.save_corpus(corpus, survey(corpus), trouble, done)
    return store.write(making, *saved, summary)


def base_of(store: ArtefactStore, corpus: str) -> str:
    """The corpus as brought in that a corpus was shaped from; itself where it was not shaped."""
    making = store.open(corpus).making
    return making.inputs[0] if "shape" in making.settings else corpus


def shape_of(store: ArtefactStore, corpus: str) -> tuple[Operation, ...]:
    """The operations that a corpus was shaped by."""
    return OPERATIONS.validate_python(store.open(corpus).making.settings.get("shape", []))


def renumbered(
    store: ArtefactStore, operations: Sequence[Operation], before: str, after: str
) -> tuple[Operation, ...]:
    """Operations for another corpus as brought in; those that name documents name the same ones."""
    if not any(isinstance(each, Filter) and each.numbers is not None for each in operations):
        return tuple(operations)
    old, new = (codec.load_corpus(store.open(each)) for each in (before, after))
    return tuple(
        each.model_copy(update={"numbers": renumber(old, new, each.numbers)})
        if isinstance(each, Filter) and each.numbers is not None else each
        for each in operations
    )  # fmt: skip


def make_cleaning(
    store: ArtefactStore, corpus: str, settings: CleanSettings, report: Report = silent
) -> str:
    """Tokenise where that has not been done yet, and clean."""
    making = cleaning_making(corpus, settings)
    if store.has(making.identity):
        return making.identity
    stream = make_tokens(store, corpus, settings.tokenising(), report)
    tokens = codec.load_tokens(store.open(stream))
    report("Cleaning", 0.9)
    cleaning = clean.clean(tokens, settings)
    last = cleaning.survivals[-1]
    summary = {"tokens": last.tokens, "types": last.types, "before": cleaning.survivals[0].tokens}
    return store.write(making, *codec.save_cleaning(cleaning), summary)


def make_tokens(
    store: ArtefactStore, corpus: str, settings: TokeniseSettings, report: Report = silent
) -> str:
    """Tokenise a corpus."""
    making = tokens_making(corpus, settings)
    if store.has(making.identity):
        return making.identity
    texts = codec.load_corpus(store.open(corpus)).texts()
    tokens = tokenise.tokenise(texts, settings, report)
    summary = {"tokens": len(tokens.ids), "types": len(tokens.types)}
    return store.write(making, *codec.save_tokens(tokens), summary)


def load_cleaned(store: ArtefactStore, cleaning: str) -> tuple[Segments, Cleaning]:
    """A cleaning and the token stream it was made from."""
    stored = store.open(cleaning)
    return codec.load_tokens(store.open(stored.making.inputs[0])), codec.load_cleaning(stored)


def make_matrix(
    store: ArtefactStore, cleaning: str, settings: WeighSettings, report: Report = silent
) -> str:
    """Count and prune."""
    making = matrix_making(cleaning, settings)
    if store.has(making.identity):
        return making.identity
    report("Counting terms", 0.2)
    counted = weigh.count(*load_cleaned(store, cleaning), settings.longest)
    report("Pruning", 0.7)
    matrix = weigh.prune(counted, settings)
    summary = {
        "terms": len(matrix.terms), "nonzero": int(matrix.counts.nnz),
        "sparsity": matrix.sparsity, "emptied": len(matrix.empty_documents),
        "documents": int(matrix.counts.shape[0]), "tokens": int(matrix.counts.data.sum()),
    }  # fmt: skip
    return store.write(making, *codec.save_matrix(matrix), summary)


def term_stream(
    tokens: Segments, cleaning: Cleaning, matrix: Matrix
) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The words that cleaning left, as one-word terms of a matrix, for coherence windows.

    Returns
    -------
    ids : int32[n_left], -1 where pruning dropped the word
    doc_ptr : int64[n_docs + 1]
    """
    kept = cleaning.form_of[tokens.ids] >= 0
    forms = cleaning.form_of[tokens.ids[kept]]
    doc_ptr = np.concatenate([[0], np.cumsum(kept)])[tokens.doc_ptr].astype(np.int64)
    place = {term: at for at, term in enumerate(matrix.terms)}
    single = np.array([place.get(form, -1) for form in cleaning.forms] + [-1], dtype=np.int32)
    return single[forms], doc_ptr


def _single_words(matrix: Matrix, model: TopicModel) -> NDArray[np.int64]:
    """Top words for coherence: one-word terms, since windows count words."""
    masked = np.where(matrix.lengths == 1, model.topic_word, -1.0)
    count = min(TOP, int((matrix.lengths == 1).sum()))
    return words.top_words(masked, count)


def make_fit(
    store: ArtefactStore, matrix: str, settings: LdaSettings, report: Report = silent
) -> str:
    """Fit LDA, order its topics by share, and measure them."""
    making = fit_making(matrix, settings)
    if store.has(making.identity):
        return making.identity
    table = codec.load_matrix(store.open(matrix))
    display = table.display

    def with_words(phase: str, done: float, **details: Any) -> None:
        if "top" in details:
            details["top"] = [[display[term] for term in row] for row in details["top"]]
        report(phase, 0.95 * done, **details)

    model = by_share(lda.fit(table.counts, settings, with_words), table)
    report("Measuring coherence", 0.97)
    summary = measures(store, matrix, table, model)
    return store.write(making, *codec.save_model(model), summary)


def token_weights(matrix: Matrix) -> NDArray[np.float64]:
    """Tokens of every document, float64[n_docs]."""
    return np.asarray(matrix.counts.sum(axis=1), dtype=np.float64).ravel()


def by_share(model: TopicModel, matrix: Matrix) -> TopicModel:
    """The model with its topics in order of falling share of tokens."""
    share = (model.doc_topic * token_weights(matrix)[:, None]).sum(axis=0)
    order = np.argsort(-share, kind="stable")
    return TopicModel(
        model.topic_word[order], model.doc_topic[:, order], model.draws[:, :, order],
        model.alpha[order], model.beta, model.trace,
    )  # fmt: skip


def measures(
    store: ArtefactStore, matrix_identity: str, matrix: Matrix, model: TopicModel
) -> dict[str, Any]:
    """Coherence, exclusivity and shares of a model's topics, and what its trace says."""
    tokens, cleaning = load_cleaned(store, store.open(matrix_identity).making.inputs[0])
    ids, doc_ptr = term_stream(tokens, cleaning, matrix)
    top = _single_words(matrix, model)
    npmi = coherence.topic_coherence(top, ids, doc_ptr, len(matrix.terms))
    exclusive = words.exclusivity(model.topic_word, min(TOP, len(matrix.terms)))
    weights = token_weights(matrix)
    everything = np.where(weights > 0, 0, -1).astype(np.int64)
    share = prevalence.prevalence(model.doc_topic, model.draws, weights, everything, 1)
    return {
        "topics": len(model.topic_word),
        "npmi": [float(value) for value in npmi],
        "coherence": float(npmi.mean()),
        "exclusivity": float(exclusive.mean()),
        "share": [[float(part[0, k]) for part in (share.mean, share.low, share.high)]
                  for k in range(len(model.topic_word))],
        "log_likelihood": float(model.trace[-1, 1]),
        "verdict": lda.verdict(model.trace),
        "sampler": lda.SAMPLER,
    }  # fmt: skip


def remake(store: ArtefactStore, making: Making, uploads: Path, report: Report = silent) -> str:
    """Make a result that was damaged on disk again, from the same inputs.

    Parameters
    ----------
    uploads : the folder of the files that were brought in, by their checksums

    Raises
    ------
    SkeinworkError
        where this version of the program would make another result of them.
    """
    settings, inputs = dict(making.settings), making.inputs
    if making.step == "corpus" and "shape" in settings:
        operations = OPERATIONS.validate_python(settings["shape"])
        tables = {
            each.sha256: uploads / each.sha256 for each in operations if isinstance(each, Join)
        }
        made = make_shaped(store, inputs[0], operations, tables, report)
    elif making.step == "corpus":
        names = settings.pop("names")
        files = [
            SourceFile(uploads / sha, name, sha) for sha, name in zip(inputs, names, strict=True)
        ]
        made = make_corpus(store, files, GatherSettings.model_validate(settings), report)
    elif making.step == "tokens":
        made = make_tokens(store, inputs[0], TokeniseSettings.model_validate(settings), report)
    elif making.step == "cleaning":
        corpus = store.ancestor(inputs[0], "corpus").identity
        made = make_cleaning(store, corpus, CleanSettings.model_validate(settings), report)
    elif making.step == "matrix":
        made = make_matrix(store, inputs[0], WeighSettings.model_validate(settings), report)
    else:
        made = make_fit(store, inputs[0], LdaSettings.model_validate(settings), report)
    if made != making.identity:
        raise SkeinworkError(
            f"The {making.step} was made by an earlier version of Skeinwork and can't be made again as "
            "it was. Rebuild (r) to make a present one."
        )
    return made
