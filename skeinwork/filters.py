"""Commands that read lines of standard input and write lines: for shell pipelines."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Iterable
from itertools import pairwise
from pathlib import Path
from typing import IO, TYPE_CHECKING

from skeinwork.core.text.forms import METHODS

if TYPE_CHECKING:
    from skeinwork.core.text.sentences import SentenceRule
    from skeinwork.work.exports.pattern import Pattern

_BATCH = 20_000


def _batches(lines: Iterable[bytes]) -> Iterable[list[str]]:
    batch: list[str] = []
    for line in lines:
        batch.append(line.decode("utf-8", "replace").removesuffix("\n").removesuffix("\r"))
        if len(batch) == _BATCH:
            yield batch
            batch = []
    if batch:
        yield batch


def _corpus() -> list[str]:
    """All lines of standard input, each a document of one corpus."""
    return [text for batch in _batches(sys.stdin.buffer) for text in batch]


def tokens_filter(lines: Iterable[bytes], out: IO[bytes], rule: str, punctuation: bool) -> None:
    """Write the tokens of each line, tab-separated; empty lines stay empty."""
    from skeinwork.core.text import segment

    dropped = set() if punctuation else {segment.PUNCTUATION, segment.SYMBOL}
    for batch in _batches(lines):
        found = segment.segment(batch, rule)  # type: ignore[arg-type]
        words = [
            None if rule == "unicode" and kind in dropped else word.replace("\t", " ")
            for word, kind in zip(found.types, found.classes.tolist(), strict=True)
        ]
        ids, ends = found.ids.tolist(), found.doc_ptr.tolist()
        for first, last in pairwise(ends):
            row = [word for at in ids[first:last] if (word := words[at]) is not None]
            out.write("\t".join(row).encode("utf-8", "replace") + b"\n")
    out.flush()


def sentences_filter(lines: Iterable[bytes], out: IO[bytes], rule: SentenceRule, language: str | None) -> None:
    """Write the sentences of each line, tab-separated, without the white space between them."""
    from skeinwork.core.text.sentences import sentence_starts

    for batch in _batches(lines):
        for text in batch:
            starts = sentence_starts(text, rule, language)
            cut = [text[a:b].strip() for a, b in pairwise([*starts, len(text)])]
            row = "\t".join(each.replace("\t", " ") for each in cut if each)
            out.write(row.encode("utf-8", "replace") + b"\n")
    out.flush()


def sentences(options: argparse.Namespace) -> int:
    from skeinwork.core.errors import UsageError
    from skeinwork.core.text.language_names import language_named

    language = language_named(options.language) if options.language else None
    if options.language and not language:
        raise UsageError(f"“{options.language[:40]}” names no language that is known.")
    sentences_filter(sys.stdin.buffer, sys.stdout.buffer, options.rule, language)
    return 0


def clean(options: argparse.Namespace) -> int:
    """All lines are one corpus: some passes count."""
    from skeinwork.core.errors import BadInputError, UsageError
    from skeinwork.work.batch import weave
    from skeinwork.work.results import cleaned_text

    settings = pattern(options).clean
    try:
        lists = weave.lists_for(settings, options.lists)
    except BadInputError as fault:
        raise UsageError(str(fault)) from fault
    texts = _corpus()
    for row in cleaned_text.of_texts(texts, settings, lists):
        sys.stdout.buffer.write(row.encode("utf-8", "replace") + b"\n")
    sys.stdout.buffer.flush()
    return 0


def forms_filter(lines: Iterable[bytes], out: IO[bytes], form: Callable[[str, str], str]) -> None:
    """Write the form of each word, line for line; behind a tab a word's part of speech may stand."""
    for batch in _batches(lines):
        cells = (line.split("\t", 1) for line in batch)
        text = "\n".join(form(word.strip().lower(), tag[0].strip().upper() if tag else "") for word, *tag in cells)
        out.write(text.encode("utf-8", "replace") + b"\n")
    out.flush()


def names(options: argparse.Namespace) -> int:
    """All lines are one corpus: capitals are borne out by the whole."""
    from skeinwork.core.text.names import find_names
    from skeinwork.core.text.segment import segment
    from skeinwork.work.screens.names import as_table

    texts = _corpus()
    sys.stdout.buffer.write(as_table(find_names(segment(texts), options.least)))
    sys.stdout.buffer.flush()
    return 0


