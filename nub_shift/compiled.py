"""Whether the hot rooms run as compiled modules or as they are written.

`tools/compile.py` compiles some modules with mypyc and puts the result beside their sources. Python takes a compiled
module before a source of the same name; this sees to it that it does so only where both are the same: if any source
of the rooms that play is another than the one that was compiled, or `NUB_SHIFT_PURE` is set, the sources are taken.
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
# Record of the compiled sources; absent where nothing was compiled, and in an installed wheel, which cannot go stale.
MANIFEST = PACKAGE / "compiled.json"
# The rooms whose sources decide: compiled modules may have taken constants over from any of these.
ROOMS = ("keyboard", "model", "engine", "pads", "outputs", "protocol", "runner")


def prepare() -> None:
    """Has Python take the right kind of modules; to be called before any other of the package is imported."""
    if os.environ.get("NUB_SHIFT_PURE"):
        sys.meta_path.insert(0, _Sources())
    elif MANIFEST.exists():
        import json  # these modules are needed nowhere else at the start

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
    """The sources that decide, in no particular order."""
    for room in ROOMS:
        yield from (PACKAGE / room).rglob("*.py")


def stamp(path: Path) -> list[int | str]:
    """Fingerprint of a source: time and size, which are quick to read, and a hash."""
    seen = path.stat()
    return [seen.st_mtime_ns, seen.st_size, _hash(path)]


def _hash(path: Path) -> str:
    import hashlib

    return hashlib.sha256(path.read_bytes()).hexdigest()


def is_fresh(manifest: dict[str, object]) -> bool:
    """Whether all sources are those that were compiled. A file of another time may still be the same."""
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
    """Loads what all compiled modules share; they look for it under its bare name."""
    name = path.name.partition(".")[0]
    spec = spec_from_file_location(name, path)
    assert spec is not None and spec.loader is not None
    module = sys.modules[name] = module_from_spec(spec)
    spec.loader.exec_module(module)


class _Sources:
    """Finds the sources of this package, whatever is compiled beside them."""

    def find_spec(
        self,
        name: str,
        path: Sequence[str] | None,
        target: ModuleType | None = None,  # noqa: ARG002
    ) -> ModuleSpec | None:
        """The source of a module below this package; None for any other."""
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
