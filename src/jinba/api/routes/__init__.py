"""Routes, same nouns as the services."""
