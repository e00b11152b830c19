"""``vantric completion``."""

from __future__ import annotations

import os
from functools import partial
from pathlib import Path

from vantric.base.safe_files import write_whole
from vantric.cli.command import make_command
from vantric.cli.completers import SHELLS, script
from vantric.cli.flags import OptionValues, WordArgument
from vantric.cli.terminal import hand_over, say
from vantric.errors import OptionError, TargetError, unknown
from vantric.options import Options, option

_MARK = "# completion of vantric"


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
    config = Path(os.environ.get("XDG_CONFIG_HOME") or _home() / ".config")
    if shell == "fish":  # reads the folder by itself
        target = config / "fish" / "completions" / "vantric.fish"
        _write(target, script(shell))
        return [target]
    data = Path(os.environ.get("XDG_DATA_HOME") or _home() / ".local" / "share")
    target = data / "vantric" / SHELLS[shell]
    _write(target, script(shell))
    start = _home() / ".bashrc" if shell == "bash" else Path(os.environ.get("ZDOTDIR") or _home()) / ".zshrc"
    line = f'[ -r "{target}" ] && . "{target}"  {_MARK}'
    return [target, *([start] if _add_line(start, line) else [])]


def _write(target: Path, text: str) -> None:
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise TargetError(f"cannot make the folder '{target.parent}': {error.strerror}") from None
    write_whole(target, text.encode())


def _add_line(start: Path, line: str) -> bool:
    """Add a line to what a shell reads when it starts, in place of an earlier one of ours; False if it is there."""
    try:
        before = start.read_bytes().decode("utf-8", "surrogateescape") if start.exists() else ""
    except OSError as error:
        raise TargetError(f"cannot read '{start}': {error.strerror}") from None
    others = [text for text in before.splitlines() if not text.endswith(_MARK)]
    if line in before.splitlines():
        return False
    write_whole(start, ("\n".join([*others, line]) + "\n").encode("utf-8", "surrogateescape"))
    return True


completion_command = partial(
    make_command,
    "completion",
    run,
    [WordArgument(["shell"], SHELLS, required=False, metavar="[SHELL]")],
    (InstallSettings,),
    examples=("completion --install", "completion zsh"),
)
