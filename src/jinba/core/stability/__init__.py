"""Lift, neutral point, damping, control power and stall of an airframe."""
