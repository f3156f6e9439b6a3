# SPDX-License-Identifier: GPL-3.0-or-later
"""A report as one HTML file: no scripts, nothing remote, pictures inside as SVG. Whatever comes from documents is text, never markup."""

from __future__ import annotations

from functools import cache
from html import escape
from importlib import resources

from jinja2 import Environment, StrictUndefined, Template
from markupsafe import Markup

from jagged_lens.report.content import Part, Picture, Report


def html_of(report: Report) -> str:
    """The report as an HTML document."""
    return _template().render(report=report) + "\n"


@cache
def _template() -> Template:
    source = resources.files("jagged_lens.report").joinpath("page.html.jinja").read_text("utf-8")
    environment = Environment(autoescape=True, undefined=StrictUndefined)
    environment.globals |= {"kind": _kind, "with_alternative": _with_alternative}
    return environment.from_string(source)


def _kind(part: Part) -> str:
    return type(part).__name__


def _with_alternative(picture: Picture) -> Markup:
    """The SVG, named by its alternative. It is our own, and its texts are escaped where it is drawn."""
    head, _, rest = picture.svg.partition(">")
    return Markup(f'{head} aria-label="{escape(picture.alternative)}">{rest}')
