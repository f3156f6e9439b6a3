# SPDX-License-Identifier: GPL-3.0-or-later
"""A folder a desk, a file a face."""
