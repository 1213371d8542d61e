"""The language of a document, by its script or its share of function words, or *unsure*.

A document is in the language whose most frequent function words speak loudest in it, provided that
there are enough of them and that no other language comes near. A word speaks the less, the more
languages have it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.text.segment import Tokens

UNSURE = -1
# Of the words, function words of a language in any of its texts but lists.
LEAST_SHARE = 0.10
# One function word may stand in any language.
LEAST_WORDS = 2
# Times as loud as the next language: close relatives share many words.
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
    "Turkish": "ve bir bu da de için ile o çok daha gibi ne ama kadar olan olarak var sonra en ki her mi ben sen"
    " biz siz onlar değil ya veya şey bunu onu bana sana ona yok hiç nasıl neden çünkü eğer ise önce"
    " şu ancak göre tarafından hem bile olduğu oldu olur edilen üzerinde arasında içinde",
    "Azerbaijani": "və bir bu da də üçün ilə o çox daha kimi nə amma qədər olan olaraq var sonra ən ki hər mən sən"
    " biz siz onlar deyil ya və ya şey bunu onu mənə sənə ona yox heç necə niyə çünki əgər isə əvvəl"
    " həm görə tərəfindən olduğu oldu olur edilən üzərində arasında içində bilər edir",
    "Czech": "a v se na je že s z do o to k i ve pro za jsem by který která které jako ale po jeho jsou jak"
    " byl bylo byla od nebo si však tak při než ze už jen co tím ho mu jsme své aby když před pod nad"
    " má může není ještě také která podle mezi jejich budou",
    "Slovak": "a v sa na je že s z do o to k aj vo pre za som by ktorý ktorá ktoré ako ale po jeho sú bol bolo"
    " bola od alebo si však tak pri než zo už len čo tým ho mu sme svoje aby keď pred pod nad má môže"
    " nie ešte tiež podľa medzi ich budú iba tento táto",
    "Hungarian": "a az és hogy nem is egy ez de van volt meg csak már ha mint el még minden azt ki vagy ezt"
    " kell nagyon lesz mert amely után által lehet más fel pedig be aki sem ezek azok két én te ő mi ti"
    " ők így úgy itt ott most majd között szerint nincs lett ami",
    "Romanian": "și de a în la cu nu este pe din o un ce mai care pentru că sunt să fi ca au prin dar sau după"
    " fost lui ei lor acest această se am ai are avea fără între către când cum unde toate tot cei cele"
    " al ale unei unui nici doar foarte dacă va vor fie",
    "Catalan": "de la el i que a en els les un una per amb del és al no es com més dels però o seu seva va ha"
    " són aquest aquesta ser han fer també hi entre quan sense des fins sobre tot molt ja perquè si on"
    " les ho ens us jo tu ell ella nosaltres aquests cada havia pot",
    "Croatian": "i u je da se na za su od s a to iz kao što ne o koji koja koje ali bi ili do po sa biti nije bio"
    " bila samo sam smo ste kako još već nakon prema između kada te toga ovo svoje njegov može ako jer"
    " gdje gde dok pri bez zbog ni niti",
    "Slovenian": "in je v se na za da so z s pa ki ne od po kot bi tudi o to iz do ali bil bila bilo sem si"
    " ga jih več še že le pri med ter ko če ni lahko biti kar tako ta tem svoje pred zaradi smo ste kako"
    " kaj kjer brez vse",
    "Bulgarian": "и на в за се да от е са не с по като това която който които че до при към след или обаче още"
    " му ще бил била било ли само може много така без между тази този тези бъде беше няма има защото"
    " когато както във със ни ги",
    "Estonian": "ja on ei et see ta oli kui ka ning aga mis oma või seda nii mida siis kes selle kuid veel ma"
    " sa me te nad mitte välja üle pärast juba nagu ainult olid ole olla saab tema enne kõik vaid"
    " sellest peab võib üks kus nende",
    "Lithuanian": "ir yra į kad iš su tai o kaip bet buvo ne jis jo nuo už ar apie po savo jau dar per prie tik kai"
    " ji jie aš tu mes jūs tačiau arba būti gali pagal be dėl kurie kuris kuri nėra taip labai iki"
    " šis ši jų",
    "Latvian": "un ir no ar par ka uz kas kā arī tā bija pie pēc bet lai vai tas viņš viņa to tiek nav tika var"
    " līdz es tu mēs jūs viņi ja jau vēl tikai pirms ļoti šī šis tie ko kad kur bez starp būt savu"
    " gan tomēr",
    "Indonesian": "yang dan di dengan untuk dari pada ini itu dalam tidak ke adalah oleh akan juga sebagai karena"
    " atau saya dia mereka kami kita ada bisa telah sudah tersebut lebih dapat seperti saat belum harus"
    " anda jika namun setelah antara hanya para bahwa tetapi secara maka",
    "Vietnamese": "và của là có được trong cho không các với một những này đã để khi người từ đến như cũng ra về"
    " vào tại sẽ theo sau nhiều đó hoặc nếu tôi bạn chúng họ phải thì mà lại còn rất trên bằng vì hay"
    " nào chỉ đang",
}
_SCRIPTS = (
    ("Greek", 0x370, 0x3FF),
    ("Armenian", 0x530, 0x58F),
    ("Hebrew", 0x590, 0x5FF),
    ("Arabic", 0x600, 0x6FF),
    ("Hindi", 0x900, 0x97F),
    ("Bengali", 0x980, 0x9FF),
    ("Tamil", 0xB80, 0xBFF),
    ("Thai", 0xE00, 0xE7F),
    ("Georgian", 0x10A0, 0x10FF),
    ("Japanese", 0x3040, 0x30FF),
    ("Chinese", 0x4E00, 0x9FFF),
    ("Korean", 0xAC00, 0xD7AF),
)
SCRIPTS = tuple(name for name, _, _ in _SCRIPTS)
LANGUAGES = (*_FUNCTION_WORDS, *SCRIPTS)


def _votes(types: Sequence[str]) -> tuple[NDArray[np.int32], NDArray[np.int64], NDArray[np.float64]]:
    """The languages that every word speaks for, word after word; where each's begin; how loudly."""
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
    shared = np.maximum(np.diff(bounds), 1)
    return np.array(spoken, np.int32), np.array(bounds, np.int64), np.log(len(LANGUAGES) / shared)


