"""Words that tell what kind of name stands there: titles, heads of places and organisations, lists."""

from __future__ import annotations

import gzip
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from skeinwork.core.text.forms import lexicon

PATH = Path(__file__).parents[1] / "data" / "known_names.txt.gz"
# Given names more common than the lists of persons known to history show, written for this.
_GIVEN = (
    "Ada Adam Agnes Alan Albert Alec Alex Alexander Alfred Alice Alison Amelia Amy Andrew Angela Ann Anna "
    "Anne Annie Anthony Arthur Audrey Barbara Barry Beatrice Ben Benjamin Bernard Bertha Beth Betty Bill "
    "Bob Brenda Brian Bridget Bruce Carl Carol Caroline Catherine Cecil Charles Charlie Charlotte Chris "
    "Christine Christopher Clara Colin Connie Cyril Daisy Dan Daniel David Dawn Deborah Denis Dennis Derek "
    "Diana Dick Donald Dora Doris Dorothy Douglas Duncan Edgar Edith Edmund Edward Edwin Eileen Elaine "
    "Eleanor Eliza Elizabeth Ella Ellen Elsie Emily Emma Enid Eric Ernest Ethel Eva Evelyn Fiona Florence "
    "Frances Francis Frank Fred Frederick Gavin Geoffrey George Gerald Gilbert Gladys Gordon Grace Graham "
    "Gregory Gwen Hannah Harold Harriet Harry Hazel Heather Helen Henry Herbert Hilda Horace Howard Hugh "
    "Ian Ida Irene Iris Isaac Isabel Isabella Ivy Jack Jacob James Jane Janet Jason Jean Jennifer Jenny "
    "Jeremy Jessica Jessie Jill Jim Joan Joe John Jonathan Joseph Joyce Judith Julia Julie Karen Kate "
    "Katherine Kathleen Keith Kenneth Kevin Laura Lauren Laurence Leonard Leslie Lewis Lily Linda Louis "
    "Louise Lucy Luke Mabel Malcolm Margaret Maria Marian Marie Marjorie Mark Martha Martin Mary Matilda "
    "Matthew Maurice Max Michael Mildred Molly Monica Muriel Nancy Nathan Neil Nicholas Nigel Nora Norman "
    "Olive Oliver Oscar Owen Pamela Patricia Patrick Paul Pauline Percy Peter Philip Phyllis Polly Priya "
    "Rachel Ralph Raymond Rebecca Reginald Richard Robert Robin Roger Roland Ronald Rosa Rosemary Roy "
    "Russell Ruth Sally Sam Samuel Sandra Sarah Scott Sean Sheila Sidney Simon Sophia Sophie Stanley "
    "Stella Stephen Steven Stuart Susan Sybil Sylvia Terence Theodore Theresa Thomas Timothy Toby Tom Tony "
    "Tracy Trevor Ursula Valerie Vera Veronica Victor Victoria Vincent Violet Vivian Walter Wendy Wilfred "
    "William Winifred"
)
_COMMON = 10  # counts as another word that speak against a given name
TITLES = frozenset(
    "mr mrs ms miss mx dr prof professor sir lady lord dame captain capt colonel col major general gen "
    "lieutenant lt sergeant sgt corporal private admiral commodore commander inspector constable "
    "superintendent president chancellor minister senator governor mayor councillor cllr alderman judge "
    "justice king queen prince princess duke duchess earl count countess baron baroness emperor pope bishop "
    "archbishop father sister brother reverend rev rabbi imam uncle aunt grandma grandpa nurse "
    "secretary ambassador representative congressman congresswoman deputy chairman speaker sheikh".split()
)
# Those that are written with a full stop which ends no sentence.
SHORTENED = frozenset("mr mrs ms dr prof capt col gen lt sgt rev cllr st messrs mme mlle hon jr sr".split())
SAINTS = frozenset(["saint", "st"])
PLACE_HEADS = frozenset(
    "street st road lane avenue square row quay terrace crescent island islands isle bay cape point head "
    "harbour harbor port river lake loch sea ocean strait straits channel gulf mount mountain mountains hill "
    "hills valley county province state states republic kingdom empire city town village parish park forest "
    "wood heath moor marsh bridge castle beach coast bar rocks sound canal desert peninsula territory "
    "district america africa asia europe north south east west northern southern".split()
)
# Heads of places that many persons are called by.
SURNAMES_TOO = frozenset(
    "hill hills wood marsh park lake bridge forest rivers moor heath castle banks north south east west "
    "head point bar".split()
)
ORGANISATION_HEADS = frozenset(
    "company co corporation corp limited ltd inc plc llc group sons brothers bros bank board council "
    "committee commission authority agency association society institute institution university college "
    "school academy department ministry office bureau court parliament congress senate assembly house "
    "government party union federation league club church hospital infirmary museum library police army "
    "navy fleet force forces guard guards regiment service trust fund foundation press times chamber "
    "administration exchange line lines railway steamship organization organisation nations orchestra "
    "choir station treasury cabinet".split()
)
# Of places known by two letters those that are rarely anything else.
STATES = frozenset(["us", "uk", "gb"])
LINKS = frozenset("of de del der di du la le van von den ter & upon".split())
SAID = frozenset(
    "said says say asked replied answered told wrote writes whispered shouted cried added muttered thought "
    "smiled laughed nodded shrugged".split()
)
PLACED = frozenset("at in from near to towards toward through off into outside across around beyond".split())
DATES = frozenset(
    "monday tuesday wednesday thursday friday saturday sunday january february march april may june july "
    "august september october november december easter christmas".split()
)


