"""Introducing a pad: from what a person moves follows which code is which control."""
