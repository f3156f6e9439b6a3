"""The Compare desk."""