# Continents, oceans, seas and large regions, which no list of towns and countries has.
REGIONS = frozenset(
    "europe africa asia america americas australasia oceania antarctica eurasia atlantic pacific baltic "
    "mediterranean arctic antarctic caribbean aegean adriatic ionian caspian balkans scandinavia iberia "
    "siberia sahara sahel caucasus levant patagonia amazon amazonia polynesia melanesia micronesia "
    "mesopotamia anatolia arabia bohemia moravia silesia prussia bavaria saxony flanders wallonia brittany "
    "normandy burgundy gascony provence catalonia andalusia castile galicia lombardy tuscany piedmont "
    "lapland karelia crimea ukraine himalayas himalaya alps andes rockies pyrenees apennines urals "
    "carpathians midlands highlands lowlands hebrides midwest maghreb transvaal indochina manchuria tibet "
    "kashmir bengal punjab orient".split()
)
# Peoples and languages, which are written with a capital as places and persons are.
PEOPLES = frozenset(
    "afghan afghans african africans afrikaans albanian albanians algerian algerians american americans "
    "andalusian angolan angolans arab arabs arabian arabic aramaic argentine argentines argentinian "
    "argentinians armenian armenians asian asians assyrian assyrians athenian athenians australian "
    "australians austrian austrians aztec aztecs babylonian babylonians bangladeshi bangladeshis basque "
    "basques bavarian bavarians belarusian belarusians belgian belgians bengali bengalis berber berbers boer "
    "boers bolivian bolivians bosnian bosnians brazilian brazilians breton bretons briton britons british "
    "bulgarian bulgarians burmese byzantine cambodian cambodians cameroonian canadian canadians cantonese "
    "carthaginian carthaginians castilian catalan catalans celt celts celtic chechen chechens chilean "
    "chileans chinese colombian colombians congolese cornish corsican corsicans cossack cossacks croat "
    "croats croatian croatians cuban cubans cypriot cypriots czech czechs dane danes danish dutch dutchman "
    "dutchmen ecuadorian egyptian egyptians english englishman englishmen englishwoman eskimo estonian "
    "estonians ethiopian ethiopians etruscan european europeans fijian filipino filipinos finn finns finnish "
    "flemish french frenchman frenchmen frenchwoman frisian frisians gaelic galician gaul gauls georgian "
    "georgians german germans germanic ghanaian ghanaians goth goths gothic greek greeks guatemalan gypsy "
    "gypsies haitian haitians hausa hebrew hebrews hindi hindu hindus honduran hun huns hungarian hungarians "
    "icelander icelanders icelandic igbo inca incas indian indians indonesian indonesians inuit iranian "
    "iranians iraqi iraqis irish irishman irishmen israeli israelis israelite israelites italian italians "
    "jamaican jamaicans japanese javanese jew jews jewish jordanian kazakh kazakhs kenyan kenyans khmer "
    "korean koreans kurd kurds kurdish kuwaiti lao laotian latin latins latvian latvians lebanese liberian "
    "libyan libyans lithuanian lithuanians macedonian macedonians magyar magyars malay malays malaysian "
    "malaysians maltese mandarin manx maori maoris mayan mexican mexicans moldovan mongol mongols mongolian "
    "montenegrin moor moors moorish moroccan moroccans muscovite namibian neapolitan nepalese nepali "
    "nicaraguan nigerian nigerians norman normans norse norseman norsemen norwegian norwegians ottoman "
    "ottomans pakistani pakistanis palestinian palestinians panamanian paraguayan parisian parisians parthian "
    "persian persians peruvian peruvians philistine philistines phoenician phoenicians pole poles polish "
    "polynesian portuguese provençal prussian prussians puritan quechua roman romans romanian romanians "
    "romany russian russians rwandan samoan sanskrit saracen saracens saudi saudis saxon saxons scandinavian "
    "scandinavians scot scots scotch scotsman scotsmen scottish senegalese serb serbs serbian serbians "
    "siamese sicilian sicilians sikh sikhs slav slavs slavic slavonic slovak slovaks slovene slovenes "
    "slovenian somali somalis spaniard spaniards spanish spartan spartans sudanese sumerian swahili swede "
    "swedes swedish swiss syrian syrians tahitian taiwanese tamil tamils tartar tartars tatar tatars telugu "
    "teuton thai thais tibetan tibetans trojan trojans tunisian turk turks turkish ugandan ukrainian "
    "ukrainians urdu uruguayan uzbek uzbeks venetian venetians venezuelan venezuelans vietnamese viking "
    "vikings walloon walloons welsh welshman welshmen yiddish yoruba yugoslav yugoslavs zambian zimbabwean "
    "zulu zulus".split()
)


@dataclass(frozen=True)
class Known:
    """Names by what they are: one word for given names and surnames, whole names else; case folded."""

    given: frozenset[str]
    surname: frozenset[str]
    place: frozenset[str]
    organisation: frozenset[str]


@cache
def english() -> Known:
    """The lists, read once."""
    found: dict[str, set[str]] = {letter: set() for letter in "gspo"}
    for line in gzip.decompress(PATH.read_bytes()).decode("ascii").splitlines():
        found[line[0]].add(line[2:].casefold())
    common = lexicon.english().counts
    given = {each for each in found["g"] if max(common[part].get(each, 0) for part in "avr") < _COMMON}
    given |= set(_GIVEN.casefold().split())
    found["p"] |= REGIONS
    return Known(frozenset(given), *(frozenset(found[letter]) for letter in "spo"))
