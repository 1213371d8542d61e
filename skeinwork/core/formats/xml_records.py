"""XML: the elements at a place as records. Document types and entities are refused."""

from __future__ import annotations

import re
from typing import Any

from lxml import etree

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import nested
from skeinwork.core.formats.format import Beginning, Format
from skeinwork.core.formats.records import Records, Row


def parse(data: bytes, name: str) -> Any:
    """The root element.

    Raises
    ------
    BadInputError
        for a document type declaration, or with the line where the file is not well-formed.
    """
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, remove_comments=True, remove_pis=True
    )
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as fault:
        raise BadInputError(f"{name} is not well-formed XML: {fault.msg}.") from fault
    about: Any = root.getroottree().docinfo
    if about.doctype:
        raise BadInputError(
            f"{name} declares a document type or entities, which could reach outside the file. "
            "Remove the declaration (<!DOCTYPE ...>) and bring it in again."
        )
    return root


def beginning(data: bytes) -> bytes:
    """The first part of a file with all that is open closed; its last element may lack some."""
    root = etree.fromstring(data, etree.XMLParser(recover=True, resolve_entities=False, no_network=True))
    return data if root is None else etree.tostring(root.getroottree())


def _local(name: str) -> str:
    """A name without its namespace, which stands before it in braces."""
    return name.rpartition("}")[2]


def _name(element: Any) -> str:
    return _local(element.tag)


def as_value(element: Any, depth: int = 0) -> Any:
    """An element as nested values: attributes as ``@name``; text with inline elements as one text."""
    attributes = {f"@{_local(name)}": value for name, value in element.items()}
    own = (element.text or "").strip()
    inner = list(element) if len(element) else []
    mixed = own or any((each.tail or "").strip() for each in inner)
    if not inner or mixed or depth >= nested.DEEPEST:
        text = "".join(element.itertext()).strip() if inner else own
        if not attributes:
            return text
        return {**attributes, **({"text": text} if text else {})}
    found: dict[str, list[Any]] = {}
    for each in inner:
        found.setdefault(_name(each), []).append(as_value(each, depth + 1))
    single = {name: values[0] if len(values) == 1 else values for name, values in found.items()}
    return {**attributes, **single}


def value_of(data: bytes, name: str) -> dict[str, Any]:
    """The whole file as nested values, for its outline."""
    root = parse(data, name)
    return {_name(root): as_value(root)}


def read(data: bytes, name: str, place: str) -> Records:
    """The elements at a place, each with the line it begins on."""
    root = parse(data, name)
    names = [step for step in place.split("/") if step]
    lines = [each.sourceline or 0 for each in _elements(root, names)]
    value = {_name(root): as_value(root)}
    for line, cells in zip(lines, nested.records_at(value, place), strict=False):
        yield Row(line, cells)


def _elements(root: Any, names: list[str]) -> list[Any]:
    found = [root] if names[:1] == [_name(root)] else []
    for step in names[1:]:
        found = [each for holder in found for each in holder if _name(each) == step]
    return found


def _guess(given: Beginning) -> str | None:
    """XML; what it holds may be a page."""
    begin = given.begin
    if not begin.startswith("<?xml") and not (given.suffix == ".xml" and begin.startswith("<")):
        return None
    return "html" if re.search(r"<html[\s>]", begin[:2000]) else "xml"


FORMAT = Format(
    "xml",
    "XML",
    lambda data, name, settings: read(data, name, settings.records),
    ("records",),
    beginning=beginning,
    guess=_guess,
)
