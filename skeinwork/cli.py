"""The command line: ``serve``, ``demo``, ``weave``, and filters for shell pipelines."""

from __future__ import annotations

import argparse
import gc
import os
import signal
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NoReturn

from skeinwork import __version__, filters
from skeinwork.core.text.forms import METHODS
from skeinwork.core.text.phrase_measures import MEASURES

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
            raise argparse.ArgumentTypeError(f"{written[:20]} is not a number from {least} to {most}")
        return int(written)

    return number


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(
        prog="skeinwork", description="A local workbench for text analysts.", epilog="example: skeinwork demo"
    )
    parser.add_argument("--version", action="version", version=f"skeinwork {__version__}")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    def command(name: str, text: str, example: str) -> argparse.ArgumentParser:
        added: argparse.ArgumentParser = commands.add_parser(
            name, help=text, description=text, epilog=f"example: {example}"
        )
        return added

    def from_files(to: argparse.ArgumentParser) -> None:
        to.add_argument("--documents", type=Path, nargs="+", required=True, metavar="FILE", help="files or folders")
        to.add_argument(
            "--tables",
            type=Path,
            nargs="+",
            default=[],
            metavar="FILE",
            help="tables that the pattern joins, in its order",
        )
        to.add_argument(
            "--lists",
            type=Path,
            nargs="+",
            default=[],
            metavar="FILE",
            help="lists of words that the pattern's passes name, in any order",
        )
        to.add_argument("--out", type=Path, required=True, metavar="DIR")
        to.add_argument("--archive-limit", type=_between(1, 10_000_000), metavar="MB", help="as for serve")
        to.add_argument("--quiet", action="store_true", help="say nothing while working")

    for name, text in (
        ("serve", "Serve the application to this machine's browser."),
        ("demo", "Serve it with the made-up corpus Sollen Harbours."),
    ):
        server = command(name, text, f"skeinwork {name} --port 8642")
        server.add_argument("--data", type=Path, help="data folder")
        server.add_argument("--host", default="127.0.0.1", help="address to listen on")
        server.add_argument("--port", type=_between(0, 65_535), default=8642, help="port (0: any free one)")
        server.add_argument("--token", help="access token; needed for any address but loopback")
        server.add_argument(
            "--allow-host",
            action="append",
            default=[],
            metavar="NAME",
            help="another name that the server is called by, such as behind a gateway; may be repeated",
        )
        server.add_argument("--workers", type=_between(1, 1024), help="worker processes (default: one a core)")
        server.add_argument(
            "--scheduler", metavar="ADDRESS", help="compute on the Dask cluster of a scheduler, such as tcp://HOST:8786"
        )
        server.add_argument(
            "--upload-limit", type=_between(1, 10_000_000), default=2000, metavar="MB", help="largest file"
        )
        server.add_argument(
            "--archive-limit",
            type=_between(1, 10_000_000),
            metavar="MB",
            help="most that may come out of one archive (default: 4000)",
        )
    weave = command(
        "weave",
        "Run a pattern on documents and write all results.",
        "skeinwork weave pattern.json --documents entries.csv --out results",
    )
    weave.add_argument("pattern", type=Path)
    from_files(weave)
    weave.add_argument(
        "--vectors",
        type=Path,
        nargs="+",
        default=[],
        metavar="FILE",
        help="files of vectors that the pattern names, in any order",
    )
    weighing = command(
        "weigh",
        "Write the document-term matrix of documents as tables, sparse files and a dictionary.",
        "skeinwork weigh --documents entries.csv --out matrix",
    )
    weighing.add_argument(
        "--pattern", type=Path, metavar="FILE", help="how they are read, cleaned and weighed (default: as suggested)"
    )
    weighing.add_argument("--outcome", metavar="FIELD", help="a field for the design table")
    from_files(weighing)
    placing = command(
        "place",
        "Place documents in the topics of a saved fit: a table of documents by topics, with intervals, as CSV.",
        "skeinwork place model.skeinwork.zip --documents new.csv --out shares.csv",
    )
    placing.add_argument("model", type=Path, help="model.skeinwork.zip of an export")
    placing.add_argument("--documents", type=Path, nargs="+", required=True, metavar="FILE", help="files")
    placing.add_argument("--out", type=Path, required=True, metavar="FILE")
    placing.add_argument("--quiet", action="store_true", help="say nothing while working")
    tokens = command(
        "tokens",
        "Tokens of standard input: a document a line in, its tokens tab-separated out.",
        "skeinwork tokens --rule uax29 < documents.txt",
    )
    tokens.add_argument("--rule", choices=("unicode", "uax29", "letters"), default="unicode")
    tokens.add_argument(
        "--punctuation", action="store_true", help="with unicode: also tokens without letter, digit or emoji"
    )
    cleaned = command(
        "clean",
        "Clean standard input: a document a line in, its cleaned tokens by space out.",
        "skeinwork clean --pattern pattern.json < documents.txt",
    )
    cleaned.add_argument("--pattern", type=Path, required=True, metavar="FILE")
    cleaned.add_argument("--lists", type=Path, nargs="+", default=[], metavar="FILE", help="as for weave")
    sentences = command(
        "sentences",
        "Sentences of standard input: a document a line in, its sentences tab-separated out.",
        "skeinwork sentences < documents.txt",
    )
    sentences.add_argument(
        "--rule",
        choices=("abbreviations", "uax29"),
        default="abbreviations",
        help="uax29: the standard's rules alone (default: abbreviations)",
    )
    sentences.add_argument("--language", help="by name or code; decides what is shortened")
    tag = command(
        "tag",
        "Parts of speech of English: a document a line of standard input in, token/TAG by space out.",
        "skeinwork tag < documents.txt",
    )
    tag.add_argument("--pretokenised", action="store_true", help="tokens stand by space and stay exactly so")
    tag.add_argument("--fine", action="store_true", help="features behind the tag, where known")
    names = command(
        "names",
        "Names of standard input: a document a line in, a table of names out, as CSV.",
        "skeinwork names < documents.txt",
    )
    names.add_argument("--least", type=_between(1, 1_000_000), default=2, help="mentions (default: 2)")
    phrases = command(
        "phrases",
        "Phrases of standard input: a document a line in, a table of phrases out, as CSV.",
        "skeinwork phrases --by npmi < documents.txt",
    )
    phrases.add_argument("--by", choices=MEASURES, default="g2", help="the order (default: g2)")
    phrases.add_argument("--least", type=_between(2, 1_000_000), default=5, help="tokens (default: 5)")
    phrases.add_argument("--longest", type=_between(2, 6), default=4, help="words (default: 4)")
    phrases.add_argument("--inside", action="store_true", help="function words may stand inside")
    phrases.add_argument("--nouns", action="store_true", help="noun phrases alone (English)")
    phrases.add_argument("--language", default="English", help="of the function words")
    forms = command(
        "forms",
        "Word forms of standard input: a word a line in (and behind a tab its part of speech), its form out.",
        "skeinwork forms --method snowball --language German < words.txt",
    )
    forms.add_argument("--method", choices=tuple(METHODS), default="porter")
    forms.add_argument("--language", default="English", help="by name or code")
    forms.add_argument("--prefixes", action="store_true", help="lancaster: prefixes go too")
    forms.add_argument("--rules", type=Path, help="lancaster: a file of rules to be tried first")
    forms.add_argument(
        "--unknown",
        choices=("stay", "by-rule"),
        default="stay",
        help="lemma: what becomes of words that the lexicon does not have",
    )
    forms.add_argument("--table", type=Path, help="table: a file of forms and lemmas, tab-separated")
    return parser


