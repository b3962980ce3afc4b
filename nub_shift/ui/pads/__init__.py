"""Station Pads."""
