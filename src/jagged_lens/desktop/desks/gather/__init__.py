"""The Gather desk."""
