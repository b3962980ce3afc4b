"""The process that plays: loop, seats, safety, JSON-RPC server; and its client."""
