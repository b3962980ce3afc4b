"""Makes deliberate faults in the source, one at a time, and counts those that the tests catch.

usage: python tools/faults.py [--count 60] [--seed TEXT] [--rooms engine,model] [--list]

Faults are drawn evenly over the lines of the rooms: a comparison reversed, a number off by one, a call dropped, two
arguments swapped, a constant replaced, one side of `and` or `or` left out. Each is made in this tree, which must have
no other changes, and taken back: use a clone with an environment of its own. First the tests of the room's own folder
run, and if those pass, all others except those of real kernels. Prints a line for each fault, then the counts. A test
run without an end counts as a caught fault.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
PACKAGE = ROOT / "nub_shift"
# The bench measures, and the demo is data.
LEFT_OUT = ("bench", "demo", "guide", "screenshots")
OWN_LIMIT_S, OTHER_LIMIT_S = 600, 1200
# Calls whose only outcome is a line for developers, or for the type checker.
QUIET = ("log", "assert_never", "super", "tr", "trc", "trn")
_TURNED: dict[type[ast.cmpop], str] = {
    ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "==",
    ast.Is: "is not", ast.IsNot: "is", ast.In: "not in", ast.NotIn: "in",
}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """A change of one place. `begin` and `end` are offsets in the bytes of the file."""

    path: Path
    line: int
    kind: str
    begin: int
    end: int
    text: str

    @property
    def room(self) -> str:
        """Name of the room, the folder below the package; empty for a module at its top."""
        inner = self.path.relative_to(PACKAGE)
        return inner.parts[0] if len(inner.parts) > 1 else ""


def faults_in(path: Path) -> Iterator[Fault]:
    """Yields all faults that can be made in a module."""
    source = path.read_bytes()
    starts = [0]
    for line in source.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))

    def place(node: ast.expr) -> tuple[int, int]:
        assert node.end_lineno is not None and node.end_col_offset is not None
        return starts[node.lineno - 1] + node.col_offset, starts[node.end_lineno - 1] + node.end_col_offset

    def text(node: ast.expr) -> str:
        begin, end = place(node)
        return source[begin:end].decode()

    def fault(node: ast.expr, kind: str, new: str) -> Fault:
        return Fault(path, node.lineno, kind, *place(node), new)

    tree = ast.parse(source)
    annotations = {id(inner) for node in ast.walk(tree) for inner in _annotation(node)}
    for node in ast.walk(tree):
        if id(node) in annotations:
            continue
        match node:
            case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in _TURNED:
                yield fault(node, "comparison", f"({text(left)} {_TURNED[type(op)]} {text(right)})")
            case ast.Expr(value=ast.Call() as call) if _called(call).split(".")[0] not in QUIET:
                yield fault(call, "dropped call", "None")
            case ast.Call(args=[ast.Name() | ast.Attribute() as first, ast.Name() | ast.Attribute() as second, *_]) if (
                _called(node) not in QUIET and text(first) != text(second)
            ):
                begin, (_, end) = place(first)[0], place(second)
                between = source[place(first)[1] : place(second)[0]].decode()
                swapped = f"{text(second)}{between}{text(first)}"
                yield Fault(path, node.lineno, "swapped arguments", begin, end, swapped)
            case ast.BoolOp(values=[first, *_]):
                yield fault(node, "one side", f"({text(first)})")
            case ast.Constant(value=bool() as value):
                yield fault(node, "constant", str(not value))
            case ast.Constant(value=int() as value):
                yield fault(node, "off by one", str(value + 1))
            case ast.Constant(value=float() as value):
                yield fault(node, "constant", repr(value * 2 + 0.1))


def _annotation(node: ast.AST) -> Iterator[ast.AST]:
    """Yields the parts of a node that state types and texts, and change no behaviour."""
    match node:
        case ast.AnnAssign(annotation=annotation):
            yield from ast.walk(annotation)
        case ast.arg(annotation=ast.expr() as annotation):
            yield from ast.walk(annotation)
        case ast.FunctionDef(returns=ast.expr() as returns):
            yield from ast.walk(returns)
        case ast.ClassDef(keywords=keywords, decorator_list=decorators):
            for part in (*keywords, *decorators):
                yield from ast.walk(part)
        case ast.Call() if _called(node).split(".")[0] in QUIET:
            yield from ast.walk(node)


def _called(call: ast.Call) -> str:
    return ast.unparse(call.func)


def drawn(count: int, seed: str, rooms: frozenset[str]) -> list[Fault]:
    """Draws faults evenly over the lines: each at the first possible line after one of equally spaced lines."""
    chance = random.Random(seed)
    paths = [path for path in sorted(PACKAGE.rglob("*.py")) if _is_meant(path, rooms)]
    places: list[list[Fault]] = []
    for path in paths:
        by_line: dict[int, list[Fault]] = {}
        for fault in faults_in(path):
            by_line.setdefault(fault.line, []).append(fault)
        places += [by_line.get(number, []) for number in range(1, len(path.read_text().splitlines()) + 1)]
    step = len(places) / count
    begin = chance.random() * step
    found = []
    for number in range(count):
        at = int(begin + number * step)
        options = next((options for options in places[at:] if options), None)
        if options is not None:
            found.append(chance.choice(options))
    return found


def _is_meant(path: Path, rooms: frozenset[str]) -> bool:
    room = path.relative_to(PACKAGE).parts[0]
    return room not in LEFT_OUT and (not rooms or room in rooms)


def passes(tests: list[str], limit_s: float) -> bool:
    """Returns whether these tests pass within a time."""
    words = ["-q", "-x", "-p", "no:cacheprovider", "-n", str(os.cpu_count() or 1), "--dist", "worksteal"]
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    with subprocess.Popen(
        [sys.executable, "-m", "pytest", *words, *tests],
        cwd=ROOT, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True,
    ) as process:  # fmt: skip
        try:
            return process.wait(limit_s) == 0
        except subprocess.TimeoutExpired:
            return False
        finally:
            with suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGKILL)


def caught_by(fault: Fault) -> str:
    """Makes a fault; returns which tests fail, "own", "other" or "none", and takes the fault back."""
    before = fault.path.read_bytes()
    fault.path.write_bytes(before[: fault.begin] + fault.text.encode() + before[fault.end :])
    try:
        own = f"tests/{fault.room}"
        if fault.room and (ROOT / own).is_dir() and not passes([own], OWN_LIMIT_S):
            return "own"
        others = ["tests", f"--ignore={own}", "--ignore=tests/kernel"] if fault.room else ["tests"]
        return "none" if passes(others, OTHER_LIMIT_S) else "other"
    finally:
        fault.path.write_bytes(before)


def main() -> None:
    """Makes the faults and prints what came of each."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--count", type=int, default=60)
    parser.add_argument("--seed", default="1")
    parser.add_argument("--rooms", default="")
    parser.add_argument("--list", action="store_true", help="only print the faults")
    options = parser.parse_args()
    faults = drawn(options.count, options.seed, frozenset(filter(None, options.rooms.split(","))))
    counts = {"own": 0, "other": 0, "none": 0}
    if not options.list:
        if subprocess.run(["git", "diff", "--quiet", "HEAD"], cwd=ROOT, check=False).returncode:
            sys.exit("this tree has changes: commit them, or use a clone")
        if not passes(["tests", "--ignore=tests/kernel"], OTHER_LIMIT_S):
            sys.exit("the tests fail without any fault")
    for fault in faults:
        was = fault.path.read_bytes()[fault.begin : fault.end].decode()
        result = "" if options.list else caught_by(fault)
        place = f"{fault.path.relative_to(ROOT)}:{fault.line}"
        print(f"{result:5} {place:60} {fault.kind}: {_short(was)} -> {_short(fault.text)}", flush=True)
        counts[result or "none"] += 1
    if not options.list:
        print(f"caught {counts['own'] + counts['other']} of {len(faults)}, {counts['own']} by the room's own folder")


def _short(text: str) -> str:
    words = " ".join(text.split())
    return words if len(words) <= 50 else words[:49] + "…"


if __name__ == "__main__":
    main()
