"""Clean: a specimen under the wanted passes, what survives them, and the passes there are."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response

from skeinwork.server.records import attachment, saves
from skeinwork.server.routing import Routes
from skeinwork.server.state import StateOf, StrandOf, ViewOf
from skeinwork.work.results import cleaned_text, documents, other_cleanings
from skeinwork.work.results.other_cleanings import OtherCleaning
from skeinwork.work.results.tagged import TaggedText, TagQuery, tagged
from skeinwork.work.screens import clean, specimen, survivors, word_forms
from skeinwork.work.screens import names as name_screen
from skeinwork.work.screens import phrases as phrase_screen
from skeinwork.work.screens.clean import FittedPasses, Passes
from skeinwork.work.screens.idle import Idle, idle_passes
from skeinwork.work.screens.names import NameQuery, Names, NamesRead
from skeinwork.work.screens.phrases import PhraseQuery, Phrases, PhrasesRead
from skeinwork.work.screens.specimen import Specimen, SpecimenQuery
from skeinwork.work.screens.strand import StrandRecord, describe
from skeinwork.work.screens.suggested_words import SuggestedWords, suggested_words
from skeinwork.work.screens.survivors import PassEffect, Survivors
from skeinwork.work.screens.word import WordStory, story
from skeinwork.work.screens.word_forms import DoubtfulFamilies, FormsSideBySide, RulesChecked, Sentence
from skeinwork.work.strands import left_out, strands
from skeinwork.work.strands.left_out import Leaving, Tray
from skeinwork.work.strands.tables import TableText

router = Routes(prefix="/api/strands/{strand_id}", tags=["clean"])


@router.get("/specimen")
def show_specimen(strand: StrandOf, view: ViewOf, query: Annotated[SpecimenQuery, Query()]) -> Specimen:
    """One document, or a text typed in, under the wanted passes."""
    return specimen.specimen(view, strands.wanted(strand).clean, query)


@router.get("/specimen/beside/{key}")
def show_specimen_beside(
    state: StateOf, strand: StrandOf, view: ViewOf, key: str, query: Annotated[SpecimenQuery, Query()]
) -> Specimen:
    """The same under another cleaning, to lay beside it."""
    with state.store.connection():
        other = other_cleanings.other(state.store, strand, key)
    return specimen.specimen(view, other, query)


@router.get("/other-cleanings")
def list_other_cleanings(state: StateOf, strand: StrandOf) -> list[OtherCleaning]:
    """Cleanings to compare the wanted one with: earlier ones, the one made, other strands'."""
    with state.store.connection():
        return other_cleanings.others(state.store, strand)


@router.get("/survivors")
def list_survivors(state: StateOf, strand: StrandOf, view: ViewOf, quick: bool = False) -> Survivors:
    """What is left of the corpus after each wanted pass."""
    with state.store.connection():
        before = other_cleanings.before(strand)
    return survivors.survivors(view, strands.wanted(strand).clean, before, quick)


@router.get("/idle-passes")
def list_idle_passes(strand: StrandOf, view: ViewOf) -> list[Idle]:
    """Wanted passes that can do nothing where they stand, and a better place."""
    return idle_passes(view, strands.wanted(strand).clean)


@router.get("/survivors/{key}")
def show_effect(strand: StrandOf, view: ViewOf, key: str, by: Annotated[str, Query(max_length=200)] = "") -> PassEffect:
    """What one wanted pass removes and changes, and what groups keep after it."""
    return survivors.effect(view, strands.wanted(strand).clean, key, by)


@router.get("/word")
def trace_word(strand: StrandOf, view: ViewOf, word: Annotated[str, Query(min_length=1, max_length=400)]) -> WordStory:
    """Why a word is in the vocabulary or not, and how it comes back."""
    return story(view, strands.wanted(strand), word)


@router.get("/word-forms")
def compare_word_forms(strand: StrandOf, view: ViewOf, quick: bool = False) -> FormsSideBySide:
    """What every method of word forms makes of the vocabulary."""
    return word_forms.side_by_side(view, strands.wanted(strand).clean, quick)


@router.get("/word-forms/sentence")
def compare_a_sentence(
    strand: StrandOf,
    view: ViewOf,
    text: Annotated[str, Query(max_length=2000)],
    language: Annotated[str, Query(max_length=60)] = "",
) -> Sentence:
    """What every method makes of a sentence, in a language; by its words where that is left out."""
    return word_forms.sentence(view, strands.wanted(strand).clean, text, language)


