"""The words of totals and of other derived rows, in many languages; evidence beside the arithmetic, never alone.

Words are compared as `vantric.core.totals.label_kinds.plain_label` writes them; accents may stay here.
"""

from __future__ import annotations


def _phrases(text: str) -> tuple[str, ...]:
    return tuple(phrase.strip() for phrase in text.replace("\n", "|").split("|") if phrase.strip())


#: Whole labels that name a total and nothing else.
TOTALS = _phrases(
    """
total|totals|grand total|grand totals|sum total|overall total|total sum|total amount|total count|running total
column total|in total|in all|all in all|ttl|tot|totl|gtotal|grandtotal|ytd|year to date|σ|∑
gesamt|gesamtsumme|gesamtergebnis|gesamtzahl|gesamttotal|gesamtanzahl|anzahl gesamt|summe|summe gesamt|endsumme
insgesamt|zusammen|alle zusammen|jahressumme
total général|au total|en tout|ensemble total|montant total|cumul annuel
total general|total generale|result total|suma total|en total|total geral|soma|soma total|somatório
totale|totale generale|totale complessivo|complessivo|tutto
totaal|eindtotaal|totaalsom|algemeen totaal|totaal generaal
totalt|totalsumma|summa|slutsumma|i alt|ialt|sum i alt|hovedsum|samtals|alls|yhteensä|loppusumma|kaikkiaan
suma|razem|łącznie|ogółem|suma końcowa|w sumie|celkem|součet|celkový součet|spolu|súčet|összesen|végösszeg|mindösszesen
total|ukupno|sveukupno|skupaj|vsega|σύνολο|γενικό σύνολο|toplam|genel toplam
итого|всего|итог|общий итог|общая сумма|разом|усього|всього|підсумок|общо|всичко|обща сума|вкупно|укупно
iš viso|viso|bendra suma|kopā|pavisam|kopsumma|kokku|kogusumma|üldsumma
合计|总计|共计|總計|合計|總額|計|総計|総合計|합계|총계|총합계|총합
المجموع|الإجمالي|الاجمالي|اجمالي|المجموع الكلي|סה"כ|סהכ|סך הכל|סה"כ כללי|جمع|جمع کل|مجموع|کل
รวม|รวมทั้งหมด|รวมทั้งสิ้น|ผลรวม|tổng|tổng cộng|tổng số|jumlah|total keseluruhan|jumlah total|कुल|कुल योग|योग|মোট|kabuuan
jumla|გამი|ჯამი|სულ|ընդամենը|ընդհանուր|жиыны|jami|cəmi|gjithsej|totali|iomlán|cyfanswm|guztira
"""
)
#: Whole labels that name the sum of some rows.
SUBTOTALS = _phrases(
    """
sub total|sub-total|subtotal|subtotals|sub totals|zwischensumme|teilsumme|zwischenergebnis|sous-total|sous total
total partiel|subtotale|total parcial|subtotaal|delsumma|delsum|välisumma|suma częściowa|mezisoučet|medzisúčet
részösszeg|total parțial|μερικό σύνολο|ara toplam|промежуточный итог|小计|小計|소계|tarpinė suma|starpsumma|vahesumma
"""
)
#: Labels that may name a total, and may be the name of a category.
WEAK = _phrases(
    """
sigma|all|sum|sums|overall|n|alle|alles|tous|toutes|todos|todas|tutti|tutte|everything|whole|entire|all together
altogether|combined|somme|net|aggregate|everyone|both|result|results|ergebnis|ensemble|resultat|resultado|risultato
cum|cumul|cumulative|cumulated|kumuliert|cumulé
"""
)
#: Words of totals that may stand behind a name: "Kiln 3 total".
BEHIND = _phrases(
    "total|totals|subtotal|sub-total|gesamt|summe|zwischensumme|totaal|totale|totalt|итого|razem|celkem|összesen"
)
#: Words of totals that may stand before a name: "Total Kiln 3".
BEFORE = _phrases(
    """
grand total|sub total|sub-total|subtotal|total|totals|ttl|gesamt|summe|sum|totale|totaal|итого|всего|suma|overall|all
sum of|yhteensä|celkem|razem|合計|合计|總計|总计
"""
)
#: A statistic of the other rows -> what it is called.
STATISTICS = {
    "mean": _phrases(
        """
average|avg|mean|mittelwert|durchschnitt|mittel|moyenne|media|promedio|média|gemiddelde|среднее|ø|schnitt|keskiarvo
medel|medelvärde|gennemsnit|gjennomsnitt|średnia|průměr|priemer|átlag|prosek|ortalama|平均|평균|vidurkis|vidējais
"""
    ),
    "median": _phrases("median|médiane|mediana|медиана|中央値|mediaan"),
    "maximum": _phrases("max|maximum|maximal|höchstwert|massimo|máximo|макс|最大|peak|highest|maks"),
    "minimum": _phrases("min|minimum|minimal|tiefstwert|minimo|mínimo|мин|最小|lowest"),
    "number of rows": _phrases(
        "row count|rows|count|records|number of rows|anzahl|anzahl zeilen|nombre|number of categories|n rows"
        "|no. of rows|zeilen"
    ),
    "spread": _phrases("std|std dev|stdev|standard deviation|sd|standardabweichung|range|spannweite|variance"),
}
#: Words with which a row begins that is a remark beside the counts.
MEMO_BEFORE = _phrases(
    """
last year|last month|last week|last quarter|last period|previous year|previous month|previous week|previous quarter
previous period|prior year|prior month|prior week|prior quarter|prior period|prev year|prev month|prev week|prev. year
prev. month|vorjahr|vormonat|vorwoche|target|goal|plan|budget|forecast|ziel|soll|zielwert|objectif|objetivo|obiettivo
cible|limit|threshold|benchmark|ppm|dpmo|dpu|fpy|yield|oee|rate|quote|error rate|defect rate|reject rate
ausschussquote|fehlerquote|année précédente|año anterior|anno precedente|jaar ervoor|vorig jaar|rok poprzedni
"""
)
#: Whole labels of such rows.
MEMO = _phrases(
    "difference|diff|delta|change|abweichung|differenz|variance|δ|prior|check|checksum|kontrolle|écart|diferencia|scarto|%"
)
#: Words of such rows wherever they stand: what was looked at, not what was found.
MEMO_WITHIN = _phrases(
    """
inspected|checked|produced|processed|shipped|tested|geprüft|produziert|hergestellt|output|production|produktion
admissions|calls handled|opportunities|units made|lot size|sample size|ppm|contrôlées|inspeccionadas|ispezionati
"""
)
#: Words of a ratio at the end of a label.
MEMO_BEHIND = _phrases("rate|quote")
#: Words with which a part of the row above begins.
OF_WHICH = _phrases(
    """
of which|of them|of these|thereof|there of|out of which|whereof|davon|darunter|hiervon|dont|di cui|de los cuales
de las cuales|de ellos|dos quais|das quais|waarvan|heraf|herav|derav|varav|z toho|z tego|w tym|ebből|joista|siitä
из них|в том числе|з них|у тому числі|από τα οποία|εκ των οποίων|bunun|內訳|内訳|うち|其中|이 중|그 중|그중
"""
)
#: The same where the label may say what the row above holds, too.
INCLUDING = _phrases("incl|incl.|including|inkl|inkl.|einschl|einschl.|y compris|incluso|compreso|w tym")
#: Words of a sum that is carried to the next page.
FORWARD = _phrases(
    """
carry forward|carried forward|carry fwd|carried fwd|carry over|carried over|carried down|brought forward|brought fwd
brought over|brought down|bring forward|balance forward|übertrag|vortrag|zu übertragen|à reporter|a riportare|riporto
suma y sigue|suma anterior|do przeniesienia|z przeniesienia
"""
)
#: Shorter ones, which may be anything.
FORWARD_SHORT = _phrases(
    "bf|b/f|b/f.|cf|c/f|c/f.|bd|b/d|cd|c/d|carried|brought|report|transport|transporte|przeniesienie|overført|siirto|prenos"
    "|continued|forward"
)
#: Labels that hold what nothing else holds: they may equal the sum of the others by right.
REST = _phrases(
    """
other|others|all other|all others|rest|remaining|remainder|misc|misc.|miscellaneous|sonstige|sonstiger|sonstiges|andere
übrige|autre|autres|otros|otras|altri|altro|overige|outros|muut|inne|ostatní|egyéb|прочие|прочее|другое|その他|其他|기타
unknown|none|n/a|na|no defect|ok|good|pass|passed
"""
)
#: Names of sheets that hold what other sheets hold together.
SUMMARY_SHEETS = _phrases(
    """
summary|total|totals|all|overview|year|ytd|consolidated|annual|gesamt|übersicht|zusammenfassung|jahr|summe|recap
synthèse|resumen|riepilogo|samlet|yhteenveto|podsumowanie|souhrn|итого|свод|集計|汇总|합계|toplam|totaal|totale|razem
"""
)
