"""What `./nub` does on systems of other kinds, with stand-ins for their commands."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
# Commands of every system that the script uses.
USED = ("bash", "cat", "cksum", "cut", "dirname", "env", "find", "id", "readlink", "touch", "uname")


@pytest.fixture
def machine(tmp_path: Path) -> Path:
    """A folder with the script, on a system that has all libraries except one until `installed` exists."""
    commands = tmp_path / "bin"
    commands.mkdir()
    for name in USED:
        path = shutil.which(name)
        assert path is not None, name
        (commands / name).symlink_to(path)
    (tmp_path / "requirements").mkdir()
    shutil.copy(ROOT / "nub", tmp_path)
    shutil.copy(ROOT / "requirements" / "system.txt", tmp_path / "requirements")
    listed = [
        line.split()[3]
        for line in (ROOT / "requirements" / "system.txt").read_text().splitlines()
        if "| library" in line
    ]
    known = "\n".join(f"\t{name} (libc6,x86-64) => /lib/{name}" for name in listed)
    there = known.replace("\tlibEGL.so.1 ", "\tlibother.so.1 ")
    put(commands, "ldconfig", f'if [ -e {tmp_path}/installed ]; then echo "{known}"; else echo "{there}"; fi')
    put(commands, "sudo", '"$@"')
    put(commands, "python3", "exit 0")
    return tmp_path


def put(commands: Path, name: str, script: str) -> None:
    path = commands / name
    path.write_text(f"#!{shutil.which('bash')}\n{script}\n")
    path.chmod(0o755)


def run(machine: Path, *words: str) -> subprocess.CompletedProcess[str]:
    environment = {"PATH": str(machine / "bin"), "HOME": os.environ["HOME"]}
    return subprocess.run([machine / "nub", *words], env=environment, capture_output=True, text=True, check=False)


@pytest.mark.parametrize(
    ("manager", "package"),
    [("apt-get", "libegl1"), ("dnf", "libglvnd-egl"), ("zypper", "libglvnd"), ("pacman", "libglvnd")],
)
def test_a_missing_library_is_installed_by_the_systems_own_manager(machine: Path, manager: str, package: str) -> None:
    put(machine / "bin", manager, f'echo "$@" >>{machine}/asked; touch {machine}/installed')
    first = run(machine, "setup", "--system")
    assert first.returncode == 0, first.stderr
    assert f"needs the library libEGL.so.1 (package {package}): Qt draws with it" in first.stderr
    asked = (machine / "asked").read_text()
    assert asked.split()[-1] == package
    again = run(machine, "setup", "--system")
    assert again.returncode == 0 and not again.stderr and (machine / "asked").read_text() == asked


def test_without_a_known_manager_the_needs_are_named_and_can_be_passed_over(machine: Path) -> None:
    stopped = run(machine, "setup", "--system")
    assert stopped.returncode == 1
    assert "needs the library libEGL.so.1: Qt draws with it" in stopped.stderr and "--system-ready" in stopped.stderr
    passed = run(machine, "--system-ready", "setup", "--system")
    assert passed.returncode == 0 and not passed.stderr


@pytest.mark.parametrize(
    ("script", "words"), [("exit 0", "still lacks the library libEGL.so.1"), ("exit 3", "dnf could not")]
)
def test_a_manager_that_installs_nothing_is_noticed(machine: Path, script: str, words: str) -> None:
    put(machine / "bin", "dnf", script)
    stopped = run(machine, "setup", "--system")
    assert stopped.returncode == 1 and words in stopped.stderr and "--system-ready" in stopped.stderr


def test_the_lowest_versions_are_those_that_the_project_asks_for() -> None:
    """A bound that no run holds would be a guess."""
    asked = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    tried = (ROOT / "requirements" / "lowest.txt").read_text()
    for bound in asked:
        name, lowest = bound.partition(";")[0].strip().split(">=")
        found = re.search(rf"^{re.escape(name)}==([\d.]+)", tried, re.MULTILINE)
        assert found is not None and f"{found[1]}.".startswith(f"{lowest}."), bound


def test_every_need_has_a_package_in_each_system() -> None:
    rows = [line.split("|") for line in (ROOT / "requirements" / "system.txt").read_text().splitlines() if "|" in line]
    for row in rows[1:]:
        assert len(row) == 7 and all(field.strip() for field in row), row
