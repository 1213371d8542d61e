"""What the analyst says of vectors of words and documents, and of maps."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.matrix.weighting import Weighting
from skeinwork.core.relate.settings import USUAL

_SEED = Field(1, ge=0, le=2**31 - 1)
MOST_DIMENSIONS = 500


class VectorFile(BaseModel):
    """A file of vectors by its checksum, with the analyst's name for it."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field("", max_length=400)


class WordVectorsSettings(BaseModel):
    """How words become vectors: by the words that stand near them, or from a file."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    window: int = Field(5, ge=1, le=50, description="words to either side that count as near")
    dimensions: int = Field(100, ge=2, le=MOST_DIMENSIONS, description="numbers of a vector")
    shift: float = Field(1.0, ge=1, le=100, description="how many times as often as by chance a context has to be near")
    smoothing: float = Field(0.75, ge=0.1, le=1, description="power of the frequency of contexts; less: rare ones less")
    most: int = Field(40_000, ge=3, le=200_000, description="words, the most frequent")
    file: VectorFile | None = Field(None, description="from this file instead: a word and its numbers a line")
    seed: int = _SEED


class DocumentVectorsSettings(BaseModel):
    """How documents become vectors."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    of: Literal["terms", "words", "field", "file"] = Field(
        "terms", description="weights of terms, mean of word vectors, a field, or a file beside the documents"
    )
    weighting: Weighting = USUAL
    dimensions: int = Field(100, ge=2, le=MOST_DIMENSIONS, description="numbers of a vector (terms)")
    words: WordVectorsSettings = Field(WordVectorsSettings(), description="the word vectors (words)")
    field: str | None = Field(None, max_length=200, description="a field with the role vector")
    file: VectorFile | None = Field(None, description="an array (.npy) or a Parquet table")
    key: str | None = Field(
        None, max_length=200, description="the field that the first column of texts in the file names; none: by order"
    )
    seed: int = _SEED


class MapSettings(BaseModel):
    """How items are laid out."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    neighbours: int = Field(15, ge=2, le=200, description="of each item that are to stay near")
    tightness: float = Field(0.5, ge=0.01, le=20, description="how closely what is alike draws together")
    seed: int = _SEED
