"""Wording of the interface."""
