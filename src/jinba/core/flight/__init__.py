"""A simulated model with hidden faults and a scripted pilot who flies the cards: the stand-in."""
