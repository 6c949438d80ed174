"""A case and its sheet for scripts: ``./ubrex calc diagnosis``."""

from __future__ import annotations

from dataclasses import fields
from typing import Any, Final

from pydantic import TypeAdapter

from ubrex.core.diagnose import Case, diagnose
from ubrex.server.calibrations import UnusableInput

_CASES: Final = TypeAdapter(Case)
_KEYS: Final = frozenset(field.name for field in fields(Case))


def calc_diagnosis(given: Any) -> dict[str, Any]:
    """Causes by their odds, what to look at next, and what to try."""
    if not isinstance(given, dict):
        raise UnusableInput("input: an object of named values")
    for key in given.keys() - _KEYS:
        raise UnusableInput(f"{key}: there is no such key; there is {', '.join(sorted(_KEYS))}")
    sheet = diagnose(_CASES.validate_python(given))
    verdict: dict[str, Any] = {"kind": sheet.verdict}
    if sheet.remedy is not None:
        verdict |= {"remedy": sheet.remedy, "p": sheet.p_remedy} | ({"unsure": True} if sheet.unsure else {})
    return {
        "causes": [{"id": cause, "p": share} for cause, share in sheet.causes],
        "helped": list(sheet.helped),
        "together": [{"ids": list(pair), "p": share} for pair, share in sheet.together],
        "stop": list(sheet.stop),
        "ask_first": list(sheet.ask_first),
        "next": sheet.checks[0].check if sheet.checks else None,
        "checks": [
            {"check": one.check, "bits": one.bits, "minutes": one.minutes, "score": one.score}
            for one in sheet.checks[:6]
        ],
        "verdict": verdict,
    }
