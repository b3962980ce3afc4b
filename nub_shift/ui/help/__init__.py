"""Help: the guide, shortcuts, what this is, settings of the window, and what to do first."""
