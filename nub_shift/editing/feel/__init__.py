"""Edits and figures of the feel: lines of a stick's picture, points of its curve, wishes, two versions of a feel."""
