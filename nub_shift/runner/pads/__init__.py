"""Pads within reach: all of them, those that a client watches, their batteries."""
