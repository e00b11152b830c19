"""The rooms import only rooms before them, and the core nothing from outside."""

import ast
import doctest
import importlib
import io
import re
import subprocess
import sys
import tokenize
import unittest
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import vantric

ROOT = Path(vantric.__file__).parent
#: Rooms in their order; the longest name that fits a module is its room.
STREET = [
    "errors",
    "typing",
    "base",
    "options",
    "core.results",
    "core.numbers",
    "core.messages",
    "core.axes",
    "core.totals",
    "core.counts",
    "core.statistics",
    "core.charts",
    "core.review",
    "core.composition",
    "core.layout",
    "reading",
    "engines",
    "counting",
    "rendering",
    "tables",
    "output",
    "audit",
    "files",
    "kinds",
    "api",
    "demo",
    "cli",
    "__main__",
]
GENERATED = {"typing.py", "advances.py", "calendar_words.py"}
NOTHING_SAID = [
    "one",
    "found",
    "at",
    "said",
    "known",
    "asked",
    "given",
    "made",
    "shown",
    "told",
    "kept",
    "held",
    "seen",
    "taken",
    "looked",
    "wanted",
    "chosen",
]
CORE_MAY_IMPORT = set(sys.stdlib_module_names) | {"numpy", "scipy", "vantric"}


def room_of(module: str) -> str:
    """Return the room of a module, or what is nearest to one: ``core.axes`` of ``vantric.core.axes.scale``."""
    name = module.removeprefix("vantric").removeprefix(".")
    fitting = [room for room in STREET if name == room or name.startswith(f"{room}.")]
    return max(fitting, key=len, default=name)


