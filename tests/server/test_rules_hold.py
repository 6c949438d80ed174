"""Rules that are one function each: what they give over many cases, and that every number with a source is felt in it."""

from __future__ import annotations

import importlib
import inspect
from collections.abc import Iterator
from functools import cache
from typing import Any

import pytest

from tests.core.test_held_numbers import MOVED_BY_CASES, sourced
from tests.fingerprints import Fingerprint, assert_unchanged, fingerprint
from tests.rule_cases import MAKERS, cases
from ubrex.server.calibrations import RULES, rule_of

CASES = 150
MORE = {
    "repeatability": 1500,
    "heat-log": 500,
    "pressure-tower": 400,
    "heat-probe": 400,
    "levelling-rounds": 600,
    "series": 400,
    "drift": 400,
}
"""Rules with many edges get more."""

GAVE: dict[str, Fingerprint] = {
    "mesh-shape": (2172, 1308438.3529898296, 1433880914.6886425),
    "before-after": (1800, 1216195.185120697, 1091318600.8705966),
    "blame": (3162, 2332365.0039703907, 3667621042.453819),
    "compare-two": (2857, 1622411.2476654777, 2312669484.135313),
    "drift": (14954, 2174030.3813690217, 16126398186.570816),
    "factorial": (2377, 572818.3170960846, 681611477.9104251),
    "factorial-best": (1061, 258505.96213589582, 137311617.09366325),
    "fit-combine": (2624, 2209421.980440724, 2896490690.3528266),
    "fit-ladder": (4554, 2084763.6397287997, 4735914832.857222),
    "heat-confirm": (1949, 1614860.0941139297, 1573479199.0743854),
    "heat-log": (6553, 4921480.696106067, 16056059642.94452),
    "heat-margin": (2050, 1381255.5151876933, 1400799467.3616514),
    "heat-probe": (9348, 17223650.55844126, 80716118331.73279),
    "heat-push": (1888, 1574716.2702917545, 1476346809.1920962),
    "heat-use": (1800, 1187219.7472897905, 1068764828.4661301),
    "levelling-rounds": (6720, 3692982.6823072033, 12433602332.188639),
    "melt-gain": (1580, 1261177.9796746867, 1000240013.102989),
    "pressure-tower": (7743, 4902815.697848969, 19072961592.99965),
    "qualified": (2085, 1252312.4194319649, 1302140849.0876708),
    "repeatability": (30096, 19824708.064795405, 298454979629.42145),
    "retraction-speed": (2028, 1497177.396419513, 1508514145.4972076),
    "series": (48959, 22126368.21833889, 541980942167.4435),
    "size": (5308, 5847645.9353770595, 15529546241.095673),
    "size-axes": (900, 612826.6397005111, 275006144.6966409),
    "speed-limit": (2790, 2028989.8035528986, 2831094855.639368),
    "support-gap": (3975, 1432834.8225229958, 2856067972.27634),
    "top-flow": (3550, 2793373.545032853, 5054713841.204177),
    "two-state": (1973, 1230862.3233758379, 1216677414.0133967),
    "width-readings": (889, 657301.0, 290887973.0),
}


@cache
def gives(rule: str) -> list[Any]:
    """What a rule gives for its cases, in order."""
    return [RULES[rule](case) for case in cases(rule, MORE.get(rule, CASES))]


def test_every_rule_of_one_function_has_cases() -> None:
    """And what each gave is written down."""
    assert set(MAKERS) == set(RULES) == set(GAVE)


@pytest.mark.parametrize("rule", sorted(MAKERS))
def test_a_rule_gives_what_it_gave(rule: str) -> None:
    """Over all its cases: verdicts, reasons and every number; most verdicts of a rule are among them."""
    assert_unchanged(gives(rule), GAVE[rule], rel=1e-7)


