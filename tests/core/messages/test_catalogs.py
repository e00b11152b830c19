"""The catalogs: every message there, used, said once, with the arguments that the code gives; plurals as CLDR has them."""

import ast
import copy
import json
import pickle
import re
import unittest
from collections import Counter
from collections.abc import Iterator
from itertools import product
from pathlib import Path
from string import Formatter as Gaps
from typing import Any

import vantric
from tests.effort import some
from vantric.core.messages.formatter import PLAIN, English, Formatter
from vantric.core.messages.languages import LANGUAGES, WORDS, Language, language
from vantric.core.messages.message import (
    Capital,
    Day,
    Joined,
    Label,
    List,
    Message,
    Percent,
    Range,
    Remark,
    Shown,
    Written,
    labels,
)
from vantric.core.numbers.number_format import NumberStyle

SOURCE = Path(vantric.__file__).parent
ENGLISH = language("en").messages
OTHERS = [code for code in LANGUAGES if code != "en"]
NUMBERS = (0, 1, 2, 5, 21, 231, 1_234_567)
HOSTILE = ("{count}", "%s %(x)d {0}", "1.234,5", "a, b and c", "<b>&amp;</b>", "“x”", "\u202eabc", "ı İ ß", "")
#: Ids that are made of values: parts of the code that name them in another way than in a call.
SAYS = {"Message", "say", "pattern"}


def forms(pattern: Any) -> list[str]:
    """Return the texts of a message."""
    return [pattern] if isinstance(pattern, str) else [text for name, text in pattern.items() if name != "by"]


def gaps(pattern: Any) -> set[str]:
    """Return the arguments of a message, the one that chooses the plural too."""
    names = {str(name) for text in forms(pattern) for _, name, _, _ in Gaps().parse(text) if name is not None}
    return names if isinstance(pattern, str) else names | {pattern["by"]}


def calls() -> Iterator[tuple[str, ast.Call]]:
    """Yield every call that names a message, with where it is."""
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            name = getattr(node.func, "attr", getattr(node.func, "id", "")) if isinstance(node, ast.Call) else ""
            if isinstance(node, ast.Call) and name in SAYS and node.args and "cli" not in path.parts:
                yield f"{path.relative_to(SOURCE)}:{node.lineno}", node


def ids_of(node: ast.expr) -> list[str]:
    """Return the ids that an expression may be: regular expressions, of what is put together."""
    if isinstance(node, ast.Constant):
        return [re.escape(str(node.value))]
    if isinstance(node, ast.IfExp):
        return ids_of(node.body) + ids_of(node.orelse)
    if isinstance(node, ast.JoinedStr):
        parts = [re.escape(str(part.value)) if isinstance(part, ast.Constant) else ".*" for part in node.values]
        return ["".join(parts)]
    return []


def local(code: str) -> Formatter:
    """Return what writes a language."""
    tongue = language(code)
    return Formatter(tongue, NumberStyle(show_numbers=tongue.show_numbers, percent_sign=tongue.percent_sign))


