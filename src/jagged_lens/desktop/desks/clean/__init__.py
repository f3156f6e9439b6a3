"""The Clean desk."""
