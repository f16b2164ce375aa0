"""Thin command line."""
