"""Report of all figures, as a table or as JSON."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
from rich.console import Console
from rich.table import Table

from nub_shift.bench.engine_step import engine_figures
from nub_shift.bench.evening import evening_figures
from nub_shift.bench.figures import Figure
from nub_shift.bench.flood import flood_figures
from nub_shift.bench.frames import random_figures
from nub_shift.bench.kernel.devices import NotObserved
from nub_shift.bench.kernel.latency import kernel_figures
from nub_shift.bench.processes import process_figures
from nub_shift.bench.reshaping import what_if_figures
from nub_shift.bench.session import session_figures
from nub_shift.bench.signs import signs_figures
from nub_shift.bench.soak import soak_figures
from nub_shift.compiled import kind


class CannotMeasure(Exception):
    """A part cannot be measured on this machine; the text names the missing requirement."""


def run_bench(as_json: bool, quick: bool, parts: Sequence[str]) -> bool:
    """Measures and prints the named parts, or by default the first four as far as possible.

    Returns whether every figure was observed.

    Raises:
        CannotMeasure: a named part cannot be measured here.
    """
    figures: list[Figure] = []
    if not parts or "engine" in parts:
        figures += [*engine_figures(quick), *what_if_figures(quick)]
    if not parts or "processes" in parts:
        figures += process_figures(quick)
    if not parts or "session" in parts:
        figures += session_figures(quick)
        figures += signs_figures(quick)
    if "flood" in parts:
        figures += flood_figures(quick)
    if "soak" in parts:
        figures += [*soak_figures(quick), *evening_figures(quick)]
    if "random" in parts:
        figures += random_figures(quick)
    if not parts or "kernel" in parts:
        try:
            figures += kernel_figures(quick)
        except NotObserved as error:
            figures.append(Figure("through a real kernel", 0.0, "", unseen=str(error)))
        except OSError as error:
            if parts:
                raise CannotMeasure(f"the part kernel needs /dev/uinput and /dev/input here: {error}") from None
    if as_json:
        rows = [{**msgspec.to_builtins(figure), "holds": figure.holds} for figure in figures]
        print(msgspec.json.format(msgspec.json.encode(rows), indent=2).decode())
        return not any(figure.unseen for figure in figures)
    print(f"The engine is {kind()}.")
    table = Table("Figure", "Measured", "Limit", "", box=None, pad_edge=False)
    for figure in figures:
        table.add_row(figure.name, f"{_plainly(figure.value)} {figure.unit}", _limit(figure), _verdict(figure))
    Console().print(table)
    return not any(figure.unseen for figure in figures)


def _limit(figure: Figure) -> str:
    if figure.limit is None:
        return "baseline"
    return f"at {'least' if figure.more_is_better else 'most'} {_plainly(figure.limit)}"


def _plainly(value: float) -> str:
    """Formats a value with three significant digits, whole thousands without an exponent."""
    return f"{value:,.0f}" if abs(value) >= 1_000 else f"{value:.3g}"


def _verdict(figure: Figure) -> str:
    if figure.unseen:
        return f"[red bold]does not count: {figure.unseen}[/]"
    if figure.limit is None:
        return ""
    return "[green]holds[/]" if figure.holds else "[red]missed[/]"
