"""References within a profile: the one walk over its actions, what an effect refers to, and how it can be kept up."""
