"""Speed as ratios within one run: ours against a reference, interleaved, median of several.

``make bench`` prints each line of a table as it is measured and writes ``build/bench.json``; ``--quick``
uses smaller sizes. A part that fails says so, and the rest goes on. What small sizes can't show: the
memory of an import, pages during a fit, and what grows faster than the corpus.
"""

from __future__ import annotations

import argparse
import csv
import json
import multiprocessing
import os
import sys
import tempfile
import threading
import traceback
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import asdict, dataclass
from pathlib import Path

import numpy as np
import regex
from bench_base import Line, interleaved, texts
from bench_fit import beginnings, coherence, factorising, samplers
from bench_matrix import matrix, pruning_by_sight
from bench_opening import opening
from bench_relate import relate
from bench_screens import interactions
from bench_server import dispatch, serving, sweeping
from scipy.sparse import csr_matrix

from skeinwork.core import apart, warm
from skeinwork.core.corpus.gather import GatherSettings, gather, preview
from skeinwork.core.corpus.survey import survey
from skeinwork.core.formats.readers import detect_settings
from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.movement import movement, over_time
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.text import sentences
from skeinwork.core.text.breaks import breaks_and_openings
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.passes import SUGGESTED, PartsOfSpeechPass, TagFilterPass
from skeinwork.core.text.query import parse
from skeinwork.core.text.segment import join_texts, segment, segment_bytes, tokens_of
from skeinwork.core.text.tokenise import tokenise
from skeinwork.core.topics.model import Samples
from skeinwork.demo.generator import write_files
from skeinwork.store import search
from skeinwork.work.results.finding import titles_of

# Alphabets of other scripts, each letter written as one of theirs.
_ALPHABETS = (
    "abcdefghijklmnopqrstuvwxyz",
    "àbçdéfghîjklmñöpqrštúvwxýž",
    "αβγδεζηθικλμνξοπρστυφχψωάέ",
    "абвгдежзийклмнопрстуфхцчшщ",
    "אבגדהוזחטיכלמנסעפצקרשתםןףץ",
    "ابتثجحخدذرزسشصضطظعغفقكلمني",
    "कखगघङचछजझञटठडढणतथदधनपफबभमय",
    "กขคฆงจฉชซฌญฎฏฐฑฒณดตถทธนบปผ",
    "가나다라마바사아자차카타파하거너더러머버서어저처커터",
    "潮満船港風波岸灯塔魚網雨雲霧島湾橋門道市町村山川田",
    "あいうえおかきくけこさしすせそたちつてとなにぬねのは",
    "աբգդեզէըթժիլխծկհձղճմյնշոչպ",
)


def sentences_and_runs(count: int) -> Line:
    """What is found beside the tokens: where sentences and runs of words begin."""
    data, pointer = join_texts(texts(count))
    found = tokens_of(data, pointer)

    def beside() -> None:
        begin = sentences.starts_of(data, pointer)
        breaks_and_openings(data, pointer, found.starts, found.ends, found.doc_ptr, begin)

    ours, theirs = interleaved(beside, lambda: segment_bytes(data, pointer), 5)
    return Line("sentences, runs / tokenising", f"{count} texts", ours, theirs, ours / theirs, "-")


def mixed(count: int) -> list[str]:
    """Texts in twelve scripts and spellings, one after another."""
    latin = _ALPHABETS[0]
    tables = [str.maketrans(latin + latin.upper(), 2 * (a + a)[:26]) for a in _ALPHABETS]
    tables[0] = {}
    return [text.translate(tables[at % len(tables)]) for at, text in enumerate(texts(count))]


def tokenising(name: str, documents: list[str], wanted: str) -> Line:
    """Strings to token ids, vocabulary, spans and sentences, against ``\\w+`` and a dictionary."""

    def reference() -> None:
        vocabulary: dict[str, int] = {}
        for text in documents:
            for word in regex.findall(r"\w+", text):
                vocabulary.setdefault(word, len(vocabulary))

    ours, theirs = interleaved(lambda: segment(documents), reference, 3)
    return Line(name, f"{len(documents)} texts", ours, theirs, theirs / ours, wanted)


def cleaning(count: int) -> Line:
    """All passes after tokenising, against the tokenising."""
    documents, settings = texts(count), CleanSettings.model_validate({})
    tokens = tokenise(documents, settings.tokenising())
    ours, theirs = interleaved(lambda: clean(tokens, settings), lambda: tokenise(documents, settings.tokenising()), 3)
    return Line("all passes / tokenising", f"{count} texts", ours, theirs, ours / theirs, "under 0.3")


