"""Menu of the selected moves, or of a group."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PyQt6.QtWidgets import QMenu

from nub_shift.editing.document import Edit
from nub_shift.editing.edits import moves as move_edits
from nub_shift.editing.words.labels import move_count
from nub_shift.model.profile.profile import Direction, Move, Profile
from nub_shift.translation import inside, tr
from nub_shift.ui.look.theme import Theme
from nub_shift.ui.widgets.menu_help import add_choices
from nub_shift.ui.widgets.menus import add_entry, add_menu

_WAYS = {
    None: tr("Not a direction"),
    Direction.UP: tr("Walk forward"),
    Direction.DOWN: tr("Walk back"),
    Direction.LEFT: tr("Walk left"),
    Direction.RIGHT: tr("Walk right"),
}
NO_GROUP = tr("No group")


@dataclass(frozen=True)
class MoveActs:
    """Callbacks of the menu.

    Attributes:
        pick: as a click on the move or the group.
        key, text, rename, remove, link: for the selected move.
        new_group: awaits the name of a new group of these moves.
        rename_group: awaits another name of a group.
        edit: description and edit.
    """

    pick: Callable[[], object]
    key: Callable[[], object]
    text: Callable[[], object]
    rename: Callable[[], object]
    remove: Callable[[], object]
    link: Callable[[], object]
    new_group: Callable[[tuple[Move, ...]], object]
    rename_group: Callable[[str], object]
    edit: Callable[[str, Edit], object]


def fill_for_moves(menu: QMenu, theme: Theme, profile: Profile, moves: tuple[Move, ...], acts: MoveActs) -> None:
    """Fills the menu of one move or several."""
    one = moves[0] if len(moves) == 1 else None
    if one is not None:
        add_entry(menu, tr("Assign to the chosen slot"), acts.pick)
        add_entry(menu, tr("Another key …"), acts.key)
        add_entry(menu, tr("Type a text …"), acts.text)
        add_entry(menu, tr("Rename …\tF2"), acts.rename)
        add_entry(menu, tr("Used together with …"), acts.link)
    what = one.label if one is not None else move_count(len(moves))
    ids = {move.id for move in moves}
    help_text = tr("Moves of a group stand under one heading, and a slot can step through them.")
    groups = add_choices(menu, theme, tr("Group"), help_text)
    now = {move.group for move in moves}
    for group in dict.fromkeys([*move_edits.group_names(profile), ""]):
        edit = partial(move_edits.set_group, move_ids=ids, group=group)
        add_entry(
            groups, group or NO_GROUP, partial(acts.edit, f"{what}: {group or tr('no group')}", edit), now == {group}
        )
    add_entry(groups, tr("New group …"), partial(acts.new_group, moves))
    if one is not None:
        help_text = tr("Which way you walk with this move. A stick with movement keys uses the four moves that walk.")
        ways = add_choices(menu, theme, tr("Walking"), help_text)
        for way, words in _WAYS.items():
            edit = partial(move_edits.set_direction, move_id=one.id, direction=way)
            add_entry(ways, words, partial(acts.edit, f"{one.label}: {inside(words)}", edit), one.direction is way)
    add_entry(menu, tr("Remove\tDelete"), acts.remove)


def fill_for_group(menu: QMenu, profile: Profile, group: str, acts: MoveActs) -> None:
    """Fills the menu of a group."""
    add_entry(menu, tr("Step through this group with the chosen slot"), acts.pick)
    add_entry(menu, tr("Rename …\tF2"), partial(acts.rename_group, group))
    names = move_edits.group_names(profile)
    at = names.index(group)
    for text, place in ((tr("Further up"), names[at - 1 : at]), (tr("Further down"), names[at + 1 : at + 2])):
        moved = partial(move_edits.move_group, group=group, place=place[0] if place else group)
        add_entry(menu, text, partial(acts.edit, tr("Group {group} moved", group=group), moved)).setEnabled(bool(place))
    others = [other for other in names if other != group]
    merge = add_menu(menu, tr("Merge into"))
    merge.setEnabled(bool(others))
    for other in others:
        edit = partial(move_edits.rename_group, group=group, label=other)
        add_entry(
            merge,
            other or NO_GROUP,
            partial(acts.edit, tr("{group} into {other}", group=group, other=other or tr("no group")), edit),
        )
