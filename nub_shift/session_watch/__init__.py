"""The process that watches the desktop session for one runner.

It tells which window is in front, whether the keyboard belongs to somebody else (a locked screen, a grab), that the
person pressed the key that stops everything, and that the keyboard layout is another. It paints nothing, so that
nothing that paints can keep it from telling.
"""
