"""Two feels compared: by hand, and on what hands did before."""
