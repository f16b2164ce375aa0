"""A pilot who flies the cards with a simulated model and says what he saw: from the flight itself, never from an estimate."""
