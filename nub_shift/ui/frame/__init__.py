"""Parts of the window visible in every station: signal bar and tape."""
