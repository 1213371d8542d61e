"""The Lancaster stemmer with its published rules, and rules of the analyst's in the same notation.

C. D. Paice, *Another stemmer*, SIGIR Forum 24(3), 1990, 56-61. A rule is an ending written backwards,
``*`` where the word must be intact, how many letters go, what is put there, and ``>`` to go on or
``.`` to stop: ``sei3y>`` makes *-ies* *-y* and goes on.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from functools import lru_cache
from itertools import chain
from typing import ClassVar, NamedTuple

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.kinds import NoOptions
from skeinwork.core.text.forms.base import Form, Method, Place
from skeinwork.core.text.given_words import Words

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
# Whether rules come to an end has to be found out for each set anew.
MOST_RULES = 5000
# Rules in a round that are compared each with each.
FEW = 60
_WRITTEN = re.compile(r"([^\W\d_]{1,40})(\*?)(\d)([^\W\d_]{0,40})([>.])")


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


def _left(rule: Rule) -> str:
    """What stands at the end of a word after a rule."""
    return rule.ending[: len(rule.ending) - rule.less] + rule.put


def _suffixes(ending: str) -> list[str]:
    return [ending[at:] for at in range(len(ending) + 1)]


def _rounds(rules: Sequence[Rule]) -> list[list[Rule]]:
    """Rules of which each can come to follow itself, together with those on its way.

    A rule may follow where what was left ends with its ending, or its ending with what was left. Both
    lead over nodes for endings, so that the graph is as large as all endings together.
    """
    from scipy.sparse import coo_matrix  # slow to load, and seldom wanted
    from scipy.sparse.csgraph import connected_components

    count = len(rules)
    # Nodes for endings: of those that rules have, and of what any of them ends with.
    have = {ending: count + at for at, ending in enumerate({rule.ending for rule in rules})}
    ends: dict[str, int] = {}
    ways: list[tuple[int, int]] = [(have[rule.ending], at) for at, rule in enumerate(rules)]
    nodes = count + len(have)
    for at, rule in enumerate(rules):
        for suffix in _suffixes(rule.ending):
            ways.append((ends.setdefault(suffix, nodes + len(ends)), at))
        left = _left(rule)
        ways += [(at, have[suffix]) for suffix in _suffixes(left) if suffix in have]
        ways.append((at, ends.setdefault(left, nodes + len(ends))))
    size = nodes + len(ends)
    pairs = np.fromiter(chain.from_iterable(ways), dtype=np.int32).reshape(-1, 2)
    graph = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(size, size))
    _, part = connected_components(graph, connection="strong")
    members = np.bincount(part)
    found: dict[int, list[Rule]] = {}
    for at, rule in enumerate(rules):
        if members[part[at]] > 1:
            found.setdefault(int(part[at]), []).append(rule)
    return list(found.values())


def _without_end(rules: Sequence[Rule]) -> bool:
    """Whether a round of few rules can come back with a word that is no shorter, exactly."""
    from scipy.sparse.csgraph import NegativeCycleError, johnson

    ways = np.zeros((len(rules), len(rules)))
    for one, rule in enumerate(rules):
        left = _left(rule)
        for other, then in enumerate(rules):
            if left.endswith(then.ending) or then.ending.endswith(left):
                # A round that comes out at 0 is endless too: each step is a little less than it is.
                ways[one, other] = (rule.less - len(rule.put)) * (len(rules) + 1) - 1
    try:
        johnson(ways)
    except NegativeCycleError:
        return True
    return False


def endless(rules: Sequence[Rule]) -> list[Rule]:
    """Rules that could follow one another for ever; none where all words come to an end.

    They could where a way from one to the next comes back to where it began with a word that is no
    shorter. In a round of more than ``FEW`` rules one that makes words longer is enough to say so.
    """
    going = [rule for rule in rules if rule.goes_on and not rule.intact]
    for each in _rounds(going):
        longer = any(rule.less < len(rule.put) for rule in each)
        if len(each) <= FEW:
            if _without_end(each):
                return each
        elif longer:
            return each
        elif kept := _rounds([rule for rule in each if rule.less == len(rule.put)]):
            return kept[0]
    return []


@lru_cache(maxsize=128)
def _read(own: tuple[str, ...]) -> tuple[tuple[Rule, ...], str]:
    """The analyst's rules and the published ones, and what is wrong with them; both are remembered."""
    if len(own) > MOST_RULES:
        return (), f"there are {len(own):,} rules, and at most {MOST_RULES:,} can be taken"
    try:
        first = [read_rule(each) for each in own]
    except ValueError as fault:
        return (), str(fault)
    rules = (*first, *(read_rule(each) for each in RULES))
    if round_ := endless(rules):
        named = next((rule for rule in first if rule in round_), round_[0])
        return (), (
            f"with “{named.written}” the rules could go on for ever: let it stop (.), or take more letters than it puts"
        )
    return rules, ""


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
        self._by_last: dict[str, list[Rule]] = {}
        rules, fault = _read(tuple(own))
        if fault:
            raise ValueError(fault)
        for rule in rules:
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


class LancasterOptions(NoOptions):
    """Whether prefixes go, and rules that are tried before the published ones."""

    prefixes: bool = Field(
        False, description="prefixes go too (kilo, micro, …)", json_schema_extra={"with": {"method": "lancaster"}}
    )
    rules: Words = Field(
        (),
        description="own rules, before the published ones, as in sei3y>",
        json_schema_extra={"with": {"method": "lancaster"}},
    )

    @field_validator("rules")
    @classmethod
    def _rules_end(cls, rules: tuple[str, ...]) -> tuple[str, ...]:
        if rules:
            Lancaster(rules)
        return rules


class LancasterMethod(Method[LancasterOptions]):
    """Lancaster stems, for English."""

    name: ClassVar[str] = "lancaster"
    title: ClassVar[str] = "stems (Lancaster)"
    options: ClassVar[type[LancasterOptions]] = LancasterOptions

    def form(self, options: LancasterOptions, place: Place) -> Form:
        return Lancaster(options.rules, options.prefixes).stem

    def said(self, options: LancasterOptions) -> str:
        own = len(options.rules)
        return f"stems (Lancaster, {own} own {'rule' if own == 1 else 'rules'})" if own else self.title


METHOD = LancasterMethod()
