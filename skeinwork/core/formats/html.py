"""HTML pages: the text with its block structure, of the whole, the main part, or a selector's part.

A break stands where a block begins and ends; inline elements join. The main part is found by going
down from the body as long as one element holds most of the running text, links, menus and other
furniture aside.
"""

from __future__ import annotations

import re
from collections.abc import Container
from dataclasses import dataclass, field
from typing import Any

from selectolax.lexbor import LexborHTMLParser, SelectolaxError

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.format import Beginning, Format, of_text, up_to_a_space
from skeinwork.core.formats.records import Break, FileSettings, Records, Rejected, Row

_BLOCKS = frozenset(
    "address article aside blockquote body center dd details dialog dir div dl dt fieldset figcaption"
    " figure footer form h1 h2 h3 h4 h5 h6 header hr html li main menu nav ol p pre section summary"
    " table tbody tfoot thead tr ul caption option title".split()
)
_SILENT = frozenset(
    "script style noscript template head svg math iframe object audio video canvas select button"
    " input textarea datalist".split()
)
_FURNITURE = frozenset("nav aside footer form menu dialog".split())
_FURNISHED = re.compile(
    r"(?:^|[-_ ])(?:nav|navbar|navigation|menu|sidebar|footer|breadcrumbs?|cookies?|banner|share|"
    r"social|related|comments?|advert\w*|promo|pagination|skip)(?:$|[-_ ])",
    re.IGNORECASE,
)
_NESTING = re.compile(r"<(/?)(?:div|span|section|article|table|ul|ol|blockquote|font|center|b|i|em|strong|a)\b", re.I)
# Elements within each other that a page may have.
_NESTED = 3000
_BLANK = re.compile(r"\s*")
_BEGINS = re.compile(r"<!doctype html|<html|<head|<body", re.IGNORECASE)
# Of the text of a page, the share in one element from which that is the main part.
_MOST = 0.55
# Elements above one that are looked at.
_DEEPEST = 400


@dataclass
class _Text:
    """Text as it is put together: pieces, with at most one blank line between blocks."""

    pieces: list[str] = field(default_factory=list)
    breaks: list[Break] = field(default_factory=list)
    size: int = 0
    owed: int = 0
    space: bool = False

    def block(self, lines: int) -> None:
        self.owed = max(self.owed, lines) if self.size else 0
        self.space = False

    def add(self, text: str, kept: bool = False) -> None:
        words = text if kept else " ".join(text.split())
        if not words.strip():
            self.space = self.space or bool(text)
            return
        lead = "\n" * self.owed if self.owed else ""
        if not lead and self.size and (self.space or text[:1].isspace()) and not kept:
            lead = " "
        self.pieces += [lead, words]
        self.size += len(lead) + len(words)
        self.owed, self.space = 0, text[-1:].isspace() and not kept

    def heading(self, title: str) -> None:
        self.breaks.append(("heading", self.size + self.owed, title))


def _furniture(node: Any) -> bool:
    if node.tag in _FURNITURE or node.tag in _SILENT:
        return True
    given = node.attributes
    named = f"{given.get('class') or ''} {given.get('id') or ''}"
    hidden = "hidden" in given or given.get("aria-hidden") == "true"
    return (
        hidden
        or given.get("role") in ("navigation", "banner", "contentinfo", "search")
        or (len(named) > 1 and bool(_FURNISHED.search(named)))
    )


def _children(node: Any) -> list[Any]:
    found, child = [], node.child
    while child is not None:
        found.append(child)
        child = child.next
    return found


def _write(root: Any, out: _Text, furniture: bool) -> None:
    """Put the text below a node together; ``furniture`` says whether menus and the like go in."""
    waiting: list[tuple[Any, bool, bool]] = [(root, False, False)]
    while waiting:
        node, leaving, kept = waiting.pop()
        tag = node.tag
        if tag == "-text":
            out.add(node.text_content or "", kept)
            continue
        if tag in _SILENT or tag == "-comment":
            continue
        lines = 2 if tag in ("p", "h1", "h2", "h3", "h4", "h5", "h6", "blockquote", "pre") else 1
        if tag == "br":
            out.block(1)
        elif tag in ("td", "th"):
            out.space = True
        elif tag in _BLOCKS:
            out.block(lines)
        if leaving:
            continue
        if not furniture and node is not root and _furniture(node):
            continue
        if tag in ("h1", "h2", "h3"):
            out.heading(" ".join(node.text().split())[:200])
        waiting.append((node, True, kept))
        waiting += [(child, False, kept or tag == "pre") for child in reversed(_children(node))]


def _weights(body: Any) -> dict[int, float]:
    """Letters of running text below every element, by its ``mem_id``; links count a quarter."""
    weights: dict[int, float] = {}
    waiting: list[tuple[Any, tuple[int, ...], float]] = [(body, (), 1.0)]
    while waiting:
        node, above, factor = waiting.pop()
        if node.tag == "-text":
            size = len(" ".join((node.text_content or "").split())) * factor
            for each in above:
                weights[each] = weights.get(each, 0.0) + size
        elif not _furniture(node) or node is body:
            inner = factor * 0.25 if node.tag == "a" else factor
            chain = (*above, node.mem_id)[-_DEEPEST:]
            waiting += [(child, chain, inner) for child in _children(node)]
    return weights


