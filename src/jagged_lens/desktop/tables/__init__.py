# SPDX-License-Identifier: GPL-3.0-or-later
"""One table over arrays, its columns and cells, sorted and filtered beside the window."""
