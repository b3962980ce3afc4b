"""The process that plays: loop, seats, safety, server."""
