"""The way in: what commands there are, each loaded when it is called, and errors in one line."""

from __future__ import annotations

import contextlib
import importlib
import os
import signal
import sys
import threading
import time
import warnings
from collections.abc import Callable, Iterator, Sequence
from importlib.machinery import ExtensionFileLoader
from types import FrameType
from typing import TYPE_CHECKING, Any, NoReturn

import click

from vantric import __version__
from vantric.base.safe_files import temp_prefix
from vantric.base.stopping import is_left_alone
from vantric.cli.terminal import drop_broken, flush, prepare_console, say, warn
from vantric.errors import VantricError, suggestion

if TYPE_CHECKING:
    from vantric.cli.command import Command

#: Every command and what it does, in the order of the help; a command's file is imported when it is called.
COMMANDS = {
    "start": "Look at a source, ask at most five questions, and make the chart.",
    "demo": "Run the whole example with the demo data.",
    "columns": "Take a first look at a source: columns, kinds, missing, most common labels.",
    "tally": "Count records by category, or by two columns.",
    "pareto": "Rank and accumulate the categories of a log, and mark the 80% cutoff.",
    "compare": "Set before and after side by side.",
    "trend": "Say which categories rise or fall over calendar periods.",
    "combine": "Set columns side by side as bars, lines and other series on two axes.",
    "draw": "Draw a chart that was written as a file.",
    "review": "Say what is wrong or risky in a source, a sheet made elsewhere, or a chart file.",
    "report": "Make several results one page, workbook or set of slides, the same again every month.",
    "scales": "Scale two value axes together.",
    "help": "Explain a topic, a command, an option, or the code of a finding.",
    "completion": "Have the shell complete commands, options, values, files and columns.",
}


#: Commands that share a file: their name -> the file.
_FILES = {
    "tally": "counting",
    "pareto": "counting",
    "compare": "counting",
    "trend": "counting",
    "scales": "counting",
    "columns": "counting",
}


def command_named(name: str) -> Command:
    """Return a command by its name; its file is imported, and its flags are made."""
    module = importlib.import_module(f"vantric.cli.{_FILES.get(name, name)}")
    make: Callable[[], Command] = getattr(module, f"{name}_command")
    return make()


def every_command() -> Iterator[tuple[str, Command]]:
    """Yield every command with its name."""
    for name in COMMANDS:
        yield name, command_named(name)


#: 128 + SIGINT, what shells report of a process that Ctrl-C ended.
STOPPED = 130
_PATIENCE = 0.7  # seconds for a command to end by itself


class StopSignals:
    """Whether a command was asked to stop.

    Attributes
    ----------
    asked
        True from the first signal on: whatever a library makes of the exception, the command was stopped.
    """

    def __init__(self) -> None:
        self.asked = False

    def stop(self, number: int, frame: FrameType | None) -> None:
        """Handle a signal: the first stops the command, the next ones change nothing."""
        if self.asked:
            return
        self.asked = True
        if _in_extension(frame):
            warn("vantric: stopped")
            end_now()
        raise KeyboardInterrupt


def _in_extension(frame: FrameType | None) -> bool:
    """Whether a compiled module is being loaded: some report an exception themselves, at length, or end in a fault."""
    while frame is not None:
        if isinstance(frame.f_locals.get("self"), ExtensionFileLoader):
            return True
        frame = frame.f_back
    return False


@contextlib.contextmanager
def stops() -> Iterator[StopSignals]:
    """Listen to signals while a command runs; under nohup what is ignored stays so."""
    signals = StopSignals()
    if threading.current_thread() is not threading.main_thread():
        yield signals
        return
    usual = {signal.SIG_DFL, signal.default_int_handler}
    numbers = [getattr(signal, name) for name in ("SIGINT", "SIGTERM", "SIGHUP") if hasattr(signal, name)]
    before = {number: signal.getsignal(number) for number in numbers}
    outlet = _watched() if hasattr(os, "fork") else -1  # where code that hears no signal runs, a thread does
    try:
        for number, handler in before.items():
            if handler in usual:
                signal.signal(number, signals.stop)
        yield signals
    finally:
        if not signals.asked:  # once asked, further ones must not cut the tidying short
            for number, handler in before.items():
                signal.signal(number, handler)
        if outlet >= 0:
            signal.set_wakeup_fd(-1)
            os.close(outlet)


def _watched() -> int:
    """Start the thread that ends the process if it does not end by itself; return what wakes it."""
    inlet, outlet = os.pipe()
    os.set_blocking(outlet, False)
    signal.set_wakeup_fd(outlet, warn_on_full_buffer=False)
    threading.Thread(target=_watch, args=(inlet,), daemon=True).start()
    return outlet


