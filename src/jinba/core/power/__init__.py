"""Thrust, torque and how long a pack lasts."""
