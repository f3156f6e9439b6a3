# SPDX-License-Identifier: GPL-3.0-or-later
"""The commands: jagged-lens [open | demo | run | place | info | demo-pages | demo-vectors]."""

from __future__ import annotations

import importlib.metadata
import os
import platform
import signal
import sys
from collections.abc import Callable
from pathlib import Path
from types import FrameType

import click

from jagged_lens import __version__
from jagged_lens.cli import running, sending
from jagged_lens.cli.running import one_line, shown
from jagged_lens.cli.sending import KEY
from jagged_lens.cli.shell import install_for_shells
from jagged_lens.demo import demo_recipe
from jagged_lens.demo.vector_server import FAULTS, Manner
from jagged_lens.errors import JaggedLensError, Stopped, short_of_memory
from jagged_lens.lens import (
    SECTIONS,
    Recipe,
    read_recipe,
    sections_of,
    sentences_of,
    settings_of,
    shown_settings_of,
)
from jagged_lens.linux import install
from jagged_lens.parallel import set_threads
from jagged_lens.sentences import said
from jagged_lens.worker import Worker

WRONG = 2
STOPPED = 130
_SEND = click.option(
    "--send",
    "sending_texts",
    is_flag=True,
    help=f"Send texts that have no vectors to the service that [weigh] vectors names. Its key comes from {KEY} or the keyring.",
)


@click.group(invoke_without_command=True)
@click.version_option(__version__, prog_name="jagged-lens")
@click.option("--in-process", is_flag=True, help="Compute in the window's own process, for debuggers and profilers.")
@click.pass_context
def main(context: click.Context, in_process: bool) -> None:
    """Look at a pile of documents through weighted n-grams. Without a command, the window opens."""
    context.obj = in_process
    if context.invoked_subcommand is None:
        sys.exit(_window(None, in_process))


@main.command("open")
@click.argument("file", type=click.Path(path_type=Path))
@click.pass_obj
def open_file(in_process: bool, file: Path) -> None:
    """Open the window on FILE: a recipe (.toml), a table, a text file or a folder."""
    sys.exit(_window(file, in_process))


@main.command()
@click.option("--pictures", type=click.Path(path_type=Path), help="Draw every view into this folder and exit.")
@click.pass_obj
def demo(in_process: bool, pictures: Path | None) -> None:
    """Open the window on the return notes of the Larkmoor Seed Library."""
    sys.exit(_window(demo_recipe(), in_process, pictures))


@main.command()
@click.argument("recipe", type=click.Path(path_type=Path))
@click.option("--out", required=True, type=click.Path(path_type=Path), help="Folder for the files; created if needed.")
@click.option("--threads", type=click.IntRange(1, 256), help="Number of threads. The result does not depend on it.")
@click.option("--lens", help="For a project: name of the lens to run; by default the one that was in front.")
@_SEND
def run(recipe: Path, out: Path, threads: int | None, lens: str | None, sending_texts: bool) -> None:
    """Do the whole job that RECIPE describes, without a window, and leave its tables in the folder --out.

    In place of a recipe a project (.jagged) can be given: its documents are those that were taken in.
    """
    if threads:
        set_threads(threads)
    _without_window(out, lambda: running.run(recipe, out, lens, sending_texts))


@main.command()
@click.argument("recipe", type=click.Path(path_type=Path))
@click.argument("new", type=click.Path(path_type=Path))
@click.option("--out", required=True, type=click.Path(path_type=Path), help="Folder for the files; created if needed.")
@click.option("--threads", type=click.IntRange(1, 256), help="Number of threads. The result does not depend on it.")
@click.option("--lens", help="For a project: name of the lens to use; by default the one that was in front.")
@_SEND
def place(recipe: Path, new: Path, out: Path, threads: int | None, lens: str | None, sending_texts: bool) -> None:
    """See the documents of NEW through the lens of RECIPE as it is, and leave what was found in the folder --out.

    NEW is a table, a text file, a folder, or a recipe (.toml) whose sources are read. A table is read as that of RECIPE is, where it has the
    same columns.
    """
    if threads:
        set_threads(threads)
    _without_window(out, lambda: running.place(recipe, new, out, lens, sending_texts))


def _without_window(out: Path, work: Callable[[], None]) -> None:
    """Do some work, and end as a command does: with a line that says what was wrong, and a number."""
    signal.signal(signal.SIGINT, _stop)
    signal.signal(signal.SIGTERM, _stop)
    try:
        work()
    except JaggedLensError as error:
        click.echo(f"jagged-lens: {one_line(error)}", err=True)
        sys.exit(WRONG)
    except running.StoppedHalfway as error:
        click.echo(f"jagged-lens: stopped; {error} in {shown(str(out))} are new, the others unchanged", err=True)
        sys.exit(STOPPED)
    except (Stopped, KeyboardInterrupt):
        click.echo("jagged-lens: stopped; nothing was written", err=True)
        sys.exit(STOPPED)
    except (MemoryError, RuntimeError) as error:
        if not short_of_memory(error):
            raise
        click.echo("jagged-lens: not enough memory. Use fewer documents or terms, or raise the limit.", err=True)
        sys.exit(1)
    except OSError as error:
        click.echo(f"jagged-lens: {shown(str(out))}: cannot be written ({error.strerror})", err=True)
        sys.exit(1)