MODULES = {
    "_test.py": ("ubrex.core.heat._test", ("heat-probe", "heat-push", "heat-confirm", "heat-use")),
    "_log.py": ("ubrex.core.heat._log", ("heat-log",)),
    "_margin.py": ("ubrex.core.heat._margin", ("heat-margin",)),
    "_pressure.py": ("ubrex.core.calibrate._pressure", ("pressure-tower",)),
    "_pull_speed.py": ("ubrex.core.calibrate._pull_speed", ("retraction-speed",)),
    "_fit.py": ("ubrex.core.calibrate._fit", ("fit-ladder", "fit-combine", "support-gap")),
    "_melt.py": ("ubrex.core.calibrate._melt", ("top-flow", "speed-limit", "melt-gain", "width-readings")),
    "_size.py": ("ubrex.core.calibrate._size", ("size",)),
    "_two.py": ("ubrex.core.attempts._two", ("compare-two",)),
    "_series.py": ("ubrex.core.attempts._series", ("series", "blame")),
    "_qualified.py": ("ubrex.core.attempts._qualified", ("qualified",)),
    "_drift.py": ("ubrex.core.checks._drift", ("drift",)),
    "_checks.py": (
        "ubrex.core.checks._checks", ("repeatability", "two-state", "levelling-rounds", "before-after"),
    ),
}  # fmt: skip
"""Modules whose numbers are moved, and the rules that must feel it."""


MOST_PARTS = 12
"""Of a finer grid no single part is felt: all of it is moved at once."""


def moved(value: Any) -> Iterator[Any]:
    """A number a fifth larger, or one more; of several each in turn."""
    if isinstance(value, bool):
        return
    if isinstance(value, int):
        yield value + 1
    elif isinstance(value, float):
        if value:
            yield value * 1.2
    elif isinstance(value, tuple) and len(value) > MOST_PARTS:
        yield tuple(part * 1.2 for part in value)
    elif isinstance(value, tuple):
        for place, part in enumerate(value):
            for other in moved(part):
                yield (*value[:place], other, *value[place + 1 :])
    elif isinstance(value, dict) or hasattr(value, "items"):
        for key, part in value.items():
            for other in moved(part):
                yield {**value, key: other}


def numbers() -> Iterator[tuple[str, str, int]]:
    """Each number of the modules above whose docstring names a source, and which of its parts."""
    for module, name in sourced():
        if module in MODULES:
            value = getattr(importlib.import_module(MODULES[module][0]), name)
            for place, _ in enumerate(moved(value)):
                yield module, name, place


def test_the_modules_that_are_moved_are_those_that_need_no_row() -> None:
    """One list, in two places that need it."""
    assert set(MODULES) == set(MOVED_BY_CASES)


@pytest.mark.parametrize(("module", "name", "place"), list(numbers()))
def test_a_number_that_moves_changes_what_a_rule_gives(
    module: str, name: str, place: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whichever number of a rule is moved, one of its cases comes out otherwise."""
    path, rules = MODULES[module]
    found = importlib.import_module(path)
    old = getattr(found, name)
    new = list(moved(old))[place]
    before = {rule: gives(rule) for rule in rules}
    monkeypatch.setattr(found, name, new)
    caches = [one for _, one in inspect.getmembers(found) if hasattr(one, "cache_clear")]
    for one in caches:
        one.cache_clear()
    for _, function in inspect.getmembers(found, inspect.isfunction):
        held = function.__kwdefaults__ or {}
        # A default is bound when the function is made: it moves with the number it was made from.
        kept = {key: new for key, value in held.items() if value is old}
        if kept:
            monkeypatch.setattr(function, "__kwdefaults__", held | kept)
    try:
        felt = any(_felt(rule, before[rule]) for rule in rules)
    finally:
        for one in caches:
            one.cache_clear()
    assert felt, f"{name} of {path} may be {new} as well as {old}"


def _felt(rule: str, before: list[Any]) -> bool:
    """Whether one case of a rule comes out otherwise than before, or not at all."""
    moved_rule = rule_of(rule)
    for case, was in zip(cases(rule, len(before)), before, strict=True):
        try:
            if moved_rule(case) != was:
                return True
        except (ArithmeticError, ValueError, LookupError, StopIteration):
            return True
    return False


def test_a_fingerprint_is_of_many_different_answers() -> None:
    """Cases that all end alike would hold nothing."""
    for rule in MAKERS:
        assert fingerprint(gives(rule))[0] > CASES
        verdicts = {str(one.get("verdict", one)) for one in gives(rule)}
        assert len(verdicts) > 1, rule
