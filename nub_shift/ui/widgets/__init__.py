"""Widgets that several stations use."""
