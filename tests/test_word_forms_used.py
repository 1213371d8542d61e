"""Word forms and phrases as they are used: at the command line, on real results, in evidence."""

from __future__ import annotations

import hashlib
import io
import json
from pathlib import Path
from typing import Any

import pytest

from skeinwork import cli
from skeinwork.core.text import neighbours
from skeinwork.core.text.clean import CleanSettings
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.evidence.word import Word
from skeinwork.work.results.view import View
from skeinwork.work.screens import phrases, specimen, word_forms
from skeinwork.work.screens.phrases import PhraseQuery
from skeinwork.work.screens.specimen import SpecimenQuery


def written(monkeypatch: pytest.MonkeyPatch, capfdbinary: Any, text: str, *command: str) -> list[str]:
    """What a command makes of lines on its standard input."""
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(text.encode())))
    assert cli.main(list(command)) == 0
    lines: list[str] = capfdbinary.readouterr().out.decode().splitlines()
    return lines


def test_every_method_at_the_command_line(monkeypatch: pytest.MonkeyPatch, capfdbinary: Any, tmp_path: Path) -> None:
    table, rules = tmp_path / "forms.tsv", tmp_path / "rules.txt"
    table.write_text("lemma\tform\nStraße\tStraßen\n", encoding="utf-8")
    rules.write_text("sgniroom5.\n", encoding="utf-8")
    for text, options, wanted in (
        ("Moorings\n\nties\n", [], ["moor", "", "ti"]),
        ("Häfen\nläuft\n", ["--method", "snowball", "--language", "de"], ["haf", "lauft"]),
        ("moorings\n", ["--method", "lancaster", "--rules", str(rules)], ["moo"]),
        ("kilometre\n", ["--method", "lancaster", "--prefixes"], ["met"]),
        ("worse\tADJ\nworse\tadv\nzibbled\n", ["--method", "lemma"], ["bad", "badly", "zibbled"]),
        ("zibbled\n", ["--method", "lemma", "--unknown", "by-rule"], ["zibble"]),
        ("Straßen\nx\n", ["--method", "table", "--table", str(table)], ["strasse", "x"]),
    ):
        assert written(monkeypatch, capfdbinary, text, "forms", *options) == wanted, options


@pytest.mark.parametrize(
    ("name", "text", "says"),
    [
        ("--rules", "y1i>", "could go on for ever"),
        ("--rules", "5", "is not a rule"),
        ("--rules", None, "No such file"),
        ("--table", "one column\n", "two columns"),
        ("--table", None, "can't be read"),
    ],
)
def test_files_of_forms_that_can_not_be_used_are_said(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], name: str, text: str | None, says: str
) -> None:
    path = tmp_path / "given.txt"
    if text is not None:
        path.write_text(text, encoding="utf-8")
    method = {"--rules": "lancaster", "--table": "table"}[name]
    assert cli.main(["forms", "--method", method, name, str(path)]) == 2
    assert says in capsys.readouterr().err


def test_a_pattern_with_a_table_takes_it_as_a_list(
    monkeypatch: pytest.MonkeyPatch, capfdbinary: Any, tmp_path: Path
) -> None:
    """The checksum in a pattern is that of the table as it is kept, in whichever order it comes."""
    kept = b"launched\tlaunch\nlaunches\tlaunch\n"
    table = {"sha256": hashlib.sha256(kept).hexdigest(), "name": "forms", "words": 2}
    passes = [{"kind": "case"}, {"kind": "word-forms", "method": "table", "table": table}]
    pattern = {"skeinwork_pattern": 5, "gather": {"files": [{}]}, "clean": {"passes": passes}, "weigh": {}, "fit": {}}
    (tmp_path / "p.json").write_text(json.dumps(pattern))
    (tmp_path / "forms.tsv").write_text("launch\tlaunches\nlaunch\tlaunched\n")
    command = ["clean", "--pattern", str(tmp_path / "p.json"), "--lists", str(tmp_path / "forms.tsv")]
    assert written(monkeypatch, capfdbinary, "Launches launched\n", *command) == ["launch launch"]


