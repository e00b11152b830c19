"""Names of a package that are loaded when they are first asked for."""

from __future__ import annotations

import importlib
from collections.abc import Callable, Mapping
from typing import Any


def on_first_use(package: str, homes: Mapping[str, str]) -> Callable[[str], Any]:
    """Return the ``__getattr__`` of a package whose names are loaded on first use.

    Parameters
    ----------
    package
        Its name.
    homes
        A module, one of the package or any other by its full name -> the names in it, with spaces between them.
    """
    home_of = {name: home for home, names in homes.items() for name in names.split()}

    def load(name: str) -> Any:
        home = home_of.get(name)
        if home is None:
            raise AttributeError(f"module '{package}' has no attribute '{name}'")
        full = home if home.startswith("vantric.") else f"{package}.{home}"
        value = getattr(importlib.import_module(full), name)
        vars(importlib.import_module(package))[name] = value
        return value

    return load
