"""Jinba: the working companion of a test pilot of fixed-wing model aircraft."""

__version__ = "0.2.1"
