# SPDX-License-Identifier: GPL-3.0-or-later
"""The look and the words: theme, words, colours of groups, small widgets of text."""
