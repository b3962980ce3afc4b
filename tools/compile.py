#!/usr/bin/env python3
"""Compiles the hot rooms with mypyc (it comes with mypy), from the same source, beside that source.

usage: tools/compile.py [--quiet]   compiles; about a minute where there are four cores, two where there are two
       tools/compile.py --clean     removes the compiled modules

Compiled modules are used until a source changes: see nub_shift/compiled.py. The last ones are also kept in the user's
cache, by the content that they depend on, so that compiling equal sources again only copies. setup.py makes compiled
wheels of the same list.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
import sys
import sysconfig
import tempfile
from importlib.metadata import version
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PACKAGE = ROOT / "nub_shift"
# Modules on the way of a frame besides the engine and the seats.
HOT = (
    *("pads/kernel/decoder.py", "pads/kernel/device.py", "pads/kernel/evdev_pad.py", "pads/kernel/resting.py"),
    *("pads/known/wiring.py", "outputs/output.py", "outputs/uinput.py", "protocol/clock.py"),
    *("runner/loop.py", "runner/watch.py", "runner/profiles/front_window.py", "runner/profiles/loading.py"),
    *("runner/clients/connections.py", "runner/clients/server.py", "runner/clients/subscriptions.py"),
)
GROUP = "nub_shift"
MYPYC_OPTIONS = ["--ignore-missing-imports"]
# A C file for each module, so that as many compilers work at once as there are cores.
MYPYC_SETTINGS = {"group_name": GROUP, "multi_file": True, "opt_level": "3", "debug_level": "0"}
SUFFIX = sysconfig.get_config_var("EXT_SUFFIX")
CACHE = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "nub-shift" / "compiled"
# Number of sets of compiled modules to keep, about 10 MB each.
MOST_KEPT = 4


# Setuptools compiles the files of one library one after the other; it is pinned, so this part of it stays as it is.
_SIDE_BY_SIDE = """
import os
from multiprocessing.pool import ThreadPool
from setuptools._distutils.ccompiler import CCompiler

def compile(self, sources, output_dir=None, macros=None, include_dirs=None, debug=False, extra_preargs=None,
            extra_postargs=None, depends=None):
    given = (output_dir, macros, include_dirs, sources, depends, extra_postargs)
    macros, objects, extra, pp_options, build = self._setup_compile(*given)
    cc_args = self._get_cc_args(pp_options, debug, extra_preargs)
    with ThreadPool(os.cpu_count()) as pool:
        pool.map(lambda made: self._compile(made, *build[made], cc_args, extra, pp_options), build)
    return objects

CCompiler.compile = compile
"""


def modules() -> list[str]:
    """The sources that are compiled, relative to the project."""
    # The values are msgspec structs, whose making mypyc does not take over.
    rooms = (PACKAGE / "engine", PACKAGE / "runner" / "live", PACKAGE / "runner" / "seats")
    found = [path for room in rooms for path in room.rglob("*.py") if path.name not in ("__init__.py", "values.py")]
    return sorted(str(path.relative_to(ROOT)) for path in (*found, *(PACKAGE / name for name in HOT)))


def clean() -> None:
    """Removes the compiled modules."""
    (PACKAGE / "compiled.json").unlink(missing_ok=True)
    for path in PACKAGE.rglob(f"*{SUFFIX}"):
        path.unlink()


def compile_all(quiet: bool) -> None:
    """Compiles the modules, or copies them from the cache, and puts them in place once all are there."""
    sys.path.insert(0, str(ROOT))
    from nub_shift.compiled import sources, stamp

    stamps = {str(path.relative_to(PACKAGE)): stamp(path) for path in sources()}
    content = (version("mypy"), sys.version, SUFFIX, modules(), MYPYC_OPTIONS, MYPYC_SETTINGS)
    hashes = sorted((name, found[-1]) for name, found in stamps.items())
    kept = CACHE / hashlib.sha256(repr((content, hashes)).encode()).hexdigest()[:32]
    if kept.is_dir():
        kept.touch()
        _put_in_place(kept)
    else:
        with tempfile.TemporaryDirectory() as folder:
            built = _built(Path(folder))
            _put_in_place(built)
            _keep(built, kept)
    manifest = {"python": sys.implementation.cache_tag, "shared": f"{GROUP}__mypyc{SUFFIX}", "sources": stamps}
    (PACKAGE / "compiled.json").write_text(json.dumps(manifest))
    if not quiet:
        print(f"compiled {len(modules())} modules")


def _built(work: Path) -> Path:
    """Compiles in a folder; returns the folder of the compiled modules."""
    paths = [*MYPYC_OPTIONS, *modules()]
    shutil.copytree(PACKAGE, work / "nub_shift", ignore=shutil.ignore_patterns("*.so", "__pycache__"))
    (work / "setup.py").write_text(
        f"{_SIDE_BY_SIDE}from setuptools import setup\nfrom mypyc.build import mypycify\n"
        f"setup(name='nub_shift', packages=[], ext_modules=mypycify({paths!r}, **{MYPYC_SETTINGS!r}))\n"
    )
    command = [sys.executable, "setup.py", "-q", "build_ext", "--build-lib", "built"]
    done = subprocess.run(command, cwd=work, check=False, capture_output=True, text=True)
    if done.returncode:
        sys.exit(f"compiling failed:\n{(done.stdout + done.stderr).strip()[-2000:]}")
    return work / "built"


def _put_in_place(built: Path) -> None:
    clean()
    for path in built.rglob(f"*{SUFFIX}"):
        relative = path.relative_to(built)
        # The shared library lies at the top of the build; the package contains it, and is found with it.
        target = PACKAGE / relative.name if len(relative.parts) == 1 else ROOT / relative
        shutil.copy2(path, target)


def _keep(built: Path, kept: Path) -> None:
    """Copies compiled modules into the cache, and removes the oldest; a cache that cannot be written is left alone."""
    try:
        CACHE.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=CACHE) as folder:
            copied = Path(folder) / "built"
            shutil.copytree(built, copied)
            copied.rename(kept)
        for old in sorted(CACHE.iterdir(), key=lambda path: path.stat().st_mtime)[:-MOST_KEPT]:
            shutil.rmtree(old)
    except OSError as error:
        print(f"not kept in {CACHE}: {error}", file=sys.stderr)


if __name__ == "__main__":
    if "--clean" in sys.argv:
        clean()
    else:
        compile_all("--quiet" in sys.argv)
