# SPDX-License-Identifier: GPL-3.0-or-later
"""What stands round the desks: spine, side, pick bar, find bar, Ctrl+K, tour."""
