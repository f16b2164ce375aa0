"""The field door on this machine: an authority of its own, a name announced on the local network, and the server behind both."""