def tagging(count: int) -> Line:
    """Tagging, and keeping by tag, beside the cleaning without it; both with their tokenising."""
    documents, plain = texts(count), CleanSettings.model_validate({})
    tagged = CleanSettings(passes=(PartsOfSpeechPass(), *SUGGESTED, TagFilterPass()))

    def run(settings: CleanSettings) -> None:
        clean(tokenise(documents, settings.tokenising()), settings)

    ours, theirs = interleaved(lambda: run(tagged), lambda: run(plain), 3)
    return Line("cleaning with tags / without", f"{count} texts", ours, theirs, ours / theirs, "at most 6")


def intervals(count: int) -> list[Line]:
    """Shares of 50 topics in 60 groups with intervals, against 100 replicates of a plain bootstrap.

    Then differences of the groups, each from all others, and what moves over as many periods, against those.
    """
    rng, topics, groups = np.random.default_rng(1), 50, 60
    held = np.stack([rng.permutation(topics)[:5] for _ in range(count)]).astype(np.int32)
    each = [
        csr_matrix((rng.integers(1, 20, held.size), held.ravel(), np.arange(0, held.size + 1, 5))) for _ in range(10)
    ]
    samples = Samples.of_counts(each, np.full((10, topics), 0.1))
    cells, weights = rng.integers(0, groups, count), rng.integers(5, 90, count).astype(float)
    shares = csr_matrix(each[0].multiply(1 / each[0].sum(axis=1)))

    def bootstrap() -> None:
        for _ in range(100):
            drawn = weights * rng.multinomial(count, np.full(count, 1 / count))
            of_group = csr_matrix((drawn, (cells, np.arange(count))), shape=(groups, count))
            np.asarray((of_group @ shares).todense()) / np.asarray(of_group.sum(axis=1))

    def ours() -> None:
        prevalence(unit_totals(samples, weights, cells, groups))

    spent, theirs = interleaved(ours, bootstrap, 3)
    apart, beside = interleaved(lambda: differences(unit_totals(samples, weights, cells, groups)), ours, 3)

    def moving() -> None:
        totals = unit_totals(samples, weights, cells, groups)
        movement(totals, over_time(np.arange(groups), totals.cell_weight))

    moved, still = interleaved(moving, ours, 3)
    size = f"{count} documents"
    return [
        Line("prevalence with intervals", size, spent, theirs, theirs / spent, "at least 1"),
        Line("differences / intervals", size, apart, beside, apart / beside, "at most 3"),
        Line("what moves / intervals", size, moved, still, moved / still, "at most 5"),
    ]


def held(pid: int) -> int:
    """Bytes that a process and those below it hold in memory; what several share is counted once."""
    try:
        shares = Path(f"/proc/{pid}/smaps_rollup").read_text().split("\nPss:")[1].split()
        below = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    except (OSError, IndexError):
        return 0
    return 1024 * int(shares[0]) + sum(held(int(each)) for each in below)


def grown(path: Path, settings: GatherSettings) -> float:
    """MB by which bringing a file in raises a process that has its code and kernels loaded.

    The process that files are read in counts too, but for what its code takes.
    """
    warm.warm()
    apart.warm()
    before, most, ended = held(os.getpid()), 0, threading.Event()

    def watch() -> None:
        nonlocal most
        while not ended.wait(0.01):
            most = max(most, held(os.getpid()))

    watching = threading.Thread(target=watch)
    watching.start()
    corpus, _ = gather([(path, path.name)], settings)
    survey(corpus)
    ended.set()
    watching.join()
    return max(most - before, 0) / 1e6


