"""The Map desk."""
