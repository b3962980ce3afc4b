"""Advice on probable mistakes in a profile, with remedies."""
