"""The command line: ``serve``, ``demo``, ``weave``, and filters for shell pipelines."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Iterable, Sequence
from itertools import pairwise
from pathlib import Path
from typing import IO, TYPE_CHECKING, NoReturn

from skeinwork import __version__
from skeinwork.core.text.forms import METHODS

if TYPE_CHECKING:
    from skeinwork.core.text.sentences import SentenceRule
    from skeinwork.work.pattern import Pattern

_BATCH = 20_000
_UNKEPT = (
    "Compiled code can't be kept: neither the folder of the program nor the user's cache can be "
    "written. Set NUMBA_CACHE_DIR to a folder that can."
)


class _Parser(argparse.ArgumentParser):
    """Wrong use gets one sentence and exit code 2."""

    def error(self, message: str) -> NoReturn:
        sentence = message[0].upper() + message[1:]
        self.exit(2, f"skeinwork: {sentence}. See {self.prog} --help.\n")


def _between(least: int, most: int) -> Callable[[str], int]:
    """A whole number within bounds, as the type of an option."""

    def number(written: str) -> int:
        if not written.isascii() or not written.isdigit() or not least <= int(written[:12]) <= most:
            raise argparse.ArgumentTypeError(
                f"{written[:20]} is not a number from {least} to {most}"
            )
        return int(written)

    return number


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(
        prog="skeinwork",
        description="A local workbench for text analysts.",
        epilog="example: skeinwork demo",
    )
    parser.add_argument("--version", action="version", version=f"skeinwork {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, text: str, example: str) -> argparse.ArgumentParser:
        added: argparse.ArgumentParser = commands.add_parser(
            name, help=text, description=text, epilog=f"example: {example}"
        )
        return added

    for name, text in (
        ("serve", "Serve the application to this machine's browser."),
        ("demo", "Serve it with the made-up corpus Sollen Harbours."),
    ):
        server = command(name, text, f"skeinwork {name} --port 8642")
        server.add_argument("--data", type=Path, help="data folder")
        server.add_argument("--host", default="127.0.0.1", help="address to listen on")
        server.add_argument(
            "--port", type=_between(0, 65_535), default=8642, help="port (0: any free one)"
        )
        server.add_argument("--token", help="access token; needed for any address but loopback")
        server.add_argument(
            "--allow-host", action="append", default=[], metavar="NAME",
            help="another name that the server is called by, such as behind a gateway; may be repeated",
        )  # fmt: skip
        server.add_argument(
            "--workers", type=_between(1, 1024), help="worker processes (default: one a core)"
        )
        server.add_argument(
            "--scheduler", metavar="ADDRESS",
            help="compute on the Dask cluster of a scheduler, such as tcp://HOST:8786",
        )  # fmt: skip
        server.add_argument(
            "--upload-limit",
            type=_between(1, 10_000_000),
            default=2000,
            metavar="MB",
            help="largest file",
        )
        server.add_argument(
            "--archive-limit", type=_between(1, 10_000_000), metavar="MB",
            help="most that may come out of one archive (default: 4000)",
        )  # fmt: skip
    weave = command(
        "weave", "Run a pattern on documents and write all results.",
        "skeinwork weave pattern.json --documents entries.csv --out results",
    )  # fmt: skip
    weave.add_argument("pattern", type=Path)
    weave.add_argument(
        "--documents", type=Path, nargs="+", required=True, metavar="FILE", help="files or folders"
    )
    weave.add_argument(
        "--tables", type=Path, nargs="+", default=[], metavar="FILE",
        help="tables that the pattern joins, in its order",
    )  # fmt: skip
    weave.add_argument(
        "--lists", type=Path, nargs="+", default=[], metavar="FILE",
        help="lists of words that the pattern's passes name, in any order",
    )  # fmt: skip
    weave.add_argument("--out", type=Path, required=True, metavar="DIR")
    weave.add_argument(
        "--archive-limit", type=_between(1, 10_000_000), metavar="MB", help="as for serve"
    )
    weave.add_argument("--quiet", action="store_true", help="say nothing while working")
    tokens = command(
        "tokens", "Tokens of standard input: a document a line in, its tokens tab-separated out.",
        "skeinwork tokens --rule uax29 < documents.txt",
    )  # fmt: skip
    tokens.add_argument("--rule", choices=("unicode", "uax29", "letters"), default="unicode")
    tokens.add_argument(
        "--punctuation", action="store_true",
        help="with unicode: also tokens without letter, digit or emoji",
    )  # fmt: skip
    cleaned = command(
        "clean", "Clean standard input: a document a line in, its cleaned tokens by space out.",
        "skeinwork clean --pattern pattern.json < documents.txt",
    )  # fmt: skip
    cleaned.add_argument("--pattern", type=Path, required=True, metavar="FILE")
    cleaned.add_argument(
        "--lists", type=Path, nargs="+", default=[], metavar="FILE", help="as for weave"
    )
    sentences = command(
        "sentences", "Sentences of standard input: a document a line in, its sentences tab-separated out.",
        "skeinwork sentences < documents.txt",
    )  # fmt: skip
    sentences.add_argument(
        "--rule", choices=("abbreviations", "uax29"), default="abbreviations",
        help="uax29: the standard's rules alone (default: abbreviations)",
    )  # fmt: skip
    sentences.add_argument("--language", help="by name or code; decides what is shortened")
    forms = command(
        "forms", "Word forms of standard input: a word a line in (and behind a tab its part of speech), its form out.",
        "skeinwork forms --method snowball --language German < words.txt",
    )  # fmt: skip
    forms.add_argument("--method", choices=tuple(METHODS), default="porter")
    forms.add_argument("--language", default="English", help="by name or code")
    forms.add_argument("--prefixes", action="store_true", help="lancaster: prefixes go too")
    forms.add_argument("--rules", type=Path, help="lancaster: a file of rules to be tried first")
    forms.add_argument(
        "--unknown", choices=("stay", "by-rule"), default="stay",
        help="lemma: what becomes of words that the lexicon does not have",
    )  # fmt: skip
    forms.add_argument(
        "--table", type=Path, help="table: a file of forms and lemmas, tab-separated"
    )
    return parser


def _batches(lines: Iterable[bytes]) -> Iterable[list[str]]:
    batch: list[str] = []
    for line in lines:
        batch.append(line.decode("utf-8", "replace").removesuffix("\n").removesuffix("\r"))
        if len(batch) == _BATCH:
            yield batch
            batch = []
    if batch:
        yield batch


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


def sentences_filter(
    lines: Iterable[bytes], out: IO[bytes], rule: SentenceRule, language: str | None
) -> None:
    """Write the sentences of each line, tab-separated, without the white space between them."""
    from skeinwork.core.text.sentences import sentence_starts

    for batch in _batches(lines):
        for text in batch:
            starts = sentence_starts(text, rule, language)
            cut = [text[a:b].strip() for a, b in pairwise([*starts, len(text)])]
            row = "\t".join(each.replace("\t", " ") for each in cut if each)
            out.write(row.encode("utf-8", "replace") + b"\n")
    out.flush()


def _sentences(options: argparse.Namespace) -> int:
    from skeinwork.core.errors import UsageError
    from skeinwork.core.text.language_names import language_named

    language = language_named(options.language) if options.language else None
    if options.language and not language:
        raise UsageError(f"“{options.language[:40]}” names no language that is known.")
    sentences_filter(sys.stdin.buffer, sys.stdout.buffer, options.rule, language)
    return 0


def _clean(options: argparse.Namespace) -> int:
    """All lines are one corpus: some passes count."""
    from skeinwork.core.errors import BadInputError, UsageError
    from skeinwork.work import cleaned_text, weave

    settings = _pattern(options).clean
    try:
        lists = weave.lists_for(settings, options.lists)
    except BadInputError as fault:
        raise UsageError(str(fault)) from fault
    texts = [text for batch in _batches(sys.stdin.buffer) for text in batch]
    for row in cleaned_text.of_texts(texts, settings, lists):
        sys.stdout.buffer.write(row.encode("utf-8", "replace") + b"\n")
    sys.stdout.buffer.flush()
    return 0


def forms_filter(lines: Iterable[bytes], out: IO[bytes], form: Callable[[str, str], str]) -> None:
    """Write the form of each word, line for line; behind a tab a word's part of speech may stand."""
    for batch in _batches(lines):
        cells = (line.split("\t", 1) for line in batch)
        text = "\n".join(
            form(word.strip().lower(), tag[0].strip().upper() if tag else "")
            for word, *tag in cells
        )
        out.write(text.encode("utf-8", "replace") + b"\n")
    out.flush()


