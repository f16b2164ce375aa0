"""Bytes to core objects and back."""
