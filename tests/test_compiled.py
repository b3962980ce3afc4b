"""A compiled module is used only if it is of the source that is there."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import sysconfig
from pathlib import Path

import pytest

from nub_shift import compiled

ROOM = Path("engine") / "budget.py"


@pytest.fixture
def package(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A package of one module that was compiled: into something that cannot be loaded, so that it shows."""
    folder = tmp_path / "nub_shift"
    (folder / "engine").mkdir(parents=True)
    for name in ("__init__.py", "compiled.py"):
        (folder / name).write_bytes((compiled.PACKAGE / name).read_bytes())
    (folder / "engine" / "__init__.py").touch()
    (folder / ROOM).write_text("KIND = 'source'\n")
    (folder / ROOM).with_suffix(sysconfig.get_config_var("EXT_SUFFIX")).write_bytes(b"no library")
    (folder / "shared.so").write_bytes(b"no library")
    monkeypatch.setattr(compiled, "PACKAGE", folder)
    stamps = {str(path.relative_to(folder)): compiled.stamp(path) for path in compiled.sources()}
    manifest = {"python": sys.implementation.cache_tag, "shared": "shared.so", "sources": stamps}
    (folder / "compiled.json").write_text(json.dumps(manifest))
    return folder


def imported(package: Path, **environment: str) -> str:
    """What an import of the module gives in a process of its own."""
    program = "from nub_shift.engine.budget import KIND; print(KIND)"
    done = subprocess.run(
        [sys.executable, "-c", program],
        cwd=package.parent,
        env={
            **{name: value for name, value in os.environ.items() if name != "NUB_SHIFT_PURE"},
            "PYTHONPATH": str(package.parent),
            **environment,
        },
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
    )
    return done.stdout.strip() or done.stderr.strip().rpartition("\n")[2].partition(":")[0]


def test_what_was_compiled_is_loaded_while_the_source_is_the_same(package: Path) -> None:
    assert imported(package) == "ImportError"  # it tried to
    source = (package / ROOM).read_text()
    (package / ROOM).write_text(source)  # of another time, but the same
    assert imported(package) == "ImportError"


@pytest.mark.parametrize("change", ["edited", "added", "taken away"])
def test_nothing_that_was_compiled_is_loaded_once_a_source_is_another(package: Path, change: str) -> None:
    match change:
        case "edited":
            (package / ROOM).write_text("KIND = 'edited'\n")
        case "added":
            (package / "engine" / "more.py").touch()
        case _:
            (package / "engine" / "more.py").touch()
            manifest = json.loads((package / "compiled.json").read_bytes())
            manifest["sources"]["engine/gone.py"] = [0, 0, ""]
            (package / "compiled.json").write_text(json.dumps(manifest))
    assert imported(package) == ("edited" if change == "edited" else "source")


def test_the_sources_are_taken_when_they_are_asked_for(package: Path) -> None:
    assert imported(package, NUB_SHIFT_PURE="1") == "source"
