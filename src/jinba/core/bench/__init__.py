"""What the bench shows at once: numbers with reasons, the maiden balance point with both limits, predicted tendencies."""
