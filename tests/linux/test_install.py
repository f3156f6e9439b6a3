# SPDX-License-Identifier: GPL-3.0-or-later

import configparser
import os
import shutil
import subprocess
import sys
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import pytest

from jagged_lens.linux import install


def test_everything_is_put_in_its_place(tmp_path: Path) -> None:
    written = {path.relative_to(tmp_path).as_posix() for path in install(tmp_path, "/opt/with space/jagged-lens")}
    assert written == {
        "applications/example.larkmoor.JaggedLens.desktop",
        "icons/hicolor/scalable/apps/jagged-lens.svg",
        "icons/hicolor/48x48/apps/jagged-lens.png",
        "icons/hicolor/256x256/apps/jagged-lens.png",
        "metainfo/example.larkmoor.JaggedLens.metainfo.xml",
        "mime/packages/jagged-lens.xml",
    }
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(tmp_path / "applications/example.larkmoor.JaggedLens.desktop")
    assert entry["Desktop Entry"]["Exec"] == '"/opt/with space/jagged-lens" open %f'
    for name in (
        "metainfo/example.larkmoor.JaggedLens.metainfo.xml",
        "mime/packages/jagged-lens.xml",
        "icons/hicolor/scalable/apps/jagged-lens.svg",
    ):
        ElementTree.parse(tmp_path / name)
    glob = ElementTree.parse(tmp_path / "mime/packages/jagged-lens.xml").find(".//{*}glob")
    assert glob is not None
    assert glob.get("pattern") == "*.jagged"
    assert (tmp_path / "icons/hicolor/48x48/apps/jagged-lens.png").read_bytes().startswith(b"\x89PNG")


@pytest.mark.parametrize(
    ("tool", "arguments", "name"),
    [
        ("appstreamcli", ["validate", "--no-net"], "metainfo/example.larkmoor.JaggedLens.metainfo.xml"),
        ("desktop-file-validate", [], "applications/example.larkmoor.JaggedLens.desktop"),
    ],
)
def test_the_tools_of_the_trade_find_nothing_wrong(tmp_path: Path, tool: str, arguments: list[str], name: str) -> None:
    if not shutil.which(tool):
        pytest.skip(f"{tool} is not installed")
    install(tmp_path, "/opt/jagged-lens")
    done = subprocess.run([tool, *arguments, str(tmp_path / name)], capture_output=True, text=True, timeout=300)
    assert done.returncode == 0, done.stdout + done.stderr


def test_what_another_version_put_in_the_menu_is_taken_away(tmp_path: Path) -> None:
    (tmp_path / "applications").mkdir()
    (tmp_path / "applications" / "jagged-lens.desktop").write_text("[Desktop Entry]")
    (tmp_path / "applications" / "other.desktop").write_text("[Desktop Entry]")
    install(tmp_path, "/opt/jagged-lens")
    names = {path.name for path in (tmp_path / "applications").glob("*.desktop")}
    assert names == {"example.larkmoor.JaggedLens.desktop", "other.desktop"}


def test_the_command_uses_the_users_data_folder_and_can_be_repeated(tmp_path: Path) -> None:
    for _ in range(2):
        words = [sys.executable, "-m", "jagged_lens", "install-desktop"]
        done = subprocess.run(
            words, env={**os.environ, "XDG_DATA_HOME": str(tmp_path)}, capture_output=True, text=True, timeout=300
        )
        assert done.returncode == 0, done.stderr
    assert str(tmp_path / "applications" / "example.larkmoor.JaggedLens.desktop") in done.stdout


def test_what_knows_of_new_entries_is_told_where_it_is_installed(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tool = tmp_path / "bin" / "update-mime-database"
    tool.parent.mkdir()
    tool.write_text(f'#!/bin/sh\necho "$1" >> {tmp_path / "told"}\n')
    tool.chmod(0o755)
    monkeypatch.setenv("PATH", f"{tool.parent}:/bin")
    install(tmp_path / "data", "/opt/jagged-lens")
    assert (tmp_path / "told").read_text().split() == [str(tmp_path / "data" / "mime")]
