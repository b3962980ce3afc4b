"""The window; talks to a runner through its client."""
