"""The reader: one document, those that are picked, or a pair."""
