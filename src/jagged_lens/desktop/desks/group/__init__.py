"""The Group desk."""
