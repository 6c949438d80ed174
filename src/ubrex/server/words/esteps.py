"""What is said about e-steps: methods, verdicts, findings, and what to do at the machine."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, assert_never

from ubrex.core.calibrate import (
    TARGET_PCT,
    TOLERANCE_PCT,
    EStepsFigures,
    EStepsResult,
    ExtruderSetting,
    Limit,
    Method,
    SettingForm,
)
from ubrex.core.materials import FeedHeat
from ubrex.core.quantity import Reason, Verdict, decimal_text
from ubrex.server.words.numbers import DASH, NBSP, percent, plain, plus_minus
from ubrex.server.words.profile import LIMITS


@dataclass(frozen=True, slots=True)
class MethodWords:
    """A method as offered: its name, why one would choose it, and how it goes."""

    name: str
    why: tuple[str, str]
    procedure: tuple[str, ...]
    reads: str


_LAST: Final = "Repeat until three readings are in. Type each one as you read it; do not aim for a number."

METHODS: Final[dict[Method, MethodWords]] = {
    Method.OPEN_AIR: MethodWords(
        name="Open air, cut lengths",
        why=(
            "Nothing behind the gear holds the filament back, so this is the machine alone.",
            "Choose it when the tube or the hotend comes off the extruder easily.",
        ),
        procedure=(
            "Unload. Take the tube off where the filament leaves the extruder, or unscrew the hotend from it.",
            "Clip the filament flush with the outlet.",
            "Feed the commanded length at 1 to 2 mm a second.",
            "Clip flush again, away from your face: the piece can fly.",
            "Straighten the piece in a vice or against a rule, and measure it.",
            _LAST,
        ),
        reads="length of the piece",
    ),
    Method.MARKED: MethodWords(
        name="Marked filament, through the hot nozzle",
        why=(
            "Nothing is taken apart; a little slip at the hot nozzle is measured with it.",
            "Choose it when the tube cannot come off. Feed slowly.",
        ),
        procedure=(
            "Put a mark on the filament, at the distance you enter below, measured from where it enters the extruder.",
            "Feed the commanded length at 1 mm a second.",
            "Measure what is left between the entry and the mark.",
            "Put a fresh mark on for each repeat.",
            _LAST,
        ),
        reads="what is left to the mark",
    ),
    Method.WEIGHED: MethodWords(
        name="Weighed pieces",
        why=(
            "A long feed and a fine scale see what a rule cannot.",
            "Choose it with a scale of 0.01 g and a measured piece of the same spool to compare with.",
        ),
        procedure=(
            "Cut a piece of this spool, measure its length and weigh it: that is the reference.",
            "Unload and take the tube off, as for cut lengths; clip flush.",
            "Feed the commanded length; 500 mm or more is worth the plastic.",
            "Clip flush again and weigh the piece.",
            _LAST,
        ),
        reads="mass of the piece",
    ),
}


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution: a first word in bold, and what to do."""

    lead: str
    text: str


def cautions(heat: FeedHeat, method: Method) -> list[Caution]:
    """Cautions for feeding with a hot hotend, before the first step."""
    shown = [
        Caution("Hot.", "The nozzle and its block burn at once. Keep clear of them; tools, not fingers."),
        Caution("Blades.", "Cut away from the body, eyes protected: clipped ends fly."),
        Caution("Gears.", "Keep fingers, hair and sleeves out of the extruder while it turns."),
        Caution(
            "Stay.",
            "Do not leave a hot machine alone. The maker's instructions and local codes come first where they are stricter.",
        ),
    ]
    if method is Method.MARKED:
        shown.insert(
            1, Caution("Fumes.", "Air the room: plastic comes out of the nozzle. Let it drop, do not catch it.")
        )
    return [*shown[:1], heat_caution(heat), *shown[1:]]


def heat_caution(heat: FeedHeat) -> Caution:
    """How hot to go for feeding, and which limit holds."""
    because = heat_limit(heat)
    if heat.target_c is not None:
        return Caution(
            "Heat",
            f"to {heat.target_c:.0f}{NBSP}°C and no more: firmware refuses to feed cold, and this is enough.{because}",
        )
    if heat.limit_c is not None:
        return Caution(
            "Heat",
            f"only as far as the spool label says.{because} A filament that needs more must not be fed through it.",
        )
    return Caution("Heat", "to the lowest temperature on the spool label: firmware refuses to feed cold.")


def heat_limit(heat: FeedHeat) -> str:
    """The strictest limit of the hotend, as a sentence with a space before it; empty if none is known."""
    if heat.limit is None:
        return ""
    return f" Never above {heat.limit_c:.0f}{NBSP}°C: {LIMITS[heat.limit]}."


@dataclass(frozen=True, slots=True)
class VerdictWords:
    """A verdict in three voices: a few words, the sentence, and what limits it."""

    title: str
    sentence: str
    limits: str


def verdict(
    result: EStepsResult, *, proposal: str, low: str, high: str, unit: str, commanded_mm: float
) -> VerdictWords:
    """The verdict on a run; ``proposal``, ``low`` and ``high`` are settings as the machine would hold them."""
    figures = result.figures
    if figures is None:
        return VerdictWords(
            "Something is wrong",
            "A reading cannot be used. If the mark went inside, place it farther up; strike the reading and feed again.",
            "",
        )
    return VerdictWords(
        _title(result, proposal),
        _sentence(result, figures, proposal, f"{low}{DASH}{high}", unit, commanded_mm),
        _limits(figures),
    )


