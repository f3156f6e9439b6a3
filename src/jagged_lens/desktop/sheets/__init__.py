# SPDX-License-Identifier: GPL-3.0-or-later
"""Windows of their own: add a source, preferences, about, listings."""
