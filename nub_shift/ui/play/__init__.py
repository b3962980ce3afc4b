"""Station Play: players with their profiles, and activation of profiles by games."""
