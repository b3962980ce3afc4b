"""Computations on recorded movements of a pad."""
