"""A folder a desk, a file a face."""