@main.command()
@click.argument("recipe", required=False, type=click.Path(path_type=Path))
def info(recipe: Path | None) -> None:
    """Say which version this is and what every setting of a recipe means; with RECIPE, what is set in it."""
    try:
        chosen = read_recipe(recipe) if recipe else Recipe()
        given = sections_of(chosen) if recipe else None
    except JaggedLensError as error:
        click.echo(f"jagged-lens: {one_line(error)}", err=True)
        sys.exit(WRONG)
    click.echo(f"Jagged Lens {__version__}, Python {platform.python_version()}")
    versions = (f"{name} {importlib.metadata.version(name)}" for name in ("numpy", "scipy", "PyStemmer", "pydantic"))
    click.echo(", ".join(versions))
    for step in SECTIONS:
        click.echo(f"\n[{step}]")
        for sentence in said(sentences_of(step), getattr(chosen, step), shown_settings_of(step)):
            click.echo(f"# {sentence}")
        for key, setting in settings_of(step).items():
            value = given[step][key] if given else setting.default
            click.echo(f"{key} = {_toml(value)}")
            click.echo(f"    {setting.help} Allowed: {setting.allowed}.")


@main.command("demo-pages")
@click.option("--port", type=click.IntRange(0, 65535), default=8640, show_default=True, help="0 takes any free port.")
def demo_pages(port: int) -> None:
    """Serve a few made-up web pages on this machine alone, to try links on, and say their addresses."""
    from jagged_lens.demo.page_server import serve_until_stopped

    signal.signal(signal.SIGINT, signal.default_int_handler)
    click.echo("Allow private networks for a source with these addresses. Ctrl+C ends the server.")
    try:
        serve_until_stopped(port, click.echo)
    except OSError as error:
        click.echo(f"jagged-lens: port {port} cannot be used ({error.strerror})", err=True)
        sys.exit(1)


@main.command("demo-vectors")
@click.option("--port", type=click.IntRange(0, 65535), default=8650, show_default=True, help="0 takes any free port.")
@click.option("--fault", type=click.Choice(FAULTS), help="Go wrong in this way.")
@click.option("--times", default=-1, help="Number of answers in which to go wrong; by default all.")
@click.option("--key", default="", help="Key that the service wants.")
@click.option("--longest", type=click.IntRange(0), default=0, help="Most characters of a text. 0: any.")
@click.option("--seconds", type=click.FloatRange(0), default=0.0, help="Time that each answer takes.")
@click.option("--wait", default="", help="Said in Retry-After with the fault “often”.")
def demo_vectors(port: int, fault: str | None, times: int, key: str, longest: int, seconds: float, wait: str) -> None:
    """Give out vectors on this machine alone, to try a service of vectors on, and say its address.

    The vectors are those of the demo: the mean of the vectors that its words learned.
    """
    from jagged_lens.demo.vector_server import vectors_until_stopped

    signal.signal(signal.SIGINT, signal.default_int_handler)
    click.echo("Enter this address in Weigh under Space. Ctrl+C ends the service.")
    manner = Manner(fault or "", times, key, longest=longest, seconds=seconds, wait=wait)
    try:
        vectors, dimensions = sending.demo_vectors(running.Bar(False, 3, {}))
        vectors_until_stopped(port, vectors, dimensions, manner, click.echo)
    except OSError as error:
        click.echo(f"jagged-lens: port {port} cannot be used ({error.strerror})", err=True)
        sys.exit(1)


@main.command("install-desktop")
def install_desktop() -> None:
    """Put menu entry, icon, AppStream file, MIME type, shell completion and man page in place for this user."""
    data = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    try:
        for path in [*install(data), *install_for_shells(data, main)]:
            click.echo(path)
    except OSError as error:
        click.echo(f"jagged-lens: {data}: cannot be written ({error.strerror})", err=True)
        sys.exit(1)


def _stop(number: int, frame: FrameType | None) -> None:
    raise Stopped


def _window(file: Path | None, in_process: bool, pictures: Path | None = None) -> int:
    worker = Worker(in_process=in_process)  # first, so that it gets ready while Qt is loaded here
    try:
        from jagged_lens.desktop import show

        return show(file, worker, pictures)
    except (MemoryError, RuntimeError) as error:
        if not short_of_memory(error):
            raise
        click.echo("jagged-lens: not enough memory for the window", err=True)
        return 1
    except ImportError as error:
        click.echo(f"jagged-lens: the window cannot be opened ({error})", err=True)
        return 1
    except JaggedLensError as error:
        click.echo(f"jagged-lens: {one_line(error)}", err=True)
        return WRONG
    finally:
        worker.close()


def _toml(value: object) -> str:
    if isinstance(value, (list, tuple)):
        return "[" + ", ".join(map(_toml, value)) + "]"
    if isinstance(value, bool):
        return str(value).lower()
    return f'"{value}"' if isinstance(value, str) else str(value)
