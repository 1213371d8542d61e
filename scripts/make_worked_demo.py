"""Work the demo through as an analyst would, and write it as the file of a skein."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from skeinwork.core.errors import SkeinworkError
from skeinwork.demo import LABELS
from skeinwork.server.demo import gather_demo
from skeinwork.server.run import open_state
from skeinwork.server.state import State
from skeinwork.store.models import Job, TopicNote
from skeinwork.work.jobs.plans import Beside, Plan, Reading, Sweep, SweepRequest
from skeinwork.work.screens import choose, chosen
from skeinwork.work.screens.choose import ComparedBy
from skeinwork.work.steps import CO_OCCURRENCE, FIT, LABEL_CANDIDATES, TWIN
from skeinwork.work.strands import choices, skein_file, strands, topic_notes
from skeinwork.work.topics import fits, sweeps

COUNTS, SEEDS, ITERATIONS = (4, 6, 8, 10, 12, 14, 18, 22), (1, 2, 3), 200
REASON = "Every topic can be named, and the seeds agree on them."
RELATED: dict[str, dict[str, Any]] = {
    "tree": {},
    "group_counts": {"fewest": 2, "most": 24, "step": 2},
    "groups": {"groups": 12},
    "group_words": {"field": "harbour"},
}


def finish(state: State) -> None:
    """Wait for the work to end, which has to end well."""
    while state.runner.running:
        time.sleep(0.1)
    with state.store.connection():
        last = Job.select().order_by(Job.id.desc()).get()
    if last.state != "done":
        raise SkeinworkError(f"{last.title}: {last.state}. {last.error or ''}")


def run(state: State, number: int, plan: Plan) -> None:
    with state.store.connection():
        state.runner.start(plan, strands.get(number))
    finish(state)


def relate(state: State, number: int, step: str, settings: dict[str, Any]) -> None:
    with state.store.connection():
        strand = strands.get(number)
        state.runner.start(Beside.wanting(strand, step, settings), strand)
    finish(state)


def take_best(state: State, number: int) -> None:
    """Choose the steadiest fit of the count that is suggested, and go on with all documents."""
    with state.store.connection():
        strand = strands.get(number)
        view = state.view(strand)
        of = sweeps.matrices(view)
        rows, twins = fits.made_of(of, FIT.name), fits.made_of(of, TWIN.name)
    found = choose.compared(view, rows, twins, ComparedBy())
    best = next((each for each in found.candidates if each.topics == found.suggested), None)
    identity = best.best if best else found.fits[0].identity
    row = next(each for each in rows if each.identity == identity)
    plan = chosen.plan_for(view, strands.wanted(strand), row, rows)
    said = chosen.said_of(found, identity, {})
    with state.store.connection():
        choices.choose(strand, identity, chosen.taken_by(plan), REASON, said)
    run(state, number, plan)


def label(state: State, number: int) -> None:
    """Call each topic what the first of its words that is known says, once."""
    with state.store.connection():
        strand = strands.get(number)
        view = state.view(strand)
        notes, taken = topic_notes.notes(strand), set[str]()
        for topic, note in sorted(notes.items()):
            words = view.topic_words(topic).split(" ")
            said = next((LABELS[word] for word in words if word in LABELS), "")
            if said and said not in taken:
                taken.add(said)
                mine = (TopicNote.strand == strand) & (TopicNote.topic == note.topic)
                TopicNote.update(label=said, confirmed=True).where(mine).execute()


def read_topics(state: State, number: int) -> None:
    """What topics are read by: label candidates, and which of them documents hold together."""
    with state.store.connection():
        strand = strands.get(number)
        wanted = {step.name: {} for step in (LABEL_CANDIDATES, CO_OCCURRENCE)}
        plan = Reading(fit=strand.results[FIT.name], base=strands.wanted(strand).base, wanted=wanted)
    run(state, number, plan)


def make(
    path: Path, counts: tuple[int, ...] = COUNTS, seeds: tuple[int, ...] = SEEDS, iterations: int = ITERATIONS
) -> None:
    """Gather, sweep, take, label, write."""
    with tempfile.TemporaryDirectory() as folder:
        state = open_state(Path(folder))
        try:
            with state.store.connection():
                number = gather_demo(state.store, state.runner)
            finish(state)
            request = SweepRequest(counts=counts, seeds=seeds, iterations=iterations)
            with state.store.connection():
                wanted = strands.wanted(strands.get(number))
            run(state, number, Sweep(request=request, wanted=wanted))
            take_best(state, number)
            label(state, number)
            read_topics(state, number)
            for step, settings in RELATED.items():
                relate(state, number, step, settings)
            with state.store.connection():
                part = path.with_suffix(".part")
                skein_file.write(state.store, strands.get(number).skein, part)
                part.replace(path)
        finally:
            state.runner.close()
            state.store.close()


if __name__ == "__main__":
    make(Path(sys.argv[1]))