def imports_of(path: Path) -> Iterator[tuple[str, str]]:
    """Yield (module, name) of every import in a file, the lazy ones too."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    typed = [node for node in ast.walk(tree) if isinstance(node, ast.If) and ast.unparse(node.test) == "TYPE_CHECKING"]
    named = {id(inner) for node in typed for inner in ast.walk(node)}  # types may be named upward; nothing is loaded
    for node in ast.walk(tree):
        if id(node) in named:
            continue
        if isinstance(node, ast.Import):
            yield from ((alias.name, "") for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            if node.level:
                raise AssertionError(f"{path}: a relative import")
            yield from ((str(node.module), alias.name) for alias in node.names)


def modules() -> Iterator[tuple[str, Path]]:
    for path in sorted(ROOT.rglob("*.py")):
        yield ".".join(("vantric", *path.relative_to(ROOT).with_suffix("").parts)).removesuffix(".__init__"), path


def fresh(code: str) -> str:
    """Run code in a new interpreter and return what it prints."""
    return subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True).stdout


class Street(unittest.TestCase):
    def test_a_room_imports_only_rooms_before_it(self) -> None:
        seen = 0
        for module, path in modules():
            if module in {"vantric", "vantric.core"}:
                continue
            place = STREET.index(room_of(module))
            for imported, name in imports_of(path):
                if imported.split(".")[0] != "vantric" or (imported, name) == ("vantric", "__version__"):
                    continue
                full = f"{imported}.{name}" if imported in {"vantric", "vantric.core"} else imported
                with self.subTest(module=module, imports=full):
                    self.assertLessEqual(STREET.index(room_of(full)), place)
                    seen += 1
        self.assertGreater(seen, 100)

    def test_no_two_modules_import_each_other_on_any_way(self) -> None:
        files = dict(modules())
        graph = {
            module: {
                full
                for imported, name in imports_of(path)
                for full in (f"{imported}.{name}", imported)
                if full in files and full != module
            }
            for module, path in files.items()
        }
        for package in [name for name, path in files.items() if path.name == "__init__.py"]:
            graph.pop(package)  # it names what lies in it
        while True:
            ends = [module for module, wanted in graph.items() if not wanted & graph.keys()]
            if not ends:
                break
            for module in ends:
                del graph[module]
        self.assertEqual({module: wanted & graph.keys() for module, wanted in graph.items()}, {})

    def test_every_room_has_its_place(self) -> None:
        for module, _ in modules():
            if module not in {"vantric", "vantric.core"}:
                self.assertIn(room_of(module), STREET)

    def test_the_core_names_nothing_from_outside(self) -> None:
        for module, path in modules():
            if module.startswith("vantric.core"):
                outside = {name.split(".")[0] for name, _ in imports_of(path)} - CORE_MAY_IMPORT
                self.assertEqual(outside, set(), module)

    def test_the_core_loads_nothing_from_outside(self) -> None:
        names = [module for module, _ in modules() if module.startswith("vantric.core")]
        code = (
            f"import sys, importlib\nbefore = set(sys.modules)\nfor name in {names}: importlib.import_module(name)\n"
            "print(*{name.split('.')[0] for name, module in sys.modules.items() "
            "if name not in before and getattr(module, '__file__', None) and 'site-packages' in module.__file__})"
        )
        self.assertLessEqual(set(fresh(code).split()), {"numpy", "scipy"})

    def test_files_and_functions_are_short(self) -> None:
        for module, path in modules():
            text = path.read_text(encoding="utf-8")
            if path.name in GENERATED:
                continue
            self.assertLessEqual(len(text.splitlines()), 500, module)
            for node in ast.walk(ast.parse(text)):
                if isinstance(node, ast.FunctionDef):
                    length = int(node.end_lineno or 0) - node.lineno + 1
                    if ast.get_docstring(node):
                        length -= int(node.body[0].end_lineno or 0) - node.body[0].lineno + 1
                    self.assertLessEqual(length, 50, f"{module}.{node.name}")

    def test_every_room_says_what_it_does(self) -> None:
        for module, path in modules():
            if path.name == "__init__.py" and module not in {"vantric", "vantric.core", "vantric.cli"}:
                doc = ast.get_docstring(ast.parse(path.read_text(encoding="utf-8"))) or ""
                self.assertRegex(doc, "(?s)In comes?|In come|one option is one line", module)
                self.assertRegex(doc, "(?s)[Ss]tart\\s+(there|with)", module)

    def test_the_base_install_does_without_pandas_and_pydantic(self) -> None:
        code = (
            "import sys\nclass Hidden:\n    def find_spec(self, name, path=None, target=None):\n"
            "        if name in ('pandas', 'pydantic', 'polars', 'sqlalchemy'): raise ModuleNotFoundError(name)\n"
            "sys.meta_path.insert(0, Hidden())\n"
            "import tempfile, pathlib, vantric as vt\nfrom vantric.demo import data_file\n"
            "folder = pathlib.Path(tempfile.mkdtemp())\n(folder / 'i.csv').write_bytes(data_file('inspections.csv'))\n"
            "table = vt.pareto(folder / 'i.csv', 'defect', keep=9)\ntable.save(folder / 'a.xlsx')\n"
            "table.chart().save(folder / 'a.toml')\nvt.read_chart(folder / 'a.toml').save(folder / 'a.png')\n"
            "print(type(table.to_frame()).__module__)\n"
            "import vantric.kinds.frames as frames\nframes._LIBRARIES = ()\n"
            "try: table.to_frame()\nexcept vt.VantricError as error: print(error)"
        )
        found = fresh(code).splitlines()
        self.assertEqual(found[0], "pyarrow.lib")
        self.assertIn("install vantric[pandas]", found[1])

    def test_importing_the_package_is_light(self) -> None:
        code = "import vantric, sys; print(*[n for n in ('numpy','pandas','matplotlib','duckdb','click','rich','scipy','narwhals') if n in sys.modules])"
        self.assertEqual(fresh(code).strip(), "")

    def test_what_only_explains_loads_no_library_that_counts(self) -> None:
        code = (
            "import contextlib, io, sys\nfrom vantric.cli.main import COMMANDS, run\n"
            "heavy = {'numpy', 'scipy', 'pandas', 'pyarrow', 'duckdb', 'matplotlib', 'narwhals', 'openpyxl'}\n"
            "with contextlib.redirect_stdout(io.StringIO()), contextlib.redirect_stderr(io.StringIO()):\n"
            "    for name in COMMANDS: run([name, '--help'])\n"
            "    run(['pareto', 'no.csv', '--bye', 'defect'])\n    run(['help', 'cutoff'])\n"
            "print(*sorted(heavy & set(sys.modules)))"
        )
        self.assertEqual(fresh(code).strip(), "")

    def test_public_names_are_there(self) -> None:
        for name in vantric.__all__:
            self.assertIsNotNone(getattr(vantric, name))
        with self.assertRaises(AttributeError):
            vantric.nothing  # noqa: B018
        self.assertEqual(dir(vantric), sorted(vantric.__all__))
        errors = {name for name in vantric.__all__ if name.endswith("Error")}
        self.assertLessEqual(len(set(vantric.__all__) - errors), 46)

    def test_the_old_homes_of_typed_dictionaries_answer(self) -> None:
        import vantric.typing

        self.assertIs(vantric.ParetoOptions, vantric.typing.ParetoOptions)
        self.assertNotIn("ParetoOptions", dir(vantric))
        with self.assertRaises(AttributeError):
            vantric.NoSuchOptions  # noqa: B018

    def test_the_public_names_are_listed_once_for_people_and_once_for_checkers(self) -> None:
        tree = ast.parse((ROOT / "__init__.py").read_text(encoding="utf-8"))
        typed = {
            alias.name: str(node.module).removeprefix("vantric.")
            for node in ast.walk(tree)
            if isinstance(node, ast.ImportFrom) and str(node.module).startswith("vantric.")
            for alias in node.names
        }
        self.assertEqual(typed, vantric._HOMES)

    def test_no_file_has_the_name_of_a_public_function(self) -> None:
        """Once such a file were loaded, it would stand in the function's place."""
        files = {path.stem for path in (ROOT / "api").glob("*.py")} | {path.stem for path in ROOT.glob("*.py")}
        self.assertFalse(files & set(vantric.__all__))

    def test_json_of_a_file_loads_no_drawing_and_no_pandas(self) -> None:
        code = (
            "import sys, io, contextlib\nfrom vantric.cli.main import run\nfrom vantric.demo import data_file\n"
            "import tempfile, pathlib\nfolder = pathlib.Path(tempfile.mkdtemp())\n"
            "(folder / 'i.csv').write_bytes(data_file('crews.csv'))\nout = io.StringIO()\n"
            "with contextlib.redirect_stdout(out): status = run(['pareto', str(folder / 'i.csv'), '--by', 'crew', '--format', 'json'])\n"
            "print(status, *[n for n in ('pandas', 'matplotlib', 'rich', 'scipy') if n in sys.modules])"
        )
        self.assertEqual(fresh(code).strip(), "0")


