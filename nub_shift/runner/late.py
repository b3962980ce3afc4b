"""Keeps what a library brings with it, and nobody here uses, out of the runner's memory and its start."""

from __future__ import annotations

import sys
from importlib import import_module
from importlib.util import find_spec
from types import ModuleType
from typing import Any


def import_late(name: str) -> None:
    """Has a module be there for whoever imports it, and be read when something of it is first used.

    `importlib.util.LazyLoader` is for this, but before Python 3.12 its modules are read as soon as they are imported.
    """
    if name not in sys.modules:
        sys.modules[name] = _Late(name)


class _Late(ModuleType):
    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.__spec__ = find_spec(name)

    def __getattr__(self, attribute: str) -> Any:
        """Called for what is not there, which is all until the real one has been read."""
        if sys.modules.get(self.__name__) is self:
            del sys.modules[self.__name__]
        real = import_module(self.__name__)
        self.__dict__.update(real.__dict__)
        return getattr(real, attribute)
