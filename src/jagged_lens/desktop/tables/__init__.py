"""One table over arrays, its columns and cells, sorted and filtered beside the window."""
