"""Where outputs go: uinput, X11, print."""
