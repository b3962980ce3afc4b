"""The window, a client of a runner."""
