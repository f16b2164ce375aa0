"""A model's history in core words: what is set now, what was flown, what counts of it, and what is open."""
