"""Lists of words with a name, a note and an origin, kept for all skeins."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.formats import lemma_table, word_list
from skeinwork.core.formats.export import to_csv
from skeinwork.core.formats.word_list import ListRead
from skeinwork.store.models import WordList
from skeinwork.store.store import Store
from skeinwork.work.strands.schemas import MOST_NAME, Moment

_SHOWN = 30
Form = Literal["txt", "csv", "json"]
Kind = Literal["words", "table"]


READERS: dict[Kind, Callable[[str, bytes], ListRead]] = {"words": word_list.read_list, "table": lemma_table.read_lines}
_MOST_ORIGIN = 500


class ListRecord(BaseModel):
    """A list of words, or a table of forms and lemmas; ``first`` are some of its lines.

    ``remarks`` say what was done with a file that was just read.
    """

    id: int
    kind: Kind
    name: str
    note: str
    origin: str
    sha256: str
    words: int
    created: Moment
    first: list[str]
    remarks: list[str] = []


class ListName(BaseModel):
    """What is said of a list."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=MOST_NAME)
    note: str = Field("", max_length=2000)
    origin: str = Field("", max_length=_MOST_ORIGIN)


class NewList(ListName):
    """A list of words written here, or merged from others."""

    words: list[str] = Field([], max_length=100_000)
    merged: list[int] = Field([], max_length=100, description="lists whose words it takes too")


def every(store: Store) -> list[ListRecord]:
    """All lists by name; these are called inside a connection."""
    return [record(store, row) for row in WordList.select().order_by(WordList.name, WordList.id)]


def record(store: Store, row: WordList, remarks: Sequence[str] = ()) -> ListRecord:
    words = _words(store, row)
    return ListRecord(
        id=row.id,
        kind=row.kind,
        name=row.name,
        note=row.note,
        origin=row.origin,
        sha256=row.sha256,
        words=len(words),
        created=row.created,
        first=list(words[:_SHOWN]),
        remarks=list(remarks),
    )


def _words(store: Store, row: WordList) -> tuple[str, ...]:
    try:
        return word_list.load(store.upload_path(row.sha256))
    except OSError:
        return ()


def find(number: int) -> WordList:
    found: WordList | None = WordList.get_or_none(WordList.id == number)
    if found is None:
        raise NotFoundError("That list is not there any more.")
    return found


def save(store: Store, said: ListName, words: Sequence[str], kind: Kind = "words") -> WordList:
    """Keep words, or the lines of a table, under a name."""
    tidy = list(words) if kind == "table" else word_list.tidy(words)
    if not tidy:
        raise BadInputError("A list needs a word at least.")
    data = word_list.kept(tidy)
    upload = store.keep_upload(f"{said.name}.txt", [data], len(data))
    made: WordList = WordList.create(
        kind=kind, name=said.name, note=said.note, origin=said.origin, sha256=upload.sha256, words=len(tidy)
    )
    return made


def make(store: Store, new: NewList) -> WordList:
    """A list of words written, and of those of other lists."""
    merged = [find(each) for each in new.merged]
    words = [*new.words, *(word for row in merged for word in _words(store, row))]
    for number, word in enumerate(new.words, start=1):
        word_list.check_word(word, f"Line {number}")
    names = "merged from " + ", ".join(row.name for row in merged) if merged else ""
    short = names if len(names) <= _MOST_ORIGIN else f"{names[: _MOST_ORIGIN - 2]} …"
    origin = new.origin or short
    return save(store, ListName(name=new.name, note=new.note, origin=origin), words)


def rename(row: WordList, said: ListName) -> None:
    WordList.update(name=said.name, note=said.note, origin=said.origin).where(WordList.id == row.id).execute()


def forget(row: WordList) -> None:
    """Take a list off the shelf; its words stay for the cleanings that were made with it."""
    WordList.delete().where(WordList.id == row.id).execute()


def read(store: Store, name: str, data: bytes, title: str, kind: Kind) -> ListRecord:
    """Keep the list of a file, called as it is asked for or as the file is."""
    found = READERS[kind](name, data)
    called = (title.strip() or name.rsplit(".", 1)[0] or "list")[:MOST_NAME]
    row = save(store, ListName(name=called, origin=name[:_MOST_ORIGIN]), found.words, kind)
    return record(store, row, found.remarks)


def as_file(store: Store, row: WordList, form: Form) -> bytes:
    """A list as text, CSV or JSON, from which the same list is read again."""
    words = _words(store, row)
    pairs = [line.split("\t", 1) for line in words] if row.kind == "table" else []
    if form == "json":
        holds: dict[str, Any] = {"forms": dict(pairs)} if pairs else {"words": list(words)}
        said = {"name": row.name, "note": row.note, "origin": row.origin, **holds}
        return (json.dumps(said, ensure_ascii=False, indent=1) + "\n").encode()
    if form == "csv":
        return to_csv(["form", "lemma"], pairs) if pairs else to_csv(["word"], ([w] for w in words))
    return word_list.kept(words) if pairs else word_list.written(words)
