"""``ubrex calc``: the rules by themselves, JSON in and JSON out, for scripts."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from typing import Final

from pydantic import ValidationError

from ubrex.core.errors import OutOfRange
from ubrex.server.calibrations import CALIBRATIONS, RULES, CalcRule, UnusableInput
from ubrex.server.faults import calc_diagnosis

_BESIDE: Final[Mapping[str, CalcRule]] = {"diagnosis": calc_diagnosis}
"""Rules that belong to no calibration."""


def calc(name: str, text: str) -> str:
    """Result of a rule as JSON text.

    Raises
    ------
    UnusableInput
        With one line that says what is wrong: unknown name, no JSON, a key or a value that cannot be used.
    """
    rule = _rule(name)
    try:
        inputs = json.loads(text, parse_constant=_no_constant)
    except ValueError as error:
        raise UnusableInput(f"not JSON: {error}") from error
    try:
        return json.dumps(rule(inputs), allow_nan=False)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "input"
        raise UnusableInput(f"{where}: {first['msg']}".replace("\n", " ")) from error
    except OutOfRange as error:
        raise UnusableInput(f"{error.details.get('name', 'input')}: {error}") from error


def rule_names() -> list[str]:
    """Every rule, by name."""
    return sorted({*CALIBRATIONS.rules, *RULES, *_BESIDE})


def calc_lines(name: str, lines: Iterable[str]) -> Iterator[str]:
    """Results of a rule, one case a line; a case that cannot be used gives ``{"error": ...}`` in its place.

    Raises
    ------
    UnusableInput
        If no rule has that name.
    """
    _rule(name)
    for line in lines:
        if not line.strip():
            continue
        try:
            yield calc(name, line)
        except UnusableInput as error:
            yield json.dumps({"error": str(error)})


def _rule(name: str) -> CalcRule:
    rule = RULES.get(name) or CALIBRATIONS.rules.get(name) or _BESIDE.get(name)
    if rule is None:
        raise UnusableInput(f"no rule is named {name!r}; there is: {', '.join(rule_names())}")
    return rule


def _no_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number")
