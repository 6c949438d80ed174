"""What is said of checks of a machine."""

from __future__ import annotations

from typing import Final

from ubrex.core.checks import BeforeAfter, Levelling, MeshShape, Repeatability, TwoState
from ubrex.core.heat import HeatLog, HeatLogVerdict, HeatMargin, MarginVerdict
from ubrex.core.quantity import decimal_text
from ubrex.server.words.numbers import NBSP, plain, plus_minus, signed

NO_SUCH_KIND: Final = "There is no such check."
NOT_NUMBERS: Final = "Numbers one after the other, with spaces or on lines of their own."
TOO_FEW_NUMBERS: Final = "Three readings or more: nothing can be told from fewer."
ROUNDS_HINT: Final = (
    "At each screw, in mm: 0.12 -0.05 0.02 0.08. Or how it holds paper: free, light, drags, firm, stuck."
)
ROUNDS_ALIKE: Final = "A line for each round, with as many numbers as there are screws, three or more."
NO_MESH: Final = "Three rows of three heights or more, each as long as the others."
NO_STATES: Final = "Write y or n for each time you looked: y y y."
BACK_ALREADY: Final = "It is taken back already."
STEP: Final = "The step of what you read with"
STEP_WHY: Final = "a display shows steps above 0"
TOP: Final = "The hottest you want to print"
ROOM: Final = "The room"
CHOOSE: Final = "Choose one of these."
MOST_READINGS: Final = 500
TOO_MANY: Final = f"{MOST_READINGS} readings are enough."

MEASURED: Final = {
    "noise_db": "Noise, dB",
    "time_min": "Time, min",
    "heat_sink_c": "Heat sink, °C",
    "mass_g": "Mass, g",
    "power_w": "Power, W",
}
SWITCHES: Final = {"run_out": "Run-out sensor", "switch": "End switch", "probe": "Probe", "door": "Door or lid switch"}


def impossible_said(typed: str) -> str:
    """A number that cannot have been read."""
    return f"{typed} cannot have been read there: a point slipped, or another unit."


def repeats_said(found: Repeatability, unit: str, places: int) -> tuple[str, str]:
    """Title and sentence of touches or sizes that were repeated."""
    if found.verdict == "refuse" or found.range_of_ten is None or found.range_of_ten_high is None:
        return "Not enough readings", TOO_FEW_NUMBERS
    seen = f"{decimal_text(found.range or 0.0, places)}{NBSP}{unit} apart in these {found.n}"
    ten = (
        f"Ten repeat within {decimal_text(found.range_of_ten, places)}{NBSP}{unit} "
        f"(could be {decimal_text(found.range_of_ten_high, places)}); {seen}."
    )
    match found.verdict:
        case "good":
            return "Repeats well", ten
        case "usable":
            return "Usable", f"{ten} Take the mean of three."
        case "poor":
            return (
                "Repeats badly",
                f"{ten} Look for play, a loose mount, a dirty tip; readings that follow cannot be trusted.",
            )
        case "drifting":
            moved = f"{signed(found.drift_per_reading or 0.0, places + 1)}{NBSP}{unit}"
            return "Moves one way", f"By {moved} from one to the next: let it warm up, then again."
        case "repeat" if found.reason == "first_touch_differs":
            return (
                "The first differs from the rest",
                f"{ten} Once more, and leave the first one out if it does so again.",
            )
        case "repeat":
            which = ", ".join(str(place + 1) for place in found.flagged)
            return "One differs from the rest", f"Number {which} stands alone. {ten} Once more."
        case "more_readings":
            return "Cannot tell yet", f"{ten} {found.more_readings} more readings would settle it."
    return "Near the limit", f"{ten} It cannot be told whether that will do."


def states_said(found: TwoState, what: str) -> tuple[str, str]:
    """Title and sentence of a switch or sensor in both its states."""
    wrong = ", ".join(str(place + 1) for place in found.wrong)
    may_miss = f"It may still miss up to {100 * (found.miss_rate_upper_95 or 0.0):.0f}{NBSP}% of the time."
    match found.verdict:
        case "ok":
            return (
                "Answers in both states",
                f"{what}: no miss in {(found.checked_on or 0) + (found.checked_off or 0)}. {may_miss}",
            )
        case "stuck":
            says = "yes" if found.reason == "always_on" else "no"
            return (
                "Stuck",
                f"It says {says} whatever there is: look at lever, wire and setting. Nothing it guards is guarded.",
            )
        case "inverted":
            return "The wrong way round", "It says the opposite each time: turn its setting round."
        case "unreliable":
            return "Misses", f"Wrong at look {wrong}. {may_miss} Do not rely on it before that is mended."
        case "more_checks":
            return "Look more often", "Three times in each state, or nothing is known."
    return "Not readable", NO_STATES