@router.get("/word-forms/rules")
def check_stemming_rules(strand: StrandOf, text: Annotated[str, Query(max_length=5000)]) -> RulesChecked:
    """Whether rules that are being typed can be taken, and what is wrong if not."""
    return word_forms.check_rules(text)


@router.get("/word-forms/doubtful")
def list_doubtful_families(strand: StrandOf, view: ViewOf) -> DoubtfulFamilies:
    """Families of the wanted word forms whose members have unlike neighbours in this corpus."""
    return word_forms.doubtful(view, strands.wanted(strand).clean)


@router.get("/cleaned.csv", **saves("text/csv"))
def cleaned_table(view: ViewOf) -> Response:
    """What the passes leave, a document a row, tokens by space."""
    return attachment(b"".join(cleaned_text.table_rows(view.cleaning)), "cleaned.csv", "text/csv")


@router.get("/cleaned.zip", **saves("application/zip"))
def cleaned_files(view: ViewOf) -> Response:
    """What the passes leave, a document a file, a sentence a line."""
    names = [documents.name(view, at) for at in range(len(view.corpus))]
    data = cleaned_text.as_files(view.cleaning, names)
    return attachment(data, "cleaned.zip", "application/zip")


@router.get("/left-out")
def show_tray(state: StateOf, strand: StrandOf, view: ViewOf) -> Tray:
    """Words that are left out with the next rebuild, what goes with them, and the rounds so far."""
    with state.store.connection():
        before = left_out.rounds(strand)
    return left_out.tray(view, strands.wanted(strand).clean, before)


@router.post("/left-out")
def leave_out(state: StateOf, strand: StrandOf, view: ViewOf, leaving: Leaving) -> StrandRecord:
    """Leave words out from the next rebuild on; refused with 409 if the settings changed since."""
    words = left_out.written(view, leaving)
    with state.store.connection():
        return describe(state.store, left_out.leave_out(strand, words, leaving))


@router.get("/suggested-words")
def suggest_words(view: ViewOf) -> SuggestedWords:
    """Words that tell nothing by their spread, and names."""
    return suggested_words(view)


@router.get("/tags")
def tag_text(strand: StrandOf, view: ViewOf, query: Annotated[TagQuery, Query()]) -> TaggedText:
    """The part of speech of every word of a document or a text, and how sure it is."""
    return tagged(view, strands.wanted(strand).clean, query)


@router.get("/phrases")
def list_phrases(view: ViewOf, query: Annotated[PhraseQuery, Query()]) -> Phrases:
    """Runs of words that stand together more often than by chance."""
    return phrase_screen.phrases(view, query)


@router.get("/phrases.csv", **saves("text/csv"))
def phrases_as_table(view: ViewOf, query: Annotated[PhraseQuery, Query()]) -> Response:
    """All of them with every measure."""
    return attachment(phrase_screen.phrases_table(view, query), "phrases.csv", "text/csv")


@router.post("/phrases/read")
def read_phrases(strand: StrandOf, given: TableText) -> PhrasesRead:
    """A table of phrases as terms; nothing is changed by it."""
    return phrase_screen.read_phrases(given)


@router.get("/names")
def list_names(strand: StrandOf, view: ViewOf, query: Annotated[NameQuery, Query()]) -> Names:
    """Persons, places, organisations and other names, as they are found and edited."""
    return name_screen.names(view, strands.wanted(strand).names, query)


@router.get("/names.csv", **saves("text/csv"))
def names_as_table(strand: StrandOf, view: ViewOf, query: Annotated[NameQuery, Query()]) -> Response:
    """All of them, with reasons and variants."""
    table = name_screen.names_table(view, strands.wanted(strand).names, query)
    return attachment(table, "names.csv", "text/csv")


@router.post("/names/read")
def read_names(strand: StrandOf, view: ViewOf, given: TableText) -> NamesRead:
    """What a table says of the names; nothing is changed by it."""
    return name_screen.read_names(view, strands.wanted(strand).names, given)


@router.get("/passes")
def list_passes(strand: StrandOf, view: ViewOf) -> Passes:
    """The kinds of pass there are, with the schema of their settings, and the wanted ones in words."""
    return clean.passes(view, strands.wanted(strand).clean)


@router.get("/fitted-passes")
def list_fitted_passes(strand: StrandOf, view: ViewOf) -> FittedPasses:
    """The passes of the first cleaning for which something was counted in the corpus, and what."""
    return clean.fitted(view, strands.wanted(strand).clean)
