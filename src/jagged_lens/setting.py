# SPDX-License-Identifier: GPL-3.0-or-later
"""One declaration a setting: type, default, range and help in one place.

The check of a recipe, the controls on a desk, `jagged-lens info` and the formats page all read it. A room's settings
are a frozen pydantic dataclass whose fields are made by `setting`; the key in a recipe is the field's name with
hyphens (`from_` is `from`).
"""

from __future__ import annotations

import dataclasses
import typing
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ConfigDict, Field
from pydantic.fields import FieldInfo

STRICT = ConfigDict(strict=True, extra="forbid", allow_inf_nan=False, validate_default=True)
"""A number is a number and a text a text: nothing in a recipe is converted silently. Defaults are checked too, so that a
default and the same value written in a recipe (3 and 3.0) are one, and their results have one key."""


def setting(
    default: Any,
    *,
    label: str,
    help: str,  # noqa: A002 - the word for it
    low: float | None = None,
    high: float | None = None,
    above: float | None = None,
    span: tuple[int, int] | None = None,
    unit: str = "",
    leaf: bool = True,
    parse: Callable[[Any, str], Any] | None = None,
    plain: Callable[[Any], Any] | None = None,
    allowed: str = "",
    apart: str = ",",
    names_label: bool = False,
    when: tuple[str, tuple[str, ...]] | None = None,
    said: Mapping[Any, str] | None = None,
    entry: str = "",
) -> Any:
    """Declare one field of a settings dataclass.

    low, high: the smallest and largest value allowed; above: must be greater than this. span: the smallest and largest
    number of a pair "from, to", which `in_order` checks. unit: what the number counts.
    leaf: False if it has no control on the leaf of its step, since a desk sets it. parse, plain: for a value that is no
    plain TOML value: from what a recipe says (and where it says so), and back. allowed: what may stand there, in words.
    apart: what separates the entries of a list where they are typed into one field. names_label: its value is the name of a label.
    when: another setting of the step, and the values of it with which alone this one counts ("*": any but
    none). said: values in words, as they stand in the sentences of the step. entry: what one entry of a list looks like.
    """
    extra: dict[str, Any] = {
        "unit": unit,
        "span": list(span) if span else None,
        "leaf": leaf,
        "parse": parse,
        "plain": plain,
        "allowed": allowed,
        "apart": apart,
        "names_label": names_label,
        "when": when,
        "said": dict(said or {}),
        "entry": entry,
    }
    return Field(default=default, ge=low, le=high, gt=above, title=label, description=help, json_schema_extra=extra)


def in_order(pair: tuple[int, int], low: int, high: int) -> None:
    """Check a pair "from, to"; a ValueError says what is wrong."""
    if not low <= pair[0] <= pair[1] <= high:
        raise ValueError(f"must be two whole numbers from {low} to {high}, the smaller first")


