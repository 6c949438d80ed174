"""What is said of how much a hotend melts."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import MeltResult, MeltVerdict, SpeedLimit
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import DASH, NBSP, plain
from ubrex.server.words.readings import CANNOT_TELL, LEAVE_IT

LADDER: Final = MethodWords(
    name="Fed into the open, weighed",
    short="the same volume fed faster and faster, weighed",
    why=(
        "How much can be fed before less comes out than is commanded: the limit of every speed.",
        "A rough one right after the temperature, six steps, is enough to know how fast test pieces may be printed.",
    ),
    procedure=(
        "Raise the nozzle well above the bed. The file heats, waits, and feeds the same volume step by step faster.",
        "After each step it waits 20 s: cut off what came with side cutters, and lay it aside in order.",
        "Stop the file at the first click or grinding: the steps before it are enough if there are six.",
        "Weigh each piece alone on a scale of 0.01 g or finer, look for 0.00 between them.",
    ),
    reads="the piece",
    slips=("cut too late", "two pieces swapped", "scale not at 0", "extruder clicked"),
)
NOZZLE: Final = "Nozzle"
FIRST, STEP, COUNT, VOLUME = "First step", "Then each more by", "Steps", "Fed at each step"
FIRST_HINT: Final = "The first two are surely easy."
VOLUME_HINT: Final = "800 mm³ is about 1 g: less than that a scale of 0.01 g cannot tell."
TOO_FAST: Final = "Half more than hotends usually melt of this is enough: there it has long begun to lose."
TOO_FEW: Final = "Six steps or more: nothing can be told from fewer."
NO_MASS: Final = "is no piece of this ladder."
CURRENT_HINT: Final = "What is recorded as the most it melts; left empty where nothing is."
SAFE, LOSES, CAME, ALL_OF_IT = "safe", "2 % less", "came, g", "all of it"
LIMIT: Final = "Holds for this filament, nozzle and temperature: hotter melts more, about 1 % for each °C."


def reads_said(flow: float) -> str:
    """What is read next."""
    return f"the piece fed at {plain(flow)}{NBSP}mm³/s"


def far_said(number: float) -> str:
    """A mass that is far from what was fed."""
    return f"{plain(number)} g is far from what was fed at each step."


def bands_said(flows: list[float]) -> str:
    """The steps in a cell."""
    return f"{plain(flows[0])}{DASH}{plain(flows[-1])}{NBSP}mm³/s"


def title_said(found: MeltResult, set_mm3_s: float, *, keeps: bool) -> str:
    """The verdict in a few words."""
    match found.verdict:
        case MeltVerdict.KNEE | MeltVerdict.NO_KNEE_SEEN if keeps:
            return LEAVE_IT
        case MeltVerdict.KNEE | MeltVerdict.NO_KNEE_SEEN:
            return f"Set {decimal_text(set_mm3_s, 1)} mm³/s"
        case MeltVerdict.START_LOWER:
            return "It loses from the first steps on"
    return CANNOT_TELL


def melt_said(found: MeltResult, set_mm3_s: float, last: float) -> str:
    """What a ladder says."""
    safe = decimal_text(set_mm3_s, 1)
    match found.verdict:
        case MeltVerdict.KNEE:
            loss = decimal_text(found.loss_flow_mm3_s or 0.0, 1)
            low = decimal_text(found.loss_flow_low_mm3_s or 0.0, 1)
            return f"Loss reaches 2 % near {loss}{NBSP}mm³/s, not before {low}; a tenth below that is safe: {safe}."
        case MeltVerdict.NO_KNEE_SEEN:
            return (
                f"No loss up to {plain(last)}{NBSP}mm³/s: {safe} is safe as far as tested. Need more? Go on from there."
            )
        case MeltVerdict.START_LOWER:
            return "It already loses at the first steps: start lower, or go hotter inside the label, and feed it again."
    return "Six steps are needed."


def strip_said(count: int, found: MeltResult) -> str:
    """The strip in words."""
    return f"{count} pieces; {decimal_text(found.plateau or 0.0, 3)} g where nothing is lost."


LINE_KINDS: Final = ("Outer walls", "Inner walls", "Filling")


def speeds_said(limit: SpeedLimit, fastest_mm_s: float) -> str:
    """How fast each kind of line may go with it, on a machine that goes so fast."""
    rows = [f"{row.name.lower()} up to {plain(min(row.speed_mm_s, fastest_mm_s))}" for row in limit.lines]
    too_fast = [row.name.lower() for row in limit.lines if row.wanted_is_safe is False]
    said = f"With it: {', '.join(rows)}{NBSP}mm/s."
    return f"{said} {' and '.join(too_fast).capitalize()} of now are too fast for that." if too_fast else said


def hotter_said(limit: SpeedLimit) -> str:
    """What heat would buy where more is wanted than it melts; empty where it melts enough."""
    if limit.verdict == "ok" or limit.raise_c is None or limit.needs_mm3_s is None:
        return ""
    need = f"Speeds of now need {decimal_text(limit.needs_mm3_s, 1)}{NBSP}mm³/s"
    if limit.verdict == "raise_temperature":
        return (
            f"{need}: about {plain(limit.raise_c)}{NBSP}°C hotter (could be {plain(limit.raise_high_c or limit.raise_c)}), "
            "then temperature, flow and this ladder again."
        )
    why = (
        "no heat buys that"
        if limit.reason == "too_far_for_temperature"
        else "label or limit leave no room to go hotter"
    )
    return f"{need}: {why}. Slower, thinner lines or layers, or a larger bore."


def short_lines_said(speed_mm_s: float, length_mm: float) -> str:
    """Where acceleration is the limit."""
    there = f"On lines shorter than {decimal_text(length_mm, 0)}{NBSP}mm it never gets to {plain(speed_mm_s)}{NBSP}mm/s"
    return f"{there}: acceleration is the limit there, not heat."
