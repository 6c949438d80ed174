"""What is said about the diameter of filament."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import DIAMETER_TARGET_PCT, DiameterFigures
from ubrex.core.quantity import Reason, ToolKind, decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import NBSP, plain, plus_minus
from ubrex.server.words.readings import SOMETHING_WRONG, UNUSABLE

DIAMETER: Final = MethodWords(
    name="Filament diameter",
    short="filament, two ways at each place",
    why=("Before the box, when the label gives no tolerance. Enter it, or a flow: never both.",),
    procedure=(
        "Straighten half a metre or more of filament; places at least 20 cm apart.",
        "At each place turn the filament in the jaws and type the widest reading, then the one across it.",
        "Three places first; the jaws' zero checked on a drill shank halves the doubt.",
    ),
    reads="diameter",
    slips=("pressed too hard", "filament not straight", "jaws not square", "other place measured"),
)

FIRST_METRES: Final = "A first metre says how thick the first metres are."


def diameter_said(
    reason: Reason, figures: DiameterFigures | None, proposal: str, nominal: str, more: int | None, finer: str
) -> str:
    """The verdict on filament in one sentence; ``finer``: what would tell more."""
    if figures is None:
        return UNUSABLE
    unsure = f"{plus_minus(figures.half_width_95_pct)}{NBSP}% of area"
    match reason:
        case Reason.OUTSIDE_TOLERANCE:
            return (
                f"Filament is {decimal_text(figures.diameter_mm, 3)} {plus_minus(figures.diameter_half_width_mm)}{NBSP}mm: "
                f"enter {proposal} as its diameter. {FLOW_FOLLOWS}"
            )
        case Reason.PROBABLY_REAL:
            return f"Probably {proposal}{NBSP}mm, not proven to be worth a change: measure at more places."
        case Reason.WITHIN_TOLERANCE:
            return f"{nominal} is good enough."
        case Reason.BEST_GUESS:
            return f"It may be chance, but the best guess is {proposal}{NBSP}mm: measure at more places."
        case Reason.TOO_SMALL:
            return f"Off by less than is worth a change: {nominal} is good enough."
        case Reason.NO_ERROR_FOUND:
            return f"No difference from {nominal} found, {unsure}."
        case Reason.MORE_REPEATS if more:
            return f"Uncertain by {unsure}: {more} more places should settle it."
        case Reason.MORE_REPEATS | Reason.CHANGE_METHOD:
            return f"Cannot be told from {nominal}, {unsure} ({plain(DIAMETER_TARGET_PCT)}{NBSP}% is wanted). {finer}"
        case Reason.IMPLAUSIBLE:
            found = decimal_text(figures.diameter_mm, 2)
            return f"{found}{NBSP}mm is not {nominal}: another filament, or a slip. It may not feed."
    return f"{SOMETHING_WRONG}."


FLOW_FOLLOWS: Final = "A flow on record is moved with it: type both as they stand then, and measure no flow for this."


def finer_said(tool: ToolKind, *, zero_checked: bool) -> str:
    """What would tell more, of what has not been done yet."""
    if tool is ToolKind.CALLIPER and not zero_checked:
        return "Check its zero on a drill shank before you measure, or use a micrometer."
    return "Use a micrometer." if tool is not ToolKind.MICROMETER else "Its places differ too much for one number."


def oval_said(figures: DiameterFigures) -> str:
    """What to expect of oval filament; empty if it is round enough."""
    if not figures.oval_bad:
        return ""
    return f"Oval by about {decimal_text(figures.ovality_mm, 2)} mm: flow will wander, and no setting mends that."


def no_filament_said(nominal_mm: float) -> str:
    """What cannot be filament of a diameter, after the number."""
    return f"is no filament of {plain(nominal_mm)} mm. Look again; Enter takes it as typed."


def place_said(place: str) -> str:
    """A place, and which way the jaws close there."""
    return f"place {place[:-1]}, {'widest' if place.endswith('w') else 'across it'}"


def strip_said(count: int, diameter_mm: float, half_width_mm: float, entered_mm: float) -> str:
    """The strip in words."""
    return (
        f"{count} places, {decimal_text(diameter_mm, 3)} {plus_minus(half_width_mm)} mm by area; {plain(entered_mm)} is "
        "entered."
    )
