"""Sessions of Spark: begun when a source names a cluster, quiet, ended with it; its complaints are one line."""

from __future__ import annotations

import logging
import re
import socket
import subprocess
from collections.abc import Callable, Sequence
from contextlib import suppress
from time import monotonic
from typing import Any, TypeVar

from vantric.base.lazily import compiled, dataclass
from vantric.base.safe_text import masked
from vantric.base.stopping import OverdueError, stoppable
from vantric.errors import MissingExtraError, SourceError
from vantric.reading.settings import Limits

#: Signs of a complaint that are worth reading.
_LONGEST = 300
#: Packages whose errors are complaints of the cluster.
_HOMES = ("pyspark", "py4j", "grpc")
#: The class of a Java error before its message.
_CLASS = compiled(r"^:?\s*(?:[\w$]+\.)+[\w$]+(?:Exception|Error):\s*")
#: What Spark adds for its own developers.
_TAIL = compiled(r"\s*SQLSTATE:? .*|\s*If necessary set .*|\s*Driver stacktrace:.*", re.DOTALL)
#: Spark's code of an error.
_CODE = compiled(r"^\[[A-Z_.]+\] ")


def in_one_line(error: BaseException) -> str | None:
    """Return what Spark says; None if it is not Spark that says it."""
    if type(error).__module__.partition(".")[0] not in _HOMES:
        return None
    lines = [line.strip() for line in str(error).splitlines() if line.strip()]
    if lines and lines[0].startswith("An error occurred while calling"):
        lines = lines[1:]  # the name of an object in memory
    text = _CLASS.sub("", lines[0]) if lines else ""
    text = _CODE.sub("", _TAIL.sub("", text)).strip().rstrip(";.")
    if not text or text == "Job aborted due to stage failure:":
        text = type(error).__name__
    short_text = text if len(text) <= _LONGEST else f"{text[:_LONGEST]}..."
    return f"Spark says: {short_text}"


T = TypeVar("T")
_ANSWER = 5.0  # seconds for a host to take a connection
#: Where PySpark writes each error with its plan, before it raises it.
_LOGS = ("SQLQueryContextLogger", "DataFrameQueryContextLogger")
_START = 120.0  # seconds for a worker to take the first job


@dataclass(frozen=True)
class Session:
    """A session of a cluster.

    Attributes
    ----------
    spark
        The session of PySpark.
    until
        When its time is over, by `time.monotonic`.
    ours
        Whether it is ended with the source: not where the program had it before.
    """

    spark: Any
    until: float | None
    ours: bool

    def run(self, work: Callable[[], T]) -> T:
        """Return what a question returns; Ctrl-C and the end of the time cancel its jobs."""
        return stoppable(work, self._cancel, self.until)

    def _cancel(self) -> None:
        with suppress(Exception):
            self.spark.interruptAll()  # also of a classic session, since Spark 4
            return
        with suppress(Exception):
            self.spark.sparkContext.cancelAllJobs()

    def close(self) -> None:
        """End the session, unless the program had it before."""
        if self.ours:
            with suppress(Exception):
                self.spark.stop()


def opened_session(address: str, hosts: Sequence[tuple[str, int]], limits: Limits) -> Session:
    """Return a session of a cluster.

    Parameters
    ----------
    address
        ``"spark://HOST:PORT"``, or ``"sc://HOST:PORT/;name=value"``.
    hosts
        (host, port) of what should answer.
    limits
        Of time.

    Raises
    ------
    SourceError
        If nothing answers there, or no worker takes a job.
    MissingExtraError
        If PySpark is missing.
    """
    try:
        import pyspark  # noqa: F401
    except ImportError:
        raise MissingExtraError("reading a cluster needs PySpark: pip install 'vantric[spark]'") from None
    _check_answer(address, hosts)
    for name in _LOGS:
        logging.getLogger(name).setLevel(logging.CRITICAL)
    begin = _connected if address.startswith("sc:") else _classic
    try:
        session = stoppable(lambda: begin(address, limits), lambda: None, limits.until)
    except SourceError:  # our own errors are said already
        raise
    except ImportError as error:  # Connect has requirements of its own
        raise MissingExtraError(
            f"a session of '{masked(address)}' needs more than PySpark alone ({error.name or error}): "
            "pip install 'vantric[spark]'"
        ) from None
    except Exception as error:
        raise SourceError(f"no session at '{masked(address)}': {masked(in_one_line(error) or error)}") from None
    try:
        _check_workers(session, address, limits)
    except BaseException:  # Ctrl-C too must end the session
        session.close()
        raise
    return session


def _check_answer(address: str, hosts: Sequence[tuple[str, int]]) -> None:
    """Raise `SourceError` if no host takes a connection: Spark itself would try for minutes."""
    reasons = []
    for host, port in hosts:
        try:
            socket.create_connection((host, port), timeout=_ANSWER).close()
        except OSError as error:  # a cluster may have several masters: the next may answer
            reason = error.strerror or str(error) or "no answer"
            reasons.append(f"{host}:{port}: {reason[0].lower()}{reason[1:]}")
        else:
            return
    raise SourceError(f"no cluster answers at '{masked(address)}' ({'; '.join(reasons)}); check the host and the port")


def _classic(address: str, limits: Limits) -> Session:
    from pyspark import SparkConf, SparkContext
    from pyspark.java_gateway import launch_gateway
    from pyspark.sql import SparkSession

    running = SparkSession.getActiveSession()
    if running is not None:
        if running.sparkContext.master != address:
            raise SourceError(
                f"this program has a session of another cluster ({running.sparkContext.master}): stop it, or hand over "
                "one of its frames"
            )
        return Session(running, limits.until, ours=False)
    conf = SparkConf().setMaster(address).setAppName("vantric")
    conf.set("spark.ui.enabled", "false").set("spark.ui.showConsoleProgress", "false")
    # What Java writes to the terminal is no message for the user: failures come over as errors.
    gateway: Any = launch_gateway(  # type: ignore[no-untyped-call]
        conf, popen_kwargs={"stderr": subprocess.DEVNULL, "stdout": subprocess.DEVNULL}
    )
    return Session(SparkSession(SparkContext(conf=conf, gateway=gateway)), limits.until, ours=True)


def _connected(address: str, limits: Limits) -> Session:
    from pyspark.sql.connect.session import SparkSession

    return Session(SparkSession.builder.remote(address).create(), limits.until, ours=True)


def _check_workers(session: Session, address: str, limits: Limits) -> None:
    """Raise `SourceError` if no worker takes a job: Spark itself would wait for one without end."""
    until = monotonic() + _START
    sooner = limits.until is not None and limits.until < until
    first = Session(session.spark, limits.until if sooner else until, session.ours)
    try:
        first.run(lambda: session.spark.range(1).count())
    except OverdueError:  # the user's own limit is an error, ours a warning
        if sooner:
            raise
        raise SourceError(
            f"no worker of '{masked(address)}' takes a job: are there any, with memory to spare?"
        ) from None
    except Exception as error:  # Spark's own classes differ between classic and Connect
        text = in_one_line(error)
        if text is None:
            raise
        raise SourceError(f"'{masked(address)}': {text}") from None
