# SPDX-License-Identifier: GPL-3.0-or-later
"""The frame around the desks: spine, side, pick bar, find bar, Ctrl+K, tour."""
