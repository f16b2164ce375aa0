"""What each measure would read for given parameters: the measurement models."""
