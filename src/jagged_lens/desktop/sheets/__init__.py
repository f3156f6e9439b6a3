"""Windows of their own: add a source, preferences, about, listings."""
