"""Loading of profiles during play, by request or by the game in front."""
