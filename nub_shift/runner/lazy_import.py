"""Lazy imports of modules that libraries import but the runner does not use, to save memory and start-up time."""

from __future__ import annotations

import sys
from importlib import import_module
from importlib.util import find_spec
from types import ModuleType
from typing import Any


def import_late(name: str) -> None:
    """Registers a module that is loaded at its first use.

    `importlib.util.LazyLoader` serves the same purpose, but before Python 3.12 an import statement loads its modules.
    """
    if name not in sys.modules:
        sys.modules[name] = _Late(name)


class _Late(ModuleType):
    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.__spec__ = find_spec(name)

    def __getattr__(self, attribute: str) -> Any:
        """Loads the module at the first access to an attribute."""
        if sys.modules.get(self.__name__) is self:
            del sys.modules[self.__name__]
        real = import_module(self.__name__)
        self.__dict__.update(real.__dict__)
        return getattr(real, attribute)
