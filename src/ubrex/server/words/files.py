"""What is said about a file from elsewhere."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, Literal

from ubrex.core.gcode import FileFacts, FileFinding, Flaw
from ubrex.core.judge import Code, Finding, speed_at
from ubrex.core.quantity import decimal_text
from ubrex.server.words.judgement import told_said
from ubrex.server.words.numbers import NBSP, plain

CheckEnd = Literal["harm", "look", "untold", "fine"]
"""How the check of a file ends; fine only where it was held against all there is to hold it against."""

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
    Flaw.STOPS_LAYING: ("Stops laying.", "From here it climbs to {found} mm and lays nothing. A damaged file?"),
    Flaw.GAP: ("A layer missing.", "It goes up by {found} mm where the layers beside it are {allowed} mm high."),
    Flaw.FEWER_LAYERS: ("Layers missing.", "It lays {found} layers, and its remarks promise {allowed}."),
    Flaw.FAN_LATE: ("Fan late.", "Its fan comes only {found} mm up, and the part is {allowed} mm high."),
    Flaw.FAN_NEVER: ("Fan never.", "Its fan waits for layer {found}, and there are {allowed} layers."),
    Flaw.FAN_SCALE: (
        "Fan unclear.",
        "Its fan is asked for {found} at most: it blows where full is 1, and stands still where full is 255.",
    ),
    Flaw.PULL_SPEED: ("Pulls fast.", "It pulls back at {found} mm/s; here at most {allowed} mm/s."),
    Flaw.SETS_E_STEPS: ("Sets e-steps.", "It sets the e-steps to {found}: yours would be overwritten."),
    Flaw.SETS_MACHINE: ("Sets the machine.", "{command} changes {kept}: yours would be overwritten."),
    Flaw.HEATS_ITSELF: ("Heats by itself.", "{command} heats to a number of its own, to tune the heater: not in a print."),
    Flaw.FORGETS: ("Forgets.", "{command} puts the machine back to how it left its maker: what you tuned is gone."),
    Flaw.UNGUARDS: ("Takes a guard away.", "{command} lets the machine {kept}."),
    Flaw.WAITS: ("Waits for you.", "{command} stops it, hot, until somebody goes on."),
    Flaw.FLOW_OVERRIDE: ("Flow changed.", "The machine is told to feed {found} % of what the file says: flow counts twice."),
    Flaw.EMPTY: ("Nothing printed.", "No line in it lays anything down. Is it a file for a printer at all?"),
}  # fmt: skip
"""Each flaw: a first word, and the sentence."""

_KEPT: Final = {
    "G92": "where zero is",
    "M92": "the steps of the axes",
    "M206": "where zero is",
    "M428": "where zero is",
    "M851": "the Z-offset",
    "M301": "the control of the hotend",
    "M304": "the control of the bed",
    "M665": "the geometry of the machine",
    "M666": "the geometry of the machine",
    "M302": "feed filament however cold it is",
    "M211": "leave what it reaches",
}
"""What a command changes of the machine, or lets it do."""


def flaw_said(finding: FileFinding, why: str) -> tuple[str, str]:
    """A flaw in words; ``why``: which limit holds, where one does."""
    lead, text = _SAID[finding.flaw]
    places = 0 if finding.found >= 20 else 2
    said = text.format(
        found=plain(round(finding.found, places)), allowed=plain(round(finding.allowed, 2)), why=why,
        command=finding.command, kept=_KEPT.get(finding.command, ""),
    )  # fmt: skip
    return lead, said.replace(" °C", f"{NBSP}°C").replace(" mm", f"{NBSP}mm")


def where_said(finding: FileFinding) -> str:
    """The place of a flaw; empty for one that is of the whole file."""
    if finding.line == 0:
        return ""
    height = f", {plain(round(finding.z_mm, 2))}{NBSP}mm up" if finding.z_mm > 0 else ""
    return f"line {finding.line}{height}"


HOLD: Final = "Hold."
NO_TEXT: Final = "This is no text file: a picture, an archive, a model?"
NOT_SET: Final = "not set"
NOT_IN_FILE: Final = "not in the file"
UNCLEAR: Final = "not clear"

_LEADS: Final = {
    Code.OUTSIDE_LABEL: "Not for this spool.",
    Code.OUTSIDE_FAMILY: "Not usual for this filament.",
    Code.BEYOND_CEILING: "Too hot for this filament.",
    Code.HEATER_WEAK: "Hotter than the heater holds.",
    Code.FAN_FAR: "Fan.",
    Code.LAYER_TOO_HIGH: "Layer too high.",
    Code.LAYER_TOO_THIN: "Layer too thin.",
    Code.SPOOL_EMPTY: "Spool empty.",
    Code.SPOOL_SHORT: "Spool short.",
    Code.SPOOL_RESERVE: "Spool tight.",
}


def judged_said(one: Finding) -> tuple[str, str]:
    """A finding of the judgement as one of a file: a first word, and the sentence."""
    return _LEADS.get(one.code, "Look."), told_said(one)


def verdict_said(
    *,
    harmful: bool,
    count: int,
    differs: Sequence[str],
    unset: Sequence[str],
    unsaid: Sequence[str],
    unknown: Sequence[str],
) -> tuple[CheckEnd, str]:
    """The check in one line, the worst first; it is not called right where there was nothing to hold it against."""
    if harmful:
        return "harm", "Do not print this here"
    if count:
        return "look", "Look at this before you print"
    if differs:
        return "look", f"It does not match tonight’s numbers: {'; '.join(differs)}"
    untold = [
        f"{why}: {'; '.join(names)}"
        for why, names in (
            ("not set here, so not compared", unset),
            (NOT_IN_FILE, unsaid),
            ("not understood, so not judged", unknown),
        )
        if names
    ]
    if untold:
        return "untold", f"Nothing harmful found; {', and '.join(untold)}"
    return "fine", "Nothing wrong for this setup"


def size_said(layers: int, height_mm: float, grams: float, seconds: float) -> str:
    """How large a file is and what it takes."""
    hours, minutes = divmod(round(seconds / 60), 60)
    time = f"{hours} h {minutes} min" if hours else f"{minutes} min"
    return f"{layers} layers, {plain(round(height_mm, 2))} mm high, {decimal_text(grams, 1)} g, about {time}"


def fan_said(facts: FileFacts) -> str:
    """What the fan does, as a height on this very part."""
    percent, from_mm, most = facts.fan_pct, facts.fan_from_mm, facts.fan_most_pct
    if facts.fan_unclear:
        return f"fan {UNCLEAR}"
    if not percent or from_mm is None or most is None:
        return "no fan at all"
    more = f", in places {most:.0f} %" if round(most) > round(percent) else ""
    return (
        f"fan to {percent:.0f} % from {plain(round(from_mm, 2))} mm up, of {plain(round(facts.height_mm, 2))} mm{more}"
    )


def speeds_said(override_pct: float, fastest_mm_s: float, cap_mm_s: float | None) -> list[str]:
    """What an override makes of the fastest move; and that nobody said how fast the machine moves."""
    said = []
    if override_pct != 100:
        asked = fastest_mm_s * 100 / override_pct
        driven, real = speed_at(asked, override_pct, math.inf if cap_mm_s is None else cap_mm_s)
        capped = f", capped at {plain(round(real))}" if real < driven else ""
        said.append(f"{plain(round(asked))} mm/s at {plain(round(override_pct))} % is {plain(round(driven))}{capped}")
    if cap_mm_s is None:
        said.append(f"fastest move {plain(round(fastest_mm_s))} mm/s: nobody entered how fast this machine moves")
    return said


def unknown_said(count: int, names: Sequence[str]) -> list[str]:
    """Commands that were not understood."""
    were = "command was" if count == 1 else "commands were"
    return [f"{count} {were} not understood: {', '.join(names)}"] if count else []


def in_a_row(sentence: str) -> str:
    """A sentence as one of the remarks that stand in a row."""
    return f"{sentence[:1].lower()}{sentence[1:].removesuffix('.')}"


def percent_said(text: str, name: str) -> str:
    """A share of something else, taken for a length or a speed."""
    return f"“{text}” is a share of some other setting, and {name.lower()} is not: work it out, and type the number."


def read_from_said(program: str) -> str:
    """What wrote values that were read from a file."""
    return f"Read from a file: {program}"[:2000]
