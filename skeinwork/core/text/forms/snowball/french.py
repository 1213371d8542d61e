"""French."""

from __future__ import annotations

from skeinwork.core.text.forms.snowball.endings import Endings, Regions

_REGIONS = Regions("aeiouyâàëéêèïîôûù")
_VOWELS = _REGIONS.vowels
_STANDARD = Endings(
    {
        "ance iqUe isme able iste eux ances iqUes ismes ables istes": "R2",
        "atrice ateur ation atrices ateurs ations": "R2, ic",
        "logie logies": "R2 log",
        "usion ution usions utions": "R2 u",
        "ence ences": "R2 ent",
        "ement ements": "ement",
        "ité ités": "R2, abil",
        "if ive ifs ives": "R2, at",
        "eaux": "eau",
        "aux": "R1 al",
        "euse euses": "euse",
        "issement issements": "issement",
        "amment": "RV ant",
        "emment": "RV ent",
        "ment ments": "after a vowel",
    }
)
_BEFORE_EMENT = Endings({"iv": "iv", "eus": "eus", "abl iqU": "R2", "ièr Ièr": "RV i"})
_BEFORE_ITE = Endings({"abil": "abl", "ic": "iqU", "iv": ""})
_I_VERB = Endings(
    {
        "îmes ît îtes i ie ies ir ira irai iraIent irais irait iras irent irez iriez irions irons iront is"
        " issaIent issais issait issant issante issantes issants isse issent isses issez issiez issions"
        " issons it": "after a consonant"
    }
)
_VERB = Endings(
    {
        "ions": "R2",
        "é ée ées és èrent er era erai eraIent erais erait eras erez eriez erions erons eront ez iez": "delete",
        "âmes ât âtes a ai aIent ais ait ant ante antes ants as asse assent asses assiez assions": "and e",
    }
)
_RESIDUAL = Endings({"ion": "R2 after s, t", "ier ière Ier Ière": "i", "e": ""})
_BEFORE_RV = ("par", "col", "tap")
_BACK = str.maketrans("IUY", "iuy")


