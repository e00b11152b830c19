"""``vantric completion``."""

from __future__ import annotations

import os
from functools import partial
from pathlib import Path
from shlex import quote

from vantric.base.safe_files import content_of, reason_of, write_whole
from vantric.cli.command import make_command
from vantric.cli.completers import SHELLS, script
from vantric.cli.flags import OptionValues, WordArgument
from vantric.cli.terminal import hand_over, say
from vantric.errors import OptionError, TargetError, unknown
from vantric.options import Options, option

_MARK = "# completion of vantric"
#: Of a file that a shell reads when it starts.
_MOST_BYTES = 50_000_000


class InstallSettings(Options, section="What is written"):
    """Where the script goes."""

    install: bool = option(False, "Set it up for your shell: write the script, and have new shells read it.")


def run(shell: str | None, options: OptionValues) -> None:
    """Have the shell complete commands, options, their values, files, and the columns of the source that is typed.

    SHELL is bash, zsh or fish; your own if it is left out. Without --install the script is printed.
    """
    text = _shell(shell)
    if not options.split(InstallSettings)[0].install:
        hand_over(script(text))
        return
    for place in _installed(text):
        say(f"wrote {place}")
    say(f"Open a new {text}, type 'vantric pareto ' and the name of a file, then --by and a space, and press Tab.")


def _shell(named: str | None) -> str:
    name = Path(named or os.environ.get("SHELL", "")).name.casefold().removesuffix(".exe")
    if name in SHELLS:
        return name
    if named:
        raise unknown(OptionError, f"there is no completion for '{named}'", name, SHELLS, label="the shells are")
    raise OptionError("your shell is not known from the variable SHELL; name it: vantric completion bash, zsh or fish")


def _home() -> Path:
    try:
        return Path.home()
    except RuntimeError:
        raise TargetError("your home folder is not known; print the script with vantric completion SHELL") from None


def _installed(shell: str) -> list[Path]:
    """Write the script where the shell finds it, and return the files that changed."""
    config = _folder("XDG_CONFIG_HOME", ".config")
    if shell == "fish":  # reads the folder by itself
        target = config / "fish" / "completions" / "vantric.fish"
        _write(target, script(shell))
        return [target]
    target = _folder("XDG_DATA_HOME", ".local/share") / "vantric" / SHELLS[shell]
    start = _home() / ".bashrc" if shell == "bash" else Path(os.environ.get("ZDOTDIR") or _home()) / ".zshrc"
    before = _content(start)
    _write(target, script(shell))
    place = quote(str(target))
    line = os.fsencode(f"[ -r {place} ] && . {place}  {_MARK}")
    if b"\n%b\n" % line in b"\n%b\n" % before:
        return [target]
    _append(start, b"\n" * (before[-1:] not in (b"", b"\n")) + line + b"\n")
    return [target, start]


def _folder(variable: str, otherwise: str) -> Path:
    """Return a base folder; one that is not absolute is passed over, as its specification wishes."""
    named = Path(os.environ.get(variable, ""))
    return named if named.is_absolute() else _home() / otherwise


def _write(target: Path, text: str) -> None:
    _content(target)
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise TargetError(f"cannot make the folder '{target.parent}': {error.strerror}") from None
    write_whole(target, text.encode())


def _content(path: Path) -> bytes:
    """Return what is in a file; nothing if there is none.

    Raises
    ------
    TargetError
        If it is no regular file: a pipe would wait for ever.
    """
    try:
        return content_of(path, _MOST_BYTES)
    except FileNotFoundError:
        return b""
    except OSError as error:
        reason = reason_of(error).partition(";")[0]
        raise TargetError(f"cannot write '{path}': {reason}; print the script without --install") from None


def _append(path: Path, content: bytes) -> None:
    """Add to the end of a file, in one piece: what is in it stays, whatever else writes to it."""
    try:
        with path.open("ab", buffering=0) as file:
            file.write(content)
    except OSError as error:
        raise TargetError(f"cannot write '{path}': {error.strerror}") from None


completion_command = partial(
    make_command,
    "completion",
    run,
    [WordArgument(["shell"], SHELLS, required=False, metavar="[SHELL]")],
    (InstallSettings,),
    examples=("completion --install", "completion zsh"),
)
