"""Result of the last change of a profile, in words."""

from __future__ import annotations

from nub_shift.editing.document import ELSEWHERE, Document
from nub_shift.translation import tr


def saved_words(document: Document) -> str:
    """Returns the line for the person after a change: saved, refused, or changed in two places."""
    change = document.history.undo
    kept = change.label if change is not None else tr("unchanged")
    if document.elsewhere and document.disputed:
        return tr("Changed here and elsewhere: choose below which version to keep")
    if document.elsewhere and kept == ELSEWHERE:
        return tr("Changed elsewhere: you now see that version. Undo brings yours back")
    if document.fault:
        return document.fault
    if document.elsewhere:
        return tr("Saved: {kept}, together with changes made elsewhere", kept=kept)
    return tr("Saved: {kept}", kept=kept)