def _report(options: argparse.Namespace) -> Callable[..., None]:
    def report(phase: str, done: float, **details: object) -> None:
        if not options.quiet and sys.stderr is not None and sys.stderr.isatty():
            sys.stderr.write(f"\r\x1b[K{phase} {done:.0%}")

    return report


def _written(options: argparse.Namespace, names: Sequence[str]) -> int:
    if not options.quiet and sys.stdout is not None:
        print(f"{len(names)} files written to {options.out}: {', '.join(names)}")
    return 0


def _weave(options: argparse.Namespace) -> int:
    from skeinwork.work.batch import weave

    pattern = filters.pattern(options)
    given = (options.tables, options.lists, options.vectors)
    names = weave.run(pattern, options.documents, options.out, _report(options), *given)
    return _written(options, names)


def _weigh(options: argparse.Namespace) -> int:
    from skeinwork.work.batch import weigh_files

    pattern = filters.pattern(options) if options.pattern else None
    names = weigh_files.run(
        options.documents, options.out, pattern, _report(options), options.tables, options.lists, options.outcome
    )
    return _written(options, names)


def _place(options: argparse.Namespace) -> int:
    from skeinwork.work.batch import place

    documents = place.run(options.model, options.documents, options.out, _report(options))
    if not options.quiet:
        print(f"{options.out}: {documents} documents")
    return 0


