"""The Lancaster stemmer with its published rules, and rules of the analyst's in the same notation.

C. D. Paice, *Another stemmer*, SIGIR Forum 24(3), 1990, 56-61. A rule is an ending written backwards,
``*`` where the word must be intact, how many letters go, what is put there, and ``>`` to go on or
``.`` to stop: ``sei3y>`` makes *-ies* *-y* and goes on.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from skeinwork.core.text.forms.base import Method

RULES = """
ai*2. a*1. bb1. city3s. ci2> cn1t> dd1. dei3y> deec2ss. dee1. de2> dooh4> e1> feil1v. fi2> gni3> gai3y.
ga2> gg1. ht*2. hsiug5ct. hsi3> i*1. i1y> ji1d. juf1s. ju1d. jo1d. jeh1r. jrev1t. jsim2t. jn1d. j1s.
lbaifi6. lbai4y. lba3> lbi3. lib2l> lc1. lufi4y. luf3> lu2. lai3> lau3> la2> ll1. mui3. mu*2. msi3>
mm1. nois4j> noix4ct. noi3> nai3> na2> nee0. ne2> nn1. pihs4> pp1. re2> rae0. ra2. ro2> ru2> rr1. rt1>
rei3y> sei3y> sis2. si2> ssen4> ss0. suo3> su*2. s*1> s0. tacilp4y. ta2> tnem4> tne3> tna3> tpir2b.
tpro2b. tcud1. tpmus2. tpec2iv. tulo2v. tsis0. tsi3> tt1. uqi3. ugo1. vis3j> vie0. vi2> ylb1> yli3y>
ylp0. yl2> ygo1. yhp1. ymo1. ypo1. yti3> yte3> ytl2. yrtsi5. yra3> yro3> yfi3. ycn2t> yca3> zi2> zy1s.
""".split()
PREFIXES = ("kilo", "micro", "milli", "intra", "ultra", "mega", "nano", "pico", "pseudo")
_WRITTEN = re.compile(r"([^\W\d_]+)(\*?)(\d)([^\W\d_]*)([>.])")


class Rule(NamedTuple):
    """What becomes of an ending; ``written`` is the rule in the notation."""

    written: str
    ending: str
    intact: bool
    less: int
    put: str
    goes_on: bool


def read_rule(written: str) -> Rule:
    """A rule of the published notation.

    Raises
    ------
    ValueError
        where it is none, or takes more letters than its ending has.

    >>> read_rule("sei3y>").ending, read_rule("sei3y>").put
    ('ies', 'y')
    """
    found = _WRITTEN.fullmatch("".join(written.split()).lower())
    if found is None:
        raise ValueError(
            f"“{written[:40]}” is not a rule: an ending written backwards, * where the word must be "
            "intact, how many letters go, what is put there, and > or . (as in sei3y>)"
        )
    backwards, intact, less, put, sign = found.groups()
    if int(less) > len(backwards):
        raise ValueError(f"“{written[:40]}” takes {less} letters of an ending of {len(backwards)}")
    return Rule(found.group(), backwards[::-1], bool(intact), int(less), put, sign == ">")


def endless(rules: Sequence[Rule]) -> bool:
    """Whether rules could follow one another for ever.

    They could where a way from one to the next comes back to where it began, with a word that is no
    shorter than before.
    """
    from scipy.sparse.csgraph import NegativeCycleError, johnson  # slow to load, and seldom wanted

    going = [rule for rule in rules if rule.goes_on]
    ways = np.zeros((len(going), len(going)))
    for one, rule in enumerate(going):
        left = rule.ending[: len(rule.ending) - rule.less] + rule.put
        shorter = rule.less - len(rule.put)
        for other, then in enumerate(going):
            if not then.intact and (left.endswith(then.ending) or then.ending.endswith(left)):
                # A round that comes out at 0 is endless too: each step is a little less than it is.
                ways[one, other] = shorter * (len(rules) + 1) - 1
    try:
        johnson(ways)
    except NegativeCycleError:
        return True
    return False


def _check(own: Sequence[Rule], published: Sequence[Rule]) -> None:
    """Raise ``ValueError`` with the first of some rules that lets all go on for ever."""
    for at, rule in enumerate(own):
        if rule.goes_on and endless([*own[: at + 1], *published]):
            raise ValueError(
                f"with “{rule.written}” the rules could go on for ever: let it stop (.), or take more "
                "letters than it puts"
            )


class Lancaster:
    """The stemmer of some rules.

    Parameters
    ----------
    own : rules that are tried before the published ones
    prefixes : whether the published prefixes are taken off first

    Raises
    ------
    ValueError
        where a rule is none, or the rules could go on for ever.
    """

    def __init__(self, own: Iterable[str] = (), prefixes: bool = False) -> None:
        first, published = [read_rule(each) for each in own], [read_rule(each) for each in RULES]
        _check(first, published)
        self._by_last: dict[str, list[Rule]] = {}
        for rule in (*first, *published):
            self._by_last.setdefault(rule.ending[-1], []).append(rule)
        self._prefixes = PREFIXES if prefixes else ()

    def stem(self, word: str) -> str:
        """The stem of a lower-case word.

        >>> [Lancaster().stem(word) for word in ("moorings", "maximum", "provision", "owed")]
        ['moor', 'maxim', 'provid', 'ow']
        """
        for prefix in self._prefixes:
            if word.startswith(prefix):
                word = word[len(prefix) :] or word
                break
        intact = True
        while word:
            for rule in self._by_last.get(word[-1], ()):
                if not word.endswith(rule.ending) or (rule.intact and not intact):
                    continue
                left = word[: len(word) - rule.less]
                if not _acceptable(left):
                    continue
                word, intact = left + rule.put, False
                break
            else:
                return word
            if not rule.goes_on:
                return word
        return word


def _acceptable(left: str) -> bool:
    """Two letters after a vowel at the beginning; else three, one of them a vowel or y."""
    if left[:1] in tuple("aeiou"):
        return len(left) >= 2
    return len(left) >= 3 and any(letter in "aeiouy" for letter in left)


METHOD = Method(
    "lancaster", "stems (Lancaster)", ("English",), 1,
    lambda options: Lancaster(options.rules, options.prefixes).stem,
)  # fmt: skip
