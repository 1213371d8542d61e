"""Stems and lemmas against independent references, and how a cleaning uses them."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any
from unittest import mock

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from skeinwork.cli import main
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import lemma_table
from skeinwork.core.text.about import About
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.forms import METHODS, former, lancaster, options_of
from skeinwork.core.text.forms.lancaster import RULES, Lancaster, Rule, endless, read_rule
from skeinwork.core.text.forms.lemma import lemma
from skeinwork.core.text.forms.lexicon import english
from skeinwork.core.text.forms.snowball import STEMS
from skeinwork.core.text.passes.word_forms import WordFormsPass
from skeinwork.core.text.tokenise import tokenise
from skeinwork.filters import forms_filter

DATA = Path(__file__).parent / "data" / "stems"


@pytest.mark.parametrize("language", STEMS)
def test_stems_are_those_of_the_published_definition(language: str) -> None:
    rows = (DATA / f"{language.lower()}.tsv").read_text(encoding="utf-8").splitlines()
    wrong = [row for row in rows if STEMS[language](row.split("\t")[0]) != row.split("\t")[1]]
    assert len(rows) > 800 and wrong == []


@pytest.mark.parametrize("name", METHODS)
@settings(deadline=None)
@given(word=st.text("abcdefghilmnorstuyéèäöüßñçãоаитьсщё'-", max_size=14))
def test_no_word_breaks_a_method(name: str, word: str) -> None:
    method = METHODS[name]
    for language in STEMS if name == "snowball" else ["English"]:
        form = former(name, options_of(method, WordFormsPass(language=language)))
        assert isinstance(form(word), str)
        assert len(form(word)) <= 2 * len(word) + 2  # French writes ë as He on the way


# Words that the article names, and words taken through its rules by hand.
LANCASTER = {
    "maximum": "maxim",
    "presumably": "presum",
    "multiply": "multiply",
    "provision": "provid",
    "owed": "ow",
    "owing": "ow",
    "ear": "ear",
    "saying": "say",
    "crying": "cry",
    "string": "string",
    "meant": "meant",
    "cement": "cem",
    "sized": "siz",
    "denied": "deny",
    "agreed": "agree",
    "opted": "opt",
    "ponies": "pony",
    "absorption": "absorb",
    "rolling": "rol",
    "kilometre": "kilomet",
}


@pytest.mark.parametrize(("word", "stem"), LANCASTER.items())
def test_lancaster_by_the_published_rules(word: str, stem: str) -> None:
    assert Lancaster().stem(word) == stem


def test_lancaster_takes_prefixes_and_own_rules_and_refuses_those_without_end() -> None:
    assert Lancaster(prefixes=True).stem("kilometre") == "met"
    assert Lancaster(["sgniroom5."]).stem("moorings") == "moo"
    assert len(RULES) == 115 and not endless([read_rule(each) for each in RULES])
    for rule, says in (("y1i>", "for ever"), ("s0s.", ""), ("s9.", "takes 9"), ("5s", "is not a rule")):
        if says:
            with pytest.raises(ValueError, match=says):
                Lancaster([rule])
        else:
            Lancaster([rule])
    with pytest.raises(ValidationError, match="for ever"):
        WordFormsPass(method="lancaster", rules=("a1b>", "b1a>"))


@given(st.lists(st.from_regex(r"\A[a-c]{1,3}\*?[0-2][a-c]{0,2}[>.]\Z"), max_size=4), st.text("abc", max_size=9))
def test_rules_that_are_taken_come_to_an_end(rules: list[str], word: str) -> None:
    """Whatever is not refused ends: the test would hang otherwise."""
    try:
        stemmer = Lancaster(rules)
    except ValueError:
        return
    stemmer.stem(word)


def endless_by_walking(rules: list[Rule]) -> bool:
    """Whether a way along rules that may follow each other comes back without being shorter."""
    ways = [
        (one, other, rule.less - len(rule.put))
        for one, rule in enumerate(rules)
        for other, then in enumerate(rules)
        if (left := rule.ending[: len(rule.ending) - rule.less] + rule.put) is not None
        and (left.endswith(then.ending) or then.ending.endswith(left))
    ]
    # The least that a way of so many rules takes off, from each to each.
    least = {(one, other): less for one, other, less in ways}
    for _ in range(len(rules)):
        if any(one == other and less <= 0 for (one, other), less in least.items()):
            return True
        longer = dict(least)
        for one, middle in least:
            for then, other, less in ways:
                if then == middle:
                    known = longer.get((one, other), 99)
                    longer[one, other] = min(known, least[one, middle] + less)
        least = longer
    return any(one == other and less <= 0 for (one, other), less in least.items())


@given(st.lists(st.from_regex(r"\A[a-c]{2,4}[0-2][a-c]{0,3}>\Z"), max_size=5))
def test_rounds_of_rules_are_found_as_by_walking_them(written: list[str]) -> None:
    rules = [read_rule(each) for each in written]
    by_walking = endless_by_walking(rules)
    assert bool(endless(rules)) == by_walking
    with mock.patch.object(lancaster, "FEW", 0):  # as in a large round: never fewer are refused
        longer = any(rule.less < len(rule.put) for rule in rules)
        assert bool(endless(rules)) == by_walking or (longer and not by_walking)


TAGGED = """
were AUX be, was VERB be, worse ADJ bad, best ADJ good, better ADV well, hoping VERB hope,
hopping VERB hop, skies NOUN sky, thieves NOUN thief, fishermen NOUN fisherman, children NOUN child,
leaves NOUN leaf, leaves VERB leave, lives NOUN life, boxes NOUN box, heroes NOUN hero, shoes NOUN shoe,
analyses NOUN analysis, criteria NOUN criterion, matrices NOUN matrix, species NOUN species,
news NOUN news, physics NOUN physics, glasses NOUN glass, steps NOUN step, found VERB find,
founded VERB found, saw VERB see, saw NOUN saw, singing VERB sing, fell VERB fall, left VERB leave,
left NOUN left, lying VERB lie, tying VERB tie, planned VERB plan, planed VERB plane, starring VERB star,
staring VERB stare, visited VERB visit, travelled VERB travel, preferred VERB prefer, carries VERB carry,
goes VERB go, panicked VERB panic, breathed VERB breathe, agreed VERB agree, feed VERB feed,
need VERB need, thought VERB think, thought NOUN thought, cut VERB cut, bigger ADJ big,
happiest ADJ happy, larger ADJ large, modest ADJ modest, honest ADJ honest, sooner ADV soon,
further ADV far, passes VERB pass, fixes VERB fix, dies VERB die, wives NOUN wife, roofs NOUN roof,
written VERB write, meeting VERB meet, meeting NOUN meeting, hung VERB hang, stuck VERB stick,
moorings NOUN mooring, quickly ADV quickly, the DET the, these DET this, Quellan PROPN Quellan,
lighthouse-keepers NOUN lighthouse-keeper, bacteria NOUN bacterium, outer ADJ outer, outermost ADJ outermost,
might AUX might, an DET a, n't PART not, after ADV after, worse ADV badly, flombings NOUN flombings
"""


def test_lemmas_by_part_of_speech() -> None:
    rows = [each.split() for each in TAGGED.replace("\n", " ").split(",")]
    wrong = [(word, lemma(word, tag)) for word, tag, right in rows if lemma(word, tag) != right]
    assert wrong == []


def test_irregular_forms_are_those_of_the_lexicon() -> None:
    for part, tag in (("n", "NOUN"), ("v", "VERB"), ("a", "ADJ"), ("r", "ADV")):
        forms = english().irregular[part]
        wrong = [word for word, lemmas in forms.items() if lemma(word, tag) not in lemmas]
        assert wrong == (["deeper"] if tag == "ADV" else [])  # deep, where the lexicon has deeply


def test_words_that_the_lexicon_does_not_have_stay_or_lose_regular_endings() -> None:
    words = ["quayboats", "zibbled", "flobbing", "fremmies", "twixes", "zindates"]
    assert [lemma(word) for word in words] == words
    assert [lemma(word, "", True) for word in words] == ["quayboat", "zibble", "flob", "fremmy", "twix", "zindate"]


def cleaned(texts: list[str], settings: dict[str, Any], **more: Any) -> list[str]:
    chosen = CleanSettings.model_validate({"passes": [{"kind": "word-forms", **settings}]})
    made = clean(tokenise(texts, chosen.tokenising(), about=more.get("about")), chosen, **more)
    return [" ".join(made.forms[f] for f in made.token_forms(d) if f >= 0) for d in range(len(texts))]


def test_the_language_of_a_document_decides_its_stems() -> None:
    texts = ["die Häfen liefen", "the moorings parted", "wind moorings Häfen"]
    about = About(np.array([0, 1, 2], dtype=np.int16), ("German", "English", "unsure"))
    settings = {"method": "snowball", "language": "of each document"}
    assert cleaned(texts, settings, about=about) == ["die Haf lief", "the moor part", texts[2]]
    assert cleaned(texts, {**settings, "unsure": "English"}, about=about)[2] == "wind moor Häfen"


def test_what_is_given_by_hand_goes_before_the_method() -> None:
    settings = {"given": ["Moorings = moorings", "berth = mooring"]}
    assert cleaned(["Moorings moored a berth’s"], settings) == ["moorings moor a mooring’s"]
    with pytest.raises(ValidationError, match="old = new"):
        WordFormsPass(given=("moorings",))


def test_elided_words_are_stemmed_behind_the_apostrophe() -> None:
    settings = {"method": "snowball", "language": "French"}
    assert cleaned(["l'horizontale"], settings) == ["l'horizontal"]


def test_a_table_of_forms_is_read_in_either_order_and_used() -> None:
    for data in ("havn\thavnen\nhavn\thavne\n", "form\tlemma\nhavnen\thavn\nhavne\thavn\n# remark\n"):
        table = lemma_table.read_table("t.tsv", data.encode())
        assert sorted(table) == [("havne", "havn"), ("havnen", "havn")]
    lines = frozenset(lemma_table.lines(table))
    settings = {"method": "table", "table": {"sha256": "a" * 64}}
    assert cleaned(["Havnen i havne"], settings, lists={"a" * 64: lines}) == ["Havn i havn"]
    german = frozenset(lemma_table.lines(lemma_table.read_table("t.tsv", "straßen\tstraße\n".encode())))
    other = {"method": "table", "table": {"sha256": "b" * 64}}
    assert cleaned(["straßen"], other, lists={"b" * 64: german}) == ["strasse"]
    with pytest.raises(BadInputError, match="two columns"):
        lemma_table.read_table("t.tsv", b"havnen havn\n")


def test_the_command_line_takes_words_line_for_line(capsys: pytest.CaptureFixture[str]) -> None:
    out = io.BytesIO()
    forms_filter([b"worse\tADJ\n", b"\n", b"Worse\n"], out, lambda word, tag: f"{word}/{tag}")
    assert out.getvalue().decode() == "worse/ADJ\n/\nworse/\n"
    for options, says in (
        (["--method", "snowball", "--language", "Greek"], "There are no forms of “Greek”"),
        (["--method", "table"], "--table FILE"),
    ):
        assert main(["forms", *options]) == 2
        assert says in capsys.readouterr().err
