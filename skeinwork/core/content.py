"""Whether arrays and words that were read are what they have to be, before anything counts with them.

Compiled loops trust an index. What stands in a file may have been written by anybody, so every array
is compared with the others that it goes with when it is read.
"""

from __future__ import annotations

from typing import Any, cast

import numpy as np
from numpy.typing import ArrayLike, DTypeLike, NDArray

from skeinwork.core.errors import SkeinworkError


class ContentError(SkeinworkError):
    """Something read from a file is not what its writer could have written; says what."""


def expect(holds: object, what: str) -> None:
    """Raise ``ContentError`` with ``what`` unless something holds."""
    if not holds:
        raise ContentError(what)


def expect_array(
    name: str,
    array: object,
    dtype: DTypeLike | tuple[DTypeLike, ...],
    shape: tuple[int | None, ...],
    low: ArrayLike | None = None,
    high: ArrayLike | None = None,
) -> NDArray[Any]:
    """An array of one type and shape, in C order, with its numbers within bounds.

    Parameters
    ----------
    dtype : one that it may have, or several
    shape : of every axis its length; None where any will do
    low, high : the least and the largest number there may be, or arrays of them; None: not looked at.
        Floating-point numbers have to be finite in any case

    Raises
    ------
    ContentError
        naming the array and what is wrong with it.
    """
    if not isinstance(array, np.ndarray):
        raise ContentError(f"{name} is no array")
    kinds = [np.dtype(each) for each in (dtype if isinstance(dtype, tuple) else (dtype,))]
    expect(array.dtype in kinds, f"{name} holds {array.dtype} where {kinds[0]} is wanted")
    fits = array.ndim == len(shape) and all(
        wanted is None or length == wanted for length, wanted in zip(array.shape, shape, strict=True)
    )
    wanted = " × ".join("any" if each is None else str(each) for each in shape)
    expect(fits, f"{name} has the shape {array.shape} where {wanted} is wanted")
    expect(array.flags.c_contiguous, f"{name} is not stored row after row")
    if array.dtype.kind == "f":
        expect(np.isfinite(array).all(), f"{name} holds what is no number")
    if array.size and low is not None:
        expect(np.all(array >= np.asarray(low)), f"{name} holds a number that is too small")
    if array.size and high is not None:
        expect(np.all(array <= np.asarray(high)), f"{name} holds a number that is too large")
    return cast(NDArray[Any], array)


def expect_pointer(name: str, array: object, rows: int | None, total: int) -> None:
    """An int64 array that cuts ``total`` things into ``rows`` parts (None: any number of them).

    Raises
    ------
    ContentError
        unless it begins with 0, never falls, and ends with ``total``.
    """
    pointer = expect_array(name, array, np.int64, (None if rows is None else rows + 1,))
    expect(len(pointer) and pointer[0] == 0, f"{name} does not begin with 0")
    expect(np.all(pointer[1:] >= pointer[:-1]), f"{name} falls")
    expect(pointer[-1] == total, f"{name} does not end with {total}")


def expect_words(name: str, words: object, count: int | None = None) -> None:
    """A list of strings, so many of them (None: any number).

    Raises
    ------
    ContentError
        where it is none.
    """
    if not isinstance(words, list):
        raise ContentError(f"{name} is no list")
    expect(all(type(each) is str for each in words), f"{name} holds what is no word")
    expect(count is None or len(words) == count, f"{name} holds {len(words)} words where {count} are wanted")


def on_borders(data: NDArray[np.uint8], places: NDArray[np.int64]) -> bool:
    """Whether no place, int64[n], cuts a character of UTF-8 text in two; the end of the text is a border.

    >>> text = np.frombuffer("né".encode(), np.uint8)
    >>> on_borders(text, np.array([1, 3])), on_borders(text, np.array([2]))
    (True, False)
    """
    inside = places[places < len(data)]
    return bool(np.all((data[inside] & 0xC0) != 0x80))
