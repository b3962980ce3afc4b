"""Previews of a profile before play: strip, tape, practice field."""
