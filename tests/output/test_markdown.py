"""What is written as Markdown is live to no reader: neither the text of a report file, nor labels, nor links."""

import re
from html.parser import HTMLParser

from hypothesis import example, given, settings
from hypothesis import strategies as st
from markdown_it import MarkdownIt

import vantric as vt
from tests.effort import examples
from tests.folder import InFolder
from vantric.output.prose import plain_markdown, plain_paragraph, prose_html, prose_markdown

#: A reader that passes HTML on and follows every link, as many do.
READER = MarkdownIt("commonmark", {"html": True}).enable(["table"])
READER.validateLink = lambda url: True  # type: ignore[method-assign]
ALLOWED = {"p", "em", "strong", "code", "pre", "a", "ul", "ol", "li", "blockquote", "hr", "br", "table", "thead"}
ALLOWED |= {"tbody", "tr", "th", "td", *(f"h{level}" for level in range(1, 7))}
PIECES = (
    *("<script>alert(1)</script>", "<img src=x onerror=y>", "<iframe src=//h>", "<!--", "-->", "<?x?>", "<![CDATA["),
    *("[u](javascript:x)", "[u](//host/share)", "[u](file:///x)", "[u]( <java\tscript:x>)", "![i](http://h/i.png)"),
    *("[r]: javascript:x\n", "[r]", "[t][r]", "<javascript:x>", "<http://h>", "[ok](https://h.org/a_(b) 't')"),
    *("&lt;b&gt;", "&#60;i&#62;", "&amp;lt;", "data:text/html,x", "vbscript:x", "[x](\\\\host\\s)", "[y](/etc/passwd)"),
    *("`", "``", "```\n", "~~~\n", "    ", "\t", "\n", "\n\n", "> ", "- ", "1. ", "| a | b |\n|---|---|\n| ", " | "),
    *("*", "_", "**", "\\", "#", "=", "-", "+", "]", "[", "(", ")", "!", '"', "'", "<", ">", "&", ";", "é", "\u202e"),
)


class _Tags(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.tags: set[str] = set()
        self.links: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.add(tag)
        self.links += [value or "" for name, value in attrs if name not in ("title", "style", "class", "start")]


def found(html: str) -> _Tags:
    tags = _Tags()
    tags.feed(html)
    return tags


texts = st.lists(st.sampled_from(PIECES) | st.text(max_size=4), max_size=12).map("".join)


class Markdown(InFolder):
    def check(self, html: str) -> None:
        seen = found(html)
        self.assertLessEqual(seen.tags, ALLOWED | {"div"})
        for link in seen.links:
            self.assertRegex(link, r"(?i)^(https?://[^/]|mailto:)")

    @settings(max_examples=examples(800), deadline=None)
    @given(texts)
    @example("    <script>alert(1)</script>")
    @example("\n \n\t<script>alert(1)</script>\n")
    @example("[r]() [s](<> 't')")
    def test_prose_is_harmless_to_every_reader(self, text: str) -> None:
        self.check(READER.render(prose_markdown(text)))
        self.check(prose_html(text).replace(' class="prose"', ""))

    @settings(max_examples=examples(800), deadline=None)
    @given(texts)
    def test_a_label_is_text(self, text: str) -> None:
        for written in (
            f"# {plain_markdown(text)}",
            plain_paragraph(text),
            f"| a |\n|---|\n| {plain_markdown(text)} |",
        ):
            self.assertLessEqual(
                found(READER.render(written)).tags, {"p", "h1", "table", "thead", "tbody", "tr", "th", "td"}
            )
        shown = re.sub(r"<[^>]*>", "", READER.renderInline(plain_markdown("a &lt;b&gt; <i> &copy; R&D")))
        self.assertEqual(shown, "a &amp;lt;b&amp;gt; &lt;i&gt; &amp;copy; R&amp;D")

    def test_what_the_author_meant_stays(self) -> None:
        text = "# One\n\nA *b* **c** `<d>` [e](https://f.org/g?h=1&i=2) [m](mailto:a@b.org)\n\n- x\n- y\n\n| a | b |\n|:--|--:|\n| 1 | `2\\|3` |\n"
        self.assertEqual(READER.render(prose_markdown(text)), READER.render(text))

    def test_what_is_not_closed_takes_in_nothing_that_follows(self) -> None:
        for text in ("```\ncode", "~~~\ncode", "> a\n```\nx", "- a\n\n  ```\n  b", "    code", "| a |\n|---|"):
            html = READER.render(f"{prose_markdown(text)}\n## Next\n")
            self.assertIn("<h2>Next</h2>", html, text)

    def test_a_report_and_its_page(self) -> None:
        self.file("defect,n\n&lt;b&gt;<i>,5\nChip,3\n", "log.csv")
        live = "<script>x</script> [u](//host/share) [j](javascript:x) <img src=x> **bold**"
        self.file(
            f'format = "vantric/report"\nversion = 2\ntitle = "<b>T</b>"\ntext = """{live}"""\n[sources.log]\n'
            f'source = "log.csv"\n[[sections]]\nkind = "pareto"\ntitle = "S"\ntext = """{live}"""\n'
            '[sections.counting]\nby = "defect"\ncount = "n"\n',
            "r.toml",
        )
        report = vt.report(self.folder / "r.toml")
        report.save(self.folder / "r.md")
        html = READER.render((self.folder / "r.md").read_text(encoding="utf-8"))
        self.assertEqual(found(html).tags & {"script", "iframe", "i", "b"}, set())
        self.assertEqual(html.count("<img"), 1, "the picture of its chart")
        self.assertEqual(html.count("href"), 0)
        self.assertEqual(html.count("<strong>bold</strong>"), 2)
        self.assertIn("&amp;lt;b&amp;gt;&lt;i&gt;", html)
        report.save(self.folder / "r.html")
        page = (self.folder / "r.html").read_text(encoding="utf-8")
        self.assertNotIn('href="//', page)
        self.assertNotIn('javascript:x"', page)


class TextFiles(InFolder):
    def test_fields_that_other_programs_would_divide_are_quoted(self) -> None:
        for label in ("x;=1+1", "x\t=1+1", "x|y", 'say "x"', "a,b", "two\rlines"):
            table = vt.pareto([label, label, "other"])
            table.save(self.folder / "t.csv")
            line = (self.folder / "t.csv").read_bytes().decode().split("\n")[1]
            self.assertIn('"' + label.replace('"', '""') + '"', line)
            again = vt.pareto(self.folder / "t.csv", "category", count="frequency", keep_totals=True)
            self.assertEqual(again.categories[0].splitlines(), label.splitlines())
