"""Protocol between a runner and its clients."""
