"""What is said about a value: where it comes from, and what a heat check found."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import Kind, Origin
from ubrex.core.quantity import decimal_text
from ubrex.server.words.numbers import NBSP, plain, plus_minus

SUSPECT_C: Final = 5.0
"""Farther off than this [°C], a heat check is suspect: re-seat the probe, repeat, compare with the push test (job, 3)."""


def origin_said(origin: Origin, *, person: str, run_id: int | None, method: str) -> str:
    """Where a value comes from; ``run_id`` and ``method`` of the run that measured it, if one did."""
    measured = "" if run_id is None else f"run {run_id}, {method}"
    return {
        Origin.MEASURED: measured or f"looked at by {person}",
        Origin.LABEL: f"from the spool's label, typed by {person}",
        Origin.FAMILY: "usual for the family, not for this spool",
        Origin.COPIED: "copied, not measured"
        if run_id is None
        else f"copied, not measured here; run {run_id} elsewhere",
        Origin.TYPED: f"typed by {person}",
        Origin.READ_FROM_FILE: "read from a file, not measured here",
        Origin.RESCALED: "rescaled with the e-steps" + (f", measured in run {run_id}" if measured else ""),
        Origin.RESTORED: "brought back" + (f", measured in run {run_id}" if measured else ""),
        Origin.ATTEMPT: f"kept from an attempt by {person}, not measured",
    }[origin]


AS_SHOWN: Final = "as shown"
"""A heat check that nobody could make: what the display shows is taken as true."""


FITS: Final = {Kind.FIT_SNUG.value: "snug", Kind.FIT_FREE.value: "free"}


def fit_said(goes: str, gap: str) -> str:
    """A gap as a row shows it: for what it is."""
    return f"{goes} at {gap}"


def heat_said(shown_c: float, bias_c: float, *, confirmed: bool) -> str:
    """A heat check as a person says it: what is shown, and what is true. Never a signed number."""
    true_c = shown_c - bias_c
    if round(bias_c) == 0:
        return f"shows {decimal_text(shown_c, 0)}, and is"
    said = f"shows {decimal_text(shown_c, 0)}, really {decimal_text(true_c, 0)}"
    if confirmed:
        return f"{said}: confirmed"
    return f"{said}: suspect" if abs(bias_c) > SUSPECT_C else said


def rescaled_said(flow_pct: float, before: float, after: float) -> str:
    """Why a flow was rescaled."""
    return f"Was {decimal_text(flow_pct, 1)} %; e-steps went from {plain(before)} to {plain(after)}."


def diameter_said(flow_pct: float, before_mm: float, after_mm: float) -> str:
    """Why a flow was changed with the diameter that is entered."""
    return (
        f"Was {decimal_text(flow_pct, 1)} %; with {plain(after_mm)} mm entered, not {plain(before_mm)}, it feeds as much "
        "as before."
    )


def before_proof_too(sentence: str) -> str:
    """A provenance of a value that was applied before it was proven."""
    return f"{sentence}, applied before it was proven"


def true_said(wanted_c: float, set_c: float) -> str:
    """What is set for what is wanted, where the display is known to be off."""
    return f"For a true {decimal_text(wanted_c, 0)} set {decimal_text(set_c, 0)}"


def off_said(bias_c: float) -> str:
    """By how much less or more than what is shown it really is."""
    return f"really {decimal_text(abs(bias_c), 0)} °C {'less' if bias_c > 0 else 'more'} than shown"


def really_said(true_c: float) -> str:
    """What a temperature that is set comes to."""
    return f"really {decimal_text(true_c, 0)} °C"


def strip_title(name: str, unit: str) -> str:
    """What the strip of a value on record is of."""
    return ", ".join(part for part in (name, unit) if part)


def known_said(setting: str, unit: str, half_width: float, hidden: str) -> str:
    """The strip of a value on record in words; ``hidden``: what is not worth a change."""
    known = f"{setting} {plus_minus(half_width)}{NBSP}{unit}"
    return f"{known}; the band is what a print hides, {hidden}{NBSP}{unit} to either side."
