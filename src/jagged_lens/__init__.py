# SPDX-License-Identifier: GPL-3.0-or-later
"""Jagged Lens: weighted n-gram vector spaces of documents, compared, grouped, mapped and read."""

__version__ = "0.3.0"
