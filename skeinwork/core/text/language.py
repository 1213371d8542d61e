"""The language of a document, by its script or its share of function words, or *unsure*.

A document is in the language whose most frequent function words make up the largest share of its
words, provided that there are enough of them and that no other language comes near.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.text.segment import Segments

UNSURE = -1
LEAST_SHARE = 0.10
LEAST_WORDS = 3
LEAD = 1.4
_FUNCTION_WORDS = {
    "English": "the of and to in is was that it for on with as at by from this be are were had has have"
    " not but they which you all their been would there what when who will more if no out so up into"
    " than then them these some could our its him his her she he we an or i my me your do did",
    "German": "der die und in den von zu das mit sich des auf für ist im dem nicht ein eine als auch es an"
    " werden aus er hat dass sie nach wird bei einer um am sind noch wie einem über einen so zum war"
    " haben nur oder aber vor zur bis mehr durch man sein wurde wenn ich wir uns ihr kein doch",
    "French": "de la le et les des en un du une que est pour qui dans par plus pas au sur ne se ce il sont"
    " aux avec son ou mais comme nous cette ont leur elle tout fait être été sa ses même deux aussi"
    " ces très sans je vous y bien où dont entre après avait était lui si peut on c'est qu'il d'un",
    "Spanish": "de la que el en y a los se del las un por con no una su para es al lo como más o pero sus le"
    " ha me si sin sobre este ya entre cuando todo esta ser son dos también fue había era muy años"
    " hasta desde está mi porque qué sólo han yo hay vez puede todos así nos ni parte tiene él uno",
    "Italian": "di e il la che in a per un è del non sono della con una i le si da come anche dei al più gli"
    " nel ha alla lo se o ma ci dalla delle era su nella questo ai io mi questa sua suo essere cui"
    " tra degli due ho stato tutti ancora fra poi molto ed dal sul c'è quando perché dopo così",
    "Portuguese": "de a o que e do da em um para com não uma os no se na por mais as dos como mas ao ele das"
    " à seu sua ou quando muito nos já eu também só pelo pela até isso ela entre depois sem mesmo aos"
    " seus quem nas me esse eles você essa num nem suas meu às minha numa são foi está tem há",
    "Dutch": "de het een van en in is dat op te zijn met voor niet die aan er om ook als dan maar bij uit nog"
    " naar heeft hij was ze wordt door over ik werd tot je mijn deze haar zo wel geen hebben kan meer"
    " moet dit onder tegen wat waar hun daar wij we zou al na worden toen men had veel",
    "Swedish": "och i att det som en på är av för med den till inte om ett han men jag var sig från så vi har"
    " kan när de hon skulle under också efter eller nu där vid mot ska ut vara upp blev mycket alla sin"
    " hade över än bara då man finns år ingen detta sedan andra även",
    "Danish": "og i at det en den til er som på de med han af for ikke der var mig sig men et har om vi min"
    " havde ham hun nu over da fra du ud sin dem os op man hans hvor eller hvad skal selv her alle vil"
    " blev kunne ind når være dog noget jo mod også efter bliver meget",
    "Norwegian": "og i det er på til en at som for med han av ikke der var jeg men et har om vi hun seg de fra"
    " den så ble være nå man kan skal ville under etter eller også hva over hans bare da mot noe når"
    " sin opp ut må kunne noen mye hvor alle blir vært disse deg meg oss",
    "Finnish": "ja on ei että se hän oli en mutta niin kun ovat mitä myös jos kuin nyt voi tämä joka vain"
    " sitten minä sen sitä olen sinä me te he tai kanssa mukaan sekä jo vielä koska ole olla jonka hänen"
    " tässä siitä heidän ollut mikä kuitenkin ennen jälkeen",
    "Polish": "w i na się nie z do to że jest o jak a po co tak za od ale jego przez dla czy było był już tym"
    " być jej ich może tylko przy są pod która który które oraz także lub gdy więc jeszcze jeśli ze bardzo"
    " bez przed nad tego nas mnie",
    "Russian": "и в не на я что он с это как а по но из у за то все так же от о его к для вы мы они бы была"
    " был есть мне меня да ты когда или если ее еще уже только было до при нет быть чтобы были себя ему",
    "Ukrainian": "і в не на я що він з це як а по але із у за то всі так же від про його до для ви ми вони би"
    " була був є мені та ти коли або якщо її ще вже тільки було при ні бути щоб були себе йому під який",
}  # fmt: skip
_SCRIPTS = (
    ("Greek", 0x370, 0x3FF), ("Hebrew", 0x590, 0x5FF), ("Arabic", 0x600, 0x6FF),
    ("Hindi", 0x900, 0x97F), ("Thai", 0xE00, 0xE7F), ("Japanese", 0x3040, 0x30FF),
    ("Chinese", 0x4E00, 0x9FFF), ("Korean", 0xAC00, 0xD7AF),
)  # fmt: skip
LANGUAGES = (*_FUNCTION_WORDS, *(name for name, _, _ in _SCRIPTS))


def _votes(types: Sequence[str]) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """The languages that every word speaks for, one word after another, and where each's begin."""
    member: dict[str, list[int]] = {}
    for at, words in enumerate(_FUNCTION_WORDS.values()):
        for word in words.split():
            member.setdefault(word, []).append(at)
    spoken: list[int] = []
    bounds = [0]
    for word in types:
        spoken += member.get(word.casefold(), ())
        point = ord(word[0])
        if point >= 0x370:
            scripts = enumerate(_SCRIPTS, start=len(_FUNCTION_WORDS))
            spoken += [at for at, (_, first, last) in scripts if first <= point <= last]
        bounds.append(len(spoken))
    return np.array(spoken, dtype=np.int32), np.array(bounds, dtype=np.int64)


@njit(cache=True, nogil=True)
def _scores(ids: Any, doc_ptr: Any, spoken: Any, bounds: Any, languages: int) -> Any:
    """float64[n_docs, n_languages], the words of each document that speak for each language."""
    out = np.zeros((len(doc_ptr) - 1, languages))
    for document in range(len(doc_ptr) - 1):
        for token in range(doc_ptr[document], doc_ptr[document + 1]):
            for at in range(bounds[ids[token]], bounds[ids[token] + 1]):
                out[document, spoken[at]] += 1
    return out


def detect_languages(tokens: Segments) -> NDArray[np.int8]:
    """The language of every document.

    Parameters
    ----------
    tokens : the words of the documents, by the rule ``uax29``

    Returns
    -------
    int8[n_docs], an index into LANGUAGES, or UNSURE (-1)
    """
    count = len(tokens.doc_ptr) - 1
    if not len(tokens.ids):
        return np.full(count, UNSURE, dtype=np.int8)
    sizes = np.diff(tokens.doc_ptr)
    spoken, bounds = _votes(tokens.types)
    scores = _scores(tokens.ids, tokens.doc_ptr, spoken, bounds, len(LANGUAGES))
    order = np.sort(scores, axis=1)
    best, second = order[:, -1], order[:, -2]
    script = scores.argmax(axis=1) >= len(_FUNCTION_WORDS)
    sure = (
        (best >= np.where(script, 1, LEAST_WORDS))
        & (best >= LEAST_SHARE * sizes)
        & (best >= LEAD * second)
    )
    return np.where(sure, scores.argmax(axis=1), UNSURE).astype(np.int8)
