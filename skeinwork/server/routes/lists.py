"""Lists of words: saved, merged, brought in, taken out, used in any skein."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, File, Form, Response, UploadFile

from skeinwork.core.errors import BadInputError
from skeinwork.server.records import attachment, saves
from skeinwork.server.routing import Routes
from skeinwork.server.state import RecordNumber, StateOf
from skeinwork.store.models import WordList
from skeinwork.work.strands import word_lists
from skeinwork.work.strands.word_lists import ListName, ListRecord, NewList

router = Routes(prefix="/api/lists", tags=["lists"])
_MOST = 100_000_000


def get_list(state: StateOf, list_id: RecordNumber) -> WordList:
    with state.store.connection():
        return word_lists.find(list_id)


ListOf = Annotated[WordList, Depends(get_list)]


@router.get("")
def list_word_lists(state: StateOf) -> list[ListRecord]:
    """All lists of words on this machine."""
    with state.store.connection():
        return word_lists.every(state.store)


@router.post("")
def make_word_list(state: StateOf, new: NewList) -> ListRecord:
    """Save words under a name, with those of other lists where they are to be merged."""
    with state.store.connection():
        return word_lists.record(state.store, word_lists.make(state.store, new))


@router.post("/file")
def upload_word_list(
    state: StateOf,
    file: Annotated[UploadFile, File()],
    name: Annotated[str, Form(max_length=200)] = "",
    kind: Annotated[word_lists.Kind, Form()] = "words",
) -> ListRecord:
    """Bring a list in as text, CSV or JSON, or a table of forms and lemmas, tab-separated."""
    called = (file.filename or "list").replace("\\", "/").rsplit("/", 1)[-1][:255]
    limit = min(_MOST, state.upload_limit)
    data = file.file.read(limit + 1)
    if len(data) > limit:
        raise BadInputError(f"{called} is larger than the limit of {limit / 1e6:g} MB for lists. Bring it in in parts.")
    with state.store.connection():
        return word_lists.read(state.store, called, data, name, kind)


@router.put("/{list_id:int}")
def rename_word_list(state: StateOf, row: ListOf, said: ListName) -> list[ListRecord]:
    """Change what is said of a list."""
    with state.store.connection():
        word_lists.rename(row, said)
        return word_lists.every(state.store)


@router.delete("/{list_id:int}")
def forget_word_list(state: StateOf, row: ListOf) -> list[ListRecord]:
    """Take a list off the shelf; cleanings that use it keep its words."""
    with state.store.connection():
        word_lists.forget(row)
        return word_lists.every(state.store)


@router.get("/{list_id:int}/file", **saves("application/octet-stream"))
def word_list_as_file(state: StateOf, row: ListOf, form: word_lists.Form = "txt") -> Response:
    """A list to save: text, CSV or JSON."""
    data = word_lists.as_file(state.store, row, form)
    return attachment(data, f"{row.name}.{form}", "application/octet-stream")