@njit(cache=True, nogil=True)
def _loudest(ids: Any, doc_ptr: Any, spoken: Any, bounds: Any, loud: Any, languages: int) -> Any:
    """Of each document the language that speaks loudest, the words that do, and how loudly the first two."""
    count = len(doc_ptr) - 1
    best = np.zeros(count, dtype=np.int64)
    words = np.zeros(count, dtype=np.int64)
    scores = np.zeros((2, count))
    for document in range(count):
        by_language, voices = np.zeros(languages), np.zeros(languages, dtype=np.int64)
        for token in range(doc_ptr[document], doc_ptr[document + 1]):
            for at in range(bounds[ids[token]], bounds[ids[token] + 1]):
                voices[spoken[at]] += 1
                by_language[spoken[at]] += loud[ids[token]]
        first = by_language.argmax()
        best[document], words[document] = first, voices[first]
        scores[0, document] = by_language[first]
        by_language[first] = 0.0
        scores[1, document] = by_language.max()
    return best, words, scores


def detect_languages(tokens: Tokens) -> NDArray[np.int8]:
    """The language of every document.

    Parameters
    ----------
    tokens : the words of the documents, by the rule ``uax29``

    Returns
    -------
    int8[n_docs], an index into LANGUAGES, or UNSURE (-1)
    """
    if not len(tokens.ids):
        return np.full(len(tokens.doc_ptr) - 1, UNSURE, dtype=np.int8)
    best, spoken, (first, second) = _loudest(tokens.ids, tokens.doc_ptr, *_votes(tokens.types), len(LANGUAGES))
    sure = (
        (spoken >= np.where(best >= len(_FUNCTION_WORDS), 1, LEAST_WORDS))
        & (spoken >= LEAST_SHARE * np.diff(tokens.doc_ptr))
        & (first >= LEAD * second)
    )
    return np.where(sure, best, UNSURE).astype(np.int8)
