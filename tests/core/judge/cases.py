"""Setups and numbers for the judgement, made short; and what is found about them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ubrex.core.chain import Kind
from ubrex.core.judge import (
    Code,
    Entry,
    Finding,
    Parts,
    judge,
    judge_change,
    judge_entered,
    judge_label,
    judge_parts,
    judge_print,
    judge_spool,
    slip,
)
from ubrex.core.materials import (
    DryEntry,
    Found,
    Hardness,
    Shore,
    drying_fault,
    drying_of,
    dryness,
    family,
    that_count,
)

PLA = Parts(filament=family("pla"), bore_mm=0.4, hotend_max_c=300, bed_max_c=110, max_speed_mm_s=200)
ASA = Parts(filament=family("asa"), bore_mm=0.4, hotend_max_c=300, bed_max_c=110, enclosure="passive")
TPU = Parts(filament=family("tpu"), bore_mm=0.4, hotend_max_c=300, bed_max_c=110, direct=False)


def codes(parts: Parts, values: Mapping[Kind, float]) -> set[Code]:
    """What is found about values, by code."""
    return {one.code for one in judge(parts, values)}


def has(code: Code, parts: Parts, kind: Kind, **beside: float) -> Any:
    """Whether something is found about a number of a kind, as a function of the number."""
    others = {Kind(name): number for name, number in beside.items()}
    return lambda number: code in codes(parts, {**others, kind: number})


def slipped(kind: Kind, record: float | None) -> Any:
    """What looks slipped about a number, as a function of it; "" for nothing."""

    def found(number: float) -> str:
        one = slip(kind, number, record)
        return "" if one is None else one.code.value

    return found


def change(
    parts: Parts, before: Mapping[Kind, float], new: Mapping[Kind, float]
) -> dict[tuple[Code, Kind | None], Finding]:
    """What is found about values that are typed beside others."""
    return {(one.code, one.kind): one for one in judge_change(parts, before, new, typed=new)}


def of_parts(parts: Parts, values: Mapping[Kind, float] | None = None, **facts: Any) -> set[Code]:
    """What is found about parts and filament together."""
    return {one.code for one in judge_parts(parts, values or {}, **facts)}


def spool(left_g: float | None, need_g: float | None = None, **more: Any) -> set[Code]:
    """What is found about a spool of 1000 g that was weighed."""
    given: dict[str, Any] = {"weighed": True, "full_g": 1000.0} | more
    return {one.code for one in judge_spool(left_g=left_g, need_g=need_g, **given)}


def printed(hours: float, grams: float, full_g: float | None = 1000.0) -> set[Code]:
    """What is found about a print on record."""
    return {one.code for one in judge_print(hours=hours, grams=grams, density_g_cm3=1.24, full_g=full_g)}


def dry(key: str, *entries: tuple[Found, float]) -> str:
    """Whether filament of a family counts as dry after what was found so many hours ago."""
    return dryness(family(key), [DryEntry(*one) for one in entries]).value


def drying(key: str, hours: float, celsius: float) -> str:
    """What is doubtful about a drying of a family; "" for nothing."""
    fault = drying_fault(drying_of(family(key), None, None), hours, celsius)
    return "" if fault is None else fault.value


def dried_in_parts(hours_ago: float) -> int:
    """How many of two dryings of 2 h of PLA count, one now, one that ended so long ago."""
    parts = [DryEntry(Found.DRIED, ago, hours=2.0, celsius=50.0) for ago in (0.0, hours_ago)]
    return len(that_count(parts, drying_of(family("pla"), None, None)))


def entered(entry: Entry, record: float | None = None) -> Any:
    """What looks slipped about a number that is entered, as a function of it; "" for nothing."""

    def found(number: float) -> str:
        one = judge_entered(entry, number, record)
        return "" if one is None else one.code.value

    return found


def on_label(**said: Any) -> set[str]:
    """The fields of a label of PLA that do not look like it."""
    return set(judge_label(family("pla"), **said))


def shore(value: float, scale: Shore = Shore.A) -> Hardness:
    """A hardness."""
    return Hardness(value, scale)
