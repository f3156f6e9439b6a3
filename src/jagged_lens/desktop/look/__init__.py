"""How everything looks and is worded: theme, words, colours of groups, small widgets of text."""
