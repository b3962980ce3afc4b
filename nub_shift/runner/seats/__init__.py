"""Seats: a pad with a profile each, on one ledger and one output; what their subscribers get."""
