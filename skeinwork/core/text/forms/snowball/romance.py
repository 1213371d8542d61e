"""What Spanish, Portuguese and Italian share: the standard endings, and what goes before them."""

from __future__ import annotations

from collections.abc import Mapping

from skeinwork.core.text.forms.snowball.endings import Endings


class Standard:
    """Standard endings: each lies in R2 where what is done about it does not say otherwise.

    What is done is what is put for the ending; or ``in RV``, where it lies there; or ``eir in RV``,
    where an e before it stays with it; or the name of endings in ``before`` that may go too, in R2.

    Parameters
    ----------
    before : by what is done; those behind ``in R1`` follow an ending that lies there
    then : what may go before one of these, by what is done and by it
    """

    def __init__(
        self, endings: Mapping[str, str], before: Mapping[str, str], then: Mapping[tuple[str, str], str]
    ) -> None:
        self._endings = Endings(endings)
        self._before = {done: Endings({listed: ""}) for done, listed in before.items()}
        self._then = then

    def without(self, word: str, vowel: int, first: int, second: int) -> str | None:
        """A word without its standard ending; None where it has none that may go."""
        ending, done = self._endings.find(word)
        bare = word[: -len(ending)] if ending else ""
        region = {"in R1": first, "in RV": vowel, "eir in RV": vowel}.get(done, second)
        if not ending or len(bare) < region:
            return None
        if done == "eir in RV":
            return bare + "ir" if bare.endswith("e") else None
        if done == "in RV":
            return bare
        if done not in self._before:
            return bare + done
        more = self._before[done].find(bare)[0]
        if not more or len(bare) - len(more) < second:
            return bare
        bare = bare[: -len(more)]
        then = self._then.get((done, more))
        goes = then and bare.endswith(then) and len(bare) - len(then) >= second
        return bare[: -len(then)] if then and goes else bare
