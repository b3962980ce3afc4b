"""The path of outputs to the system: open while live, watched, reopened after a loss."""
