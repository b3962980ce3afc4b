"""What stays in view in every station: signal bar and tape."""
