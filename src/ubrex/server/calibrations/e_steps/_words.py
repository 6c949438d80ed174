"""What is said about e-steps: methods, verdicts, findings, and what to do at the machine."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, assert_never

from ubrex.core.calibrate import (
    ESTEPS_TARGET_PCT,
    ESTEPS_TOLERANCE_PCT,
    EStepsFigures,
    EStepsMethod,
    EStepsReason,
    EStepsResult,
    Limiting,
)
from ubrex.core.gcode.pieces import SETTLE_S
from ubrex.core.materials import FeedHeat
from ubrex.core.quantity import Reason, Unit, decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.judgement import LIMITS
from ubrex.server.words.numbers import DASH, NBSP, percent, plain, plus_minus, unit_text
from ubrex.server.words.readings import SOMETHING_WRONG, title_said, unseen_said

_LAST: Final = "Repeat until three readings are in. Type each one as you read it; do not aim for a number."

METHODS: Final[dict[EStepsMethod, MethodWords]] = {
    EStepsMethod.OPEN_AIR: MethodWords(
        name="Open air, cut lengths",
        short="open air, cut lengths",
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
        slips=("cut at an angle", "filament snagged", "gear slipped", "other piece measured"),
    ),
    EStepsMethod.MARKED: MethodWords(
        name="Marked filament, through the hot nozzle",
        short="marked filament, through the hot nozzle",
        why=(
            "Nothing is taken apart; a little slip at the hot nozzle is measured with it.",
            "Choose it when the tube cannot come off. Feed slowly.",
        ),
        procedure=(
            "Put a mark on the filament, as far from where it enters the extruder as is entered for the mark.",
            "Feed the commanded length at 1 mm a second.",
            "Measure what is left between the entry and the mark.",
            "Put a fresh mark on for each repeat.",
            _LAST,
        ),
        reads="what is left to the mark",
        slips=("mark smeared", "filament snagged", "gear slipped", "read from an angle"),
    ),
    EStepsMethod.WEIGHED: MethodWords(
        name="Weighed pieces",
        short="weighed pieces",
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
        slips=("an end got lost", "filament snagged", "scale drifted", "other piece weighed"),
    ),
}


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution: a first word in bold, and what to do."""

    lead: str
    text: str


def cautions(heat: FeedHeat, method: EStepsMethod) -> list[Caution]:
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
    if method is EStepsMethod.MARKED:
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
    if result.reason in {*EStepsReason, Reason.INVALID_READING, Reason.IMPLAUSIBLE}:
        return SOMETHING_WRONG
    return title_said(result.verdict, result.reason, proposal, result.more_repeats)


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
            return f"Within {percent(ESTEPS_TOLERANCE_PCT, 0)}: good enough, go on."
        case Reason.NO_ERROR_FOUND:
            return f"No error found; anything under {unseen_said(figures.half_width_95_pct)} would not show."
        case Reason.TOO_SMALL:
            return f"Off by about {percent(abs(figures.error_pct))}: less than is worth a change."
        case Reason.BEST_GUESS:
            return (
                f"It may be chance, but the best guess is a change worth making: {proposal} {unit}. Set it and feed "
                f"{plain(commanded_mm)}{NBSP}mm three times more; that settles it."
            )
        case EStepsReason.DRIFTING:
            return (
                f"The readings move one way, by {percent(abs(figures.drift_pct or 0.0))} from the first to the last: heat, "
                "a slipping gear or a snagging spool. Find it, then feed again."
            )
        case Reason.MORE_REPEATS:
            repeats = "one more reading" if result.more_repeats == 1 else f"{result.more_repeats} more readings"
            return f"Uncertain by {half_width}{NBSP}%: {repeats} should settle it."
        # Either the tool is too coarse, or the feed too uneven: only one of them is helped by another tool.
        case Reason.CHANGE_METHOD if figures.tool_half_width_pct > ESTEPS_TARGET_PCT:
            return (
                f"This tool cannot do better than {plus_minus(figures.tool_half_width_pct)}{NBSP}% on "
                f"{plain(commanded_mm)}{NBSP}mm: feed a longer length or use a finer tool."
            )
        case Reason.CHANGE_METHOD:
            return (
                f"Uncertain by {half_width}{NBSP}%: these readings scatter too much for more of them to help. "
                "Look at the two that differ most."
            )
        case EStepsReason.IRREGULAR_FEED:
            return "The lengths differ by more than cutting error: look for slip at the gear or a snagging spool."
        case EStepsReason.METHODS_DIFFER:
            return f"{METHODS_DIFFER}, by more than both doubts together."
        case Reason.IMPLAUSIBLE:
            return (
                f"A change of {percent(figures.error_pct, 0)} is not a calibration error: check the current setting, "
                "the length that was commanded, and the gear."
            )
        case EStepsReason.MICROSTEP_OR_GEAR_RATIO:
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
        case Limiting.SCATTER:
            return "What limits it: the scatter of the readings."
        case Limiting.TOOL:
            return "What limits it: the tool. Checking its zero is worth more than any number of repeats."
        case _:
            assert_never(figures.limited_by)