class Catalogs(unittest.TestCase):
    def test_no_key_stands_twice_in_a_catalog(self) -> None:
        for path in sorted((SOURCE / "core" / "messages" / "catalogs").glob("*.json")):
            twice = Counter(
                key for key, _ in json.loads(path.read_text(encoding="utf-8"), object_pairs_hook=lambda pairs: pairs)
            )
            self.assertEqual([key for key, times in twice.items() if times > 1], [], path.name)

    def test_every_message_that_is_said_is_there_with_its_arguments(self) -> None:
        seen = 0
        for place, call in calls():
            given = {word.arg for word in call.keywords}
            for name in ids_of(call.args[0]):
                known = [message for message in ENGLISH if re.fullmatch(name, message)]
                self.assertTrue(known, f"{place}: no message {name}")
                if ".*" in name or None in given or getattr(call.func, "attr", "") == "pattern":
                    continue
                [message] = known
                wanted = gaps(ENGLISH[message])
                by = "" if isinstance(ENGLISH[message], str) else ENGLISH[message]["by"]  # type: ignore[index]
                self.assertLessEqual(given, wanted, f"{place}: {message} does not use all of its arguments")
                # Without the number that chooses, as in the title of an axis, it is said of several.
                unnamed = {by} if all(f"{{{by}}}" not in text for text in forms(ENGLISH[message])) else set()
                self.assertLessEqual(wanted - unnamed, given, f"{place}: {message} lacks an argument")
                seen += 1
        self.assertGreater(seen, 200)

    def test_every_message_is_used(self) -> None:
        said = {name for _, call in calls() for name in ids_of(call.args[0])}
        written = {
            node.value
            for path in SOURCE.rglob("*.py")
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
            if isinstance(node, ast.Constant) and isinstance(node.value, str)
        }
        script = (SOURCE / "output" / "page.js").read_text(encoding="utf-8")
        made = {"frequency chart without subject", "title without subject", *(f"cumulative {x}" for x in ("rate",))}
        unused = [
            name
            for name in ENGLISH
            if name not in written | made
            and f'"{name}"' not in script
            and not any(re.fullmatch(pattern, name) for pattern in said if pattern != ".*")
            and not re.fullmatch(r"(all rates|total) (rose|fell)( by)?|(rate|times|at least), (not )?significant", name)
            and not re.fullmatch(r"rate (rose|fell)(, times|, at least)?|recut, (reach|within)", name)
        ]
        self.assertEqual(unused, [])

    def test_no_text_has_two_ids(self) -> None:
        texts = Counter(
            text for name, pattern in ENGLISH.items() for text in set(forms(pattern)) if len(gaps(text)) < 9
        )
        twice = {text: [name for name in ENGLISH if text in forms(ENGLISH[name])] for text, n in texts.items() if n > 1}
        plain = {text: names for text, names in twice.items() if text.strip("{}").isidentifier() is False}
        del plain["“{label}”"]  # users may have another word for what is blank than for a quotation
        self.assertEqual(plain, {})

    def test_other_catalogs_hold_messages_of_the_english_one(self) -> None:
        for code in OTHERS:
            messages, whole = language(code).messages, gaps_of_all()
            self.assertLessEqual(set(messages), set(ENGLISH), code)
            self.assertLessEqual(set(json_of("en")["chart"]), set(messages), code)
            for name, pattern in messages.items():
                self.assertTrue(all(text.strip() for text in forms(pattern)), f"{code}: {name}")
                self.assertLessEqual(gaps(pattern), whole[name], f"{code}: {name}")
            self.assertEqual(len(str(messages["months"]).split()), 12)

    def test_a_catalog_is_in_its_own_script(self) -> None:
        for code, script in (("ru", "[а-яА-Я]"), ("zh", "[\u4e00-\u9fff]"), ("ja", "[\u3040-\u30ff\u4e00-\u9fff]")):
            for name, pattern in language(code).messages.items():
                for text in forms(pattern):
                    plain = re.sub(r"\{\w+\}|[\W\d_]", "", text)
                    self.assertTrue(not plain or re.search(script, plain), f"{code}: {name}: {text}")

    def test_a_catalog_has_one_line_a_message(self) -> None:
        for code in LANGUAGES:
            path = SOURCE / "core" / "messages" / "catalogs" / f"{code}.json"
            lines = path.read_text(encoding="utf-8").splitlines()
            names = [json.loads("{" + line.strip().rstrip(",") + "}") for line in lines if line.startswith("  ")]
            self.assertEqual(len(names), len({next(iter(name)) for name in names}), code)
            self.assertEqual(len(names), sum(len(part) for part in json_of(code).values() if isinstance(part, dict)))

    def test_the_words_that_users_may_change_keep_their_names(self) -> None:
        for name in ("title", "cut", "cut of one", "records", "record", "rest", "rest of one", "without", "months"):
            self.assertIn(name, WORDS)
        self.assertEqual(dict(WORDS)["record"], "record")
        self.assertEqual(len(WORDS), len(list(WORDS)))
        with self.assertRaises(TypeError):
            WORDS["title"] = "x"


def json_of(code: str) -> dict[str, Any]:
    """Return a catalog as it is written."""
    path = SOURCE / "core" / "messages" / "catalogs" / f"{code}.json"
    content: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    return content


def gaps_of_all() -> dict[str, set[str]]:
    """Return the arguments of every message."""
    return {name: gaps(pattern) for name, pattern in ENGLISH.items()}


