"""From what a pad reports to what is meant: curves, zones, directions, smoothing, motion."""