def importing(count: int) -> list[Line]:
    """A CSV into a corpus with its full-text index, against reading it with the standard library."""
    with tempfile.TemporaryDirectory() as folder:
        path = write_files(Path(folder), size=count)
        settings = detect_settings(path.read_bytes(), path.name)
        roles = preview(path.read_bytes(), path.name, settings).roles
        ready = GatherSettings(files=(settings.model_copy(update={"roles": roles}),))

        def reference() -> None:
            with path.open(encoding="utf-8", newline="") as source:
                list(csv.reader(source))

        def ours() -> None:
            corpus, _ = gather([(path, path.name)], ready)
            search.find_in(titles_of(corpus), corpus.texts(), parse("gale"))

        with ProcessPoolExecutor(1, multiprocessing.get_context("spawn")) as alone:
            memory = alone.submit(grown, path, ready).result()
        size = path.stat().st_size / 1e6
        corpus, _ = gather([(path, path.name)], ready)
        spent, theirs = interleaved(ours, reference, 3)
        looked, tokenised = interleaved(lambda: survey(corpus), lambda: segment_bytes(corpus.data, corpus.pointer), 3)
    return [
        Line("import and index / stdlib csv", f"{count} rows", spent, theirs, spent / theirs, "at most 15"),
        Line("import: memory / file, MB", f"{count} rows", memory, size, memory / size, "under 6"),
        Line("languages, repeats / tokenising", f"{count} rows", looked, tokenised, looked / tokenised, "-"),
    ]


def screens(times: int, iterations: int) -> list[Line]:
    """The slowest paint of every kind of interaction."""
    return [
        Line(name, "demo, ms", slowest, 100, slowest, "under 100") for name, slowest in interactions(times, iterations)
    ]


@dataclass(frozen=True)
class Sizes:
    """How much each part is measured with."""

    texts: int
    documents: int
    pages: int
    entries: int
    seeds: int
    tasks: int
    iterations: int
    times: int


WHOLE = Sizes(60_000, 100_000, 100_000, 2400, 10, 100, 100, 8)
QUICK = Sizes(6_000, 10_000, 5_000, 600, 2, 50, 60, 3)
TINY = Sizes(300, 3000, 300, 200, 1, 5, 20, 1)
Part = Callable[[Sizes], Line | list[Line]]
PARTS: dict[str, Part] = {
    "tokenising": lambda n: tokenising("tokenise (UAX #29, spans)", texts(n.texts), "at least 3 (aim 5)"),
    "sentences": lambda n: sentences_and_runs(n.texts),
    "twelve scripts": lambda n: tokenising("tokenise, twelve scripts", mixed(n.texts), "at least 2 (aim 3)"),
    "cleaning": lambda n: cleaning(n.texts),
    "tagging": lambda n: tagging(n.texts),
    "matrix": lambda n: matrix(n.texts),
    "pruning": lambda n: pruning_by_sight(n.texts, n.texts * 2 // 3),
    "relate": lambda n: relate(min(n.documents // 33, 3000), n.documents),
    "samplers": lambda n: samplers(n.documents * 2 // 25),
    "beginnings": lambda n: beginnings(n.documents // 5),
    "factorising": lambda n: factorising(n.documents),
    "coherence": lambda n: coherence(n.documents // 5),
    "intervals": lambda n: intervals(n.documents),
    "importing": lambda n: importing(n.texts),
    "serving": lambda n: serving(n.pages),
    "screens": lambda n: screens(n.times, n.iterations),
    "opening": lambda n: opening(n.texts),
    "sweeping": lambda n: sweeping(n.entries, n.seeds, n.iterations),
    "dispatch": lambda n: dispatch(n.tasks),
}


def measured(name: str, sizes: Sizes) -> list[Line]:
    """The lines of one part."""
    found = PARTS[name](sizes)
    return found if isinstance(found, list) else [found]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--quick", action="store_true")
    parser.add_argument("--only", nargs="+", choices=tuple(PARTS), default=list(PARTS))
    options = parser.parse_args()
    out, lines, failed = Path("build"), list[Line](), list[str]()
    out.mkdir(exist_ok=True)
    print(f"{'what':36} {'size':>18} {'ours s':>9} {'ref s':>9} {'ratio':>7}  wanted", flush=True)
    for name in options.only:
        try:
            found = measured(name, QUICK if options.quick else WHOLE)
        except Exception:
            traceback.print_exc()
            print(f"{name:36} failed, as said above", flush=True)
            failed.append(name)
            continue
        for line in found:
            print(
                f"{line.name:36} {line.size:>18} {line.ours:9.3f} {line.reference:9.3f} "
                f"{line.ratio:7.2f}  {line.wanted}",
                flush=True,
            )
        lines += found
        (out / "bench.json").write_text(json.dumps([asdict(line) for line in lines], indent=1) + "\n")
    return 1 if failed else 0


if __name__ == "__main__":
    multiprocessing.freeze_support()
    sys.exit(main())
