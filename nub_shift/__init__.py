"""Nub Shift: a gamepad's sticks, triggers and buttons as keys and mouse motion, by per-game profiles.

The rooms, and the one way in which they may know each other (checked by import-linter):

    cli → bench → ui → runner → demo → pads | outputs → engine → model
"""

__version__ = "0.1.0"