def rounds_said(found: Levelling, screw: str, left_mm: float) -> tuple[str, str]:
    """Title and sentence of levelling by screws."""
    if not found.worst_mm:
        return "Not readable", ROUNDS_ALIKE
    worst = f"{screw} is off by {signed(left_mm, 2)}{NBSP}mm"
    match found.verdict:
        case "converged":
            return "Level", f"Worst: {worst}. Leave the screws alone; set the offset afterwards."
        case "good_enough":
            return "Level as far as can be read", f"{worst}: that is what this way of reading can tell. Stop here."
        case "diverging":
            return "Getting worse", f"{worst}, more than before: check the turning sense of {screw}."
        case "stuck":
            return (
                "Not getting better",
                f"{worst}, after two rounds: a loose bed or a bent plate. Use a mesh, or mend that first.",
            )
    return "Go on", f"{worst}: turn that one, then measure all of them again."


def mesh_said(found: MeshShape) -> tuple[str, str]:
    """Title and sentence of a mesh."""
    x, y, bowl, rest = (number or 0.0 for number in (found.tilt_x_mm, found.tilt_y_mm, found.bowl_mm, found.rest_mm))
    row, column = found.worst or (0, 0)
    shape = (
        f"Tilt {signed(x, 2)} to the right and {signed(y, 2)} to the back, the middle {signed(bowl, 2)}, what is left at "
        f"most {signed(rest, 2)}{NBSP}mm."
    )
    match found.verdict:
        case "level_first":
            return "Level it first", f"{shape} A mesh would hide that: turn the screws, then take it again."
        case "bent":
            return "The plate is bent", f"{shape} A mesh follows it; a part as wide as the bed shows it all the same."
        case "uneven":
            return (
                "A point stands off",
                f"{shape} At row {row + 1} from the front, point {column + 1} from the left: dirt, a burr or a bad touch.",
            )
    return "Even enough", f"{shape} Leave the screws alone."


def before_after_said(found: BeforeAfter, what: str) -> tuple[str, str]:
    """Title and sentence of something measured before and after."""
    if found.difference is None or found.half_width_95 is None:
        return "Not readable", NOT_NUMBERS
    moved = f"{what}: {signed(found.difference, 1)} {plus_minus(found.half_width_95)}"
    match found.verdict:
        case "lower" | "higher":
            small = " Real, but too small to matter." if found.reason == "real_but_small" else ""
            return found.verdict.capitalize(), f"{moved}.{small}"
        case "no_real_difference":
            return "No difference that matters", f"{moved}."
    return "Cannot tell", f"{moved}: more readings of each, the same way."


def log_said(found: HeatLog, target_c: float) -> tuple[str, str]:
    """Title and sentence of a heat log."""
    if found.verdict is HeatLogVerdict.REFUSE:
        return "Too short", "It needs the heat-up and some minutes after it, a line every second or two."
    settled = "never settled" if found.settling_s is None else f"settled after {found.settling_s / 60:.1f}{NBSP}min"
    facts = (
        f"{plain(target_c)}{NBSP}°C: {settled}, swings by {found.ripple_c or 0.0:.1f}, went {found.overshoot_c or 0.0:.1f} "
        f"beyond."
    )
    match found.verdict:
        case HeatLogVerdict.FINE:
            return "Heats as it should", facts
        case HeatLogVerdict.CHECK_WIRING:
            return (
                "Check the sensor's wire",
                f"It jumps, {found.spikes} times: a loose wire or plug. Mains off, and follow it.",
            )
        case HeatLogVerdict.HEATER_AT_ITS_LIMIT:
            return "The heater is at its limit", f"{facts} Full power, and it does not get there."
        case HeatLogVerdict.RETUNE_CONTROL:
            return "Retune the heater control", f"{facts} Check the sock and how the sensor sits first."
    return "Log for longer", f"{facts} Two minutes after it has settled."


def margin_said(found: HeatMargin, top_c: float) -> str:
    """What a heater has left at the top; empty where the log does not say."""
    if found.margin is None or found.margin_low is None:
        return ""
    left = f"{100 * found.margin:.0f}{NBSP}% left at {plain(top_c)}{NBSP}°C (at least {100 * found.margin_low:.0f})"
    if found.verdict is MarginVerdict.HEATER_AT_ITS_LIMIT and found.stay_below_c is not None:
        return f"The heater has {left}: stay below {found.stay_below_c:.0f}{NBSP}°C."
    if found.verdict is MarginVerdict.FINE:
        return f"The heater has {left}."
    return f"The heater has {left}, which is not sure enough: log it again with fan and feed as in work."
