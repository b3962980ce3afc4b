"""Windows of the session, the window in front, and their programs."""
