"""What stands round the desks: spine, side, pick bar, find bar, Ctrl+K, tour."""
