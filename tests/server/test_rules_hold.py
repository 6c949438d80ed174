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
    "support-gap": 400,
    "fit-ladder": 300,
    "two-state": 400,
    "top-flow": 400,
}
"""Rules with many edges get more."""

GAVE: dict[str, Fingerprint] = {
    "mesh-shape": (2172, 2925376416, 116.15870792747769, 37.87159668217196),
    "before-after": (1800, 875026428, 193.80688546391013, 5.234773301795689),
    "blame": (3162, 2738197286, 172.5114315989937, -41.155954294255764),
    "compare-two": (2857, 1285841102, 227.29196991653498, 11.628435592608517),
    "drift": (14954, 4181437224, 582.1916832333079, 72.49475819535586),
    "factorial": (2377, 1792257556, 239.27110625685333, -156.960620505905),
    "factorial-best": (1061, 3116551426, 120.4772594455452, 4.605197702259018),
    "fit-combine": (2624, 2947114358, 170.3773143342214, -61.44902102140605),
    "fit-ladder": (8966, 289737825, 389.72967203764364, -38.2372869615592),
    "heat-confirm": (1949, 1028217494, 198.16167956796068, 19.76942685652414),
    "heat-log": (6553, 669829997, 397.553737636598, 7.940141340458486),
    "heat-margin": (2050, 2580200075, 242.26030830736633, -37.32100938843336),
    "heat-probe": (9348, 817747835, 635.763948183619, -198.0755505726243),
    "heat-push": (1888, 1203534871, 242.6539036709834, 136.82532252755092),
    "heat-use": (1800, 782877408, 274.48251999941044, -0.18268716216980962),
    "levelling-rounds": (6150, 1981652106, 234.7629903252435, 30.32330607341539),
    "melt-gain": (1580, 2194713329, 52.03113347421143, -14.176986847817481),
    "pressure-tower": (7743, 1592256823, 291.6850992522379, 149.3335487044574),
    "qualified": (2085, 2009191106, 129.4515073848837, -2.777184426089174),
    "repeatability": (30139, 3720403966, 370.04099272092753, 0.45010382202202465),
    "retraction-speed": (2028, 496620638, 175.3403870688714, -59.7277748476986),
    "series": (48959, 510244411, 903.8314805720654, 46.540476847435826),
    "size": (5308, 3946158501, 287.52056018370195, -57.36616490428861),
    "size-axes": (900, 1569899068, 87.37601208598947, 18.67754072706342),
    "speed-limit": (2790, 3510114578, 252.36474878775334, 32.04488476777025),
    "support-gap": (10496, 3439500405, 532.0028467480684, -15.262667910727934),
    "top-flow": (9439, 134925219, 596.2486069280344, 28.232486900425727),
    "two-state": (5231, 3258233567, 145.23685661180312, -7.580862565251931),
    "width-readings": (889, 3127403487, 0.0, 0.0),
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
