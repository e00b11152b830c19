"""In which encoding a text file is written that is not UTF-8: by its bytes, or as the user says."""

from __future__ import annotations

import codecs
import unicodedata
from collections.abc import Callable, Sequence

from vantric.base.lazily import compiled
from vantric.errors import SourceError

#: Of the Latin script; the first is taken where it reads all words as words.
_LATIN = ("cp1252", "cp1250", "cp1254", "cp1257", "iso8859_2", "cp850", "mac_roman")
#: Of other scripts.
_OTHERS = ("cp1251", "koi8_r", "cp866", "cp1253", "cp1255", "cp1256", "tis_620", "shift_jis", "euc_jp")
_HAN = ("gb2312", "euc_kr", "big5", "gb18030", "cp949", "cp932")
_KANA = compiled("[\u3041-\u30fe]")
_LATIN_FIRST = frozenset(_LATIN)
#: What people call them.
NAMES = {
    "utf_16": "UTF-16",
    "cp1252": "Latin-1 (Windows-1252)",
    "latin_1": "Latin-1",
    "cp1250": "Windows-1250",
    "cp1251": "Windows-1251",
    "cp1254": "Windows-1254",
    "cp1257": "Windows-1257",
    "cp1253": "Windows-1253",
    "cp1255": "Windows-1255",
    "cp1256": "Windows-1256",
    "shift_jis": "Shift_JIS",
    "cp932": "Shift_JIS (Windows-932)",
    "gb2312": "GB2312",
    "gb18030": "GB18030",
    "big5": "Big5",
    "euc_kr": "EUC-KR",
    "cp949": "EUC-KR (Windows-949)",
    "koi8_r": "KOI8-R",
    "iso8859_2": "Latin-2",
}
#: The first byte of the signs that are used most.
_FREQUENT = {"gb2312": (0xB0, 0xD7), "gb18030": (0xB0, 0xD7), "big5": (0xA4, 0xC6), "shift_jis": (0x88, 0x98)}
_FREQUENT["cp932"] = _FREQUENT["shift_jis"]
_WORD = compiled(r"[^\W\d_]+")
#: A sign that no word has, within one: a currency, a quotation mark, a fraction.
_ODD = "\u00a2-\u00b4\u00b6\u00b8-\u00bf\u2020-\u2022\u2030\u0192\u02c6\u02dc\u201c-\u201e\u2039\u203a"
_BROKEN = compiled(rf"[^\W\d_][{_ODD}][^\W\d_]|[\u00a1-\u00ae\u00b1\u00b6\u00b8\u00bf\u201c-\u201e][^\W\d_]*\u0178")
#: Signs that no text of words has: controls, and the lines of frames.
_FRAMES = compiled("[\u0080-\u009f\u2500-\u25ff\u00a4\u00a6]|[^\\W\\d_][\u00a3\u00a5]|[\u00a3\u00a5][^\\W\\d_]{2}")
#: Letters of Icelandic that stand for others of Turkish.
_ICELANDIC = frozenset("þÞðÐýÝ")
#: Of the letters of a Latin text, the largest part that is not of ASCII.
_MOST_ACCENTS = 0.8
#: Letters of a word of another script that is no accident.
_LONG = 4
#: Bytes by which an encoding is told.
_SAMPLE = 1 << 16


def known_encoding(name: str) -> str:
    """Return Python's name of an encoding.

    Raises
    ------
    SourceError
        If there is none of that name.
    """
    try:
        return codecs.lookup(name).name.replace("-", "_")
    except LookupError:
        raise SourceError(f'there is no encoding \'{name}\'; write encoding="cp1250" or encoding="shift_jis"') from None


def encoding_of(content: bytes, source_name: str) -> str:
    """Return the encoding of text that is not UTF-8.

    Raises
    ------
    SourceError
        If several read it as words, and differ: it shows one of them in each.
    """
    sample = content[:_SAMPLE]
    if len(content) > _SAMPLE:  # a sign may be cut in two
        sample = sample[: sample.rfind(b"\n") + 1]
    texts = _plausible(sample)
    if not texts:
        western = _decoded(sample, "cp1252")
        if western is None or not (_foreign_words(western) and _BROKEN.search(western)):
            return "latin_1" if western is None else "cp1252"
        texts = {name: text for name in _LATIN[:2] if (text := _decoded(sample, name)) is not None}
        raise _question(texts, source_name)
    longest = max(len(word) for text in texts.values() for word in _foreign_words(text))
    if len(texts) == 1 and (longest >= _LONG or not _LATIN_FIRST.isdisjoint(texts)):
        return next(iter(texts))
    if longest < _LONG and (western := _decoded(sample, "cp1252")) is not None:
        texts.setdefault("cp1252", western)
    ranked = _ranked(sample, list(texts))
    if ranked is None:
        raise _question(texts, source_name)
    return ranked


