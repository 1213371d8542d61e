"""Models apart: a model for each part, and what each topic of the fit became in it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from pydantic import BaseModel

from skeinwork.core.corpus.periods import said as period_said
from skeinwork.core.in_words import percent
from skeinwork.core.said import count, counted, listed
from skeinwork.core.topics.alignment import MOST, Became
from skeinwork.core.topics.model import ENOUGH
from skeinwork.core.topics.words import titles, top_words
from skeinwork.work.results.view import View
from skeinwork.work.steps import PART_FIT
from skeinwork.work.steps.part_fit import PartFit, Parting
from skeinwork.work.topics.partings import MOST_PARTS, Parts, fits_of, parts_of, settings_of

# By at least so many of its seeds something has to have become of a topic to be named.
HELD = 0.5
_KINDS: tuple[Became, ...] = ("same", "split", "merged", "gone")
_WORDS = 10
_NAMED = 8


class OwnTopic(BaseModel):
    """A topic of a part's own model.

    Attributes
    ----------
    share : of the part's tokens; came : from what; held : by which share of the seeds
    came_from : topics of the fit that threads lead from
    """

    own: int
    title: str
    words: list[str]
    tokens: float
    share: float
    came: Became
    came_from: list[int]
    held: float


class Went(BaseModel):
    """A thread to a topic of a part's own model, with the share of the fit's topic's tokens that it carries."""

    own: int
    share: float


class ApartCell(BaseModel):
    """What became of a topic of the fit in a part's own model.

    Attributes
    ----------
    tokens, share : it has in the part, by the fit; shown : whether that is enough to say anything
    held, sure : the share of seeds that say so, and whether these are enough
    into : where its tokens went, the most first
    """

    part: int
    tokens: float
    share: float
    became: Became
    held: float
    sure: bool
    shown: bool
    into: list[Went]


class ApartTopic(BaseModel):
    """A topic of the fit in all parts; ``same`` counts those that have it as it is, of those that show it."""

    topic: int
    cells: list[ApartCell]
    same: int
    shown: int


class ApartPart(BaseModel):
    """A part with its own topics; ``why`` where it has none."""

    name: str
    said: str
    identity: str
    documents: int
    tokens: int
    why: str
    topics: list[OwnTopic]


class NotTheSame(BaseModel):
    """Something that became of a topic in a part, in words."""

    topic: int
    part: int
    says: str


class ApartTable(BaseModel):
    """All parts; ``made`` is whether every one was fitted, and there is nothing to show before.

    ``field`` is what documents are grouped by, None for the time.
    """

    made: bool
    field: str | None
    n_parts: int
    topics_each: int
    smallest: int
    parts: list[ApartPart]
    topics: list[ApartTopic]
    differing: list[NotTheSame]
    says: str
    rests: str


def apart_table(view: View, parting: Parting, labels: Mapping[int, str]) -> ApartTable:
    """Every part's own topics against those of the fit.

    Raises
    ------
    BadInputError
        where the documents are not parted, or not in two.
    """
    chosen = parts_of(view, parting)
    fits, dealt = fits_of(view, parting), fits_of(view, parting, dealt=True)
    found, chance = [each for each in fits if each], [each for each in dealt if each]
    made = len(found) == len(fits) and len(chance) == len(dealt)
    if not made:
        found = chance = []
    parts = _parts(view, parting, chosen, found)
    topics = [_topic(k, found) for k in range(len(view.model.topic_word) if made else 0)]
    return ApartTable(
        made=made,
        field=parting.by.group,
        n_parts=len(chosen.names),
        topics_each=chosen.topics,
        smallest=chosen.smallest,
        parts=parts,
        topics=topics,
        differing=_differing(view, parts, topics, labels),
        says=_says(parts, topics, found, chance) if made else "",
        rests=_rests(chosen, parting, found),
    )


def _parts(view: View, parting: Parting, chosen: Parts, found: list[PartFit]) -> list[ApartPart]:
    settings = settings_of(view, parting, dealt=False)
    return [
        ApartPart(
            name=name,
            said=name if parting.by.group else period_said(name),
            identity=PART_FIT.making(view.fit_record.identity, asked).identity,
            documents=fit.summary.documents,
            tokens=fit.summary.tokens,
            why=fit.summary.why,
            topics=own_topics(view, fit),
        )
        for name, asked, fit in zip(chosen.names, settings, found, strict=False)
    ]


def own_topics(view: View, fit: PartFit) -> list[OwnTopic]:
    """The topics of a part's own model."""
    alignment, tokens, display = fit.found.alignment, fit.tokens, view.fit_matrix.display
    called, top = titles(fit.topic_word, display), top_words(fit.topic_word, _WORDS)
    return [
        OwnTopic(
            own=k,
            title=called[k],
            words=[display[term] for term in top[k]],
            tokens=float(tokens[k]),
            share=float(tokens[k] / max(tokens.sum(), 1e-300)),
            came=alignment.after[k],
            came_from=[each.before for each in alignment.threads if each.after == k],
            held=float(fit.found.held_after[k]),
        )
        for k in range(len(called))
    ]


