"""All figures, as a table or as JSON."""

from __future__ import annotations

import msgspec
from rich.console import Console
from rich.table import Table

from nub_shift.bench.engine_step import engine_figures
from nub_shift.bench.figures import Figure
from nub_shift.bench.processes import process_figures


def run_bench(as_json: bool, quick: bool) -> None:
    """Measures and prints."""
    figures = [*engine_figures(quick), *process_figures(quick)]
    if as_json:
        rows = [{**msgspec.to_builtins(figure), "holds": figure.holds} for figure in figures]
        print(msgspec.json.format(msgspec.json.encode(rows), indent=2).decode())
        return
    table = Table("Figure", "Measured", "Limit", "", box=None, pad_edge=False)
    for figure in figures:
        table.add_row(figure.name, f"{figure.value:.3g} {figure.unit}", _limit(figure), _verdict(figure))
    Console().print(table)


def _limit(figure: Figure) -> str:
    if figure.limit is None:
        return "baseline"
    return f"at {'least' if figure.more_is_better else 'most'} {figure.limit:g}"


def _verdict(figure: Figure) -> str:
    if figure.limit is None:
        return ""
    return "[green]holds[/]" if figure.holds else "[red]missed[/]"
