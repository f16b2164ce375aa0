"""Ports to instruments, each with a simulated stand-in."""
