"""Open windows with the fields for activation rules, and the profile that each would activate."""

from __future__ import annotations

from dataclasses import dataclass

from nub_shift.front.connecting import connect
from nub_shift.model.profile.activation import Front, fits, weight
from nub_shift.store.library import library_folder, rules_in
from nub_shift.translation import tr


@dataclass(frozen=True)
class OpenWindow:
    """A window, with the titles of the profiles that it would activate; several for equally specific rules."""

    front: Front
    titles: tuple[str, ...]


def open_windows() -> list[OpenWindow]:
    """Returns all windows that the session reports.

    Raises:
        OSError: the session reports none.
    """
    windows = connect()
    if windows is None:
        raise OSError(tr("this session tells of no windows: neither its compositor does, nor is there an X server"))
    try:
        fronts = windows.all()
    finally:
        windows.close()
    rules = [(title, rule) for _, title, comes_on in rules_in([library_folder()]) for rule in comes_on.rules]
    found = []
    for front in fronts:
        fitting = [(weight(rule), title) for title, rule in rules if fits(rule, front, max(rule.player, 1))]
        most = max((weighed for weighed, _ in fitting), default=None)
        titles = dict.fromkeys(title for weighed, title in fitting if weighed == most)
        found.append(OpenWindow(front, tuple(titles)))
    return found
