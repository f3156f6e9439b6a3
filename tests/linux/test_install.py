import configparser
import os
import subprocess
import sys
import xml.etree.ElementTree as ElementTree
from pathlib import Path

from jagged_lens.linux import install


def test_everything_is_put_in_its_place(tmp_path: Path) -> None:
    written = {path.relative_to(tmp_path).as_posix() for path in install(tmp_path, "/opt/with space/jagged-lens")}
    assert written == {
        "applications/jagged-lens.desktop",
        "icons/hicolor/scalable/apps/jagged-lens.svg",
        "icons/hicolor/48x48/apps/jagged-lens.png",
        "icons/hicolor/256x256/apps/jagged-lens.png",
        "metainfo/jagged-lens.metainfo.xml",
        "mime/packages/jagged-lens.xml",
    }
    entry = configparser.ConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(tmp_path / "applications/jagged-lens.desktop")
    assert entry["Desktop Entry"]["Exec"] == '"/opt/with space/jagged-lens" open %f'
    for name in (
        "metainfo/jagged-lens.metainfo.xml",
        "mime/packages/jagged-lens.xml",
        "icons/hicolor/scalable/apps/jagged-lens.svg",
    ):
        ElementTree.parse(tmp_path / name)
    glob = ElementTree.parse(tmp_path / "mime/packages/jagged-lens.xml").find(".//{*}glob")
    assert glob is not None
    assert glob.get("pattern") == "*.jagged"
    assert (tmp_path / "icons/hicolor/48x48/apps/jagged-lens.png").read_bytes().startswith(b"\x89PNG")


def test_the_command_uses_the_users_data_folder_and_can_be_repeated(tmp_path: Path) -> None:
    for _ in range(2):
        words = [sys.executable, "-m", "jagged_lens", "install-desktop"]
        done = subprocess.run(
            words, env={**os.environ, "XDG_DATA_HOME": str(tmp_path)}, capture_output=True, text=True, timeout=60
        )
        assert done.returncode == 0, done.stderr
    assert str(tmp_path / "applications" / "jagged-lens.desktop") in done.stdout