def _topic(topic: int, found: list[PartFit]) -> ApartTopic:
    cells = []
    for part, fit in enumerate(found):
        if not fit.summary.topics:
            continue
        apart, threads = fit.found, fit.found.alignment.threads
        flow = apart.flow[0]
        into = [Went(own=each.after, share=each.of_before) for each in threads if each.before == topic]
        cells.append(
            ApartCell(
                part=part,
                tokens=float(flow[topic].sum()),
                share=float(flow[topic].sum() / max(flow.sum(), 1e-300)),
                became=apart.alignment.before[topic],
                held=float(apart.held_before[topic]),
                sure=bool(apart.held_before[topic] >= HELD),
                shown=bool(apart.shown[topic]),
                into=sorted(into, key=lambda each: -each.share),
            )
        )
    shown = [each for each in cells if each.shown]
    same = sum(each.became == "same" and each.sure for each in shown)
    return ApartTopic(topic=topic, cells=cells, same=same, shown=len(shown))


_BECAME = {"split": "splits there", "merged": "goes into one with others there", "gone": "is not found there"}


def _differing(
    view: View, parts: list[ApartPart], topics: list[ApartTopic], labels: Mapping[int, str]
) -> list[NotTheSame]:
    """What is not the same, as a sentence each, the most tokens first."""
    cells = [(topic.topic, cell) for topic in topics for cell in topic.cells]
    there = [(k, cell) for k, cell in cells if cell.shown and cell.became != "same" and cell.sure]
    there.sort(key=lambda each: -each[1].tokens)
    return [
        NotTheSame(
            topic=k,
            part=cell.part,
            says=f"{parts[cell.part].said}: “{labels.get(k) or view.topic_words(k)}” "
            f"{_became(parts[cell.part], cell)}, by {percent(cell.held)} of the seeds",
        )
        for k, cell in there
    ]


def _became(part: ApartPart, cell: ApartCell) -> str:
    names = [f"“{part.topics[each.own].title}”" for each in cell.into]
    if cell.became == "split" and len(names) > 1:
        return f"splits into {listed(names)}"
    if cell.became == "merged" and names:
        return f"goes with others into {names[0]}"
    return _BECAME[cell.became]


def _outcomes(found: list[PartFit]) -> tuple[int, int, int, int]:
    """Topics shown in parts; those that are the same there, and those that are not; topics that are a part's alone."""
    fitted = [each for each in found if each.summary.topics]
    shown = sum(int(each.found.shown.sum()) for each in fitted)
    same, *other = (sum(int(each.found.became(kind, HELD).sum()) for each in fitted) for kind in _KINDS)
    return shown, same, sum(other), sum(len(_new(each)) for each in fitted)


def _new(fit: PartFit) -> list[int]:
    """Topics of a part that come from none of the fit's, large enough and found again by most of its seeds."""
    enough = (fit.tokens >= ENOUGH) & (fit.found.held_after >= HELD)
    return [k for k in np.flatnonzero(enough).tolist() if fit.found.alignment.after[k] == "new"]


def _says(parts: list[ApartPart], topics: list[ApartTopic], found: list[PartFit], chance: list[PartFit]) -> str:
    """What was found, beside what is found where documents are dealt out."""
    everywhere = sum(each.same == each.shown > 0 for each in topics)
    shown, same, other, new = _outcomes(found)
    dealt_shown, dealt_same, _, dealt_new = _outcomes(chance)
    said = (
        f"{count(everywhere)} of {counted(len(topics), 'topic')} are the same in the models of all parts that show "
        f"them. Over the parts {count(same)} of {count(shown)} are, {count(other)} split, merged or gone"
    )
    if unsure := shown - same - other:
        said += f", and of {count(unsure)} the seeds don’t agree"
    said += f"; of documents dealt out at random {count(dealt_same)} of {count(dealt_shown)} are the same."
    if new or dealt_new:
        said += f" {counted(new, 'topic')} of parts come from none of the fit’s, dealt out {count(dealt_new)}."
    failed = [each for each in parts if each.why]
    if failed:
        said += f" {listed([each.said for each in failed[:_NAMED]])} could not be fitted."
    return said


def _rests(chosen: Parts, parting: Parting, found: list[PartFit]) -> str:
    """What it rests on, and what is left out."""
    seeds = max((len(each.found.flow) for each in found), default=parting.seeds)
    said = (
        f"{counted(seeds, 'fit')} of each part with the settings of the fit, {counted(chosen.topics, 'topic')} each, "
        f"over the same terms, and as many of documents dealt out at random. By their tokens: the same where most "
        f"({percent(MOST)}) of both is in both."
    )
    why = "" if parting.smallest else f", which come to {int(ENOUGH)} words for each of {count(chosen.topics)} topics"
    if chosen.small:
        more = f" and {count(len(chosen.small) - _NAMED)} more" if len(chosen.small) > _NAMED else ""
        names = ", ".join(chosen.small[:_NAMED])
        said += f" Left out for less than {count(chosen.smallest)} documents{why}: {names}{more}."
    else:
        said += f" Every part has {count(chosen.smallest)} documents or more{why}."
    if chosen.beyond:
        said += f" {counted(chosen.beyond, 'part')} beyond the largest {count(MOST_PARTS)} are left out."
    return said
