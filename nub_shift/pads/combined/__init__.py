"""Combination of several pads into one, and division of one pad into two."""
