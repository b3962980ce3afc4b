"""Made-up games, pads and performances, so that all of the product can be tried without hardware."""
