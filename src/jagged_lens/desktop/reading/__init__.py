# SPDX-License-Identifier: GPL-3.0-or-later
"""The reader: one document, those that are picked, or a pair."""
