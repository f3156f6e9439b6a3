"""The Weigh desk."""
