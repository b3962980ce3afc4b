"""Where outputs go: uinput, X11, print. Knows `model` and the engine's values."""