class Rendering(unittest.TestCase):
    def test_every_message_at_every_number_in_every_language(self) -> None:
        for code, (name, pattern), number in product(some(LANGUAGES, 2), ENGLISH.items(), NUMBERS):
            formatter = local(code)
            text = formatter.say(name, **dict.fromkeys(gaps(pattern), number))
            self.assertNotIn("{", text, name)
            shown = formatter.style.plain(number)
            rule = (
                language(code).plural(f"{number:,}")
                if name in language(code).messages
                else PLAIN.tongue.plural(str(number))
            )
            own = language(code).messages.get(name, pattern)
            form = own if isinstance(own, str) else own.get(rule, own["other"])
            self.assertEqual(text.count(shown), form.count("{") + form.replace("{", "").count(shown), f"{code}: {name}")

    def test_labels_stand_in_messages_as_they_are(self) -> None:
        for (name, pattern), label in product(ENGLISH.items(), HOSTILE):
            text = PLAIN.say(name, **dict.fromkeys(gaps(pattern), label))
            form = pattern if isinstance(pattern, str) else pattern["other"]
            self.assertEqual(text, re.sub(r"\{\w+\}", lambda _, label=label: label, form), name)

    def test_arguments_in_german(self) -> None:
        german = local("de")
        for value, text in (
            (1234567, "1.234.567"),
            (0.5, "0,5"),
            (Percent(79.98, (80,)), "79,98\xa0%"),
            (Written("p 1"), "p 1"),
            (Day("2026-03-05"), "05.03.2026"),
            (Day("2026-W03"), "2026-W03"),
            (Label("a\nb" * 40), "„" + ("a b" * 40)[:39] + "…“"),
            (Range(Written("1.5"), Written("2.5%")), "1,5–2,5\xa0%"),
            (Range(Written("−1.5"), Written("+2")), "−1,5 bis +2"),
            (List(("a", 1000, Percent(5.0))), "a, 1.000 und 5,0\xa0%"),
            (labels("abcd", most=2), "„a“, „b“ and 2 more"),
            (Message("records", count=1), "Datensatz"),
            ("3,834", "3,834"),
        ):
            self.assertEqual(german.shown(value), text)

    def test_what_a_language_lacks_is_english_with_its_numbers(self) -> None:
        german = local("de")
        sentence = Message("left out", count=1234, records=Message("counted", number=1234, unit="kg"), label=Label("d"))
        said = german.text(Joined([sentence, Remark("{} of 5", 1234)]))
        self.assertIsInstance(said, English)
        self.assertEqual(said, "1.234 kg with a blank “d” are left out. 1.234 of 5")
        self.assertNotIsInstance(german.text(Message("without", number=2, label="x")), English)
        self.assertEqual(german.text("1,234"), "1,234", "a name from the data")
        side = german.text(Message("side base", side="Early", base=Message("without", number=1234, label="x")))
        self.assertEqual((side, type(side)), ("Early: 1.234 ohne x", str), "no word of it is English")

    def test_composed_texts_are_texts(self) -> None:
        for text in (
            Message("categories", count=2),
            Remark("{} records", 3834),
            Joined([Message("no change"), ""]),
            Capital("sources: 2"),
            Shown(Percent(99.96)),
        ):
            self.assertEqual(json.loads(json.dumps(text)), str(text))
            self.assertIs(copy.deepcopy(text), text)
            back = pickle.loads(pickle.dumps(text))
            self.assertEqual((back, type(back), local("de").text(back)), (text, type(text), local("de").text(text)))
        self.assertEqual(local("tr").text(Capital("izgara")), "İzgara")
        self.assertFalse(Joined(["", ""]))


class Plurals(unittest.TestCase):
    def test_categories_are_those_of_cldr(self) -> None:
        from babel import Locale

        numbers = [
            *map(str, range(0, 1200)),
            "1.0",
            "1.5",
            "0.5",
            "2.0",
            "21.00",
            "1,000,000",
            "2,000,000",
            "1,234,567",
        ]
        for code in LANGUAGES:
            rule, tongue = Locale.parse(code).plural_form, language(code)
            for number in numbers:
                self.assertEqual(tongue.plural(number), rule(_decimal(number)), f"{code}: {number}")

    def test_powers_of_ten_stand_for_several(self) -> None:
        self.assertEqual([Language().plural(text) for text in ("1e+21", "nan", "", "-1")], ["other"] * 3 + ["one"])

    def test_records_in_russian_have_their_own_forms_when_a_catalog_has_them(self) -> None:
        russian = language("ru")
        several = {"by": "count", "one": "запись", "few": "записи", "many": "записей", "other": "записи"}
        tongue = Language("ru", messages={**russian.messages, "records": several}, plurals=russian.plurals)
        shown = [Formatter(tongue).say("records", count=number) for number in (1, 2, 5, 21, 111)]
        self.assertEqual(shown, ["запись", "записи", "записей", "запись", "записей"])


def _decimal(text: str) -> Any:
    from decimal import Decimal

    return Decimal(text.replace(",", ""))


if __name__ == "__main__":
    unittest.main()
