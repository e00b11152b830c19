"""The command line: one small file a command."""

from vantric.cli.main import main

__all__ = ["main"]
