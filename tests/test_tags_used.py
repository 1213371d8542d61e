"""Parts of speech as they are used: at the command line, over the API, in the reader."""

from __future__ import annotations

import io
import re
import sys
from types import SimpleNamespace
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork import cli
from skeinwork.core.text.tagging import TAGS
from tests.conftest import bring_in

TABLE = "entry,text\n1,The pilots left the harbour.\n2,Fog at the outer light. The light failed!\n"


def run(given: str, *arguments: str, monkeypatch: pytest.MonkeyPatch) -> list[str]:
    out = io.BytesIO()
    monkeypatch.setattr(sys, "stdin", SimpleNamespace(buffer=io.BytesIO(given.encode())))
    monkeypatch.setattr(sys, "stdout", SimpleNamespace(buffer=out))
    assert cli.main(list(arguments)) == 0
    return out.getvalue().decode().split("\n")[:-1]


@pytest.mark.parametrize("more", [(), ("--pretokenised",)])
def test_a_line_for_every_document_and_a_tag_for_every_token(
    more: tuple[str, ...], monkeypatch: pytest.MonkeyPatch
) -> None:
    given = "The pilots waited .\n\n'' Fog . 3/4 and/or don't\n"
    lines = run(given, "tag", *more, monkeypatch=monkeypatch)
    assert len(lines) == 3 and lines[1] == ""
    assert lines[0] == "The/DET pilots/NOUN waited/VERB ./PUNCT"
    pairs = [each.rpartition("/") for each in lines[2].split(" ")]
    assert {tag for _, _, tag in pairs} <= set(TAGS)
    if more:
        assert [word for word, _, _ in pairs] == given.split("\n")[2].split()


def test_finer_tags_on_wish(monkeypatch: pytest.MonkeyPatch) -> None:
    (line,) = run("Pilots waited.\n", "tag", "--fine", monkeypatch=monkeypatch)
    assert line == "Pilots/NOUN:Number=Plur waited/VERB:Tense=Past ./PUNCT"


@pytest.fixture(scope="module")
def strand(served: TestClient) -> int:
    return bring_in(served, "tags.csv", TABLE.encode())


def get(served: TestClient, path: str, **query: Any) -> Any:
    return served.get(f"/api/{path}", params=query)


def test_a_document_and_a_text_with_tags_and_how_sure_they_are(served: TestClient, strand: int) -> None:
    found = get(served, f"strands/{strand}/tags", document=1).json()
    assert "".join(each["text"] for each in found["segments"]).startswith("Fog at the outer light.")
    light = [each for each in found["segments"] if each["text"] == "light"]
    assert [each["form"] for each in light] == ["NOUN", "NOUN"]
    assert all(0 < each["weight"] <= 1 for each in light) and found["note"] == ""
    assert {"tag": "NOUN", "name": "noun"} in found["tags"]
    typed = {"text": "They fish. THE FISH", "context": False, "capitals": False}
    words = [e for e in get(served, f"strands/{strand}/tags", **typed).json()["segments"] if e["form"]]
    assert len({each["form"] for each in words if each["text"].lower() == "fish"}) == 1
    assert get(served, f"strands/{strand}/tags", document=99).status_code == 404


def test_the_reader_marks_tags_at_the_words(served: TestClient, strand: int) -> None:
    found = get(served, f"strands/{strand}/documents/0", marks="tags").json()
    words = [each["text"] for each in found["segments"] if each["kind"] == "tag"]
    assert words == re.findall(r"\w+", "The pilots left the harbour.")
    assert [each["name"] for each in found["tags"]] == ["determiner", "noun", "verb"]
