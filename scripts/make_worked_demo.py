"""Work the demo through as an analyst would, and write it as the file of a skein."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from skeinwork.core.errors import SkeinworkError
from skeinwork.core.topics.measures import BY
from skeinwork.demo import LABELS
from skeinwork.server.demo import gather_demo
from skeinwork.server.run import open_state
from skeinwork.server.state import State
from skeinwork.store.models import Job, TopicNote
from skeinwork.work.jobs.plans import Beside, Plan, Sweep, SweepRequest
from skeinwork.work.screens import choose
from skeinwork.work.screens.choose import MadeFit
from skeinwork.work.strands import skein_file, strands, topic_notes
from skeinwork.work.topics import fits

COUNTS, SEEDS, ITERATIONS = (4, 6, 8, 10, 12, 14, 18, 22), (1, 2, 3), 200
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


def best(state: State, number: int) -> MadeFit:
    """The most coherent fit at the count that is suggested, of those in no poorer mode."""
    with state.store.connection():
        strand = strands.get(number)
        rows = fits.of_matrix(strand.results["matrix"])
    found = choose.compared(state.view(strand), rows)
    at = [fit for fit in found.fits if fit.settings.topics == found.suggested]
    return max(at or found.fits, key=lambda fit: (fit.poorer is None, fit.measures[BY.key] or -1.0))


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
            fit = best(state, number).identity
            with state.store.connection():
                strands.take_fit(state.store, strands.get(number), fit)
            label(state, number)
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
