"""The job itself: pure functions and frozen dataclasses, SI units, no input or output."""
