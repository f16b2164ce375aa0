"""The web interface: translation only, no rule of the job."""
