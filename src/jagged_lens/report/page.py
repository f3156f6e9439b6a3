# SPDX-License-Identifier: GPL-3.0-or-later
"""A report as one HTML file: no scripts, nothing remote, pictures inside as SVG. Whatever comes from documents is text, never markup."""

from __future__ import annotations

import base64
from functools import cache
from importlib import resources

from jinja2 import Environment, StrictUndefined, Template
from markupsafe import Markup

from jagged_lens.report.content import Part, Picture, Report
from jagged_lens.report.safe_svg import safe_svg
from jagged_lens.xml_text import xml_text


def html_of(report: Report) -> str:
    """The report as an HTML document."""
    return _template().render(report=report) + "\n"


@cache
def _template() -> Template:
    source = resources.files("jagged_lens.report").joinpath("page.html.jinja").read_text("utf-8")
    environment = Environment(autoescape=True, undefined=StrictUndefined, finalize=_finalized)
    environment.globals |= {"kind": _kind, "drawn": _drawn, "encoded": _encoded}
    return environment.from_string(source)


def _finalized(value: object) -> object:
    """A value as it is put into the page: a text without characters that no page can hold."""
    return xml_text(value) if isinstance(value, str) and not isinstance(value, Markup) else value


def _kind(part: Part) -> str:
    return type(part).__name__


def _drawn(picture: Picture, name: str) -> Markup:
    """The drawing as an element of the page; nothing where it cannot be read."""
    return Markup(safe_svg(picture.svg, name, picture.alternative))


def _encoded(picture: Picture) -> str:
    return base64.b64encode(picture.png).decode()
