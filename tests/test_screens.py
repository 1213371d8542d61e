"""What the screens show, had without a server."""

from __future__ import annotations

import json

from skeinwork.core.matrix.matrix import MatrixSettings
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.screens import (
    choose,
    clean,
    documents,
    evidence,
    fit,
    gather,
    label,
    reader,
    share,
    track,
    weigh,
)
from skeinwork.work.strands import Wanted
from skeinwork.work.track import TrackSettings
from skeinwork.work.view import View


def test_what_screens_show_can_be_had_without_a_server(view: View) -> None:
    """Each answer is typed, says what the results say, and can be written as JSON."""
    query = documents.DocumentQuery(filter=("harbour:Quellan",))
    quellan = view.corpus.column("harbour")
    assert quellan is not None
    expected = int((quellan.codes == quellan.values.index("Quellan")).sum())
    page = documents.page(view, query, lambda _: None, "-words", 0, 5)
    assert page.total == expected and len(page.rows) == 5
    assert [row.words for row in page.rows] == sorted((r.words for r in page.rows), reverse=True)
    step = documents.as_step(view, query, lambda _: None, out=True)
    assert step.in_words() == "leave out harbour Quellan"
    request = EvidenceRequest(topic=0, field="harbour", value="Quellan")
    found = evidence.answer(view, request, {0: "Storms"}, 0, 3)
    assert (found.title, found.where) == ("Storms", ["harbour Quellan"])
    assert 0 < found.total < expected and len(found.pieces) == 3
    topics = label.topics(view, {}, []).topics
    words = topics[0].title.split(" ")
    assert len(set(words)) == len(words) >= 3 and topics[0].title == topics[0].candidates[0]
    table = track.table(view, TrackSettings(group="harbour"), [0])
    assert sum(cell.documents for cell in table.cells) + table.left_out <= len(view.corpus)
    wanted = Wanted(weigh=MatrixSettings(longest=2, min_documents=3))
    terms = weigh.vocabulary(view, wanted, weigh.TermQuery(limit=5))
    assert terms.summary.terms == len(view.matrix.terms)
    answers = (
        page, step, found, table, terms, *topics, gather.overview(view),
        reader.read(view, 3, "topics", "", False),
        clean.specimen(view, wanted.clean, 2), fit.detail(view, view.fit_id or ""),
        choose.compared(view, []), *share.listed(view, "x", {}),
    )  # fmt: skip
    assert all(json.loads(each.model_dump_json()) for each in answers)
