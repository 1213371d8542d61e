"""Spanish."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions
from skeinwork.core.text.forms.snowball.romance import Standard

_REGIONS = Regions("aeiouáéíóúü")
_PRONOUN = Endings({"me se sela selo selas selos la le lo las les los nos": "delete"})
_BEFORE_PRONOUN = Endings(
    {
        "iéndo": "iendo",
        "ándo": "ando",
        "ár": "ar",
        "ér": "er",
        "ír": "ir",
        "ando iendo ar er ir": "stays",
        "yendo": "after u",
    }
)
_STANDARD = Standard(
    {
        "anza anzas ico ica icos icas ismo ismos able ables ible ibles ista istas oso osa osos osas"
        " amiento amientos imiento imientos": "",
        "adora ador ación adoras adores aciones ante antes ancia ancias": "and ic",
        "logía logías": "log",
        "ución uciones": "u",
        "encia encias": "ente",
        "amente": "in R1",
        "mente": "and able",
        "idad idades": "and abil",
        "iva ivo ivas ivos": "and at",
    },
    {"in R1": "iv os ic ad", "and ic": "ic", "and able": "ante able ible", "and abil": "abil ic iv", "and at": "at"},
    {("in R1", "iv"): "at"},
)
_Y_VERB = Endings({"ya ye yan yen yeron yendo yo yó yas yes yais yamos": "after u"})
_VERB = Endings(
    {
        "en es éis emos": "and u after g",
        "arían arías arán arás aríais aría aréis aríamos aremos ará aré erían erías erán erás eríais ería"
        " eréis eríamos eremos erá eré irían irías irán irás iríais iría iréis iríamos iremos irá iré"
        " aba ada ida ía ara iera ad ed id ase iese aste iste an aban ían aran ieran asen iesen aron ieron"
        " ado ido ando iendo ió ar er ir as abas adas idas ías aras ieras ases ieses ís áis abais íais"
        " arais ierais aseis ieseis asteis isteis ados idos amos ábamos íamos imos áramos iéramos"
        " iésemos ásemos": "delete",
    }
)
_RESIDUAL = Endings({"os a o á í ó": "delete", "e é": "and u after g"})
_PLAIN = str.maketrans("áéíóú", "aeiou")


def stem(word: str) -> str:
    """The stem of a lower-case word; acute accents go.

    >>> [stem(word) for word in ("amarrando", "navegación", "decirselo")]
    ['amarr', 'naveg', 'dec']
    """
    vowel = _REGIONS.romance(word)
    first, second = _REGIONS.both(word)
    word = _without_pronoun(word, vowel)
    without = _STANDARD.without(word, vowel, first, second)
    if without is None:
        without = _verb(word, vowel)
    return _residual(without, vowel).translate(_PLAIN)


def _without_pronoun(word: str, vowel: int) -> str:
    pronoun = _PRONOUN.find(word)[0]
    before = word[: -len(pronoun)] if pronoun else ""
    ending, done = _BEFORE_PRONOUN.find(before)
    bare = before[: -len(ending)] if done else ""
    if not done or len(bare) < vowel or (done == "after u" and not bare.endswith("u")):
        return word
    return before if done in ("stays", "after u") else bare + done


def _verb(word: str, vowel: int) -> str:
    ending = _Y_VERB.find(word, vowel)[0]
    if ending and word[: -len(ending)].endswith("u"):
        return word[: -len(ending)]
    ending, done = _VERB.find(word, vowel)
    bare = word[: -len(ending)] if done else word
    return bare[:-1] if done == "and u after g" and bare.endswith("gu") else bare


def _residual(word: str, vowel: int) -> str:
    ending, done = _RESIDUAL.find(word)
    bare = word[: -len(ending)] if done else word
    if not done or len(bare) < vowel:
        return word
    more = done == "and u after g" and bare.endswith("gu") and len(bare) - 1 >= vowel
    return bare[:-1] if more else bare