@dataclass(frozen=True)
class Declared:
    """One setting as it was declared, for those who show or check it."""

    name: str
    key: str
    type: Any
    default: Any
    label: str
    help: str
    unit: str
    leaf: bool
    parse: Callable[[Any, str], Any] | None
    plain: Callable[[Any], Any] | None
    words: str
    apart: str
    names_label: bool
    when: tuple[str, tuple[str, ...]] | None
    said: Mapping[Any, str]
    entry: str
    low: float | None
    high: float | None
    above: float | None
    spread: Callable[[Any, str], dict[str, Any]] | None = None

    @property
    def choices(self) -> tuple[str, ...]:
        """The values allowed, where there is a fixed list of them."""
        inner = typing.get_args(self.type)[0] if self.is_list else self.type
        return tuple(map(str, typing.get_args(inner))) if typing.get_origin(inner) is typing.Literal else ()

    @property
    def is_list(self) -> bool:
        """True if its value is a list of texts."""
        arguments = typing.get_args(self.type)
        return typing.get_origin(self.type) is tuple and len(arguments) == 2 and arguments[1] is Ellipsis

    def counts_in(self, settings: object) -> bool:
        """True if it counts under the other settings of its step."""
        if self.when is None:
            return True
        value = getattr(settings, self.when[0])
        if isinstance(value, tuple):
            return any(entry in self.when[1] for entry in value)
        return str(value) in self.when[1] or ("*" in self.when[1] and bool(value))

    @property
    def is_share(self) -> bool:
        """True if it is a share of something, as its unit says."""
        return self.type is float and self.unit.startswith("of ")

    @property
    def is_range(self) -> bool:
        """True for a pair of whole numbers, from and to."""
        return typing.get_origin(self.type) is tuple and not self.is_list

    @property
    def allowed(self) -> str:
        """The allowed values, in words."""
        if self.words:
            return self.words
        if self.choices:
            listed = ", ".join(_toml(choice) for choice in self.choices)
            return f"a list of {listed}" if self.is_list else f"one of {listed}"
        if self.is_list:
            return "a list of texts"
        if self.is_range:
            return f"two whole numbers from {self.low:g} to {self.high:g}, the smaller first"
        if self.type is str:
            return "a text"
        if self.type is bool:
            return "true or false"
        words = "a whole number" if self.type is int else "a number"
        if self.above is not None:
            words += f" above {self.above:g}"
        if self.low is not None and self.high is not None:
            return f"{words} from {self.low:g} to {self.high:g}"
        if self.low is not None:
            return f"{words} of at least {self.low:g}"
        return f"{words} up to {self.high:g}" if self.high is not None else words


def derived(
    name: str,
    of: Any,
    default: str,
    *,
    label: str,
    help: str,  # noqa: A002 - the word for it
    said: Mapping[Any, str],
    spread: Callable[[Any, str], dict[str, Any]],
) -> Declared:
    """Declare a choice that stands for several settings, and is in no recipe.

    name: of the property of the settings that says which value holds. of: the Literal of its values. spread: the settings, by key, that a
    value means, from the settings as they are; RecipeError where they cannot be known.
    """
    nothing: dict[str, Any] = dict.fromkeys(("parse", "plain", "when", "low", "high", "above"))
    words: dict[str, Any] = dict.fromkeys(("unit", "words", "apart", "entry"), "")
    return Declared(
        name=name,
        key=name,
        type=of,
        default=default,
        label=label,
        help=help,
        leaf=True,
        names_label=False,
        said=said,
        spread=spread,
        **words,
        **nothing,
    )


_known: dict[type, dict[str, Declared]] = {}


def declared(settings: type) -> dict[str, Declared]:
    """The settings of a room by recipe key, in the order in which they were declared."""
    if settings not in _known:
        _known[settings] = _declared(settings)
    return _known[settings]


def _declared(settings: type) -> dict[str, Declared]:
    hints = typing.get_type_hints(settings)
    found = {}
    for field in dataclasses.fields(settings):
        info = field.default
        assert isinstance(info, FieldInfo)
        extra = typing.cast(dict[str, Any], info.json_schema_extra)
        bounds = {
            name: getattr(rule, name) for rule in info.metadata for name in ("ge", "le", "gt") if hasattr(rule, name)
        }
        key = field.name.rstrip("_").replace("_", "-")
        found[key] = Declared(
            name=field.name,
            key=key,
            type=hints[field.name],
            default=info.default,
            label=info.title or key,
            help=info.description or "",
            unit=extra["unit"],
            leaf=extra["leaf"],
            parse=extra["parse"],
            plain=extra["plain"],
            words=extra["allowed"],
            apart=extra["apart"],
            names_label=extra["names_label"],
            when=extra["when"],
            said=extra["said"],
            entry=extra["entry"],
            low=extra["span"][0] if extra["span"] else bounds.get("ge"),
            high=extra["span"][1] if extra["span"] else bounds.get("le"),
            above=bounds.get("gt"),
        )
    return found


def _toml(value: object) -> str:
    if isinstance(value, str):
        return f'"{value}"'
    if isinstance(value, tuple):
        return "[" + ", ".join(_toml(item) for item in value) + "]"
    return str(value).lower() if isinstance(value, bool) else f"{value}"
