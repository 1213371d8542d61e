"""All results of a strand in open formats. The server zips them, ``weave`` writes them to a folder."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any, TypeVar, get_args

import numpy as np

from skeinwork import __version__
from skeinwork.core.formats.export import csv_rows, matrix_market, zipped
from skeinwork.core.formats.names import safe_name
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.design_matrix import Regression
from skeinwork.core.topics.measures import MEASURES
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.words import ownness
from skeinwork.work.evidence.topic import held, over_documents
from skeinwork.work.exports import related
from skeinwork.work.exports.apart_files import apart_table, streams_graph, streams_table
from skeinwork.work.exports.documents_table import documents_table, rejected_table, vocabulary_table
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.exports.pattern import Pattern
from skeinwork.work.exports.regression_files import regression_table
from skeinwork.work.exports.statement_files import statements_table
from skeinwork.work.exports.topic_files import candidates_table, gexf, graphml, labels_table, together_table
from skeinwork.work.exports.track_files import changes_table, differences_table, movement_table, prevalence_table
from skeinwork.work.exports.vector_files import (
    centres_table,
    document_vectors_file,
    map_table,
    nearest_table,
    word_vectors_file,
)
from skeinwork.work.relate.map_areas import STEP_OF, MapOf
from skeinwork.work.results import cleaned_text
from skeinwork.work.results.view import View
from skeinwork.work.steps import DOCUMENT_VECTORS, FIT, GROUP_COUNTS, GROUP_WORDS, GROUPS, TREE, WORD_VECTORS
from skeinwork.work.steps.part_fit import Parting
from skeinwork.work.steps.step import Step, counted
from skeinwork.work.topics.model_file import saved_fit
from skeinwork.work.topics.partings import made_of_all
from skeinwork.work.topics.prevalence import Seeds, overall, said_of_differences, said_of_seeds

Named = TypeVar("Named")
Pieces = Callable[[], Iterable[bytes]]
LEAST_SHARE = 1e-4  # of a topic, for a term to be listed with it


def _json(value: Any) -> bytes:
    return (json.dumps(value, indent=2, ensure_ascii=False, sort_keys=True) + "\n").encode()


def topics_json(view: View, labels: Labels, seeds: Seeds) -> bytes:
    """Topics with labels, measures, share with interval, and top words."""
    model, matrix, summary = view.model, view.fit_matrix, view.fit_summary
    order = np.argsort(-model.topic_word, axis=1, kind="stable")[:, :30]
    share = overall(view, seeds)
    leads, by_documents = over_documents(view)
    values = [(MEASURES[key], said) for key, said in summary.measured.items() if key in MEASURES]
    topics = [
        {
            "topic": k + 1,
            "label": labels[k].label if k in labels else "",
            "label_confirmed": bool(k in labels and labels[k].confirmed),
            "note": labels[k].note if k in labels else "",
            "family": labels[k].family if k in labels else "",
            "set_aside": bool(k in labels and labels[k].set_aside),
            "share_of_tokens": share[k].model_dump(),
            "mean_share_of_documents": by_documents[k],
            "documents_in_which_it_leads": leads[k],
            "documents_with_a_tenth_or_more": int(np.count_nonzero(held(view, k))),
            **{measure.column: said.topics[k] for measure, said in values if said.topics},
            "words": [
                {"term": matrix.terms[t], "shown_as": matrix.display[t], "probability": float(model.topic_word[k, t])}
                for t in order[k]
            ],
        }
        for k in range(len(order))
    ]
    settings = FIT.parse(view.fit_record.making.settings)
    fit = {
        "method": ", ".join(method_of(settings).said(settings)),
        **{measure.key: said.mean for measure, said in values},
        **summary.model_dump(include={"verdict", "remarks"}),
        method_of(settings).watches[0].title: summary.watched,
    }
    return _json({"fit": fit, "topics": topics})


def topic_words_table(view: View, labels: Labels) -> Iterator[bytes]:
    """Probability and ownness of every term with a share of at least one in ten thousand."""
    model, matrix, names = view.model, view.fit_matrix, topic_names(view, labels)
    own = ownness(np.asarray(model.topic_word))
    rows = (
        [k + 1, names[k], matrix.terms[t], matrix.display[t], float(model.topic_word[k, t]), float(own[k, t])]
        for k in range(len(names))
        for t in np.argsort(-model.topic_word[k], kind="stable")
        if model.topic_word[k, t] >= LEAST_SHARE
    )
    return csv_rows(["topic", "label", "term", "shown as", "probability", "ownness"], rows)


def _tracked(begins: str, tracks: Iterable[Breakdown]) -> dict[str, Breakdown]:
    """What is tracked, by the name of its file."""

    def called(each: Breakdown) -> str:
        return " ".join(filter(None, [begins, "by" if each.group else "", each.group, each.span]))

    return _by_file((called(each), each) for each in tracks)


def _prevalences(pattern: Pattern) -> dict[str, Breakdown]:
    return _tracked("prevalence", pattern.track)


def _differing(pattern: Pattern) -> dict[str, Breakdown]:
    return _tracked("differences", (each for each in pattern.track if each.group and not each.timed))


def _prevalence(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    for name, settings in _prevalences(pattern).items():
        yield name, partial(prevalence_table, view, settings, labels, pattern.other_seeds)


def _differences(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    for name, settings in _differing(pattern).items():
        yield name, partial(differences_table, view, settings, labels, pattern.other_seeds)


def _moving(pattern: Pattern) -> dict[str, Breakdown]:
    return _tracked("movement", (each for each in pattern.track if each.group or each.timed))


def _movement(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    for name, settings in _moving(pattern).items():
        yield name, partial(movement_table, view, settings, labels, pattern.other_seeds)


def _changes(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    for name, settings in _tracked("change points", (each for each in pattern.track if each.timed)).items():
        yield name, partial(changes_table, view, settings, labels, pattern.other_seeds)


def _by_file(called: Iterable[tuple[str, Named]]) -> dict[str, Named]:
    """Things by the names of their files, from what they are called: no name is given twice."""
    found: dict[str, Named] = {}
    for name, each in called:
        found[safe_name(name.lower(), found, ".csv")] = each
    return found


def _regressing(pattern: Pattern) -> dict[str, Regression]:
    return _by_file((f"regression on {' '.join(each.terms)}", each) for each in pattern.regress)


def _regressions(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    for name, settings in _regressing(pattern).items():
        yield name, partial(regression_table, view, settings, labels, pattern.other_seeds)


def _parting(pattern: Pattern) -> dict[str, Parting]:
    return _by_file((f"models by {each.by.group or each.by.span}", each) for each in pattern.apart)


def _apart(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    for name, parting in _parting(pattern).items():
        yield name, partial(apart_table, view, parting, labels)


def _streams(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    there = [each for each in pattern.apart if not each.by.group and made_of_all(view, each)]
    for name, parting in _by_file((f"streams by {each.by.span}", each) for each in there).items():
        yield name, partial(streams_table, view, parting)
        yield f"{name.removesuffix('.csv')}.graphml", partial(streams_graph, view, parting)


def _statements(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
    if pattern.pinned:
        yield "statements.csv", partial(statements_table, view, pattern, labels)


def _matrix(view: View) -> Iterator[bytes]:
    comment = "documents by terms; rows as in documents.csv, columns as in vocabulary.csv"
    return matrix_market(view.fit_matrix.counts, comment)


def _told_words(view: View) -> int:
    return int((np.asarray(view.model.topic_word) >= LEAST_SHARE).sum())


Write = Callable[[View, Pattern, Labels], Iterator[tuple[str, Pieces]]]


@dataclass(frozen=True)
class Export:
    """One file, or several of a kind.

    Attributes
    ----------
    name, about : what it is called, and what it is
    write : names with what gives the contents piece by piece
    rows : of a table that may be long, how many it has
    """

    name: str
    about: str
    write: Write
    rows: Callable[[View], int] | None = None


def _one(
    name: str,
    about: str,
    write: Callable[[View, Pattern, Labels], Iterable[bytes]],
    rows: Callable[[View], int] | None = None,
) -> Export:
    return Export(name, about, lambda *given: iter([(name, partial(write, *given))]), rows)


def _where(step: Step[Any, Any, Any], name: str, about: str, write: Callable[[View], Iterable[bytes]]) -> Export:
    """A file of a result beside the chain, where there is one."""

    def written(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
        if view.identity(step):
            yield name, partial(write, view)

    return Export(name, about, written)


def _if_made(name: str, about: str, write: Callable[[View, Labels], Iterable[bytes] | None]) -> Export:
    """A file of what was made beside the fit, where it was."""

    def written(view: View, pattern: Pattern, labels: Labels) -> Iterator[tuple[str, Pieces]]:
        found = write(view, labels)
        if found is not None:
            yield name, lambda: found

    return Export(name, about, written)


def _map(of: MapOf) -> Callable[[View], Iterable[bytes]]:
    return lambda view: map_table(view, of)


# One is added by its entry here.
EXPORTS: tuple[Export, ...] = (
    _one(
        "pattern.json",
        "all steps and settings, to run again with skeinwork weave",
        lambda v, p, labels: [p.to_json().encode()],
    ),
    _one(
        "documents.csv",
        "every document with its fields and topic shares",
        lambda v, p, labels: documents_table(v, labels),
        lambda v: len(v.corpus),
    ),
    _one(
        "topics.json",
        "topics with labels, notes, measures, share of tokens with 95 % interval",
        lambda v, p, labels: [topics_json(v, labels, p.other_seeds)],
    ),
    _one(
        "model.skeinwork.zip",
        "the fit, to place other documents in its topics with skeinwork place",
        lambda v, p, labels: [saved_fit(v, {k: each.label for k, each in labels.items() if each.label}).to_bytes()],
    ),
    _one(
        "topic-words.csv",
        "probability of terms within each topic, comparable within a topic",
        lambda v, p, labels: topic_words_table(v, labels),
        _told_words,
    ),
    _one(
        "labels.csv",
        "labels, notes and families with the strongest words, to be brought back at Label",
        lambda v, p, labels: labels_table(v, labels),
    ),
    _if_made("label-candidates.csv", "phrases to call topics by, with what speaks for each", candidates_table),
    _if_made(
        "topics-by-vector.csv", "the topic of every document found and taken, the nearest, its cosine", nearest_table
    ),
    _if_made("topic-centres.csv", "the centre of each topic, of length 1", centres_table),
    _if_made("topics-together.csv", "documents that hold both of two topics, against chance", together_table),
    _one(
        "documents-topics.graphml",
        "documents and topics as a graph: joined where a topic holds a tenth of a document or more",
        lambda v, p, labels: graphml(v, labels),
    ),
    _one("documents-topics.gexf", "the same graph in GEXF", lambda v, p, labels: gexf(v, labels)),
    _one(
        "vocabulary.csv",
        "the columns of the matrix",
        lambda v, p, labels: vocabulary_table(v),
        lambda v: len(v.fit_matrix.terms),
    ),
    _one(
        "matrix.mtx",
        "how often each term occurs in each document, in Matrix Market format",
        lambda v, p, labels: _matrix(v),
        lambda v: int(v.fit_matrix.counts.nnz),
    ),
    Export("prevalence-*.csv", "mean share of topics with 95 % intervals", _prevalence),
    Export(
        "differences-*.csv",
        "share of topics in each group less that in the others, with 95 % "
        "interval and p, adjusted over topics and groups (Benjamini and Hochberg)",
        _differences,
    ),
    Export(
        "movement-*.csv",
        "which topics move over time and differ between groups: the clearest contrast of each with "
        "interval and p over its family, adjusted over topics",
        _movement,
    ),
    Export("change-points-*.csv", "periods from which on a topic's share is another", _changes),
    Export("regression-*.csv", "what remains of differences with other things held fixed", _regressions),
    Export("models-by-*.csv", "the topics of a model for each part, and what they came from", _apart),
    Export("streams-by-*.csv", "topics of models of successive periods, joined by threads; GraphML beside", _streams),
    Export("statements.csv", "what was pinned, and how it comes out over other choices", _statements),
    _where(TREE, "tree.nwk", "the tree of Relate, in Newick's format", related.tree_file),
    _where(TREE, "clusters.csv", "its clusters at the suggested cut, and how sure they are", related.clusters_table),
    _where(GROUPS, "document-groups.csv", "every document with its group", related.groups_table),
    _where(GROUP_COUNTS, "group-counts.csv", "measures over the number of groups", related.counts_table),
    *(
        _where(STEP_OF[of], f"map-of-{of}.csv", f"{STEP_OF[of].called}: near is alike, axes mean nothing", _map(of))
        for of in get_args(MapOf)
    ),
    _where(WORD_VECTORS, "word-vectors.txt", "words as vectors, a word and its numbers a line", word_vectors_file),
    _where(DOCUMENT_VECTORS, "document-vectors.npy", "a row for every document, NaN where none", document_vectors_file),
    _where(GROUP_WORDS, "group-words.csv", "words that set each group apart, with p by unit", related.words_table),
    _one(
        "cleaned.csv",
        "what the passes leave of every document, tokens by space",
        lambda v, p, labels: cleaned_text.table_rows(v.fit_cleaning),
        lambda v: len(v.corpus),
    ),
    _one(
        "rejected.csv",
        "rows left out or noted when the documents were brought in",
        lambda v, p, labels: rejected_table(v),
    ),
    _one("README.txt", "what each file is", lambda v, p, labels: [_explanation(v, p).encode("utf-8", "replace")]),
)


@dataclass(frozen=True)
class Written:
    """A file with what it is; its contents are made when they are asked for."""

    name: str
    about: str
    pieces: Pieces
    rows: int | None = None

    @property
    def data(self) -> bytes:
        """The contents as a whole."""
        return b"".join(self.pieces())


def files(view: View, pattern: Pattern, labels: Labels) -> Iterator[Written]:
    """Every file."""
    for export in EXPORTS:
        for name, pieces in export.write(view, pattern, labels):
            yield Written(name, export.about, pieces, export.rows(view) if export.rows else None)


def _explanation(view: View, pattern: Pattern) -> str:
    emptied = len(view.fit_matrix.empty_documents)
    there = [each for each in EXPORTS[:-1] if each.name.endswith("*.csv") or any(each.write(view, pattern, {}))]
    width = max(len(each.name) for each in there) + 2
    listed = "".join(f"{each.name:<{width}}{each.about}\n" for each in there)
    tracked = {**_prevalences(pattern), **_differing(pattern), **_moving(pattern)}
    width = max([len(name) for name in (*tracked, *_regressing(pattern), *_parting(pattern))], default=0) + 2
    tables = "".join(
        f"{name:<{width}}{', '.join(filter(None, (each.group and f'by {each.group!r}', each.span)))}\n"
        for name, each in tracked.items()
    )
    tables += "".join(f"{name:<{width}}on {', '.join(each.terms)}\n" for name, each in _regressing(pattern).items())
    tables += "".join(
        f"{name:<{width}}{each.topics or 'as many'} topics each\n" for name, each in _parting(pattern).items()
    )
    apart = f"{said_of_differences(view)}\n" if _differing(pattern) else ""
    return (
        f"Made by Skeinwork {__version__}.\n\n{listed}\n{tables}\n{apart}{said_of_seeds(pattern.other_seeds)}\n"
        f"{counted(emptied, 'document')} with no counted word: no shares.\n"
        "A cell that a spreadsheet would take for a formula begins with an apostrophe.\n"
    )


def to_zip(contents: Iterable[Written]) -> bytes:
    """All of them in one archive."""
    return zipped((each.name, each.data) for each in contents)
