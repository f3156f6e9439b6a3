# SPDX-License-Identifier: GPL-3.0-or-later
"""The commands of the user, one file per subject. Menus, Ctrl+K and the list of keys (F1) read these tables."""

from jagged_lens.desktop.commands.decisions import DECISIONS
from jagged_lens.desktop.commands.edit import EDIT
from jagged_lens.desktop.commands.findings import FINDINGS
from jagged_lens.desktop.commands.help import HELP
from jagged_lens.desktop.commands.lens import LENS
from jagged_lens.desktop.commands.pick import PICK
from jagged_lens.desktop.commands.project import PROJECT
from jagged_lens.desktop.commands.view import VIEW

MENUS = (
    ("&Project", PROJECT),
    ("&Edit", (*EDIT, *DECISIONS)),
    ("&Lens", LENS),
    ("P&ick", PICK),
    ("&Report", FINDINGS),
    ("&View", VIEW),
    ("&Help", HELP),
)
"""Title of each menu and its commands."""
