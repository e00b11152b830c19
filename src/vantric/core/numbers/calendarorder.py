"""Months and weekdays as people write them, in the order of the calendar."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Sequence
from functools import cache

_DIGITS = re.compile(r"[0-9]+")
_LARGEST = 0x10FFFF


def natural_key(label: str) -> tuple[str, str]:
    """Return a sort key under which runs of digits compare as numbers and letters without case.

    The label itself is last in the key, so that the order is total: labels that differ never tie.
    """
    return _folded(label), label


def natural_places(labels: Sequence[str], places: Sequence[int]) -> list[int]:
    """Return places of labels in the order of `natural_key`; of millions, in a third less time."""
    keys = {place: _folded(labels[place]) for place in places}
    if len(set(keys.values())) < len(keys):
        return sorted(places, key=lambda place: (keys[place], labels[place]))
    return sorted(places, key=keys.__getitem__)


def _folded(label: str) -> str:
    return _DIGITS.sub(_magnitude, label.casefold())


def _magnitude(digits: re.Match[str]) -> str:
    """Return what orders a run of digits by value: before any letter, the longer number later."""
    plain = digits[0].lstrip("0")
    return f"\0{chr(min(len(plain), _LARGEST))}{plain}"


# ruff: noqa: E501

#: Language -> the spellings of January ... December, and of Monday ... Sunday.
WORDS: dict[str, tuple[str, str]] = {
    "en": (
        "january|jan;february|feb;march|mar;april|apr;may;june|jun;july|jul;august|aug;september|sep|sept;october|oct;november|nov;december|dec",
        "monday|mon;tuesday|tue|tues;wednesday|wed|weds;thursday|thu|thur|thurs;friday|fri;saturday|sat;sunday|sun",
    ),
    "de": (
        "januar|jan;februar|feb;märz|marz|mär|mar|maerz|mrz;april|apr;mai;juni|jun;juli|jul;august|aug;september|sept|sep;oktober|okt;november|nov;dezember|dez",
        "montag|mo;dienstag|di;mittwoch|mi;donnerstag|do;freitag|fr;samstag|sa;sonntag|so",
    ),
    "fr": (
        "janvier|janv;février|fevrier|févr|fevr;mars;avril|avr;mai;juin;juillet|juil;août|aout;septembre|sept;octobre|oct;novembre|nov;décembre|decembre|déc|dec",
        "lundi|lun;mardi|mar;mercredi|mer;jeudi|jeu;vendredi|ven;samedi|sam;dimanche|dim",
    ),
    "es": (
        "enero|ene;febrero|feb;marzo|mar;abril|abr;mayo|may;junio|jun;julio|jul;agosto|ago;septiembre|sept|set|setiembre;octubre|oct;noviembre|nov;diciembre|dic",
        "lunes|lun;martes|mar;miércoles|miercoles|mié|mie;jueves|jue;viernes|vie;sábado|sabado|sáb|sab;domingo|dom",
    ),
    "it": (
        "gennaio|gen;febbraio|feb;marzo|mar;aprile|apr;maggio|mag;giugno|giu;luglio|lug;agosto|ago;settembre|set;ottobre|ott;novembre|nov;dicembre|dic",
        "lunedì|lunedi|lun;martedì|martedi|mar;mercoledì|mercoledi|mer;giovedì|giovedi|gio;venerdì|venerdi|ven;sabato|sab;domenica|dom",
    ),
    "pt": (
        "janeiro|jan;fevereiro|fev;março|marco|mar;abril|abr;maio|mai;junho|jun;julho|jul;agosto|ago;setembro|set;outubro|out;novembro|nov;dezembro|dez",
        "segunda-feira|seg;terça-feira|terca-feira|ter;quarta-feira|qua;quinta-feira|qui;sexta-feira|sex;sábado|sabado|sáb|sab;domingo|dom",
    ),
    "nl": (
        "januari|jan;februari|feb;maart|mrt;april|apr;mei;juni|jun;juli|jul;augustus|aug;september|sep;oktober|okt;november|nov;december|dec",
        "maandag|ma;dinsdag|di;woensdag|wo;donderdag|do;vrijdag|vr;zaterdag|za;zondag|zo",
    ),
    "sv": (
        "januari|jan;februari|feb;mars;april|apr;maj;juni;juli;augusti|aug;september|sep;oktober|okt;november|nov;december|dec",
        "måndag|mandag|mån|man;tisdag|tis;onsdag|ons;torsdag|tors;fredag|fre;lördag|lordag|lör|lor;söndag|sondag|sön|son",
    ),
    "da": (
        "januar|jan;februar|feb;marts|mar;april|apr;maj;juni|jun;juli|jul;august|aug;september|sep;oktober|okt;november|nov;december|dec",
        "mandag|man;tirsdag|tirs;onsdag|ons;torsdag|tors;fredag|fre;lørdag|lør;søndag|søn",
    ),
    "nb": (
        "januar|jan;februar|feb;mars|mar;april|apr;mai;juni|jun;juli|jul;august|aug;september|sep;oktober|okt;november|nov;desember|des",
        "mandag|man;tirsdag|tir;onsdag|ons;torsdag|tor;fredag|fre;lørdag|lør;søndag|søn",
    ),
    "fi": (
        "tammikuuta|tammi|tammikuu;helmikuuta|helmi|helmikuu;maaliskuuta|maalis|maaliskuu;huhtikuuta|huhti|huhtikuu;toukokuuta|touko|toukokuu;kesäkuuta|kesakuuta|kesä|kesa|kesäkuu|kesakuu;heinäkuuta|heinakuuta|heinä|heina|heinäkuu|heinakuu;elokuuta|elo|elokuu;syyskuuta|syys|syyskuu;lokakuuta|loka|lokakuu;marraskuuta|marras|marraskuu;joulukuuta|joulu|joulukuu",
        "maanantaina|ma|maanantai;tiistaina|ti|tiistai;keskiviikkona|ke|keskiviikko;torstaina|to|torstai;perjantaina|pe|perjantai;lauantaina|la|lauantai;sunnuntaina|su|sunnuntai",
    ),
    "pl": (
        "stycznia|sty|styczeń|styczen;lutego|lut|luty;marca|mar|marzec;kwietnia|kwi|kwiecień|kwiecien;maja|maj;czerwca|cze|czerwiec;lipca|lip|lipiec;sierpnia|sie|sierpień|sierpien;września|wrzesnia|wrz|wrzesień|wrzesien;października|pazdziernika|paź|paz|październik|pazdziernik;listopada|lis|listopad;grudnia|gru|grudzień|grudzien",
        "poniedziałek|pon;wtorek|wt;środa|sroda|śr|sr;czwartek|czw;piątek|piatek|pt;sobota|sob;niedziela|niedz",
    ),
    "cs": (
        "ledna|led|leden;února|unora|úno|uno|únor|unor;března|brezna|bře|bre|březen|brezen;dubna|dub|duben;května|kvetna|kvě|kve|květen|kveten;června|cervna|čvn|cvn|červen|cerven;července|cervence|čvc|cvc|červenec|cervenec;srpna|srp|srpen;září|zari|zář|zar;října|rijna|říj|rij|říjen|rijen;listopadu|lis|listopad;prosince|pro|prosinec",
        "pondělí|pondeli|po;úterý|utery|út|ut;středa|streda|st;čtvrtek|ctvrtek|čt|ct;pátek|patek|pá|pa;sobota|so;neděle|nedele|ne",
    ),
    "sk": (
        "januára|januara|jan|január|januar;februára|februara|feb|február|februar;marca|mar|marec;apríla|aprila|apr|apríl|april;mája|maja|máj|maj;júna|juna|jún|jun;júla|jula|júl|jul;augusta|aug|august;septembra|sep|september;októbra|oktobra|okt|október|oktober;novembra|nov|november;decembra|dec|december",
        "pondelok|po;utorok|ut;streda|st;štvrtok|stvrtok|št|st;piatok|pi;sobota|so;nedeľa|nedela|ne",
    ),
    "sl": (
        "januar|jan;februar|feb;marec|mar;april|apr;maj;junij|jun;julij|jul;avgust|avg;september|sep;oktober|okt;november|nov;december|dec",
        "ponedeljek|pon;torek|tor;sreda|sre;četrtek|cetrtek|čet|cet;petek|pet;sobota|sob;nedelja|ned",
    ),
    "hr": (
        "siječnja|sijecnja|sij|siječanj|sijecanj;veljače|veljace|velj|veljača|veljaca;ožujka|ozujka|ožu|ozu|ožujak|ozujak;travnja|tra|travanj;svibnja|svi|svibanj;lipnja|lip|lipanj;srpnja|srp|srpanj;kolovoza|kol|kolovoz;rujna|ruj|rujan;listopada|lis|listopad;studenoga|stu|studeni;prosinca|pro|prosinac",
        "ponedjeljak|pon;utorak|uto;srijeda|sri;četvrtak|cetvrtak|čet|cet;petak|pet;subota|sub;nedjelja|ned",
    ),
    "hu": (
        "január|januar|jan;február|februar|febr;március|marcius|márc|marc;április|aprilis|ápr|apr;május|majus|máj|maj;június|junius|jún|jun;július|julius|júl|jul;augusztus|aug;szeptember|szept;október|oktober|okt;november|nov;december|dec",
        "hétfő|hetfo|h;kedd|k;szerda|sze;csütörtök|csutortok|cs;péntek|pentek|p;szombat|szo;vasárnap|vasarnap|v",
    ),
    "ro": (
        "ianuarie|ian;februarie|feb;martie|mar;aprilie|apr;mai;iunie|iun;iulie|iul;august|aug;septembrie|sept;octombrie|oct;noiembrie|nov;decembrie|dec",
        "luni|lun;marți|marti|mar;miercuri|mie;joi;vineri|vin;sâmbătă|sambata|sâm|sam;duminică|duminica|dum",
    ),
    "tr": (
        "ocak|oca;şubat|subat|şub|sub;mart|mar;nisan|nis;mayıs|may;haziran|haz;temmuz|tem;ağustos|agustos|ağu|agu;eylül|eylul|eyl;ekim|eki;kasım|kas;aralık|ara",
        "pazartesi|pzt;salı|sal;çarşamba|carsamba|çar|car;perşembe|persembe|per;cuma|cum;cumartesi|cmt;pazar|paz",
    ),
    "el": (
        "ιανουαρίου|ιαν|ιανουάριοσ;φεβρουαρίου|φεβ|φεβρουάριοσ;μαρτίου|μαρ|μάρτιοσ|μάρ;απριλίου|απρ|απρίλιοσ;μαΐου|μαΐ|μάιοσ|μάι;ιουνίου|ιουν|ιούνιοσ|ιούν;ιουλίου|ιουλ|ιούλιοσ|ιούλ;αυγούστου|αυγ|αύγουστοσ|αύγ;σεπτεμβρίου|σεπ|σεπτέμβριοσ;οκτωβρίου|οκτ|οκτώβριοσ;νοεμβρίου|νοε|νοέμβριοσ|νοέ;δεκεμβρίου|δεκ|δεκέμβριοσ",
        "δευτέρα|δευ;τρίτη|τρί;τετάρτη|τετ;πέμπτη|πέμ;παρασκευή|παρ;σάββατο|σάβ;κυριακή|κυρ",
    ),
    "ru": (
        "января|янв|январь;февраля|февр|февраль|фев;марта|мар|март;апреля|апр|апрель;мая|май;июня|июн|июнь;июля|июл|июль;августа|авг|август;сентября|сент|сентябрь|сен;октября|окт|октябрь;ноября|нояб|ноябрь|ноя;декабря|дек|декабрь",
        "понедельник|пн;вторник|вт;среда|ср;четверг|чт;пятница|пт;суббота|сб;воскресенье|вс",
    ),
    "uk": (
        "січня|січ|січень;лютого|лют|лютий;березня|бер|березень;квітня|квіт|квітень;травня|трав|травень;червня|черв|червень;липня|лип|липень;серпня|серп|серпень;вересня|вер|вересень;жовтня|жовт|жовтень;листопада|лист|листопад;грудня|груд|грудень",
        "понеділок|пн;вівторок|вт;середа|ср;четвер|чт;пʼятниця|пт;субота|сб;неділя|нд",
    ),
    "bg": (
        "януари|яну;февруари|фев;март;април|апр;май;юни;юли;август|авг;септември|сеп;октомври|окт;ноември|ное;декември|дек",
        "понеделник|пн;вторник|вт;сряда|ср;четвъртък|чт;петък|пт;събота|сб;неделя|нд",
    ),
    "et": (
        "jaanuar|jaan;veebruar|veebr;märts|marts;aprill|apr;mai;juuni;juuli;august|aug;september|sept;oktoober|okt;november|nov;detsember|dets",
        "esmaspäev|esmaspaev|e;teisipäev|teisipaev|t;kolmapäev|kolmapaev|k;neljapäev|neljapaev|n;reede|r;laupäev|laupaev|l;pühapäev|puhapaev|p",
    ),
    "lv": (
        "janvāris|janvaris|janv;februāris|februaris|febr;marts;aprīlis|aprilis|apr;maijs;jūnijs|junijs|jūn|jun;jūlijs|julijs|jūl|jul;augusts|aug;septembris|sept;oktobris|okt;novembris|nov;decembris|dec",
        "pirmdiena|pirmd;otrdiena|otrd;trešdiena|tresdiena|trešd|tresd;ceturtdiena|ceturtd;piektdiena|piektd;sestdiena|sestd;svētdiena|svetdiena|svētd|svetd",
    ),
    "lt": (
        "sausio|saus|sausis;vasario|vas|vasaris;kovo|kov|kovas;balandžio|balandzio|bal|balandis;gegužės|geguzes|geg|gegužė|geguze;birželio|birzelio|birž|birz|birželis|birzelis;liepos|liep|liepa;rugpjūčio|rugpjucio|rugp|rugpjūtis|rugpjutis;rugsėjo|rugsejo|rugs|rugsėjis|rugsejis;spalio|spal|spalis;lapkričio|lapkricio|lapkr|lapkritis;gruodžio|gruodzio|gruod|gruodis",
        "pirmadienis|pr;antradienis|an;trečiadienis|treciadienis|tr;ketvirtadienis|kt;penktadienis|pn;šeštadienis|sestadienis|št|st;sekmadienis|sk",
    ),
    "id": (
        "januari|jan;februari|feb;maret|mar;april|apr;mei;juni|jun;juli|jul;agustus|agu;september|sep;oktober|okt;november|nov;desember|des",
        "senin|sen;selasa|sel;rabu|rab;kamis|kam;jumat|jum;sabtu|sab;minggu|min",
    ),
    "vi": (
        "tháng 1|thang 1|thg 1;tháng 2|thang 2|thg 2;tháng 3|thang 3|thg 3;tháng 4|thang 4|thg 4;tháng 5|thang 5|thg 5;tháng 6|thang 6|thg 6;tháng 7|thang 7|thg 7;tháng 8|thang 8|thg 8;tháng 9|thang 9|thg 9;tháng 10|thang 10|thg 10;tháng 11|thang 11|thg 11;tháng 12|thang 12|thg 12",
        "thứ hai|thu hai|thứ 2|thu 2;thứ ba|thu ba|thứ 3|thu 3;thứ tư|thu tu|thứ 4|thu 4;thứ năm|thu nam|thứ 5|thu 5;thứ sáu|thu sau|thứ 6|thu 6;thứ bảy|thu bay|thứ 7|thu 7;chủ nhật|chu nhat|cn",
    ),
    "ja": (
        "1月;2月;3月;4月;5月;6月;7月;8月;9月;10月;11月;12月",
        "月曜日|月;火曜日|火;水曜日|水;木曜日|木;金曜日|金;土曜日|土;日曜日|日",
    ),
    "zh": (
        "一月|1月;二月|2月;三月|3月;四月|4月;五月|5月;六月|6月;七月|7月;八月|8月;九月|9月;十月|10月;十一月|11月;十二月|12月",
        "星期一|周一;星期二|周二;星期三|周三;星期四|周四;星期五|周五;星期六|周六;星期日|周日",
    ),
    "ko": (
        "1월;2월;3월;4월;5월;6월;7월;8월;9월;10월;11월;12월",
        "월요일|월;화요일|화;수요일|수;목요일|목;금요일|금;토요일|토;일요일|일",
    ),
}


_MOST = 1000  # labels; more are no months
_YEAR = re.compile(
    r"(?P<name>.*?\D)[\s./'’-]*(?P<year>(?:19|20)\d\d|\d\d)|(?P<first>(?:19|20)\d\d)[\s./-]*(?P<later>\D.*)"
)


def plain_word(text: str) -> str:
    """Return a text as the names of months and weekdays are looked up."""
    return " ".join(text.casefold().replace(".", "").split())


@cache
def _names(language: str, *, days: bool) -> dict[str, int]:
    parts = WORDS[language][int(days)].split(";")
    return {word: place for place, words in enumerate(parts, 1) for word in words.split("|")}


@cache
def month_words() -> dict[str, int]:
    """Return the spelling of a month -> its number, 1 to 12; one that two languages use for two months is left out."""
    found: dict[str, int] = {}
    twice: set[str] = set()
    for language in WORDS:
        for word, place in _names(language, days=False).items():
            if found.setdefault(word, place) != place and language != "en":
                twice.add(word)
    english = _names("en", days=False)
    return {word: english.get(word, place) for word, place in found.items() if word not in twice or word in english}


def calendar_keys(labels: Sequence[str]) -> list[tuple[int, int]] | None:
    """Return what orders labels by the calendar; None unless all are months, with or without a year, or weekdays.

    All labels are of one language; January and Monday come first.
    """
    if not 2 <= len(labels) <= _MOST:
        return None
    plain = [plain_word(label) for label in labels]
    found = _places(plain)
    if found is not None:
        return [(0, place) for place in found]
    parts = [_YEAR.fullmatch(text) for text in plain]
    if not all(parts):
        return None
    told = [(part["name"] or part["later"], int(part["year"] or part["first"])) for part in parts if part]
    months = _places([name.strip(" -/'’") for name, _ in told], days=False)
    if months is None:
        return None
    years = [year if year > 99 else year + (2000 if year < 69 else 1900) for _, year in told]
    return list(zip(years, months, strict=True))


def _places(words: Sequence[str], *, days: bool = True) -> list[int] | None:
    for kind in (False, True) if days else (False,):
        for language in WORDS:
            names = _names(language, days=kind)
            if words[0] in names and all(word in names for word in words):
                return [names[word] for word in words]
    return None


def is_turned(places: Iterable[tuple[int, int]]) -> bool:
    """Whether places follow the calendar from some month or day on: a business year, a week from Sunday."""
    order = list(places)
    falls = [(before, after) for before, after in itertools.pairwise(order) if after < before]
    last = max((place for _, place in order), default=0)
    turns = [((0, last), (0, 1))] if last in (7, 12) else []  # from Sunday to Monday, from December to January
    return not falls or (falls == turns and order[-1] < order[0])


def in_label_order(labels: Iterable[str]) -> list[str]:
    """Return labels in natural order; months and weekdays by the calendar."""
    listed = list(labels)
    keys = calendar_keys(listed)
    if keys is None:
        return sorted(listed, key=natural_key)
    return [label for _, label in sorted(zip(keys, listed, strict=True))]
