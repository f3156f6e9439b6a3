"""The Terms desk."""