def _form(options: argparse.Namespace) -> Callable[[str, str], str]:
    """The form of a word and its tag, as the options have it."""
    from skeinwork.core.errors import UsageError
    from skeinwork.core.text.forms import former, lemma
    from skeinwork.core.text.forms.base import Options
    from skeinwork.core.text.language_names import language_named

    language = language_named(options.language)
    known = METHODS[options.method].languages
    if known and language not in known:
        raise UsageError(
            f"There are no forms of “{options.language[:40]}” by {options.method}; there are of "
            f"{', '.join(known)}."
        )
    if options.method == "lemma":
        by_rule = options.unknown == "by-rule"
        return lambda word, tag: lemma.lemma(word, tag, by_rule)
    table: dict[str, str] = {}
    if options.method == "table":
        table = _table(options.table)
    try:
        rules = tuple(options.rules.read_text(encoding="utf-8").split()) if options.rules else ()
        form = former(
            options.method,
            Options(
                language or "", options.prefixes, rules, checksum=str(options.table), table=table
            ),
        )
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


def _pattern(options: argparse.Namespace) -> Pattern:
    from skeinwork.core.errors import BadInputError, UsageError
    from skeinwork.work.pattern import read_pattern

    try:
        return read_pattern(options.pattern.read_text(encoding="utf-8"))
    except OSError as fault:
        raise UsageError(f"{options.pattern} can't be read: {fault.strerror}.") from fault
    except ValueError as fault:
        raise UsageError(f"{options.pattern} is not UTF-8 text. Save it as that.") from fault
    except BadInputError as fault:
        raise UsageError(str(fault)) from fault


