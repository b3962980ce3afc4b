"""Effects of slots, the manners that repeat or keep them, and the reactions that time them."""
