"""The way of outputs to the system: open while live, watched, opened again."""
