"""What is said about a file from elsewhere."""

from __future__ import annotations

from typing import Final

from ubrex.core.gcode import FileFinding, Flaw
from ubrex.server.words.numbers import NBSP, plain

TAKE_FILE: Final = "Take the file"

_SAID: Final = {
    Flaw.NOZZLE_TOO_HOT: ("Too hot.", "The nozzle is asked for {found} °C; here never above {allowed} °C: {why}."),
    Flaw.BED_TOO_HOT: ("Bed too hot.", "The bed is asked for {found} °C; here never above {allowed} °C: {why}."),
    Flaw.COLD: ("Cold.", "Filament is pushed at {found} °C: it needs {allowed} °C here. The gear would grind it."),
    Flaw.NO_HOMING: ("No homing.", "It moves before it has found its zero: the nozzle may hit what is in the way."),
    Flaw.OUTSIDE: ("Outside.", "It prints where this machine does not reach."),
    Flaw.IN_AIR: ("In air.", "The first layer is {found} mm up; this nozzle lays at most {allowed} mm."),
    Flaw.SUDDEN_Z: ("Jump.", "It goes up by {found} mm at once; this nozzle bridges {allowed} mm. A damaged file?"),
    Flaw.RETRACTION: ("Long retraction.", "It is {found} mm; beyond {allowed} mm melt comes where it sticks."),
    Flaw.MELT_RATE: ("Too fast to melt.", "It asks for {found} mm³/s; here at most {allowed}."),
    Flaw.SPEED: ("Too fast.", "It moves at {found} mm/s; here at most {allowed} mm/s. The machine slows it, or skips."),
    Flaw.CUT_OFF: ("Cut off.", "Its last line has no end: it was not written or copied to its end."),
    Flaw.NOT_OFF: ("Left hot.", "It does not switch nozzle and bed off at its end."),
    Flaw.SPOOL_SHORT: ("Spool short.", "It takes {found} g; {allowed} g are on the spool."),
    Flaw.SETS_E_STEPS: ("Sets e-steps.", "It sets the e-steps to {found}: yours would be overwritten."),
    Flaw.EMPTY: ("Nothing printed.", "No line in it lays anything down. Is it a file for a printer at all?"),
}  # fmt: skip
"""Each flaw: a first word, and the sentence."""


def flaw_said(finding: FileFinding, why: str) -> tuple[str, str]:
    """A flaw in words; ``why``: which limit holds, where one does."""
    lead, text = _SAID[finding.flaw]
    places = 0 if finding.found >= 20 else 2
    said = text.format(found=plain(round(finding.found, places)), allowed=plain(round(finding.allowed, 2)), why=why)
    return lead, said.replace(" °C", f"{NBSP}°C").replace(" mm", f"{NBSP}mm")


def where_said(finding: FileFinding) -> str:
    """The place of a flaw; empty for one that is of the whole file."""
    if finding.line == 0:
        return ""
    height = f", {plain(round(finding.z_mm, 2))}{NBSP}mm up" if finding.z_mm > 0 else ""
    return f"line {finding.line}{height}"


def verdict_said(count: int, harmful: int) -> str:
    """The check in one line."""
    if harmful:
        return "Do not print this here"
    return "Nothing wrong for this setup" if count == 0 else "Look at this before you print"
