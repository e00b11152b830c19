"""The engine in a process of its own, whose memory and time are bounded whatever a query does."""

from __future__ import annotations

import json
import os
import pickle
import subprocess
import sys
import threading
from collections.abc import Sequence
from contextlib import suppress
from importlib.util import find_spec
from pathlib import Path
from queue import SimpleQueue
from typing import IO, Any, NoReturn

from vantric.base.stopping import check_time, stoppable
from vantric.engines.duckdb_engine import DuckDBEngine
from vantric.errors import SourceError
from vantric.reading.settings import Limits

_SLACK = 700  # MB of addresses that the engine takes beside its memory
_MEGABYTE = 1 << 20
#: What the process runs; it finds the same modules as this one.
_START = """\
import json, sys
sys.path[:] = json.loads(sys.argv[1])
from vantric.engines.engine_process import serve
serve()
"""


class EngineProcess(DuckDBEngine):
    """An engine that is asked through a pipe, and killed when its time is over.

    Parameters
    ----------
    files, spill, limits
        As for `DuckDBEngine`; the process may take the memory beside what Python has.

    Raises
    ------
    SourceError
        If this system cannot bound the memory of a process, or a query takes more of it.
    """

    def __init__(self, files: Sequence[Path], spill: Path, limits: Limits) -> None:
        if find_spec("resource") is None or not sys.executable:
            raise SourceError(
                "allow_functions needs a system that bounds memory, such as Linux; use ordinary functions"
            )
        self.until, self._limits = limits.until, limits
        paths = json.dumps([os.path.abspath(path) for path in sys.path])  # noqa: PTH100 (an empty one is this folder)
        self._process = subprocess.Popen(
            [sys.executable, "-I", "-c", _START, paths],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            start_new_session=True,  # Ctrl-C reaches this process, which kills the other
        )
        try:
            self._call("", files, spill, Limits(limits.memory))
        except BaseException:  # Ctrl-C too must end the process
            self.close()
            raise

    def ask(self, sql: str) -> list[tuple[Any, ...]]:
        """Run one query and return its rows; errors are those of `duckdb`, and `OverdueError`."""
        rows: list[tuple[Any, ...]] = self._call("ask", sql)
        return rows

    def statements(self, sql: str) -> int:
        """Return of how many statements a text consists."""
        return int(self._call("statements", sql))

    def close(self) -> None:
        """End the process."""
        self._process.kill()
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            with suppress(OSError):  # what was not written cannot be
                pipe.close()  # type: ignore[union-attr]

    def _call(self, name: str, *arguments: Any) -> Any:
        check_time(self.until)
        try:
            fine, result = stoppable(lambda: self._exchanged(name, arguments), self._process.kill, self.until)
        except (EOFError, OSError, pickle.UnpicklingError):  # it was ended for what it took
            raise self._too_large() from None
        if isinstance(result, MemoryError):
            raise self._too_large()
        if not fine:
            raise result
        return result

    def _exchanged(self, name: str, arguments: tuple[Any, ...]) -> tuple[bool, Any]:
        requests, answers = self._process.stdin, self._process.stdout
        assert requests is not None
        assert answers is not None
        pickle.dump((name, arguments), requests)
        requests.flush()
        answer: tuple[bool, Any] = pickle.load(answers)
        return answer

    def _too_large(self) -> SourceError:
        most = self._limits.memory
        return SourceError(f"where: it takes more memory than {most} MB; ask for less, or give it more memory")


def serve() -> None:
    """Answer what is asked on standard input, until it ends: then end at once, whatever is worked at."""
    requests: SimpleQueue[tuple[str, tuple[Any, ...]]] = SimpleQueue()
    threading.Thread(target=_listen, args=(sys.stdin.buffer, requests), daemon=True).start()
    engine: DuckDBEngine | None = None
    while True:
        name, arguments = requests.get()
        try:
            if engine is None:
                engine, result = DuckDBEngine(*arguments), None
                _bound(arguments[-1].memory + _SLACK)
            else:
                result = getattr(engine, name)(*arguments)
            content = pickle.dumps((True, result))
        except Exception as error:  # it is raised again in the process that asked
            content = pickle.dumps((False, error))
        sys.stdout.buffer.write(content)
        sys.stdout.buffer.flush()


def _listen(asked: IO[bytes], requests: SimpleQueue[tuple[str, tuple[Any, ...]]]) -> NoReturn:
    with suppress(EOFError):
        while True:
            requests.put(pickle.load(asked))
    os._exit(0)


def _bound(megabytes: int) -> None:
    """Bound the addresses that this process takes from now on."""
    import resource

    try:
        pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[0])
    except OSError:  # no such file on this system: the limit counts from zero
        pages = 0
    most = pages * resource.getpagesize() + megabytes * _MEGABYTE
    hard = resource.getrlimit(resource.RLIMIT_AS)[1]
    resource.setrlimit(resource.RLIMIT_AS, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard))
