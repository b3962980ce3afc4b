"""Clients of the runner: the socket, the connections, the calls; processes that work for the runner."""
