"""Clients of the runner: socket, connections, calls, and helper processes."""
