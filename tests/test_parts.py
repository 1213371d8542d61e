"""Long documents in parts: together the whole, each of a size that a screen holds."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.errors import NotFoundError
from skeinwork.work.results import parts
from tests.conftest import bring_in, wait_for

WORDS = 30_000
LONG = " ".join(f"{'ferry' if at % 7 else 'Gales'} {at}." for at in range(WORDS // 2))


@given(st.text("aé潮🚢 \n", max_size=400), st.integers(1, 60), st.integers(0, 20))
def test_parts_are_the_text_and_cut_no_character(text: str, size: int, reach: int) -> None:
    data = text.encode()
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(parts, "SIZE", size)
        patch.setattr(parts, "_REACH", reach)
        borders = parts.borders(data)
        every = [parts.part_of(data, at) for at in range(len(borders) - 1)]
        assert b"".join(data[each.begin : each.end] for each in every) == data
        assert all(data[each.begin : each.end].decode() is not None for each in every)
        assert all(each.end - each.begin <= size + reach + 3 for each in every)
        places = np.arange(len(data))
        inside = [any(each.begin <= at < each.end for at in places) for each in every]
        assert parts.parts_with(data, places) == [at for at, holds in enumerate(inside) if holds]
        with pytest.raises(NotFoundError):
            parts.part_of(data, len(every))


@pytest.fixture(scope="module")
def strand(served: TestClient) -> int:
    made = bring_in(served, "long.csv", f'text\n"{LONG}"\n"a gale"\n"the ferry"\n'.encode())
    fit = {"topics": 2, "iterations": 20}
    record = served.get(f"/api/strands/{made}").json()
    record["wanted"]["weigh"] |= {"min_documents": 1, "max_share": 1.0}
    change = {"revision": record["revision"], "wanted": record["wanted"]}
    served.put(f"/api/strands/{made}/wanted", json=change)
    wait_for(served, served.post(f"/api/strands/{made}/rebuild").json()["job"])
    wait_for(served, served.post(f"/api/strands/{made}/fits", json=fit).json()["job"])
    return made


@pytest.mark.parametrize(
    "path",
    [
        "specimen?document=0",
        "tags?document=0",
        "documents/0?marks=cleaning",
        "documents/0?marks=tags",
        "documents/0?marks=topics",
        "documents/0?find=gales",
    ],
)
def test_all_parts_together_are_the_document(served: TestClient, strand: int, path: str) -> None:
    def get(part: int) -> Any:
        answer = served.get(f"/api/strands/{strand}/{path}&part={part}")
        assert answer.status_code == 200 and len(answer.content) < 1_500_000, answer.text[:300]
        return answer.json()

    count = served.get(f"/api/strands/{strand}/specimen?document=0").json()["parts"]
    assert count == len(LONG) // parts.SIZE + 1 > 5
    found = [get(part) for part in range(count)]
    text = "".join(each["text"] for one in found for each in one["segments"])
    assert text == LONG
    marked = sum(each["kind"] not in ("plain",) for one in found for each in one["segments"])
    assert marked >= WORDS // 14
    assert served.get(f"/api/strands/{strand}/{path}&part={count}").status_code == 404


def test_what_is_looked_for_opens_its_part(served: TestClient, strand: int) -> None:
    last = f"/api/strands/{strand}/documents/0?find={WORDS // 2 - 1}"
    found = served.get(last).json()
    assert found["part"] == found["parts"] - 1 and found["matching"] == [found["part"]]
    assert found["matches"] == 1 and "found" in {each["kind"] for each in found["segments"]}
    cleaned = [
        served.get(f"/api/strands/{strand}/documents/0?marks=cleaned&part={part}").json()
        for part in range(found["parts"])
    ]
    words = " ".join(each["text"] for one in cleaned for each in one["segments"]).split()
    assert words.count("ferri") == sum(at % 7 > 0 for at in range(WORDS // 2))