def _title(result: EStepsResult, proposal: str) -> str:
    match result.reason:
        case Reason.OUTSIDE_TOLERANCE:
            return f"Apply {proposal}"
        case Reason.PROBABLY_REAL:
            return f"Try {proposal}"
        case Reason.WITHIN_TOLERANCE | Reason.NO_ERROR_FOUND:
            return "Leave it alone"
        case Reason.MORE_REPEATS:
            return f"Measure {result.more_repeats} more"
        case Reason.CHANGE_METHOD:
            return "These readings cannot tell"
        case Reason.IRREGULAR_FEED | Reason.INVALID_READING | Reason.IMPLAUSIBLE | Reason.MICROSTEP_OR_GEAR_RATIO:
            return "Something is wrong"
        case other:
            raise ValueError(f"{other} is no reason of this rule")


def _sentence(
    result: EStepsResult, figures: EStepsFigures, proposal: str, interval: str, unit: str, commanded_mm: float
) -> str:
    half_width = plus_minus(figures.half_width_95_pct)
    match result.reason:
        case Reason.OUTSIDE_TOLERANCE:
            return (
                f"Your extruder feeds {decimal_text(figures.fed_mm, 2)} of {plain(commanded_mm)}{NBSP}mm; "
                f"set {proposal} {unit} (95{NBSP}%: {interval})."
            )
        case Reason.PROBABLY_REAL:
            return (
                "The error is probably real, but not proven to be worth a change. Best guess "
                f"{proposal} {unit}: set it and feed {plain(commanded_mm)}{NBSP}mm three times more; that settles it."
            )
        case Reason.WITHIN_TOLERANCE:
            return f"Within {percent(TOLERANCE_PCT, 0)}: good enough, go on."
        case Reason.NO_ERROR_FOUND:
            return f"No error found; anything under {percent(figures.half_width_95_pct)} would not show with this tool."
        case Reason.MORE_REPEATS:
            repeats = "one more reading" if result.more_repeats == 1 else f"{result.more_repeats} more readings"
            return f"Uncertain by {half_width}{NBSP}%: {repeats} should settle it."
        case Reason.CHANGE_METHOD if figures.tool_half_width_pct > TARGET_PCT:
            return (
                f"This tool cannot do better than {plus_minus(figures.tool_half_width_pct)}{NBSP}% on "
                f"{plain(commanded_mm)}{NBSP}mm: feed a longer length or use a finer tool."
            )
        case Reason.CHANGE_METHOD:
            return (
                f"Uncertain by {half_width}{NBSP}%: these readings scatter too much for more of them to help. "
                "Look at the two that differ most."
            )
        case Reason.IRREGULAR_FEED:
            return "The lengths differ by more than cutting error: look for slip at the gear or a snagging spool."
        case Reason.IMPLAUSIBLE:
            return (
                f"A change of {percent(figures.error_pct, 0)} is not a calibration error: check the current setting, "
                "the length that was commanded, and the gear."
            )
        case Reason.MICROSTEP_OR_GEAR_RATIO:
            return (
                f"A factor of {plain(round(figures.factor, 2))} is not a calibration error: check the microstep "
                "setting of the driver and the gear ratio."
            )
        case Reason.INVALID_READING:
            return "A reading cannot be used: strike it and feed again."
        case other:
            raise ValueError(f"{other} is no reason of this rule")


def _limits(figures: EStepsFigures) -> str:
    match figures.limited_by:
        case Limit.SCATTER:
            return "What limits it: the scatter of the readings."
        case Limit.TOOL:
            return "What limits it: the tool. Checking its zero is worth more than any number of repeats."
        case _:
            assert_never(figures.limited_by)


def asks_before_proof(result: EStepsResult, proposal: str) -> str | None:
    """The question before a value is applied that is not proven; None if it is."""
    if result.verdict in {Verdict.APPLY, Verdict.TRY, Verdict.REFUSE}:
        return None
    return f"{proposal} is not proven to be better than what is set. Apply it anyway? The record will say so."


def error_said(figures: EStepsFigures, commanded_mm: float) -> str:
    """The difference in one glance, for the strip."""
    short = commanded_mm - figures.fed_mm
    way = "short" if short >= 0 else "long"
    return f"{decimal_text(abs(short), 2)}{NBSP}mm too {way}"


def change_said(old: ExtruderSetting, new: float, places: int) -> str:
    """What a proposal replaces, for the plate."""
    change = new - old.number
    moved = decimal_text(abs(change), places)
    if float(moved) == 0:
        return f"is {decimal_text(old.number, places)}, unchanged"
    return f"was {decimal_text(old.number, places)}, {'up' if change > 0 else 'down'} {moved}"


def pair_disagrees(first: str, second: str, apart_pct: float) -> str:
    """Two readings that cannot both be right."""
    apart = percent(apart_pct)
    return f"{first} and {second} are {apart} apart: one of them must be wrong. Measure again, or strike one out."


def history_said(dof: float) -> str:
    """That earlier scatter was pooled in."""
    return f"Scatter of earlier readings with this method and tool is counted in ({dof:.0f} degrees of freedom)."


def tools_mixed() -> str:
    """That readings of two tools are judged by the coarser."""
    return "Readings of different tools: judged by the coarser one."


def setting_name(form: SettingForm) -> str:
    """What the machine keeps, in words."""
    return "steps per mm" if form is SettingForm.STEPS_PER_MM else "mm per motor turn"
