"""What a telemetry link tells of a flight, and what of a card's measures can be taken from it."""
