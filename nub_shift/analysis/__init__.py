"""What can be computed from what a pad did."""
