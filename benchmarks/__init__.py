"""Speed figures, one command: python -m benchmarks. Never part of the tests."""