class _Word:
    """A word at work, and where its regions begin; steps return whether they changed it."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.vowel = _rv(text)
        self.first, self.second = _REGIONS.both(text)

    def delete(self, ending: str, region: int = 0, put: str = "") -> bool:
        """Replace an ending that the word has, where it lies in a region."""
        at = len(self.text) - len(ending)
        if not self.text.endswith(ending) or at < region:
            return False
        self.text = self.text[:at] + put
        return True


def stem(word: str) -> str:
    """The stem of a lower-case word.

    >>> [stem(word) for word in ("amarraient", "navigation", "continuellement")]
    ['amarr', 'navig', 'continuel']
    """
    at_work = _Word(_marked(word))
    if _standard(at_work) or _i_verb(at_work) or _verb(at_work):
        if not at_work.delete("Y", put="i"):
            at_work.delete("ç", put="c")
    else:
        _residual(at_work)
    text = _unaccented(_undoubled(at_work.text)).translate(_BACK)
    return text.replace("He", "ë").replace("Hi", "ï").replace("H", "")


def _marked(word: str) -> str:
    """Letters that are no vowels as capitals: u and i between vowels, y beside one, u after q."""
    letters = list(word.replace("ë", "He").replace("ï", "Hi"))
    for at, here in enumerate(letters[:-1]):
        following, beyond = letters[at + 1], "".join(letters[at + 2 : at + 3])
        vowel = letters[at] in _VOWELS
        if vowel and following in ("u", "i") and (beyond in _VOWELS or beyond == "H"):
            letters[at + 1] = following.upper()
        elif vowel and following == "y":
            letters[at + 1] = "Y"
        elif letters[at] == "y" and (following in _VOWELS or following == "H"):
            letters[at] = "Y"
        elif here == "q" and following == "u":
            letters[at + 1] = "U"
    return "".join(letters)


def _rv(word: str) -> int:
    """Behind the third letter of words that begin with two vowels or so; else behind the first inner vowel."""
    if len(word) > 2 and word[0] in _VOWELS and word[1] in _VOWELS:
        return 3
    if word.startswith(_BEFORE_RV):
        return 3
    return _REGIONS.past_vowel(word, 1)


def _standard(word: _Word) -> bool:
    """A standard ending; False where the endings of verbs are to be tried."""
    ending, done = _STANDARD.find(word.text)
    if not done:
        return False
    if done in ("eau", "R1 al"):
        return word.delete(ending, put="eau") if done == "eau" else word.delete(ending, word.first, "al")
    if done.startswith("RV "):
        word.delete(ending, word.vowel, put=done[3:])
        return False
    if done == "after a vowel":
        at = len(word.text) - len(ending) - 1
        if at >= word.vowel and word.text[at] in _VOWELS:
            word.delete(ending)
        return False
    if done == "euse":
        return word.delete(ending, word.second) or word.delete(ending, word.first, put="eux")
    if done == "issement":
        at = len(word.text) - len(ending)
        after_consonant = at > 0 and word.text[at - 1] not in _VOWELS
        return after_consonant and word.delete(ending, word.first)
    if done == "ement":
        return word.delete(ending, word.vowel) and _before_ement(word)
    region, _, put = done.partition(" ")
    if not word.delete(ending, word.second, put="" if region.endswith(",") else put):
        return False
    if done == "R2, ic":
        _ic(word)
    elif done == "R2, abil":
        more, put = _BEFORE_ITE.find(word.text)
        if more and not word.delete(more, word.second) and more != "iv":
            word.delete(more, put=put)
    elif done == "R2, at" and word.delete("at", word.second):
        _ic(word)
    return True


def _ic(word: _Word) -> None:
    if not word.delete("ic", word.second):
        word.delete("ic", put="iqU")


def _before_ement(word: _Word) -> bool:
    more, done = _BEFORE_EMENT.find(word.text)
    if done == "iv":
        if word.delete(more, word.second):
            word.delete("at", word.second)
    elif done == "eus":
        if not word.delete(more, word.second):
            word.delete(more, word.first, put="eux")
    elif done == "R2":
        word.delete(more, word.second)
    elif done:
        word.delete(more, word.vowel, put="i")
    return True


def _i_verb(word: _Word) -> bool:
    ending = _I_VERB.find(word.text, word.vowel)[0]
    before = len(word.text) - len(ending) - 1
    if not ending or before < word.vowel or word.text[before] in _VOWELS or word.text[before] == "H":
        return False
    return word.delete(ending)


def _verb(word: _Word) -> bool:
    ending, done = _VERB.find(word.text, word.vowel)
    if not done or not word.delete(ending, word.second if done == "R2" else 0):
        return False
    if done == "and e":
        word.delete("e", word.vowel)
    return True


def _residual(word: _Word) -> None:
    text = word.text
    if text.endswith("s") and len(text) > 1 and (text.endswith("His") or text[-2] not in "aiouès"):
        word.delete("s")
    ending, done = _RESIDUAL.find(word.text, word.vowel)
    if done == "R2 after s, t":
        before = len(word.text) - len(ending) - 1
        if before >= word.vowel and word.text[before] in "st":
            word.delete(ending, word.second)
    elif ending:
        word.delete(ending, put=done)


def _undoubled(text: str) -> str:
    return text[:-1] if text.endswith(("enn", "onn", "ett", "ell", "eill")) else text


def _unaccented(text: str) -> str:
    """An é or è before the consonants at the end loses its accent."""
    at = len(text) - 1
    while at >= 0 and text[at] not in _VOWELS:
        at -= 1
    accented = 0 <= at < len(text) - 1 and text[at] in "éè"
    return text[:at] + "e" + text[at + 1 :] if accented else text
