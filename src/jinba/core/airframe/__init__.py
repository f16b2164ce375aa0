"""The airframe: lifting surfaces, body, motor, and the chord and area that everything refers to."""
