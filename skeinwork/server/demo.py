"""The demo corpus beside one's own work: a strand worked through, and one to try oneself on."""

from __future__ import annotations

import tempfile
from importlib.resources import files
from pathlib import Path

from skeinwork.core.corpus.gather import preview
from skeinwork.core.formats.readers import detect_settings
from skeinwork.demo import DEMO, EVENTS, WORKED
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans import Gather, GatheredFile, GatherRequest, Index
from skeinwork.work.jobs.runner import JobRunner
from skeinwork.work.strands import events, skein_file, skeins, strands
from skeinwork.work.strands.events import NewEvent


def ensure_demo(store: Store, runner: JobRunner) -> int:
    """The number of the demo's first strand, brought in where it is not there."""
    with store.connection():
        there = next((each for each in skeins.entries() if each.name == DEMO and not each.deleted), None)
        if there:
            return there.strands[0]
        worked = Path(str(files("skeinwork.demo") / WORKED))
        return _worked(store, runner, worked) if worked.exists() else gather_demo(store, runner)


def _worked(store: Store, runner: JobRunner, path: Path) -> int:
    """From what was made when Skeinwork was set up."""
    number = skein_file.read(store, path)
    first = strands.get(number)
    skeins.fork(first, f"{DEMO}, to try", fitted=False)
    _keep_table(store)
    runner.start(Index(corpora=tuple(skein_file.corpora(store, number))), first)
    return number


def _keep_table(store: Store) -> None:
    """The second table, to be joined."""
    from skeinwork.demo.generator import write_files

    with tempfile.TemporaryDirectory() as folder:
        table = write_files(Path(folder), size=20).with_name("harbours.csv").read_bytes()
    store.keep_upload("harbours.csv", iter([table]), len(table))


def gather_demo(store: Store, runner: JobRunner) -> int:
    """From the generator: nothing but the documents; call inside a connection."""
    from skeinwork.demo.generator import write_files

    with tempfile.TemporaryDirectory() as folder:
        path = write_files(Path(folder))
        data = path.read_bytes()
    settings = detect_settings(data, path.name)
    roles = preview(data, path.name, settings).roles
    upload = store.keep_upload(path.name, iter([data]), len(data))
    _keep_table(store)
    strand = skeins.begin(DEMO)
    for day, label in EVENTS:
        events.add(strand.skein_id, NewEvent(day=day, label=label))
    file = GatheredFile(sha256=upload.sha256, name=path.name, settings=settings.model_copy(update={"roles": roles}))
    plan = Gather(called=f"Bring in {DEMO}", request=GatherRequest(files=(file,)), wanted=strands.wanted(strand))
    runner.start(plan, strand)
    number: int = strand.id
    return number
