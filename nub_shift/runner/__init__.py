"""The process that plays: loop, seats, outputs, clients."""
