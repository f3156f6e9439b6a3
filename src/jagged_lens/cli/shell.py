# SPDX-License-Identifier: GPL-3.0-or-later
"""The command line in the shell: completion, and a man page made of the commands themselves."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import click
from click.shell_completion import BashComplete, FishComplete, ShellComplete, ZshComplete

from jagged_lens import __version__

_NAME = "jagged-lens"
_VARIABLE = "_JAGGED_LENS_COMPLETE"


def install_for_shells(data: Path, command: click.Group) -> list[Path]:
    """Put completion for bash, zsh and fish and the man page below a data folder ($XDG_DATA_HOME). Gives the files written."""
    bash = BashComplete(
        command, {}, _NAME, _VARIABLE
    )  # its own `source` asks the bash that is here, which need not be the user's
    files = {
        data / "bash-completion" / "completions" / _NAME: ShellComplete.source(bash),
        data / "zsh" / "site-functions" / f"_{_NAME}": ZshComplete(command, {}, _NAME, _VARIABLE).source(),
        data / "fish" / "vendor_completions.d" / f"{_NAME}.fish": FishComplete(command, {}, _NAME, _VARIABLE).source(),
        data / "man" / "man1" / f"{_NAME}.1": man_page(command),
    }
    for path, content in files.items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(content, "utf-8")
    return list(files)


def man_page(command: click.Group) -> str:
    """The man page of a group of commands, in the man macros of roff."""
    lines = [
        f'.TH {_NAME.upper()} 1 "" "Jagged Lens {__version__}" "User Commands"',
        ".SH NAME",
        f"{_plain(_NAME)} \\- weighted n\\-gram vector spaces of documents, compared, grouped, mapped and read",
        ".SH SYNOPSIS",
        f".B {_plain(_NAME)}",
        "[COMMAND] [OPTION]...",
        ".SH DESCRIPTION",
        *_paragraphs(command.help or ""),
        *_options(command),
        ".SH COMMANDS",
    ]
    for name in sorted(command.commands):
        one = command.commands[name]
        arguments = " ".join(
            parameter.make_metavar(click.Context(one))
            for parameter in one.params
            if isinstance(parameter, click.Argument)
        )
        lines += [".SS", f"{_plain(_NAME)} {_plain(name)} {_plain(arguments)}".rstrip(), *_paragraphs(one.help or "")]
        lines += _options(one)
    lines += [
        ".SH EXIT STATUS",
        "0 where all went well, 1 where it did not, 2 where the input was wrong, 130 where it was stopped.",
        ".SH SEE ALSO",
        "The guide: Help, Guide in the window.",
    ]
    return "\n".join(lines) + "\n"


def _options(command: click.Command) -> Iterator[str]:
    context = click.Context(command)
    for parameter in command.params:
        record = parameter.get_help_record(context) if isinstance(parameter, click.Option) else None
        if record is not None:
            yield ".TP"
            yield f".B {_plain(record[0])}"
            yield _plain(" ".join(record[1].split())) or "\\&"


def _paragraphs(text: str) -> Iterator[str]:
    for at, paragraph in enumerate(text.strip().split("\n\n")):
        if at:
            yield ".PP"
        yield _plain(" ".join(paragraph.split()))


def _plain(text: str) -> str:
    """A text in which nothing is a request of roff."""
    own = text.replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{own}" if own[:1] in (".", "'") else own
