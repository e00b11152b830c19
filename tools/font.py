"""Cut the font of our pictures out of the one it is made from: ``python -m tools.font TARBALL [--check]``.

The tarball is that of the package ``source-sans`` 3.52.0 of the npm registry (SIL Open Font License 1.1). "Source" is a
reserved name, so the cut is called Vantric Sans. It keeps the characters of `RANGES`, no hints, and of the kerning the
pairs of ASCII that it moves visibly: so the table of advances, which holds the same pairs, is right to the hundredth of
a pixel wherever it is drawn.
"""

from __future__ import annotations

import argparse
import hashlib
import io
import sys
import tarfile
from pathlib import Path

from fontTools.feaLib.builder import addOpenTypeFeaturesFromString
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

FOLDER = Path(__file__).parents[1] / "src" / "vantric" / "rendering" / "typeface"
FAMILY = "Vantric Sans"
#: SHA-256 of the tarball.
HASH = "49cf78ddd79b436591ee696785222b54ff28102922e3d3df297fe382d7fdfa88"
#: Style -> its file in the tarball.
STYLES = {"Regular": "package/TTF/SourceSans3-Regular.ttf", "Semibold": "package/TTF/SourceSans3-Semibold.ttf"}
LICENSE = "package/LICENSE.md"
#: Latin with its extensions, Greek, Cyrillic, Vietnamese; punctuation, currencies, letter-like characters, arrows,
#: mathematics, shapes.
RANGES = ((0x20, 0x24F), (0x2B0, 0x36F), (0x370, 0x4FF), (0x1E00, 0x1EFF), (0x2000, 0x22FF), (0x2460, 0x27BF))
#: Kerning of less is not seen, in thousandths of an em.
LEAST_KERNING = 10
#: Seconds since 1904: the date in the font, so that every cut is the same.
_MADE = 3_850_000_000


def cut(source: bytes, style: str) -> bytes:
    """Return the font of one style."""
    font = TTFont(io.BytesIO(source), recalcTimestamp=False)
    pairs = kerning(font)
    options = Options(
        layout_features=[], hinting=False, name_IDs=[0, 1, 2, 3, 4, 5, 6, 13, 14, 16, 17], name_languages=[0x409]
    )
    options.drop_tables += ["DSIG", "BASE", "GDEF", "GSUB", "gasp"]
    subsetter = Subsetter(options)
    subsetter.populate(unicodes=[code for first, last in RANGES for code in range(first, last + 1)])
    subsetter.subset(font)
    names = font.getBestCmap()
    rules = "\n".join(f"pos {names[ord(left)]} {names[ord(right)]} {size};" for (left, right), size in pairs.items())
    addOpenTypeFeaturesFromString(font, f"feature kern {{\n{rules}\n}} kern;", tables=["GPOS"])
    _rename(font, style)
    font["head"].modified = font["head"].created = _MADE
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def _rename(font: TTFont, style: str) -> None:
    table, plain = font["name"], style == "Regular"
    texts = {
        1: FAMILY if plain else f"{FAMILY} {style}",
        2: "Regular",
        3: f"3.052;VantricSans-{style}",
        4: FAMILY if plain else f"{FAMILY} {style}",
        6: f"VantricSans-{style}",
        **({} if plain else {16: FAMILY, 17: style}),
    }
    for number in (1, 2, 3, 4, 6, 16, 17):
        table.removeNames(nameID=number)
    for number, text in texts.items():
        table.setName(text, number, 3, 1, 0x409)


def kerning(font: TTFont) -> dict[tuple[str, str], int]:
    """Return the pairs of ASCII that kerning moves visibly, in thousandths of an em."""
    signs = {name: chr(code) for code, name in font.getBestCmap().items() if 0x21 <= code <= 0x7E}
    table = font["GPOS"].table
    places = {
        index
        for record in table.FeatureList.FeatureRecord
        if record.FeatureTag == "kern"
        for index in record.Feature.LookupListIndex
    }
    pairs: dict[tuple[str, str], int] = {}
    for index in sorted(places):
        lookup = table.LookupList.Lookup[index]
        subtables = [getattr(subtable, "ExtSubTable", subtable) for subtable in lookup.SubTable]
        for left, item in signs.items():
            for right, other in signs.items():
                size = _kerning_of(subtables, left, right)
                if size:
                    pairs[item, other] = pairs.get((item, other), 0) + size
    return {pair: size for pair, size in sorted(pairs.items()) if abs(size) >= LEAST_KERNING}


def _kerning_of(subtables: list[object], left: str, right: str) -> int:
    """Return by how much a lookup moves a pair: the first subtable that covers it decides."""
    for subtable in subtables:
        if left not in subtable.Coverage.glyphs:  # type: ignore[attr-defined]
            continue
        if subtable.Format == 1:  # type: ignore[attr-defined]
            place = subtable.Coverage.glyphs.index(left)  # type: ignore[attr-defined]
            for record in subtable.PairSet[place].PairValueRecord:  # type: ignore[attr-defined]
                if record.SecondGlyph == right:
                    return _advance(record.Value1)
            continue
        first = subtable.ClassDef1.classDefs.get(left, 0)  # type: ignore[attr-defined]
        second = subtable.ClassDef2.classDefs.get(right, 0)  # type: ignore[attr-defined]
        return _advance(subtable.Class1Record[first].Class2Record[second].Value1)  # type: ignore[attr-defined]
    return 0


def _advance(value: object) -> int:
    return int(getattr(value, "XAdvance", 0) or 0) if value is not None else 0


def files(tarball: bytes) -> dict[Path, bytes]:
    """Return the path and the content of the fonts and their license."""
    if hashlib.sha256(tarball).hexdigest() != HASH:
        raise SystemExit("this is not the tarball that the font is cut from: its SHA-256 is another")
    with tarfile.open(fileobj=io.BytesIO(tarball)) as archive:
        members = {name: archive.extractfile(name) for name in (*STYLES.values(), LICENSE)}
        contents = {name: file.read() for name, file in members.items() if file is not None}
    fonts = {FOLDER / f"VantricSans-{style}.ttf": cut(contents[name], style) for style, name in STYLES.items()}
    return {**fonts, FOLDER / "OFL.txt": contents[LICENSE]}


def main() -> None:
    """Write the fonts, or say whether they are those that the tarball gives."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("tarball", type=Path)
    parser.add_argument("--check", action="store_true")
    arguments = parser.parse_args()
    for path, content in files(arguments.tarball.read_bytes()).items():
        if not arguments.check:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(content)
        elif path.read_bytes() != content:
            sys.exit(f"{path.name} is not what the tarball gives")


if __name__ == "__main__":
    main()
