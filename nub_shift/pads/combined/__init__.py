"""Several pads as one, and one pad as two."""
