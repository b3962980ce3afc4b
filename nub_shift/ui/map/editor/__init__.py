"""The opened control: its slots in their layers, and all that can be given to them."""
