"""Latency and load through a real kernel."""
