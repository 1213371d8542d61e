"""Topics of a fit taken together as one, and what speaks for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.relate.linkage import linkage
from skeinwork.core.topics.clustered import Clustered
from skeinwork.core.topics.divergence import jensen_shannon
from skeinwork.core.topics.model import Samples, TopicModel

VERSION = 1
# Among a merged model's numbers by topic: the first of the topics that each one is made of.
FIRST_OF = "first_of"
Groups = Sequence[Sequence[int]]


def members_of(merged: Groups, topics: int) -> list[list[int]]:
    """The topics of a fit that each topic after merging is made of, by the first of them.

    Parameters
    ----------
    merged : topics that are taken together, each in one group at most; topics : of the fit

    >>> members_of([[2, 0]], 4)
    [[0, 2], [1], [3]]
    """
    together = {topic: sorted(group) for group in merged for topic in group}
    found = [together.get(topic, [topic]) for topic in range(topics)]
    return [group for topic, group in enumerate(found) if group[0] == topic]


def trouble(merged: Groups, topics: int) -> str:
    """Why topics of a fit can't be taken together so; empty where they can.

    >>> trouble([[0, 3]], 4), trouble([[0, 4]], 4)
    ('', 'the fit has 4 topics, and one that it has not is to be merged')
    """
    members = [topic for group in merged for topic in group]
    if any(len(group) < 2 for group in merged) or len(members) != len(set(members)):
        return "two or more topics make one, and a topic goes into one alone"
    if max(members, default=0) >= topics or min(members, default=0) < 0:
        return f"the fit has {topics} topics, and one that it has not is to be merged"
    if topics - len(members) + len(merged) < 2:
        return "merging would leave one topic"
    return ""


def merged_model(
    model: TopicModel, merged: Groups, tokens: NDArray[np.float64], summed: Sequence[str] = ()
) -> tuple[TopicModel, list[list[int]]]:
    """The model with some of its topics taken together, the largest topic first.

    Shares and counts add up, and so do the parameters of a Dirichlet prior: a Dirichlet distribution over topics is
    one over groups of them with these sums (S. Kotz, N. Balakrishnan and N. Johnson, *Continuous Multivariate
    Distributions*, 2000, chapter 49). A merged topic's words are those of its topics, weighed by their tokens.

    Parameters
    ----------
    tokens : float64[n_topics], of each topic
    summed : names of numbers by topic that add up; of others that of the first counts

    Returns
    -------
    the model, and the topics before that each of its topics is made of
    """
    members = members_of(merged, len(model.topic_word))
    sizes = np.array([tokens[each].sum() for each in members])
    members = [members[at] for at in np.argsort(-sizes, kind="stable")]
    table = np.zeros((len(model.topic_word), len(members)))
    for after, before in enumerate(members):
        table[before, after] = 1.0
    weights = table * np.maximum(tokens, 1e-300)[:, None]
    words = (weights / weights.sum(axis=0)).T @ np.asarray(model.topic_word)
    by_topic = {
        name: np.asarray(values) @ table if name in summed else np.array([values[each[0]] for each in members])
        for name, values in model.by_topic.items()
    }
    by_topic[FIRST_OF] = np.array([each[0] for each in members], dtype=np.float64)
    return replace(
        model,
        topic_word=words,
        doc_topic=np.asarray(model.doc_topic) @ table,
        samples=_samples(model.samples, table) if model.samples else None,
        by_topic=by_topic,
        foretold=None,
        clustered=_clustered(model, members),
    ), members


def _samples(samples: Samples, table: NDArray[np.float64]) -> Samples:
    after = scipy.sparse.csr_matrix(table)
    counts = [scipy.sparse.csr_matrix(samples.counts(at) @ after) for at in range(len(samples))]
    for each in counts:
        each.sort_indices()
    return Samples.of_counts(counts, samples.prior @ table, samples.sizes)


def _clustered(model: TopicModel, members: Groups) -> Clustered | None:
    sizes = np.asarray(model.doc_topic).sum(axis=0)
    return model.clustered.merged(members, sizes) if model.clustered else None


def alike(topic_word: NDArray[np.float64]) -> NDArray[np.float64]:
    """One less the Jensen-Shannon divergence of every two topics' words, float64[n_topics, n_topics]."""
    n = len(topic_word)
    found = np.eye(n)
    for topic in range(n - 1):
        rest = topic_word[topic + 1 :]
        found[topic, topic + 1 :] = 1.0 - jensen_shannon(np.broadcast_to(topic_word[topic], rest.shape), rest)
    return np.maximum(found, found.T)


def families(topic_word: NDArray[np.float64], skip: Sequence[int] = ()) -> list[list[int]]:
    """Topics in families by the likeness of their words, the largest family first; one alone is none.

    Average linkage on the Jensen-Shannon divergence (R. Sokal and C. Michener 1958), cut at the fence under which a
    pair stands out from all pairs: a quartile less one and a half times what lies between both (J. Tukey, *Exploratory
    Data Analysis*, 1977).

    Parameters
    ----------
    skip : topics that are in none
    """
    live = np.array([k for k in range(len(topic_word)) if k not in skip], dtype=np.int64)
    if len(live) < 3:
        return []
    apart = 1.0 - alike(topic_word[live])
    low, high = np.percentile(apart[np.triu_indices(len(live), 1)], [25, 75])
    tree = linkage(apart, "average")
    group = tree.cut(tree.groups_at(float(low - 1.5 * (high - low))))
    found = [live[group == each].tolist() for each in np.unique(group)]
    return sorted((each for each in found if len(each) > 1), key=lambda each: (-len(each), each))
