"""Edits: functions from a profile to a profile."""
