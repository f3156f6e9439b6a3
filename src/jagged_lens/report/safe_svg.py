# SPDX-License-Identifier: GPL-3.0-or-later
"""A drawing made safe to stand inside a page: shapes and text are let through, and nothing that runs or loads.

Findings come out of a project file, which anybody may have written.
"""

from __future__ import annotations

import re

from lxml import etree

from jagged_lens.xml_text import xml_text

_SVG, _XLINK, _XML = (
    "http://www.w3.org/2000/svg",
    "http://www.w3.org/1999/xlink",
    "http://www.w3.org/XML/1998/namespace",
)
_SHAPES = frozenset(
    """
    svg g defs path rect circle ellipse line polyline polygon text tspan clipPath linearGradient radialGradient stop image pattern use
    """.split()  # noqa: SIM905 - read by people
)
_ATTRIBUTES = frozenset(
    """
    x y x1 y1 x2 y2 cx cy r rx ry fx fy dx dy d points width height viewBox transform gradientTransform gradientUnits offset
    fill fill-opacity fill-rule stroke stroke-opacity stroke-width stroke-linecap stroke-linejoin stroke-dasharray
    stroke-dashoffset stroke-miterlimit opacity stop-color stop-opacity clip-path clip-rule paint-order vector-effect
    font-family font-size font-weight font-style text-anchor text-decoration id patternUnits preserveAspectRatio
    """.split()  # noqa: SIM905 - read by people
)
_HREF = f"{{{_XLINK}}}href"
_INSIDE = re.compile(r"#[\w.-]+|data:image/(png|jpeg);base64,[A-Za-z0-9+/=\s]+")
_REFERENCE = re.compile(r"url\(\s*#([\w.-]+)\s*\)")


def safe_svg(svg: str, name: str, alternative: str) -> str:
    """An SVG element from an SVG document, for an HTML page. name: begins the names inside it, so that no two drawings share one.
    alternative: the words that stand for it. "" where it is no drawing."""
    parser = etree.XMLParser(resolve_entities=False, no_network=True, remove_comments=True, remove_pis=True)
    try:
        root = etree.fromstring(svg.encode("utf-8", "replace"), parser)
    except etree.XMLSyntaxError:
        return ""
    if root.tag != f"{{{_SVG}}}svg":
        return ""
    made = _copy(root, name)
    assert made is not None
    box = made.get("viewBox", "").split()
    if len(box) == 4:
        made.set("width", f"{float(box[2]):.0f}" if _is_size(box[2]) else "720")
        made.set("height", f"{float(box[3]):.0f}" if _is_size(box[3]) else "520")
    made.set("role", "img")
    made.set("aria-label", " ".join(xml_text(alternative).split()))
    etree.cleanup_namespaces(made)
    return str(etree.tostring(made, encoding="unicode"))


def _copy(element: etree._Element, name: str) -> etree._Element | None:
    """The element with what is let through of it; None where it is not."""
    if not isinstance(element.tag, str):
        return None
    space, _, kind = element.tag[1:].rpartition("}")
    if space != _SVG or kind not in _SHAPES:
        return None
    made = etree.Element(element.tag, nsmap={None: _SVG, "xlink": _XLINK})
    for key, value in element.attrib.items():
        if key in ("href", _HREF) and _INSIDE.fullmatch(value.strip()):
            made.set(_HREF, f"#{name}-{value.strip()[1:]}" if value.strip().startswith("#") else value)
        elif key == f"{{{_XML}}}space":
            made.set(key, value)
        elif key == "id":
            made.set("id", f"{name}-{value}")
        elif key in _ATTRIBUTES:
            own = _REFERENCE.sub(rf"url(#{name}-\1)", value)
            if "url(" not in _REFERENCE.sub("", value).lower():
                made.set(key, own)
    made.text, last = element.text, None
    for child in element:
        own_child = _copy(child, name)
        if own_child is not None:
            own_child.tail = child.tail
            made.append(own_child)
            last = own_child
        elif child.tail and child.tail.strip():
            if last is None:
                made.text = (made.text or "") + child.tail
            else:
                last.tail = (last.tail or "") + child.tail
    return made


def _is_size(text: str) -> bool:
    try:
        return 0 < float(text) < 100_000
    except ValueError:
        return False
