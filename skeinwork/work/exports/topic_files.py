"""What Label made, as files: candidates, topics that documents hold together, the graph of documents and topics."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from io import BytesIO
from typing import TYPE_CHECKING, Any

import numpy as np

from skeinwork.core.formats.export import csv_rows
from skeinwork.core.topics.holding import holding
from skeinwork.core.topics.words import top_words
from skeinwork.work.exports.labels import Label, Labels, topic_names
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.label import candidates
from skeinwork.work.screens.topics_together import together
from skeinwork.work.steps.co_occurrence import CoOccurrenceSettings
from skeinwork.work.topics.comparison import shares_of

if TYPE_CHECKING:
    from networkx import Graph

_NO_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")
_FIGURES = ("tokens", "places", "c_value", "distinct", "close", "weight")


def labels_table(view: View, labels: Labels) -> Iterator[bytes]:
    """What people said of each topic, and its strongest words by which it is told again."""
    matrix, top = view.fit_matrix, top_words(np.asarray(view.model.topic_word), 15)
    said = [labels.get(k, Label()) for k in range(len(top))]
    rows = (
        [k + 1, each.label, each.confirmed, each.family, each.note, ", ".join(matrix.display[t] for t in row)]
        for k, (each, row) in enumerate(zip(said, top, strict=True))
    )
    return csv_rows(["topic", "label", "confirmed", "family", "note", "words"], rows)


def candidates_table(view: View, labels: Labels) -> Iterator[bytes] | None:
    """Every candidate of every topic with its figures; None where they were not made."""
    found = candidates(view)
    if not found.made:
        return None
    names = topic_names(view, labels)
    rows = (
        [topic + 1, names[topic], place + 1, each.words, *(getattr(each, name) for name in _FIGURES)]
        for topic, mine in enumerate(found.topics)
        for place, each in enumerate(mine)
    )
    header = ["topic", "label", "place", "candidate", "places of the topic", "places", "C-value"]
    return csv_rows([*header, "distinctness", "closeness", "weight"], rows)


def together_table(view: View, labels: Labels) -> Iterator[bytes] | None:
    """Every pair of topics with the documents that hold both; None where that was not made."""
    if view.model.clustered:  # a document has one topic at most
        return None
    found = together(view, CoOccurrenceSettings())
    if not found.made:
        return None
    names = topic_names(view, labels)
    figures = ("observed", "expected", "effect", "p", "adjusted", "correlation")
    rows = (
        [each.one + 1, names[each.one], each.other + 1, names[each.other], *(getattr(each, name) for name in figures)]
        for each in found.pairs
    )
    header = ["topic", "label", "with topic", "its label", "documents with both", "expected", "log2 of the ratio"]
    return csv_rows([*header, "p", "p adjusted", "correlation of centred log-ratios"], rows)


def graph(view: View, labels: Labels) -> Graph[Any]:
    """Documents and topics, joined where a document holds a topic; the weight is the topic's share of it."""
    import networkx  # slow to import, and seldom needed

    made: Graph[Any] = networkx.Graph()
    for topic, name in enumerate(topic_names(view, labels)):
        family = labels[topic].family if topic in labels else ""
        made.add_node(f"topic {topic + 1}", kind="topic", label=plain(name), family=plain(family))
    shares, held = shares_of(view), holding(view.assigned.tocsr())
    for document in np.flatnonzero(held.any(axis=1)).tolist():
        node = f"document {int(view.corpus.numbers[document]) + 1}"
        made.add_node(node, kind="document", label=plain(documents.name(view, document)), family="")
        for topic in np.flatnonzero(held[document]).tolist():
            made.add_edge(node, f"topic {topic + 1}", weight=round(float(shares[document, topic]), 6))
    return made


def graphml(view: View, labels: Labels) -> Iterable[bytes]:
    """The graph as GraphML."""
    return as_graphml(graph(view, labels))


def as_graphml(made: Graph[Any]) -> list[bytes]:
    """Any graph as GraphML."""
    import networkx

    out = BytesIO()
    networkx.write_graphml(made, out)
    return [out.getvalue()]


def gexf(view: View, labels: Labels) -> Iterable[bytes]:
    """The graph as GEXF."""
    import networkx

    out = BytesIO()
    networkx.write_gexf(graph(view, labels), out)
    return [out.getvalue()]


def plain(text: str) -> str:
    """A text without signs that XML can't hold."""
    return _NO_XML.sub("", text)
