"""Widgets used by several stations."""
