"""Choice between compiled modules and their sources.

`tools/compile.py` compiles some modules with mypyc and puts the results beside their sources, where Python prefers
them. They are used only while all sources of the rooms in play are unchanged, and unless `NUB_SHIFT_PURE` is set.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator, Sequence
from importlib.machinery import ExtensionFileLoader, ModuleSpec
from importlib.util import find_spec, module_from_spec, spec_from_file_location
from pathlib import Path
from types import ModuleType

PACKAGE = Path(__file__).parent
# Record of the compiled sources; absent without compiled modules, and in an installed wheel, whose sources do not
# change.
MANIFEST = PACKAGE / "compiled.json"
# Rooms whose sources are compared, since compiled modules may contain constants of any of these.
ROOMS = ("keyboard", "model", "engine", "pads", "outputs", "protocol", "runner")


def prepare() -> None:
    """Selects compiled modules or sources. Called before any other import of the package."""
    if os.environ.get("NUB_SHIFT_PURE"):
        sys.meta_path.insert(0, _Sources())
    elif MANIFEST.exists():
        import json  # imported late: rarely needed

        manifest = json.loads(MANIFEST.read_bytes())
        if is_fresh(manifest):
            _load_shared(PACKAGE / manifest["shared"])
        else:
            sys.meta_path.insert(0, _Sources())


def kind() -> str:
    """Returns in words whether the compiled or the plain modules run."""
    spec = find_spec("nub_shift.engine.engine")
    if spec is not None and spec.loader is not None and isinstance(spec.loader, ExtensionFileLoader):
        return "compiled"
    if os.environ.get("NUB_SHIFT_PURE"):
        return "pure Python, as NUB_SHIFT_PURE asks"
    if MANIFEST.exists():
        return "pure Python: the compiled modules are older than the source"
    return "pure Python"


def sources() -> Iterator[Path]:
    """Yields the compared sources, in no particular order."""
    for room in ROOMS:
        yield from (PACKAGE / room).rglob("*.py")


def stamp(path: Path) -> list[int | str]:
    """Returns the fingerprint of a source: time and size, which are quick to read, and a hash."""
    seen = path.stat()
    return [seen.st_mtime_ns, seen.st_size, _hash(path)]


def _hash(path: Path) -> str:
    import hashlib

    return hashlib.sha256(path.read_bytes()).hexdigest()


def is_fresh(manifest: dict[str, object]) -> bool:
    """Returns whether all sources are unchanged. A file with another time may still have the same content."""
    known = manifest["sources"]
    assert isinstance(known, dict)
    found = {str(path.relative_to(PACKAGE)): path for path in sources()}
    if manifest["python"] != sys.implementation.cache_tag or known.keys() != found.keys():
        return False
    for name, path in found.items():
        seen = path.stat()
        mtime_ns, size, digest = known[name]
        if seen.st_size != size:
            return False
        if seen.st_mtime_ns != mtime_ns and _hash(path) != digest:
            return False
    return True


def _load_shared(path: Path) -> None:
    """Loads the module shared by all compiled modules, which import it without the package's name."""
    name = path.name.partition(".")[0]
    spec = spec_from_file_location(name, path)
    assert spec is not None and spec.loader is not None
    module = sys.modules[name] = module_from_spec(spec)
    spec.loader.exec_module(module)


class _Sources:
    """Finds the sources of this package, ignoring compiled modules."""

    def find_spec(
        self,
        name: str,
        path: Sequence[str] | None,
        target: ModuleType | None = None,  # noqa: ARG002
    ) -> ModuleSpec | None:
        """Returns the source of a module below this package; None for any other."""
        if not name.startswith("nub_shift."):
            return None
        last = name.rpartition(".")[2]
        for folder in map(Path, path or ()):
            package, module = folder / last / "__init__.py", folder / f"{last}.py"
            if package.exists():
                return spec_from_file_location(name, package, submodule_search_locations=[str(package.parent)])
            if module.exists():
                return spec_from_file_location(name, module)
        return None
