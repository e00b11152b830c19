"""The source and the wheel: built, installed in a clean environment on every Python that there is, and used."""

import email
import os
import re
import shutil
import subprocess
import sys
import tarfile
import tempfile
import tomllib
import unittest
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent.parent
LEAST = (3, 11)


def pythons() -> list[str]:
    """Return the interpreters from 3.11 on this machine, one a version."""
    found: dict[tuple[int, int], str] = {}
    places = [Path(place) for place in os.environ["PATH"].split(os.pathsep)]
    places += sorted((Path.home() / ".pyenv/versions").glob("*/bin"))
    for place in places:
        for path in sorted(place.glob("python3.*")) if place.is_dir() else []:
            if not re.fullmatch(r"python3\.\d+", path.name):
                continue
            asked = subprocess.run(
                [path, "-c", "import sys, venv, ensurepip; print(*sys.version_info[:2])"],
                capture_output=True,
                text=True,
            )
            if asked.returncode == 0 and (version := tuple(map(int, asked.stdout.split()))) >= LEAST:
                found.setdefault(version, str(path))  # type: ignore[arg-type]
    return [found[version] for version in sorted(found)]


def run(*command: object, folder: Path, **more: str) -> str:
    environment = {name: value for name, value in os.environ.items() if name not in ("PYTHONPATH", "VIRTUAL_ENV")}
    done = subprocess.run(
        list(map(str, command)), cwd=folder, capture_output=True, text=True, env={**environment, **more}
    )
    if done.returncode:
        raise AssertionError(f"{' '.join(map(str, command))}\n{done.stdout}\n{done.stderr}")
    return done.stdout


class Packages(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        run(sys.executable, "-m", "build", "--outdir", cls.folder / "dist", ROOT, folder=cls.folder)
        [cls.wheel] = (cls.folder / "dist").glob("*.whl")
        [cls.source] = (cls.folder / "dist").glob("*.tar.gz")

    def install(self, home: Path, *packages: object) -> None:
        run(
            home / "bin/python",
            "-m",
            "pip",
            "install",
            "--quiet",
            "--disable-pip-version-check",
            *packages,
            folder=self.folder,
        )

    def used(self, bin_: Path, name: str) -> None:
        """Use an installed package as its users do, in an empty folder."""
        place = self.folder / name
        place.mkdir()
        self.assertRegex(run(bin_ / "vantric", "--version", folder=place), r"^vantric \d+\.\d+\.\d+\n$")
        run(bin_ / "vantric", "demo", "--to", "demo", folder=place)
        self.assertTrue((place / "demo/report.html").exists())
        code = "import sys, vantric as vt; vt.pareto_chart({'a': 3, 'b': 1}, language='ja').save('a.svg'); assert 'pandas' not in sys.modules"
        run(bin_ / "python", "-c", code, folder=place)
        self.assertIn("vital few", run(bin_ / "vantric", "help", "cutoff", folder=place))
        self.assertIn("complete", run(bin_ / "vantric", "completion", "bash", folder=place))
        run(bin_ / "python", "-m", "pip", "check", folder=place)

    def test_the_wheel_on_every_python(self) -> None:
        found = pythons()
        self.assertTrue(found)
        print(f"installed on: {', '.join(Path(one).name for one in found)}", file=sys.stderr)
        with ThreadPoolExecutor(2) as pool:
            list(pool.map(self.installed, found))

    def installed(self, python: str) -> None:
        """Install the wheel in an environment of its own, and use it."""
        home = self.folder / f"venv-{Path(python).name}"
        run(python, "-m", "venv", home, folder=self.folder)
        self.install(home, self.wheel)
        self.used(home / "bin", Path(python).name)
        self.assertTrue((home / "share/man/man1/vantric.1").exists())
        shutil.rmtree(home)

    def test_the_source_is_whole(self) -> None:
        with tarfile.open(self.source) as archive:
            names = {name.partition("/")[2] for name in archive.getnames()}
        listed = run("git", "ls-files", folder=ROOT).splitlines() if (ROOT / ".git").exists() else []
        wanted = {
            name for name in listed if name.partition("/")[0] in ("src", "tests", "docs", "examples", "tools", "bench")
        }
        self.assertLessEqual(wanted, names)
        self.assertFalse([name for name in names if "/_build" in name or name.startswith("docs/gallery")])

    def test_the_wheel_says_what_it_is(self) -> None:
        with zipfile.ZipFile(self.wheel) as archive:
            names = archive.namelist()
            [path] = [name for name in names if name.endswith(".dist-info/METADATA")]
            said = email.message_from_string(archive.read(path).decode())
        self.assertEqual(said["Requires-Python"], ">=3.11")
        self.assertLessEqual({"pandas", "sql", "spark", "dask", "slides", "all"}, set(said.get_all("Provides-Extra")))
        self.assertIn("License-Expression", said)
        for wanted in (
            "vantric/py.typed",
            "vantric/core/messages/catalogs/de.json",
            "vantric/cli/topics/cutoff.md",
            "vantric/cli/shells/completion.zsh",
            "vantric/files/chart.schema.json",
            "vantric/demo/data/inspections.csv",
        ):
            self.assertIn(wanted, names)
        self.assertFalse([name for name in names if name.startswith(("tests", "docs"))])
        version = said["Version"]
        self.assertIn(f"version: {version}", (ROOT / "CITATION.cff").read_text(encoding="utf-8"))
        self.assertIn(f"## [{version}]", (ROOT / "CHANGELOG.md").read_text(encoding="utf-8"))

    def test_extras_are_those_that_messages_name(self) -> None:
        extras = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"][
            "optional-dependencies"
        ]
        named = set()
        for path in (ROOT / "src").rglob("*.py"):
            named |= set(re.findall(r"vantric\[(\w+)\]", path.read_text(encoding="utf-8")))
        self.assertLessEqual(named, set(extras))

    def test_as_a_program_of_its_own(self) -> None:
        home = self.folder / "tools"
        run(sys.executable, "-m", "venv", home, folder=self.folder)
        self.install(home, "pipx", "uv")
        kept = {
            "PIPX_HOME": str(self.folder / "pipx"),
            "PIPX_BIN_DIR": str(self.folder / "pipx-bin"),
            "PIPX_MAN_DIR": str(self.folder / "pipx-man"),
            "UV_CACHE_DIR": str(self.folder / "uv"),
            "UV_NO_PROGRESS": "1",
            "UV_PYTHON": sys.executable,
        }
        run(home / "bin/pipx", "install", "--python", sys.executable, self.wheel, folder=self.folder, **kept)
        self.assertIn("vantric", run(self.folder / "pipx-bin/vantric", "--version", folder=self.folder))
        self.assertTrue((self.folder / "pipx-man/man1/vantric.1").exists())
        self.assertIn(
            "vantric", run(home / "bin/uvx", "--from", self.wheel, "vantric", "--version", folder=self.folder, **kept)
        )


if __name__ == "__main__":
    unittest.main()
