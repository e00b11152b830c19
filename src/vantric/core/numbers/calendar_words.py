"""Names of months and weekdays in many languages; made from CLDR by tools/calendarwords.py, not edited."""

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
