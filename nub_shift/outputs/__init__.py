"""Destinations of outputs: uinput, X11, print."""
