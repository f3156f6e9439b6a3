# SPDX-License-Identifier: GPL-3.0-or-later
"""Speed figures, one command: python -m benchmarks. Never part of the tests."""
