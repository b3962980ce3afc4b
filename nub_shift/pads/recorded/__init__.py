"""Recordings of pads, read and played."""
