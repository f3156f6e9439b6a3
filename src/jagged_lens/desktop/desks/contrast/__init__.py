"""The Contrast desk."""
