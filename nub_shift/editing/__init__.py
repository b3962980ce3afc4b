"""Editing of the open profile and of pad cards: edits, comparison, wording, previews."""
