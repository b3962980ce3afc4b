"""Shaping of reported values: curves, zones, directions, smoothing, motion."""
