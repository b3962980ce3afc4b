"""Simulated pads, so that everything can be tried without hardware."""