def _weave(options: argparse.Namespace) -> int:
    from skeinwork.work import weave

    def report(phase: str, done: float, **details: object) -> None:
        if not options.quiet and sys.stderr.isatty():
            sys.stderr.write(f"\r\x1b[K{phase} {done:.0%}")

    pattern = _pattern(options)
    names = weave.run(
        pattern, options.documents, options.out, report, options.tables, options.lists
    )
    if not options.quiet:
        print(f"{len(names)} files written to {options.out}: {', '.join(names)}")
    return 0


def _serve(options: argparse.Namespace) -> int:
    from skeinwork.server.run import serve

    return serve(options, demo=options.command == "demo")


def _tokens(options: argparse.Namespace) -> int:
    tokens_filter(sys.stdin.buffer, sys.stdout.buffer, options.rule, options.punctuation)
    return 0


def _forms(options: argparse.Namespace) -> int:
    forms_filter(sys.stdin.buffer, sys.stdout.buffer, _form(options))
    return 0


_COMMANDS: dict[str, Callable[[argparse.Namespace], int]] = {
    "serve": _serve, "demo": _serve, "weave": _weave, "tokens": _tokens, "clean": _clean,
    "sentences": _sentences, "forms": _forms,
}  # fmt: skip


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command; exit code 0, 1 where the work fails, 2 for use with which it can't begin."""
    from skeinwork.core.errors import SkeinworkError, UsageError

    options = _parser().parse_args(arguments)
    if limit := getattr(options, "archive_limit", None):
        os.environ["SKEINWORK_ARCHIVE_LIMIT"] = str(limit)
    try:
        return _COMMANDS[options.command](options)
    except UsageError as fault:
        sys.stderr.write(f"skeinwork: {fault}\n")
        return 2
    except SkeinworkError as fault:
        sys.stderr.write(f"skeinwork: {fault}\n")
        return 1
    except RuntimeError as fault:
        if "no locator available" not in str(fault):
            raise
        sys.stderr.write(f"skeinwork: {_UNKEPT}\n")
        return 2
    except BrokenPipeError:
        sys.stderr.close()
    except OSError as fault:
        about = f" ({fault.filename})" if fault.filename else ""
        sys.stderr.write(f"skeinwork: The work broke off: {fault.strerror}{about}.\n")
        return 1
    except KeyboardInterrupt:
        return 130
    return 0


if __name__ == "__main__":
    sys.exit(main())
