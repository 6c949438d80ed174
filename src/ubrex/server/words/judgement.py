"""What the judgement says: the same finding is the same sentence at every door."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Final

from ubrex.core.chain import KINDS, Kind
from ubrex.core.judge import Code, Finding, Severity, Whose
from ubrex.core.materials import Dryness, HeatLimit
from ubrex.core.quantity import Unit
from ubrex.server.words.numbers import DASH, NBSP, ago, plain, unit_text

LIMITS: Final = {
    HeatLimit.HOTEND: "the stated maximum of the hotend",
    HeatLimit.HOTEND_UNSTATED: "no limit of this hotend was entered",
    HeatLimit.LINER: "the limit of its liner",
    HeatLimit.LINER_UNKNOWN: "the limit of a liner, and where this one ends is not known",
    HeatLimit.PRINTED_PARTS: "what the printed parts round the hotend stand",
    HeatLimit.FAMILY: "what any school gives this family",
    HeatLimit.BED: "the stated maximum of the bed",
    HeatLimit.BED_UNSTATED: "no limit of this bed was entered",
    HeatLimit.SURFACE: "what the build surface stands",
    HeatLimit.ENCLOSURE: "the stated maximum of the chamber",
}
"""What a limit is the limit of."""

_SMALL: Final = 1e-9

_WHOSE: Final = {Whose.LABEL: "the spool’s label", Whose.FAMILY: "usual for this family"}

_DRY: Final = {
    Dryness.UNTESTED.value: "nobody listened to it, or noted a drying that counts",
    Dryness.OVERDUE.value: "it was dried too long ago",
    Dryness.NEVER_DRIED.value: "no drying that counts was noted, and this family always wants drying, new and sealed too",
}


def limit_said(max_c: float, of: HeatLimit) -> str:
    """The strictest limit, and which one it is."""
    return f"never above {plain(max_c)}{NBSP}°C: {LIMITS[of]}"


def _unit(one: Finding) -> str:
    of = one.about or one.kind
    return "" if of is None else unit_text(KINDS[of].unit.value)


def _label(one: Finding) -> str:
    """The label, and the speed it was read at where that matters."""
    at = "" if one.at_mm_s is None else f" at {_rounded(one.at_mm_s)}{NBSP}mm/s"
    return f"{_WHOSE[Whose.LABEL]}{at}"


def _number(one: Finding) -> str:
    """The number a finding is about, with its unit."""
    return f"{_rounded(one.value)}{NBSP}{_unit(one)}".strip()


def _rounded(number: float | None) -> str:
    return "" if number is None else plain(round(number, 3 if abs(number) < 1 else 2 if abs(number) < 10 else 1))


def _range(one: Finding) -> str:
    """The range a finding names."""
    if one.low is None or one.high is None:
        return f"{_rounded(one.low if one.high is None else one.high)}{NBSP}{_unit(one)}".strip()
    if one.low == one.high:
        return f"{_rounded(one.low)}{NBSP}{_unit(one)}".strip()
    of = one.about or one.kind
    if of is not None and KINDS[of].unit is Unit.CELSIUS:
        return f"{plain(math.ceil(one.low - _SMALL))}{DASH}{plain(math.floor(one.high + _SMALL))}{NBSP}{_unit(one)}"
    return f"{_rounded(one.low)}{DASH}{_rounded(one.high)}{NBSP}{_unit(one)}".strip()


def _limit(one: Finding) -> str:
    assert one.limit is not None, one
    assert one.high is not None, one
    return limit_said(one.high, one.limit)


def _too_hot(one: Finding) -> str:
    return f"{_number(one)} is too hot: {_limit(one)}"


def _melt(one: Finding) -> str:
    whose = "this family usually melts" if one.whose is Whose.FAMILY else "melt, at most"
    speed = f"{plain(round(one.value))}{NBSP}mm/s"
    return (
        f"at {speed} this line asks for {_rounded(one.low)}{NBSP}mm³/s; {whose} {_rounded(one.high)}: "
        f"{_rounded(one.fits)}{NBSP}mm/s would fit"
    )


def _cannot_print(one: Finding) -> str:
    whose = "the label begins" if one.whose is Whose.LABEL else "this family begins"
    return f"this hotend cannot print it: {whose} at {_rounded(one.value)}{NBSP}°C, {_limit(one)}"


def _far(one: Finding) -> str:
    """Far from the record: an offset by its difference, a setting by its ratio."""
    if one.kind is Kind.Z_OFFSET and one.low is not None:
        way = "up, away from" if one.value > one.low else "down, towards"
        return (
            f"{_number(one)} moves the nozzle {_rounded(abs(one.value - one.low))}{NBSP}mm {way} the bed: "
            f"{_rounded(one.low)} is on record"
        )
    return f"{_number(one)} is far from {_rounded(one.low)}, which is on record"


def _slip(one: Finding) -> str:
    """A number that is a power of ten off: the power is read off the number that would do."""
    return f"{_number(one)} is about {_times(one)} {_rounded(one.low)}, which is on record: a slipped point?"


def _times(one: Finding) -> str:
    times = one.value / one.fits if one.fits else 1.0
    return f"{plain(round(times))} times" if times > 1 else f"a {_ORDINALS[round(1 / times)]} of"


_ORDINALS: Final = {10: "tenth", 100: "hundredth", 1000: "thousandth"}


def _unusual(one: Finding) -> str:
    said = f"{_number(one)} is hardly ever right: usual is {_range(one)}"
    return said if one.fits is None else f"{said}. Was {_rounded(one.fits)}{NBSP}{_unit(one)} meant?"


def _small_bore(one: Finding) -> str:
    if one.low is not None:
        return f"glitter blocks a bore of {plain(one.value)}{NBSP}mm: {plain(one.low)} or larger"
    return f"fibres block a bore of {plain(one.value)}{NBSP}mm sooner or later: take a larger one"


_SAID: Final[Mapping[Code, Callable[[Finding], str]]] = {
    Code.TOO_HOT: _too_hot,
    Code.TOO_FAST: lambda one: f"{_number(one)} cannot be: this machine moves at {_range(one)} at most",
    Code.LINE_IMPOSSIBLE: lambda one: f"no line of {_number(one)} comes out of this bore: {_range(one)}",
    Code.LINE_BELOW_LAYER: lambda one: (
        f"a line of {_number(one)} is narrower than its layer is high, {_rounded(one.low)}{NBSP}mm"
    ),
    Code.LAYER_TOO_HIGH: lambda one: f"this bore cannot press a layer of {_number(one)} down: {_range(one)}",
    Code.CANNOT_PRINT: _cannot_print,
    Code.OUTSIDE_LABEL: lambda one: f"{_number(one)} lies outside {_label(one)}, {_range(one)}",
    Code.OUTSIDE_FAMILY: lambda one: f"{_number(one)} lies outside what is {_WHOSE[Whose.FAMILY]}, {_range(one)}",
    Code.BEYOND_CEILING: lambda one: f"{_number(one)} is hotter than any school prints this family, {_range(one)}",
    Code.HEATER_WEAK: lambda one: f"the heater holds {_range(one)} by its log: hotter than that it has nothing in hand",
    Code.FAN_FAR: lambda one: f"a fan of {_number(one)} splits or lifts this family’s layers: usual is {_range(one)}",
    Code.FAN_UNUSUAL: lambda one: f"usual for this family is {_range(one)}",
    Code.FLEXIBLE_TOO_FAST: lambda one: f"soft filament through a tube buckles beyond {_range(one)}",
    Code.PULL_TOO_LONG: lambda one: f"more than {_range(one)} here: {one.why}",
    Code.PULL_TOO_FAST: lambda one: f"more than {_range(one)} here: {one.why}",
    Code.MELT_BEYOND: _melt,
    Code.MELT_UNUSUAL: _melt,
    Code.MELT_CLAIM: lambda one: f"{_number(one)} is more than a high-flow hotend melts of this family, {_range(one)}",
    Code.LINE_FAR: lambda one: f"a line of {_number(one)} is far from this bore: {_range(one)}",
    Code.LINE_UNUSUAL: lambda one: f"this bore lays lines of {_range(one)} best",
    Code.LAYER_TOO_THIN: lambda one: f"a layer of {_number(one)} is thinner than this bore lays evenly: {_range(one)}",
    Code.SLIP: _slip,
    Code.SIGN: lambda one: f"{_number(one)} has the other sign: {_rounded(one.low)} is on record",
    Code.FAR_FROM_RECORD: _far,
    Code.UNUSUAL: _unusual,
    Code.ABRASIVE_NOZZLE: lambda one: f"this filament opens a nozzle of {one.why} within a spool: fit a hardened one",
    Code.SMALL_BORE: _small_bore,
    Code.BYPASS: lambda _one: "soft filament has to bypass the feeder of this machine",
    Code.TUBE_FOR_SOFT: lambda _one: "soft filament through a tube: slowly, and hardly any retraction",
    Code.OPEN_MACHINE: lambda _one: "this family wants an enclosure, and this machine is open: expect lifted corners",
    Code.CLOSED_MACHINE: lambda _one: "door open or off: this filament jams in warm air",
    Code.DRAUGHT: lambda one: f"the room was read as draughty {ago(one.days_ago)}: corners lift and layers split",
    Code.DAMP: lambda one: (
        f"the room was {_rounded(one.value)}{NBSP}% damp {ago(one.days_ago)}: this filament drinks while it prints, "
        "feed it from a dry box"
    ),
    Code.BED_UNSET: lambda one: f"nobody set a bed temperature for this surface; {_bed(one)} is usual",
    Code.PARTS_SOFTEN: lambda one: (
        f"look that the heat-sink fan blows: printed parts round the hotend soften at {_rounded(one.high)}{NBSP}°C"
    ),
    Code.NOT_DRY: lambda one: _DRY[one.why],
    Code.WET: lambda _one: "it popped when it was fed in air, and was not dried since",
    Code.SPOOL_EMPTY: lambda _one: "nothing is left on the spool",
    Code.SPOOL_SHORT: lambda one: (
        f"it takes {_rounded(one.value)}{NBSP}g; {_rounded(one.high)}{NBSP}g are on the spool"
    ),
    Code.SPOOL_RESERVE: lambda one: (
        f"{_rounded(one.high)}{NBSP}g are on the spool: with {_rounded(one.value)}{NBSP}g to print less than "
        f"{_rounded(one.low)}{NBSP}g of reserve are left"
        if one.value
        else f"{_rounded(one.high)}{NBSP}g are on the spool: not even the reserve of {_rounded(one.low)}{NBSP}g"
    ),
    Code.SPOOL_UNWEIGHED: lambda _one: "nobody weighed this spool: weigh it, and see that it is enough",
    Code.SPOOL_END: lambda _one: "the last quarter of a spool lies in tight coils, which pull at the feeder: stay near",
    Code.MORE_THAN_SPOOL: lambda one: (
        f"{_rounded(one.value)}{NBSP}g is more than this spool ever held, {_rounded(one.high)}{NBSP}g"
    ),
    Code.FASTER_THAN_MELT: lambda one: (
        f"so much in that time is {_rounded(one.value)}{NBSP}mm³/s, more than any hotend melts"
    ),
}


def _bed(one: Finding) -> str:
    low, high = _rounded(one.low), _rounded(one.high)
    return f"{low if low == high else f'{low}{DASH}{high}'}{NBSP}°C"


def finding_said(one: Finding) -> str:
    """A finding as a clause, without a full stop."""
    return _SAID[one.code](one)


def entered_said(one: Finding, unit: str, kin: str = "") -> str:
    """What is asked about a number entered of a part, of filament or of the room; ``kin``: the family it is of."""
    number = f"{_rounded(one.value)}{NBSP}{unit}".strip()
    if one.code is Code.SLIP:
        return f"{number} is about {_times(one)} {_rounded(one.low)}, which was here before: a slipped point?"
    usual = _rounded(one.low) if one.low == one.high else f"{_rounded(one.low)}{DASH}{_rounded(one.high)}"
    usual = f"{usual}{NBSP}{unit}".strip()
    if one.code is Code.OUTSIDE_FAMILY:
        return f"{number} does not look like {kin}: usual is {usual}. A slip, or another family?"
    return f"{number} is hardly ever right: usual is {usual}. A slip?"


def told_said(one: Finding) -> str:
    """The same as a sentence, with the name of its value before it."""
    said = finding_said(one)
    ended = said if said.endswith("?") else f"{said}."
    # Told at a number that makes another one wrong: which one that is, too.
    about = "" if one.about is None else f"{KINDS[one.about].name.lower()}, "
    return f"{KINDS[one.kind].name}: {about}{ended}" if one.kind is not None else f"{ended[:1].upper()}{ended[1:]}"


def asks_said(one: Finding) -> str:
    """What takes a note."""
    said = told_said(one)
    return f"{said} {'If not' if said.endswith('?') else 'That is allowed'}: say why in the note."


def kept_said(findings: Sequence[Finding], note: str) -> list[str]:
    """What stands against a value on its row, and the reason that was given for it, if any was asked for."""
    said = [finding_said(one) for one in findings]
    if note and any(one.severity is Severity.ASKS for one in findings):
        said[-1] += f" (“{note}”)"
    return said
