# SPDX-License-Identifier: GPL-3.0-or-later
"""How everything looks and is worded: theme, words, colours of groups, small widgets of text."""