def error_said(figures: EStepsFigures, commanded_mm: float) -> str:
    """The difference in one glance, for the strip."""
    short = commanded_mm - figures.fed_mm
    way = "short" if short >= 0 else "long"
    return f"{decimal_text(abs(short), 2)}{NBSP}mm too {way}"


def pair_disagrees(first: str, second: str, apart_pct: float) -> str:
    """Two readings that cannot both be right."""
    apart = percent(apart_pct)
    return f"{first} and {second} are {apart} apart: one of them must be wrong. Measure again, or strike one out."


def history_said(dof: float) -> str:
    """That earlier scatter was pooled in."""
    return f"Scatter of earlier readings with this method and tool is counted in ({dof:.0f} degrees of freedom)."


HISTORY_LEFT_OUT: Final = "These readings scatter more than earlier ones did: those are left out."


def coarse_said(places: int, exact: str, lost_pct: float) -> str:
    """A machine that holds too few decimals for what was found."""
    held = "no decimals" if places == 0 else "one decimal" if places == 1 else f"{places} decimals"
    return (
        f"This machine is set to hold {held}: what was found is {exact}, {percent(lost_pct)} away. If its display takes "
        "more, say so on the machine's page."
    )


METHODS_DIFFER: Final = "The two methods differ"


def methods_differ_said(run_id: int, other: EStepsMethod, this: EStepsMethod, error_pct: float, current: str) -> str:
    """A method that contradicts what another one found right."""
    hot = EStepsMethod.MARKED in {other, this}
    why = (
        "With a hot nozzle behind it the gear slips a little, and flow takes that up: open air says what the machine does"
        if hot
        else "A curled piece reads short, and a reference that is off makes all weighings wrong"
    )
    return (
        f"Run {run_id}, {METHODS[other].short}, found {current} right; this one is {percent(abs(error_pct))} away from it, "
        f"more than both doubts. {why}. Keep what is set, or measure again by the other method."
    )


def methods_agree_said(run_id: int, other: EStepsMethod) -> str:
    """A method that does not contradict what another one found right."""
    return f"It does not contradict run {run_id}, {METHODS[other].short}."


USUAL_SCATTER: Final = "The ± comes from a usual scatter: fewer than three readings are in."
NO_HEAT: Final = "The family of this filament does not say how hot it is fed: heat to what its label says, by hand."

CURRENT: Final = {
    Unit.STEPS_PER_MM: "The machine's steps per mm now",
    Unit.MM_PER_TURN: "The machine's mm per motor turn now",
}
COMMANDED: Final = "Length to feed"
MARK: Final = "Mark, from the entry of the extruder"
MARK_HINT: Final = "A fifth farther than what is fed leaves enough to measure."
MARK_TOOL: Final = "Mark set with"
SAME_TOOL: Final = "the tool that reads it"
FED_EARLIER: Final = "Fed earlier? When (leave empty for now)"
"""Labels and hints of the start form."""

