"""The runner of a whole session, and its service manager."""
