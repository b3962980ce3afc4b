"""Seats, each a pad with a profile, on one ledger and one output; and their feeds for subscribers."""
