# SPDX-License-Identifier: GPL-3.0-or-later
"""The command in the shell: completion that completes, and a man page that names all there is."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from jagged_lens.cli.commands import main
from jagged_lens.cli.shell import man_page


def test_they_are_put_in_place_with_the_menu_entry(tmp_path: Path) -> None:
    done = CliRunner().invoke(main, ["install-desktop"], env={"XDG_DATA_HOME": str(tmp_path)})
    assert done.exit_code == 0, done.output
    for name in (
        "bash-completion/completions/jagged-lens",
        "zsh/site-functions/_jagged-lens",
        "fish/vendor_completions.d/jagged-lens.fish",
        "man/man1/jagged-lens.1",
    ):
        assert (tmp_path / name).stat().st_size > 200
        assert str(tmp_path / name) in done.output


@pytest.mark.skipif(shutil.which("bash") is None, reason="needs bash")
@pytest.mark.parametrize(("typed", "wanted"), [("jagged-lens pl", "place"), ("jagged-lens run --thr", "--threads")])
def test_bash_completes_commands_and_options(tmp_path: Path, typed: str, wanted: str) -> None:
    CliRunner().invoke(main, ["install-desktop"], env={"XDG_DATA_HOME": str(tmp_path)})
    words = typed.split()
    script = (
        f"source {tmp_path}/bash-completion/completions/jagged-lens; COMP_WORDS=({typed}); COMP_CWORD={len(words) - 1}; "
        "compopt() { :; }; _jagged_lens_completion jagged-lens; echo ${COMPREPLY[@]}"
    )
    folder = Path(sys.executable).parent
    environment = {**os.environ, "PATH": f"{folder}:{os.environ['PATH']}"}
    done = subprocess.run(["bash", "-c", script], env=environment, capture_output=True, text=True, check=True)
    assert done.stdout.split() == [wanted], done.stderr


def test_the_man_page_names_every_command_and_option() -> None:
    page = man_page(main)
    assert page.startswith(".TH JAGGED-LENS 1")
    for name, command in main.commands.items():
        assert f"jagged\\-lens {name}".replace("install-", "install\\-").replace("demo-", "demo\\-") in page
        for parameter in command.params:
            for option in parameter.opts:
                if option.startswith("--"):
                    assert option.replace("-", "\\-") in page, option
    for line in page.splitlines():
        assert not line.startswith("'")
        assert not line.startswith(".") or line.split()[0] in (".TH", ".SH", ".SS", ".B", ".TP", ".PP"), line