def main_part(body: Any) -> Any:
    """The element that holds the running text of a page."""
    weights = _weights(body)
    node = body
    while True:
        total = weights.get(node.mem_id, 0.0)
        inner = [each for each in _children(node) if each.tag in _BLOCKS]
        heaviest = max(inner, key=lambda each: weights.get(each.mem_id, 0.0), default=None)
        if heaviest is None or heaviest.tag in ("p", "li", "tr", "blockquote", "pre"):
            return node
        if weights.get(heaviest.mem_id, 0.0) < _MOST * total or not total:
            return node
        node = heaviest


class DeepPageError(BadInputError):
    """A page whose elements lie too deep in each other."""


def parsed(page: str) -> LexborHTMLParser:
    """The tree of a page.

    Raises
    ------
    DeepPageError
        where elements lie so deep in each other that reading them would take for ever.
    """
    if page.count("<") > _NESTED:
        depth = deepest = 0
        for sign in _NESTING.finditer(page):
            depth = max(depth + (-1 if sign[1] else 1), 0)
            deepest = max(deepest, depth)
        if deepest > _NESTED:
            raise DeepPageError(f"A page has elements nested {deepest} deep, over the limit of {_NESTED}.")
    return LexborHTMLParser(page)


def page_text(page: str, settings: FileSettings) -> tuple[str, tuple[Break, ...]]:
    """The text of a page, and where its headings begin.

    Raises
    ------
    BadInputError
        for a selector that is none.
    """
    tree = parsed(page)
    return _part_text(tree, settings)


def _part_text(tree: Any, settings: FileSettings) -> tuple[str, tuple[Break, ...]]:
    out = _Text()
    if tree.body is None:
        return "", ()
    if settings.page == "selector":
        for node in selected(tree, settings.selector):
            out.block(2)
            _write(node, out, furniture=True)
    elif settings.page == "whole":
        _write(tree.body, out, furniture=True)
    else:
        _write(main_part(tree.body), out, furniture=False)
        if out.size < 20:
            out = _Text()
            _write(tree.body, out, furniture=True)
    return "".join(out.pieces), tuple(out.breaks)


def selected(tree: Any, selector: str) -> list[Any]:
    """The elements that a CSS selector names, without those inside another of them.

    Raises
    ------
    BadInputError
        where the selector is none.
    """
    if not selector.strip():
        raise BadInputError("Write a CSS selector, such as article or .entry p, or take the whole.")
    try:
        found = tree.css(selector)
    except (SelectolaxError, ValueError) as fault:
        raise BadInputError(f"“{selector}” is not a CSS selector.") from fault
    chosen = {node.mem_id: node for node in found}
    return [node for node in chosen.values() if not _inside(node, chosen)]


def _inside(node: Any, chosen: Container[int]) -> bool:
    above = node.parent
    while above is not None:
        if above.mem_id in chosen:
            return True
        above = above.parent
    return False


def _first(tree: Any, *places: tuple[str, str]) -> str:
    for css, attribute in places:
        node = tree.css_first(css)
        if node is not None:
            found = node.attributes.get(attribute) if attribute else node.text()
            if found and found.strip():
                return " ".join(found.split())
    return ""


def page_fields(tree: Any) -> dict[str, str]:
    """Title, language, date, author and address that a page states of itself."""
    found = {
        "title": _first(tree, ("title", ""), ("h1", ""), ('meta[property="og:title"]', "content")),
        "language": _first(tree, ("html", "lang"), ('meta[http-equiv="content-language"]', "content")),
        "date": _first(
            tree,
            ('meta[property="article:published_time"]', "content"),
            ('meta[name="date"]', "content"),
            ('meta[name="dcterms.date"]', "content"),
            ('meta[name="dc.date"]', "content"),
            ("time[datetime]", "datetime"),
            ("time", ""),
        ),
        "author": _first(tree, ('meta[name="author"]', "content"), ('[rel="author"]', "")),
        "source": _first(tree, ('link[rel="canonical"]', "href"), ('meta[property="og:url"]', "content")),
    }
    return {name: value for name, value in found.items() if value}


def read(text: str, name: str, settings: FileSettings) -> Records:
    """One page as one document, with the fields that it states of itself."""
    tree = parsed(text)
    words, breaks = _part_text(tree, settings)
    if not words and settings.page == "selector":
        reason = f"holds nothing that the selector “{settings.selector}” names"
        yield Rejected(1, reason, text[:1000])
        return
    yield Row(1, {**page_fields(tree), "text": words, "file": name}, breaks=breaks)


def looks_like_page(cells: list[str]) -> bool:
    """Whether most of the filled cells are HTML with blocks rather than text with a tag or two."""
    filled = [cell for cell in cells if cell.strip()]
    pages = sum(
        len(re.findall(r"</?(?:p|div|html|body|table|ul|h[1-6]|article)\b", cell[:5000])) >= 2 for cell in filled
    )
    return bool(filled) and pages > 0.6 * len(filled)


def _guess(given: Beginning) -> str | None:
    begin, at = given.begin, 0
    while begin.startswith("<!--", at) and (end := begin.find("-->", at)) >= 0:
        found = _BLANK.match(begin, end + 3)
        at = found.end() if found else end + 3
    return "html" if _BEGINS.match(begin, at) else None


FORMAT = Format(
    "html",
    "an HTML page",
    of_text(read),
    ("encoding", "page", "selector"),
    beginning=up_to_a_space,
    single=True,
    endings=(".htm", ".html", ".xhtml"),
    guess=_guess,
)
