"""Invented games and their profiles."""