def tag_filter(lines: Iterable[bytes], out: IO[bytes], pretokenised: bool, finer: bool) -> None:
    """Write the tokens of each line with their parts of speech, ``token/TAG`` by space."""
    import numpy as np

    from skeinwork.core.text import tagging
    from skeinwork.core.text.segment import segment

    for batch in _batches(lines):
        if pretokenised:
            given = tagging.tag_tokens([text.split() for text in batch])
            ids, types, bounds, tags = given.ids, given.types, given.doc_ptr, given.tags
        else:
            tokens = segment(batch)
            ids, types, bounds = tokens.ids, tokens.types, tokens.doc_ptr
            tags = tagging.tag_segments(tokens).tags
        size = len(tagging.TAGS)
        kinds, place = np.unique(ids.astype(np.int64) * size + tags, return_inverse=True)
        pairs = [(types[each // size], tagging.TAGS[each % size]) for each in kinds.tolist()]
        more = [f":{each}" if finer and (each := tagging.fine(*pair)) else "" for pair in pairs]
        written = [f"{word}/{tag}{last}" for (word, tag), last in zip(pairs, more, strict=True)]
        row = [written[at] for at in place.tolist()]
        ends = pairwise(bounds.tolist())
        out.write("".join(f"{' '.join(row[a:b])}\n" for a, b in ends).encode("utf-8", "replace"))
    out.flush()


def tag(options: argparse.Namespace) -> int:
    tag_filter(sys.stdin.buffer, sys.stdout.buffer, options.pretokenised, options.fine)
    return 0


def phrases(options: argparse.Namespace) -> int:
    from skeinwork.core.errors import UsageError
    from skeinwork.core.text import stopwords
    from skeinwork.core.text.language_names import language_named
    from skeinwork.core.text.phrases import find_phrases, ordered
    from skeinwork.core.text.segment import segment
    from skeinwork.core.text.tagging import tag_segments
    from skeinwork.work.screens.phrases import as_table

    language = language_named(options.language)
    if language not in stopwords.languages():
        raise UsageError(f"There are no function words of “{options.language[:40]}”.")
    texts = _corpus()
    tokens = segment(texts)
    tags = tag_segments(tokens).tags if options.nouns else None
    found = find_phrases(tokens, stopwords.words_of(language), options.least, options.longest, options.inside, tags)
    sys.stdout.buffer.write(as_table(ordered(found, options.by)))
    sys.stdout.buffer.flush()
    return 0


def _form(options: argparse.Namespace) -> Callable[[str, str], str]:
    """The form of a word and its tag, as the options have it."""
    from skeinwork.core.errors import UsageError
    from skeinwork.core.text.forms import lemma, remembered
    from skeinwork.core.text.forms.base import Place
    from skeinwork.core.text.language_names import language_named

    language = language_named(options.language)
    known = METHODS[options.method].languages
    if known and language not in known:
        raise UsageError(
            f"There are no forms of “{options.language[:40]}” by {options.method}; there are of {', '.join(known)}."
        )
    if options.method == "lemma":
        by_rule = options.unknown == "by-rule"
        return lambda word, tag: lemma.lemma(word, tag, by_rule)
    table: dict[str, str] = {}
    if options.method == "table":
        table = _table(options.table)
    try:
        rules = tuple(options.rules.read_text(encoding="utf-8").split()) if options.rules else ()
        own = METHODS[options.method].options.model_construct(
            language=language or "", prefixes=options.prefixes, rules=rules, table=None
        )
        form = remembered(METHODS[options.method].form(own, Place(table=table)))
    except (OSError, ValueError) as fault:
        raise UsageError(f"{str(fault)[:1].upper()}{str(fault)[1:]}.") from fault
    return lambda word, _: form(word)


def _table(path: Path | None) -> dict[str, str]:
    from skeinwork.core.errors import BadInputError, UsageError
    from skeinwork.core.formats import lemma_table

    if path is None:
        raise UsageError("A table of forms and lemmas is wanted: --table FILE.")
    try:
        return dict(lemma_table.read_table(path.name, path.read_bytes()))
    except OSError as fault:
        raise UsageError(f"{path} can't be read: {fault.strerror}.") from fault
    except BadInputError as fault:
        raise UsageError(str(fault)) from fault


def pattern(options: argparse.Namespace) -> Pattern:
    from skeinwork.core.errors import BadInputError, UsageError
    from skeinwork.work.exports.pattern import read_pattern

    try:
        return read_pattern(options.pattern.read_text(encoding="utf-8"))
    except OSError as fault:
        raise UsageError(f"{options.pattern} can't be read: {fault.strerror}.") from fault
    except ValueError as fault:
        raise UsageError(f"{options.pattern} is not UTF-8 text. Save it as that.") from fault
    except BadInputError as fault:
        raise UsageError(str(fault)) from fault


def tokens(options: argparse.Namespace) -> int:
    tokens_filter(sys.stdin.buffer, sys.stdout.buffer, options.rule, options.punctuation)
    return 0


def forms(options: argparse.Namespace) -> int:
    forms_filter(sys.stdin.buffer, sys.stdout.buffer, _form(options))
    return 0
