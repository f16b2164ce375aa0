"""Corrections composed from what this airframe can really do, rounded to hands, with the predicted outcome."""
