"""Speed and memory, each against a baseline that runs in the same session."""
