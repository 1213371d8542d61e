"""Italian."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions, between_vowels
from skeinwork.core.text.forms.snowball.romance import Standard

_REGIONS = Regions("aeiouàèìòù")
_GRAVE = str.maketrans("áéíóú", "àèìòù")
_PRONOUN = Endings(
    {
        "ci gli la le li lo mi ne si ti vi sene gliela gliele glieli glielo gliene mela mele meli melo mene"
        " tela tele teli telo tene cela cele celi celo cene vela vele veli velo vene": "delete"
    }
)
_BEFORE_PRONOUN = Endings({"ando endo": "", "ar er ir": "e"})
_STANDARD = Standard(
    {
        "anza anze ico ici ica ice iche ichi ismo ismi abile abili ibile ibili ista iste isti istà istè istì"
        " oso osi osa ose mente atrice atrici ante anti": "",
        "azione azioni atore atori": "and ic",
        "logia logie": "log",
        "uzione uzioni usione usioni": "u",
        "enza enze": "ente",
        "amento amenti imento imenti": "in RV",
        "amente": "in R1",
        "ità": "and abil",
        "ivo ivi iva ive": "and at",
    },
    {"in R1": "iv os ic abil", "and ic": "ic", "and abil": "abil ic iv", "and at": "at"},
    {("in R1", "iv"): "at", ("and at", "at"): "ic"},
)
_VERB = Endings(
    {
        "ammo ando ano are arono asse assero assi assimo ata ate ati ato ava avamo avano avate avi avo emmo"
        " enda ende endi endo erà erai eranno ere erebbe erebbero erei eremmo eremo ereste eresti erete erò"
        " erono essero ete eva evamo evano evate evi evo Yamo iamo immo irà irai iranno ire irebbe irebbero"
        " irei iremmo iremo ireste iresti irete irò irono isca iscano isce isci isco iscono issero ita ite"
        " iti ito iva ivamo ivano ivate ivi ivo ono uta ute uti uto ar ir": "delete"
    }
)
_BACK = str.maketrans("UI", "ui")


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("ormeggiando", "navigazione", "portandola")]
    ['ormegg', 'navig', 'port']
    """
    word = word.translate(_GRAVE).replace("qu", "qU")
    word = between_vowels(_REGIONS, word, {"u": "U", "i": "I"})
    vowel = _REGIONS.romance(word)
    first, second = _REGIONS.both(word)
    word = _without_pronoun(word, vowel)
    without = _STANDARD.without(word, vowel, first, second)
    if without is None:
        ending = _VERB.find(word, vowel)[0]
        without = word[: -len(ending)] if ending else word
    return _without_vowel(without, vowel).translate(_BACK)


def _without_pronoun(word: str, vowel: int) -> str:
    pronoun = _PRONOUN.find(word)[0]
    before = word[: -len(pronoun)] if pronoun else ""
    ending, after = _BEFORE_PRONOUN.find(before)
    return before + after if ending and len(before) - len(ending) >= vowel else word


def _without_vowel(word: str, vowel: int) -> str:
    if word[-1:] in tuple("aeioàèìò") and len(word) - 1 >= vowel:
        word = word[:-1]
        if word.endswith("i") and len(word) - 1 >= vowel:
            word = word[:-1]
    ends = word.endswith(("ch", "gh")) and len(word) - 2 >= vowel
    return word[:-1] if ends else word
