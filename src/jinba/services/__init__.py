"""Use cases, one file per place in the loop. They own the transaction and speak core words only."""
