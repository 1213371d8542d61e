"""Sentences, several texts of one record, and documents made of them."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.gather import GatherSettings, gather
from skeinwork.core.formats.records import FileSettings
from skeinwork.core.text.sentences import sentence_starts


@pytest.mark.parametrize(
    "sentences",
    [
        ["Gale at six.", "All safe!", "Was it? ", "Yes."],
        ["Dr. Askew rang at 6.30 from St. Marre.", "No. 4 buoy adrift…", "“Reset it,” he said."],
        ["He said “All safe.”", "Then (at dusk) he left."],
        ["T. Askew relieved me.", "Wind N. by E., force 6."],
        ["Erste Wache z.B. ruhig.", "Über Nacht Sturm."],
        ["潮が満ちた。", "船は出ない！"],
        ["a heading without a stop\n\n", "and its text"],
        ["in lower case. it goes on. and on"],
        ["See https://sollen.example/a?b=1&C=2 first.", "Then go."],
    ],
)
def test_sentences_begin_where_a_reader_says(sentences: list[str]) -> None:
    text, starts = "", []
    for each in sentences:
        starts.append(len(text))
        gap = "" if each.endswith(("\n", "。", "！", " ")) else " "
        text += each + gap
    assert sentence_starts(text.rstrip(" ")) == starts


@given(st.text(max_size=200))
def test_sentences_are_in_order_and_leave_nothing_out(text: str) -> None:
    starts = sentence_starts(text)
    assert starts[0] == 0 and starts == sorted(set(starts))
    assert all(at < len(text) for at in starts[1:])


def corpus_of(folder: Path, text: str, **settings: object) -> Corpus:
    path = folder / "log.tsv"
    path.write_text(text, encoding="utf-8")
    read = FileSettings.model_validate({"delimiter": "\t", **settings})
    return gather([(path, "log.tsv")], GatherSettings(files=(read,)))[0]


def values(corpus: Corpus, name: str) -> list[str | None]:
    column = corpus.column(name)
    assert column is not None
    return [column.value(at) for at in range(len(corpus))]


def test_each_text_of_a_record_is_a_document_with_its_fields(tmp_path: Path) -> None:
    corpus = corpus_of(
        tmp_path,
        "n\tharbour\treport\treply\n1\tKelpwick\tBuoy adrift\tReset it\n2\tQuellan\tAll safe\t\n",
        roles={"n": "identifier", "harbour": "group", "report": "text", "reply": "text"},
    )
    assert corpus.texts() == ["Buoy adrift", "Reset it", "All safe"]
    assert values(corpus, "text field") == ["report", "reply", "report"]
    assert values(corpus, "harbour") == ["Kelpwick", "Kelpwick", "Quellan"]
    assert values(corpus, "n") == ["1.report", "1.reply", "2"]
    assert corpus.column("text field").role == "group"  # type: ignore[union-attr]


def test_a_text_is_cut_into_so_many_sentences(tmp_path: Path) -> None:
    text = "n\tlog\n1\tGale at six. All safe. Fog! Ferry late.\n2\tCalm.\n"
    roles = {"n": "identifier", "log": "text"}
    cut = {"by": "sentence", "sentences": 3}
    corpus = corpus_of(tmp_path, text, roles=roles, cut=cut)
    assert corpus.texts() == ["Gale at six. All safe. Fog!", "Ferry late.", "Calm."]
    assert values(corpus, "n") == ["1.1", "1.2", "2"]
