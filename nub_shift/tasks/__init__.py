"""Work of the commands apart from playing and showing."""
