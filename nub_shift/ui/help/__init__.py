"""Help: guide, shortcuts, about, settings of the window, and first steps."""
