"""The conversation of a runner and its clients."""
