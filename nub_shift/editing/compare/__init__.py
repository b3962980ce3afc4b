"""Differences between profiles, and copying them over."""
