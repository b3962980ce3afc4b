"""What slots start: effects, manners that keep them up, reactions that time them."""
