"""The build makes what is generated, where it is not there yet or the sources may have changed since."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from hatchling.builders.hooks.plugin.interface import BuildHookInterface


class GeneratedFiles(BuildHookInterface):
    """Runs ``tools.generate`` before anything is packed; a source distribution has the files already."""

    def initialize(self, version: str, build_data: dict[str, Any]) -> None:
        """Write the generated files of the package into the tree."""
        root = Path(self.root)
        if not (root / ".git").exists() and (root / "src/vantric/typing.py").exists():
            return
        # In this process: an isolated build takes the folder of an earlier editable install off the path of others.
        sys.path[:0] = [str(root / "src"), str(root)]
        from tools.generate import write_package

        write_package()
