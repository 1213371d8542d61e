"""One bad row, wherever it stands, costs that row alone; odd text is read, replaced and noted, or refused."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

import pytest

from skeinwork.core.corpus.gather import GatherSettings, Preview, gather, preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import readers
from skeinwork.core.formats.encoding import decode, detect
from skeinwork.core.formats.export import safe_cell
from skeinwork.core.formats.records import FileSettings

GOOD = [f"ice on the outer ramp {at}" for at in range(30)]
LONG = "fog at the ramp " * 300_000


def table(*odd: str, at: int = 0) -> bytes:
    rows = [f"{number},{text}" for number, text in enumerate(GOOD)]
    return "\n".join(["entry,text", *rows[:at], *odd, *rows[at:], ""]).encode()


def lines(*odd: str, at: int = 0) -> bytes:
    rows = [json.dumps({"entry": number, "text": text}) for number, text in enumerate(GOOD)]
    return "\n".join([*rows[:at], *odd, *rows[at:], ""]).encode()


def seen(path: Path, data: bytes) -> tuple[FileSettings, Preview]:
    path.write_bytes(data)
    begin = readers.head(path, path.name)
    settings = readers.detect_settings(begin, path.name)
    found = preview(begin, path.name, settings)
    return settings.model_copy(update={"roles": found.roles}), found


@pytest.mark.parametrize("at", [0, 1, 29])
@pytest.mark.parametrize(
    ("name", "odd", "reason"),
    [
        ("a.csv", "99,i\0ce", "holds NUL bytes"),
        ("a.csv", "99", "has 1 cell"),
        ("a.csv", f'99,"{LONG * 5}"', "has a cell of over 20,000,000 characters"),
        ("a.jsonl", "{bad", "is not JSON"),
        ("a.txt", "no json", "is not JSON"),
        ("a.jsonl", '{"entry": 99, "text": "ice', "is not JSON"),
        ("a.jsonl", f'{{"entry": {"9" * 5000}}}', "is not JSON"),
        ("a.jsonl", "[1, 2]", "not an object"),
    ],
)
def test_a_bad_row_is_left_out_with_its_reason_and_the_rest_comes_in(
    tmp_path: Path, name: str, odd: str, reason: str, at: int
) -> None:
    data = table(odd, at=at) if name == "a.csv" else lines(odd, at=at)
    settings, found = seen(tmp_path / name, data)
    if len(data) < 1_000_000 or at == 0:
        assert [reason in each.reason for each in found.rejected] == [True]
    corpus, trouble = gather([(tmp_path / name, name)], GatherSettings(files=(settings,)))
    assert corpus.texts() == GOOD
    assert [each.raw is not None and reason in each.reason for each in trouble] == [True]


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("quoted.csv", table(f'98,"{LONG}"')),
        ("bare.csv", table(f"98,{LONG}")),
        ("a.txt", (LONG + "\n" + "\n".join(GOOD)).encode()),
        ("a.jsonl", lines(json.dumps({"entry": 98, "text": LONG}))),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_a_first_text_of_five_megabytes_hides_nothing(tmp_path: Path, name: str, data: bytes) -> None:
    settings, found = seen(tmp_path / name, data)
    assert len(found.rows) == len(GOOD) + 1 and not found.rejected
    corpus, _ = gather([(tmp_path / name, name)], GatherSettings(files=(settings,)))
    assert len(corpus) == len(GOOD) + 1


def test_identifiers_that_recur_are_numbered_or_it_is_said_that_they_are_none(tmp_path: Path) -> None:
    _, few = seen(tmp_path / "few.csv", table("3,again"))
    assert few.roles["entry"] == "identifier" and not few.remarks
    _, many = seen(tmp_path / "many.csv", table(*(f"{at},again" for at in range(20))))
    assert many.roles["entry"] != "identifier"
    assert many.remarks[0].startswith("20 of the first 50 values of “entry” occurred before")


def notes(path: Path, data: bytes) -> tuple[list[str], list[str]]:
    settings, _ = seen(path, data)
    corpus, trouble = gather([(path, path.name)], GatherSettings(files=(settings,)))
    return corpus.texts(), [each.reason for each in trouble]


@pytest.mark.parametrize("half", ["\\ud800", "\\udfff", "\\udc00\\ud800"])
def test_halves_of_characters_are_replaced_and_noted(tmp_path: Path, half: str) -> None:
    texts, reasons = notes(tmp_path / "a.jsonl", lines(f'{{"entry": 99, "text": "ice {half}!"}}'))
    assert texts[0] == f"ice {'�' * (len(half) // 6)}!" and texts[1:] == GOOD
    assert reasons == ["holds NULs or halves of characters; shown as �"]
    pair, none = notes(tmp_path / "b.jsonl", lines('{"entry": 99, "text": "ice \\ud83d\\ude00"}'))
    assert pair[0] == "ice 😀" and not none


@pytest.mark.parametrize("encoding", ["utf-8-sig", "utf-16", "utf-16-be", "utf-32", "utf-32-le", "utf-32-be"])
def test_every_width_of_unicode_is_known_with_its_mark_or_without(tmp_path: Path, encoding: str) -> None:
    assert notes(tmp_path / "a.csv", table().decode().encode(encoding)) == (GOOD, [])


def test_a_second_byte_order_mark_is_no_part_of_a_name(tmp_path: Path) -> None:
    settings, found = seen(tmp_path / "a.csv", b"\xef\xbb\xbf" * 2 + table())
    assert found.columns == ["entry", "text"] and settings.roles["entry"] == "identifier"


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "utf-16-be"])
@pytest.mark.parametrize("inside", ["<!DOCTYPE r>", '<!DOCTYPE r [<!ENTITY x "ice">]>'])
def test_document_types_are_refused_in_any_encoding_and_only_they(tmp_path: Path, encoding: str, inside: str) -> None:
    head = f"<?xml version='1.0' encoding='{encoding.removesuffix('-be')}'?>"
    with pytest.raises(BadInputError, match="declares a document type"):
        seen(tmp_path / "a.xml", f"{head}{inside}<r><e>ice</e><e>fog</e></r>".encode(encoding))
    text = f"{head}<r><e><![CDATA[{inside}]]></e><e>fog</e></r>".encode(encoding)
    if encoding != "utf-16-be":  # without its mark the parser goes by the declaration
        assert notes(tmp_path / "b.xml", text)[0] == [inside, "fog"]


def test_random_bytes_are_no_text_in_any_script() -> None:
    for seed in range(20):
        data = random.Random(seed).randbytes(4000)
        with pytest.raises(BadInputError, match="is not text"):
            readers.detect_settings(data, "a.txt")
        high = bytes(byte | 128 for byte in data)
        assert detect(high) == "cp1252"


@pytest.mark.parametrize("name", ["undefined", "idna", "hex", "zip", "no-such", "x" * 40, "a\0b"])
def test_encodings_that_are_none_of_texts_are_refused(name: str) -> None:
    with pytest.raises(BadInputError, match="There is no encoding"):
        decode("Grüße".encode(), name)


@pytest.mark.parametrize("begin", ["=", "\n=", "\r\n=", "＝", "＋", "－", "＠", "\ufeff=", "\u200b@", "\t="])
def test_cells_that_a_spreadsheet_could_run_get_an_apostrophe(begin: str) -> None:
    value: Any = f"{begin}1+1"
    assert safe_cell(value) == f"'{value}"
    assert safe_cell("a = 1") == "a = 1" and safe_cell(-1) == "-1"