def _serve(options: argparse.Namespace) -> int:
    gc.disable()  # nothing that is loaded at the start is ever let go
    from skeinwork.server.run import serve

    gc.enable()
    gc.freeze()
    return serve(options, demo=options.command == "demo")


_FILTERS: dict[str, Callable[[argparse.Namespace], int]] = {
    "tokens": filters.tokens,
    "clean": filters.clean,
    "sentences": filters.sentences,
    "forms": filters.forms,
    "phrases": filters.phrases,
    "tag": filters.tag,
    "names": filters.names,
}
_COMMANDS: dict[str, Callable[[argparse.Namespace], int]] = {
    "serve": _serve,
    "demo": _serve,
    "weave": _weave,
    "weigh": _weigh,
    "place": _place,
    **_FILTERS,
}


def _say(sentence: str) -> None:
    if sys.stderr is not None:
        sys.stderr.write(f"skeinwork: {sentence}\n")


class _EndedError(Exception):
    """The process was asked to end; what it had begun to write goes on the way out."""


def _end(*_: object) -> NoReturn:
    raise _EndedError


def _check_streams(command: str) -> None:
    """Raise ``UsageError`` where a stream that a command works on was closed by who began it."""
    from skeinwork.core.errors import UsageError

    for name, stream in (("input", sys.stdin), ("output", sys.stdout)):
        needed = command in _FILTERS or (name == "output" and command in ("serve", "demo"))
        if stream is None and needed:
            raise UsageError(f"Standard {name} is closed, and {command} needs it.")


def main(arguments: Sequence[str] | None = None) -> int:
    """Run a command; exit code 0, 1 where the work fails, 2 for use with which it can't begin."""
    from skeinwork.core.errors import SkeinworkError, UsageError

    options = _parser().parse_args(arguments)
    if limit := getattr(options, "archive_limit", None):
        os.environ["SKEINWORK_ARCHIVE_LIMIT"] = str(limit)
    try:
        _check_streams(options.command)
        if options.command not in ("serve", "demo"):
            signal.signal(signal.SIGTERM, _end)
        return _COMMANDS[options.command](options)
    except UsageError as fault:
        _say(str(fault))
        return 2
    except SkeinworkError as fault:
        _say(str(fault))
        return 1
    except RuntimeError as fault:
        if "no locator available" not in str(fault):
            raise
        _say(_UNKEPT)
        return 2
    except BrokenPipeError:
        if sys.stderr is not None:
            sys.stderr.close()
    except OSError as fault:
        about = f" ({fault.filename})" if fault.filename else ""
        _say(f"The work broke off: {fault.strerror or fault}{about}.")
        return 1
    except KeyboardInterrupt:
        return 128 + signal.SIGINT
    except _EndedError:
        return 128 + signal.SIGTERM
    return 0


if __name__ == "__main__":
    sys.exit(main())