def test_families_to_doubt_hold_words_that_become_one_form(view: View) -> None:
    found = word_forms.doubtful(view, view.clean_settings)
    assert found.least_tokens == neighbours.LEAST_TOKENS and found.sample is None
    assert len(found.doubtful) <= found.looked_at
    assert [row.alike for row in found.doubtful] == sorted(row.alike for row in found.doubtful)
    for row in found.doubtful:
        assert row.low <= row.alike <= row.high
        assert row.first.tokens >= row.second.tokens >= found.least_tokens
        made = word_forms.sentence(view, view.clean_settings, f"{row.first.word} {row.second.word}")
        at = next(at for at, column in enumerate(made.columns) if column.wanted)
        assert {each.forms[at] for each in made.rows} == {row.form}
        assert row.first.word not in row.beside_second


def test_a_family_that_is_taken_apart_is_doubted_no_more(view: View) -> None:
    found = word_forms.doubtful(view, view.clean_settings).doubtful
    assert found
    words = [found[0].first.word, found[0].second.word]
    passes = [
        each.model_copy(update={"given": tuple(f"{word} = {word}" for word in words)})
        if each.kind == "word-forms"
        else each
        for each in view.clean_settings.passes
    ]
    apart = view.clean_settings.model_copy(update={"passes": tuple(passes)})
    left = word_forms.doubtful(view, apart).doubtful
    assert not any({row.first.word, row.second.word} == set(words) for row in left)


def test_the_vocabulary_of_a_sample_and_of_all_agree_where_all_is_known(view: View) -> None:
    quick, whole = (word_forms.side_by_side(view, view.clean_settings, each) for each in (True, False))
    assert [each.title for each in quick.methods] == [each.title for each in whole.methods]
    for one, all_of_it in zip(quick.methods, whole.methods, strict=True):
        assert one.before <= all_of_it.before and all_of_it.after <= all_of_it.before
        assert all_of_it.families >= all_of_it.n_alone


@pytest.mark.parametrize("by", ["g2", "npmi", "pmi", "t", "c_value", "tokens"])
def test_phrases_stand_where_their_evidence_says(view: View, by: Any) -> None:
    """Each way in which a phrase is written is found as often as it was counted."""
    found = phrases.phrases(view, PhraseQuery(by=by, longest=3))
    values = [getattr(row, by) for row in found.phrases]
    assert values == sorted(values, reverse=True) and found.least >= 5 and found.why
    for row in found.phrases[:8]:
        for variant in row.variants:
            request = EvidenceRequest.model_validate({"word": variant.words})
            scores = Word().scores(view, request).values
            there = [int(at) for at in scores.nonzero()[0]]
            times = [Word().piece(view, request, at, 0.0).score for at in there]
            assert sum(int(each.removesuffix("×")) for each in times) >= variant.tokens
            assert len(there) <= variant.tokens or len(there) <= sum(int(t[:-1]) for t in times)


def test_the_words_of_a_phrase_are_marked_together(view: View) -> None:
    row = next(
        row
        for row in phrases.phrases(view, PhraseQuery(by="tokens", longest=2)).phrases
        if len(row.words.split()) == 2 and "-" not in row.words
    )
    request = EvidenceRequest.model_validate({"word": row.words})
    document = int(Word().scores(view, request).values.argmax())
    marks = Word().marks(view, request, document)
    stream, rows = view.cleaning.tokens, view.cleaning.rows(document)
    marked = [stream.types[at].casefold() for at in stream.ids[rows][marks.weights > 0]]
    assert marked[:2] == row.words.split() and len(marked) % 2 == 0


def test_a_specimen_says_which_text_pass_took_a_piece(view: View) -> None:
    passes = [{"kind": "mail"}, {"kind": "markup"}, {"kind": "case"}]
    settings = CleanSettings.model_validate({"passes": passes})
    text = "See <b>this</b>.\n> the buoy is out\n"
    shown = specimen.specimen(view, settings, SpecimenQuery(text=text)).segments
    taken = {each.text.strip(): each.by for each in shown if each.kind == "removed"}
    assert taken == {"<b>": "markup", "</b>": "markup", "> the buoy is out": "mail"}
    assert "".join(each.text for each in shown) == text
