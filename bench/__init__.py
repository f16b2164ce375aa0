"""Benchmarks: ratios against a reference measured in the same run."""