def _watch(inlet: int) -> None:
    signals = {signal.SIGINT, signal.SIGTERM, signal.SIGHUP}
    while content := os.read(inlet, 64):
        if signals.intersection(content):
            time.sleep(_PATIENCE)
            end_now()
    os.close(inlet)


def end_now(status: int = STOPPED) -> NoReturn:
    """End this process at once, whatever its threads do; the folders of what it copied to read are removed.

    Nothing is loaded for it: a module may be in the middle of being loaded. What was not loaded made no folder.
    """
    needed = (("pathlib", "Path"), ("tempfile", "gettempdir"), ("shutil", "rmtree"))
    path, where, remove = (getattr(sys.modules.get(module), name, None) for module, name in needed)
    if path is not None and where is not None and remove is not None and temp_prefix.cache_info().currsize:
        for folder in path(where()).glob(f"{temp_prefix(os.getpid())}*"):
            remove(folder, ignore_errors=True)
    os._exit(status)


#: The variable by which a shell asks for completions.
COMPLETE = "_VANTRIC_COMPLETE"


class _Commands(click.Group):
    """A group that imports a command's file when the command is called."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in COMMANDS:
            return None
        return command_named(cmd_name)

    def resolve_command(
        self, ctx: click.Context, args: list[str]
    ) -> tuple[str | None, click.Command | None, list[str]]:
        name = args[0]
        if name not in COMMANDS and not name.startswith("-"):
            hint = suggestion(name, COMMANDS, label="the commands are")
            raise click.UsageError(f"there is no command '{name}'{hint}")
        return super().resolve_command(ctx, args)

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        with formatter.section("Commands"):
            formatter.write_dl(list(COMMANDS.items()))


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 100})
@click.version_option(__version__, prog_name="vantric", message="%(prog)s %(version)s")
def vantric() -> None:
    """From category counts to Pareto tables and charts whose two axes agree."""


def main(arguments: Sequence[str] | None = None) -> NoReturn:
    """Run the command line and end the process: 0 done, 2 bad input or usage, 130 stopped by the user."""
    with stops() as signals, _warnings_for_users():
        try:
            status = run(arguments)
        except BaseException as error:  # libraries make other exceptions of the one that a signal raised
            if not signals.asked and not isinstance(error, KeyboardInterrupt):
                raise
            status = 0
        if signals.asked and status != STOPPED:
            warn("vantric: stopped")
        if signals.asked or status == STOPPED:
            end_now()
        if is_left_alone():  # nothing ends the engine of another language but the end of the process
            end_now(status)
    sys.exit(status)


@contextlib.contextmanager
def _warnings_for_users() -> Iterator[None]:
    """Show our own warnings, not those that libraries have for programmers."""
    before, home = warnings.showwarning, sys.modules["vantric"].__path__[0]

    def shown(message: Warning | str, category: type[Warning], filename: str, *where: Any, **more: Any) -> None:
        if filename.startswith(home):
            before(message, category, filename, *where, **more)

    warnings.showwarning = shown
    try:
        yield
    finally:
        warnings.showwarning = before


def run(arguments: Sequence[str] | None = None) -> int:
    """Run the command line and return its exit status; an error is one line on standard error."""
    prepare_console()
    if COMPLETE in os.environ:
        from vantric.cli.completers import prepare

        prepare()
    try:
        status = vantric.main(args=arguments, prog_name="vantric", complete_var=COMPLETE, standalone_mode=False)
        flush()
        return status if isinstance(status, int) else 0
    except click.exceptions.NoArgsIsHelpError as error:  # a command without arguments shows its help: no error
        say(error.format_message())
        return 0
    except (click.Abort, KeyboardInterrupt):
        warn("vantric: stopped")
        return STOPPED
    except Exception as error:  # whatever it is, the user gets one line
        message = _message(error)
        if message is None and os.environ.get("VANTRIC_TRACEBACK"):
            raise
        first = str(error).partition("\n")[0]
        fault = f"a fault in Vantric, {type(error).__name__}: {first}; report it (SECURITY.md says how)"
        return _failed(fault if message is None else message)


def _message(error: Exception) -> str | None:
    """Return what an expected error says; None for a fault of our own."""
    if isinstance(error, click.ClickException):
        return error.format_message()
    if isinstance(error, VantricError):
        from vantric.cli.flags import error_in_flags

        return error_in_flags(error)
    if isinstance(error, OSError):
        return f"{error.strerror or error}{f': {error.filename}' if error.filename else ''}"
    return "out of memory; filter the source, or set --memory" if isinstance(error, MemoryError) else None


def _failed(message: str) -> int:
    drop_broken()
    warn(f"vantric: error: {' '.join(message.split())}")
    return 2