class Examples(unittest.TestCase):
    def test_examples_of_docstrings_show_what_is_so(self) -> None:
        tried = 0
        for name, path in modules():
            if ">>>" in path.read_text(encoding="utf-8"):
                with self.subTest(module=name):
                    result = doctest.testmod(importlib.import_module(name))
                    self.assertEqual(result.failed, 0)
                    tried += result.attempted
        self.assertGreater(tried, 15)


class Light(unittest.TestCase):
    """What keeps the house in one head: few files, names that say something, comments, a formatter without exceptions."""

    def own(self) -> list[Path]:
        """Return the files of the package that are written, not made."""
        return [path for _, path in modules() if path.name not in GENERATED]

    def test_few_files(self) -> None:
        self.assertLessEqual(len(self.own()), 266)

    def test_no_cached_property_has_a_lock(self) -> None:
        for path in self.own():
            if path.stem != "caching":
                self.assertNotRegex(
                    path.read_text(encoding="utf-8"),
                    r"from functools import [^\n]*cached_property|functools\.cached_property\(",
                    f"{path}: a process forked while another thread holds it hangs",
                )

    def test_the_formatter_formats_every_line(self) -> None:
        for path in [*self.own(), *Path(__file__).parents[1].rglob("*.py")]:
            self.assertNotRegex(path.read_text(encoding="utf-8"), r"# fmt" + ":", str(path))

    def test_names_say_what_they_hold(self) -> None:
        stored: Counter[str] = Counter()
        for path in self.own():
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
                    stored[node.id] += 1
                elif isinstance(node, ast.arg):
                    stored[node.arg] += 1
        self.assertLessEqual(
            sum(stored[word] for word in NOTHING_SAID), 50, {word: stored[word] for word in NOTHING_SAID}
        )

    def test_comments_say_why(self) -> None:
        comments = lines = 0
        for path in self.own():
            for token in tokenize.generate_tokens(io.StringIO(path.read_text(encoding="utf-8")).readline):
                comments += token.type == tokenize.COMMENT and not token.string.startswith(("# type", "# noqa"))
                lines += token.type == tokenize.NEWLINE
        self.assertGreater(comments / lines, 0.04)

    def test_documented_parameters_are_those_of_the_signature(self) -> None:
        seen = 0
        for path in self.own():
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if not isinstance(node, ast.FunctionDef) or not (doc := ast.get_docstring(node)):
                    continue
                section = re.search(r"Parameters\n-{3,}\n(.*?)(?:\n\n\w+\n-{3,}|\Z)", doc, re.DOTALL)
                heads = re.findall(r"^([\w*][\w*, ]*?)(?: :.*)?$", section[1], re.MULTILINE) if section else []
                documented = {name.strip(" *") for head in heads for name in head.split(",")}
                every = [*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]
                every += [arg for arg in (node.args.vararg, node.args.kwarg) if arg]
                self.assertLessEqual(documented, {arg.arg for arg in every}, f"{path.name}: {node.name}")
                seen += len(documented)
        self.assertGreater(seen, 200)

    def test_nothing_that_is_made_is_committed(self) -> None:
        root = ROOT.parents[1]
        listed = subprocess.run(["git", "ls-files", "src"], cwd=root, capture_output=True, text=True)
        if listed.returncode or not listed.stdout:
            self.skipTest("no working tree of git")
        made = {*GENERATED, "cldr.toml", "chart.schema.json", "report.schema.json"}
        self.assertEqual([name for name in listed.stdout.split() if name.rpartition("/")[2] in made], [])
