"""Portuguese. The nasal vowels ã and õ are taken as a~ and o~."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions
from skeinwork.core.text.forms.snowball.romance import Standard

_REGIONS = Regions("aeiouáéíóúâêô")
_STANDARD = Standard(
    {
        "eza ezas ico ica icos icas ismo ismos ável ível ista istas oso osa osos osas amento amentos"
        " imento imentos adora ador aça~o adoras adores aço~es ante antes ância": "",
        "logia logias": "log",
        "uça~o uço~es": "u",
        "ência ências": "ente",
        "amente": "in R1",
        "mente": "and avel",
        "idade idades": "and abil",
        "iva ivo ivas ivos": "and at",
        "ira iras": "eir in RV",
    },
    {"in R1": "iv os ic ad", "and avel": "ante avel ível", "and abil": "abil ic iv", "and at": "at"},
    {("in R1", "iv"): "at"},
)
_VERB = Endings(
    {
        "ada ida ia aria eria iria ará ara erá era irá ava asse esse isse aste este iste ei arei erei irei"
        " am iam ariam eriam iriam aram eram iram avam em arem erem irem assem essem issem ado ido ando"
        " endo indo ara~o era~o ira~o ar er ir as adas idas ias arias erias irias arás aras erás eras irás"
        " avas es ardes erdes irdes ares eres ires asses esses isses astes estes istes is ais eis íeis"
        " aríeis eríeis iríeis áreis areis éreis ereis íreis ireis ásseis ésseis ísseis áveis ados idos"
        " ámos amos íamos aríamos eríamos iríamos áramos éramos íramos ávamos emos aremos eremos iremos"
        " ássemos êssemos íssemos imos armos ermos irmos eu iu ou ira iras": "delete"
    }
)
_RESIDUAL = Endings({"os a i o á í ó": "delete"})


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("amarrando", "navegação", "rapidamente")]
    ['amarr', 'naveg', 'rapid']
    """
    word = word.replace("ã", "a~").replace("õ", "o~")
    vowel = _REGIONS.romance(word)
    first, second = _REGIONS.both(word)
    without = _STANDARD.without(word, vowel, first, second)
    if without is None:
        without = _verb(word, vowel)
    if without is None:
        word = _residual(word, vowel)
    else:
        ends = without.endswith("ci") and len(without) - 1 >= vowel
        word = without[:-1] if ends else without
    return _form(word, vowel).replace("a~", "ã").replace("o~", "õ")


def _verb(word: str, vowel: int) -> str | None:
    ending = _VERB.find(word, vowel)[0]
    return word[: -len(ending)] if ending else None


def _residual(word: str, vowel: int) -> str:
    ending = _RESIDUAL.find(word)[0]
    return word[: -len(ending)] if ending and len(word) - len(ending) >= vowel else word


def _form(word: str, vowel: int) -> str:
    if word.endswith("ç"):
        return word[:-1] + "c"
    bare = word[:-1]
    if word[-1:] not in ("e", "é", "ê") or len(bare) < vowel:
        return word
    more = bare.endswith(("gu", "ci")) and len(bare) - 1 >= vowel
    return bare[:-1] if more else bare