def _plausible(sample: bytes) -> dict[str, str]:
    """Return the text in every encoding that reads all words as words; one alone where it leaves no doubt."""
    texts: dict[str, str] = {}
    for encodings, fits in ((_LATIN, _is_latin), (_OTHERS, _is_other), (_HAN, _is_han)):
        for name in encodings:
            text = _decoded(sample, name)
            if text is not None and text not in texts.values() and _fits(fits, text, name):
                texts[name] = text
                if name == "cp1252" and not _ICELANDIC & set(text):
                    return {name: text}
                if name in ("shift_jis", "euc_jp") and len(_KANA.findall(text)) >= _LONG - 1:
                    return {name: text}
    return texts


def _fits(fits: Callable[[str, str], bool], text: str, name: str) -> bool:
    return not any(unicodedata.category(sign) in ("Co", "Cn") for sign in text) and fits(text, name)


def _decoded(content: bytes, name: str) -> str | None:
    try:
        return content.decode(name)
    except UnicodeDecodeError:
        return None


def _foreign_words(text: str) -> list[str]:
    return [word for word in _WORD.findall(text) if not word.isascii() and word.isalpha()]


def _is_cased(word: str) -> bool:
    """Whether a word is written as words are: no capital after a small letter."""
    return word == word.lower() or word == word.upper() or word[1:] == word[1:].lower()


def _is_latin(text: str, _: str) -> bool:
    words = _foreign_words(text)
    if not words or _BROKEN.search(text) or _FRAMES.search(text):
        return False
    letters = "".join(words)
    accents = sum(not sign.isascii() for sign in letters)
    latin = all(unicodedata.name(sign, "").startswith("LATIN") for sign in letters)
    return latin and accents <= _MOST_ACCENTS * len(letters) and all(map(_is_cased, words))


def _is_other(text: str, name: str) -> bool:
    words = _foreign_words(text)
    if not words or _BROKEN.search(text) or _FRAMES.search(text):
        return False
    if name in ("shift_jis", "euc_jp"):
        kana = sum("\u3041" <= sign <= "\u30ff" for word in words for sign in word)
        half = any("\uff61" <= sign <= "\uff9f" for sign in text)
        return not half and (kana > 0 or _is_han(text, name))
    scripts = {unicodedata.name(sign, "").split()[0] for word in words for sign in word}
    return len(scripts) == 1 and "LATIN" not in scripts and all(map(_is_cased, words))


def _is_han(text: str, name: str) -> bool:
    words = _foreign_words(text)
    letters = [sign for word in words for sign in word if not sign.isascii()]
    if not letters:
        return False
    if name in ("euc_kr", "cp949"):
        return all("\uac00" <= sign <= "\ud7a3" for sign in letters)
    if any("\uac00" <= sign <= "\ud7a3" or "\uff61" <= sign <= "\uff9f" for sign in letters):
        return False
    first, last = _FREQUENT.get(name, (0, 255))
    frequent = sum(first <= sign.encode(name, "replace")[0] <= last for sign in letters)
    return frequent >= 0.8 * len(letters)


def _ranked(sample: bytes, names: Sequence[str]) -> str | None:
    """Return the encoding whose text is that of a language, as far as a text is long enough to tell."""
    from charset_normalizer import from_bytes

    matches = [match for match in from_bytes(sample, cp_isolation=list(names)) if match.encoding in names]
    ranked = sorted(matches, key=lambda match: (-match.coherence, match.chaos))
    if not ranked or ranked[0].coherence <= 0 or (len(ranked) > 1 and ranked[1].coherence >= ranked[0].coherence):
        return None
    return str(ranked[0].encoding)


def _question(texts: dict[str, str], source_name: str) -> SourceError:
    """Return the question in which encoding a file is written."""
    readings, first_readings = [], list(texts.items())[:3]
    words = [_foreign_words(text) for _, text in first_readings]
    least = min(map(len, words))
    apart = next((place for place in range(least) if len({word[place] for word in words}) == len(words)), 0)
    for (name, _), words_here in zip(first_readings, words, strict=True):
        word = words_here[apart] if words_here else ""
        readings.append(f"'{word}' with encoding=\"{name}\"")
    return SourceError(
        f"'{source_name}' is not UTF-8, and can be read in several encodings: {', '.join(readings)}; say which",
        asks=[("encoding", name) for name in texts],
    )
