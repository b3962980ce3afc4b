"""Which window is in front, which there are, and what programs are behind them, as the session tells."""
