"""Shapes of requests and answers beyond the core's own records."""
