"""Profiles that come while play goes on: read beside play, chosen by the game in front."""