CURRENT_WHAT: Final = "The current setting"
COMMANDED_WHAT: Final = "The length to feed"
COMMANDED_WHY: Final = "feed 10 to 2000 mm; 100 mm is usual"
MARK_WHAT: Final = "The mark"
MARK_WHY: Final = "marks sit within arm's reach"
IN_FUTURE: Final = "That lies in the future: when were the pieces fed?"
"""What is said at its fields."""


def setting_why(low: float, high: float, unit: Unit) -> str:
    """Why a setting is no less and no more."""
    return f"extruders have {plain(low)} to {plain(high)} {unit_text(unit.value)}; read it from the machine again"


def asked_current_said(what: str) -> str:
    """A setting that is not the one on record, or ten times it."""
    return f"{what} Was it reset, or was the wrong line read? Send it again if it is right."


def mark_inside_said(mark: float, commanded: float, farther: str) -> str:
    """A mark that would go inside."""
    return (
        f"A mark at {plain(mark)} mm goes inside when {plain(commanded)} mm are fed. Put it at {farther} mm or farther."
    )


def fed_before_said(changed: str) -> str:
    """Pieces that were fed before the setting was changed."""
    return (
        f"E-steps were changed on {changed}, after these pieces were fed: they would correct the same error twice. Feed "
        "new ones."
    )


def changed_since_said(machine: str, changed: str) -> str:
    """A setting that was changed after the run was started."""
    return (
        f"E-steps of {machine} were changed on {changed}, after this run was started. Its readings would correct the same "
        "error twice: leave this run and feed again."
    )


def other_form_said(machine: str) -> str:
    """A machine that keeps its setting in a different form than when the run was started."""
    return (
        f"{machine} keeps its setting in a different form since: leave this run, and start one with the number that stands "
        "there now."
    )


def impossible_said(commanded_mm: float) -> str:
    """What cannot come from a feed, after the number."""
    return f"cannot come from a feed of {plain(commanded_mm)} mm. Look again; Enter takes it as typed."


def far_off_said(reading: float, unit: Unit, fed_mm: float, commanded_mm: float) -> str:
    """A reading that no wear or slip explains."""
    return (
        f"{plain(reading)} {unit_text(unit.value)} means {plain(round(fed_mm, 1))} mm came out of {plain(commanded_mm)}: no "
        "wear or slip does that. Look again; Enter takes it as typed."
    )


def mark_said(reading: float) -> str:
    """A mark that was read where it cannot be."""
    if reading < 0:
        return "The mark cannot be inside: place it farther up and feed again."
    return f"{plain(reading)} mm is farther away than the mark was: nothing would have been fed. Look again."


def file_does(nozzle_c: float, length_mm: float, speed_mm_s: float) -> str:
    """What the file of a run does, before somebody sends it."""
    feeds = f"feeds {plain(length_mm)}{NBSP}mm once at {plain(speed_mm_s)}{NBSP}mm/s"
    return (
        f"The file heats to {plain(nozzle_c)}{NBSP}°C, waits {plain(SETTLE_S)}{NBSP}s, {feeds} and switches off; "
        "once for each reading."
    )


def strip_said(figures: EStepsFigures, commanded_mm: float) -> str:
    """The strip in words."""
    return (
        f"{figures.count} readings, mean {decimal_text(figures.fed_mm, 2)} {plus_minus(figures.fed_half_width_mm)} mm of "
        f"{plain(commanded_mm)} commanded; good enough is within {plain(ESTEPS_TOLERANCE_PCT)} %."
    )


RECORDED: Final = "Fed length, mm, at this setting"
"""What the strip of a value on record is of."""


def recorded_said(
    run_id: int, how_old: str, setting: float, mean_mm: float, half_width_mm: float, commanded_mm: float
) -> str:
    """The strip of a value on record in words."""
    return (
        f"Run {run_id}, {how_old}: at {decimal_text(setting, 2)} the same feeds come to {decimal_text(mean_mm, 2)} "
        f"{plus_minus(half_width_mm)} mm of {plain(commanded_mm)}."
    )


def where_it_stands(how_to_read: str, on_record: str) -> str:
    """Where the current setting is read, and what is on record of it."""
    kept = f" On record: {on_record}; = where the machine says the same. What it says counts." if on_record else ""
    return f"{how_to_read}{kept}"
