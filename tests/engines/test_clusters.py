"""What is said of a cluster before it is asked: its URL, its options, its condition."""

import unittest
from unittest import mock

import vantric as vt
from vantric.base.safe_text import is_cluster, masked
from vantric.engines.clusters import ClusterUrl, read_url
from vantric.engines.spark_session import in_one_line
from vantric.errors import MissingExtraError, SourceError


class Urls(unittest.TestCase):
    def test_parts(self) -> None:
        for url, expected in (
            (
                "spark://h:7077/?path=/d/*.parquet",
                ClusterUrl("spark://h:7077", (("h", 7077),), "/d/*.parquet", "parquet"),
            ),
            ("spark://h?path=/d", ClusterUrl("spark://h", (("h", 7077),), "/d", "parquet")),
            ("spark://a:1,b:2", ClusterUrl("spark://a:1,b:2", (("a", 1), ("b", 2)))),
            (
                "sc://h/?path=s3a://b/x+y%20z.csv.gz",
                ClusterUrl("sc://h", (("h", 15002),), "s3a://b/x+y z.csv.gz", "csv"),
            ),
            (
                "sc://h:1/;token=t;use_ssl=true?path=/f?.json",
                ClusterUrl("sc://h:1/;token=t;use_ssl=true", (("h", 1),), "/f?.json", "json"),
            ),
            ("SC://[::1]:5/?path=/x&format=ORC", ClusterUrl("sc://[::1]:5", (("::1", 5),), "/x", "orc")),
        ):
            with self.subTest(url):
                self.assertTrue(is_cluster(url))
                self.assertEqual(read_url(url), expected)
        for url in ("postgresql://h/d", "spark.csv", "sc.parquet", "sparks://h"):
            self.assertFalse(is_cluster(url), url)

    def test_what_is_wrong(self) -> None:
        for url, words in (
            ("spark://", "names no host and port"),
            ("spark://h:x", "names no host and port"),
            ("spark://h:70777", "names no host and port"),
            ("spark://h:1/data/x.parquet", r"stands behind \?path="),
            ("spark://h:1/?path=/x.xlsx", "format is one of parquet, csv, json, orc"),
            ("spark://h:1/?pth=/x", "did you mean 'path'"),
        ):
            with self.subTest(url), self.assertRaisesRegex(SourceError, words):
                read_url(url)

    def test_a_token_is_masked(self) -> None:
        self.assertNotIn("geheim", masked("sc://h:1/;token=geheim?path=/x"))
        with self.assertRaises(SourceError) as caught:
            vt.tally("sc://127.0.0.1:1/;token=geheim?path=/x", "a")
        self.assertNotIn("geheim", str(caught.exception))
        for url in (
            "sc://h/;use_ssl=true;token=geheim/x",
            "sc://h/;token=geheim",
            "spark://u:geheim@h:7077/x.csv",
            "spark://u:geheim@h:7077",
            "spark://u:geheim@h:70777/?path=/x",
            "spark://u:geheim@h:7077/../../etc/passwd?format=text",
            "spark://u:geheim@h:7077/?path=/$(touch x)&form=csv",
            "sc://u:geheim@[::1/%00",
            "sc://h/;token=geheim;x=\n/y?path=/a&format=geheim?",
        ):
            with self.subTest(url), self.assertRaises(SourceError) as caught:
                vt.tally(url, "a", timeout=5)
            self.assertNotIn("geheim;", f"{caught.exception};".replace("format=geheim?", ""))
            self.assertNotIn(":geheim", str(caught.exception))


class Refusals(unittest.TestCase):
    def test_options_that_a_cluster_has_not(self) -> None:
        url = "spark://127.0.0.1:1/?path=/x.csv"
        for options, words in (
            ({"query": "select 1"}, "a query is for databases"),
            ({"table": "t"}, "say what to read"),
            ({"memory": 100}, "limits of its own"),
            ({"sheet": "a"}, "no sheets"),
            ({"fill_down": "a"}, "no order"),
        ):
            with self.subTest(options=options), self.assertRaisesRegex(SourceError, words):
                vt.tally(url, "a", **options)

    def test_away(self) -> None:
        for url in ("spark://127.0.0.1:1", "sc://127.0.0.1:1", "spark://127.0.0.1:1,127.0.0.1:2"):
            with (
                self.subTest(url),
                self.assertRaisesRegex(SourceError, "no cluster answers .*127.0.0.1:1: connection refused"),
            ):
                vt.tally(url, "a", table="t")

    def test_without_the_extra(self) -> None:
        missing = self.assertRaisesRegex(MissingExtraError, r"pip install 'vantric\[spark\]'")
        with mock.patch.dict("sys.modules", {"pyspark": None}), missing:
            vt.tally("spark://127.0.0.1:1", "a", table="t")


class Complaints(unittest.TestCase):
    def test_one_line_without_traces(self) -> None:
        kind = type("Py4JJavaError", (Exception,), {"__module__": "py4j.protocol"})
        for text, expected in (
            (
                "An error occurred while calling o43.collect.\n: org.apache.spark.SparkException: Job aborted: no room\n\tat a.b",
                "Spark says: Job aborted: no room",
            ),
            (
                "[DIVIDE_BY_ZERO] Division by zero. Use x. SQLSTATE: 22012; line 1",
                "Spark says: Division by zero. Use x",
            ),
            ("", "Spark says: Py4JJavaError"),
        ):
            self.assertEqual(in_one_line(kind(text)), expected)
        self.assertIsNone(in_one_line(ValueError("x")))


if __name__ == "__main__":
    unittest.main()
