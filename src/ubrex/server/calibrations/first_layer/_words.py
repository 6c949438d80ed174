"""What is said about the first layer: patches, offset, tilt."""

from __future__ import annotations

from fractions import Fraction
from typing import Final

from ubrex.core.calibrate import LIVE_WAIT_S, OFFSET_TOLERANCE_MM, FirstLayerFigures, Tilt
from ubrex.core.quantity import Reason, ToolKind, decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import NBSP, plain, plus_minus, signed
from ubrex.server.words.readings import SOMETHING_WRONG, UNUSABLE

PATCHES: Final = MethodWords(
    name="Nine patches, measured",
    short="nine patches of one layer",
    why=("Offset, tilt and bend of the plate in one print. The pad comes first if the layer does not hold at all.",),
    procedure=(
        "Print the nine patches; stay with it, a hand near the switch: a wrong offset digs in.",
        "Let the bed cool. Peel the patches off with their numbers on.",
        "Measure the middle of each, three presses and the middle one of them, with a micrometer if there is one.",
        "Textured plates make patches read several hundredths thick: use a smooth plate, or trust the eye.",
    ),
    reads="thickness of a patch",
    slips=("edge curled up", "patch torn off", "jaws not square", "other patch measured"),
)

BARE: Final = "The strip stays bare until all nine patches are in."
COARSE: Final = "So far off the squeeze is not in proportion: correct, print again, measure again."
AFTER_TICK: Final = f"After a tick, wait {LIVE_WAIT_S:.0f} s before you look. Check the sign with the nozzle high."
PAD_USE: Final = f"move the offset by small steps while it prints, {LIVE_WAIT_S:.0f} s from one to the next"
PAD_FILE: Final = "The pad first"
CRASH: Final = ("Crash.", "A wrong sign drives the nozzle into the plate. First move with a hand on the power switch.")
OFFSET_CHANGED: Final = "The offset was changed after these patches were printed: leave this run and print new ones."
OTHER_SHEET: Final = "Empty: the same sheet. Thicker: with a minus."

CURRENT: Final = "Offset it is printed with"
CURRENT_HINT: Final = "As the machine has it now. A machine that levels itself does not set it by that."
CURRENT_ITSELF: Final = (
    "What is added to the offset it measures with its nozzle, as the machine has it now; 0 if nothing."
)
THINNER: Final = "Another sheet, thinner by"
THINNER_WHY: Final = "sheets differ by a few mm"
"""The start form of patches."""


def finer_said(tool: ToolKind, *, zero_checked: bool) -> str:
    """What would tell more, of what has not been done yet."""
    if tool is ToolKind.CALLIPER and not zero_checked:
        return "Check its zero on a known size before you measure, or trust the eye on the pad."
    return "Trust the eye on the pad."


def offset_said(reason: Reason, figures: FirstLayerFigures | None, proposal: str, finer: str) -> str:
    """The verdict on the offset in one sentence; ``finer``: what would tell more."""
    if figures is None:
        return UNUSABLE
    off = signed(figures.offset_error_mm, 2)
    match reason:
        case Reason.OUTSIDE_TOLERANCE:
            return f"The layer is {off}{NBSP}mm off: set the offset to {proposal}."
        case Reason.PROBABLY_REAL:
            return f"The layer is probably {off}{NBSP}mm off: {proposal} is the best guess; print again to see."
        case Reason.BEST_GUESS:
            return f"It may be chance, but the best guess is {off}{NBSP}mm: set {proposal}, and print again to see."
        case Reason.TOO_SMALL:
            return f"{off}{NBSP}mm: less than is worth a change. Leave the offset where it is."
        case Reason.WITHIN_TOLERANCE:
            return f"Within {plain(OFFSET_TOLERANCE_MM)}{NBSP}mm: leave the offset where it is."
        case Reason.NO_ERROR_FOUND:
            return f"No error found; less than {decimal_text(figures.half_width_95_mm, 2)}{NBSP}mm would not show."
        case Reason.MORE_REPEATS:
            return "The readings scatter too much: three presses a patch, or a micrometer."
        case Reason.CHANGE_METHOD:
            return f"Nothing under {plus_minus(figures.half_width_95_mm)}{NBSP}mm can be seen here. {finer}"
        case Reason.IMPLAUSIBLE:
            return (
                f"{off}{NBSP}mm is more than the layer has to give: was this the layer commanded, and the right plate?"
            )
    return f"{SOMETHING_WRONG}."


def tilt_said(tilt: Tilt | None, figures: FirstLayerFigures) -> str:
    """What to do about the screws."""
    if figures.warp_bad:
        bow = "a bowl" if figures.bow_mm < 0 else "a dome"
        return (
            f"The plate is bent, like {bow}, by {decimal_text(figures.warp_range_mm, 2)} mm: screws cannot mend that."
        )
    match tilt:
        case Tilt.LEVEL:
            return "Level within 0.04 mm: touch no screw."
        case Tilt.NOT_DISTINGUISHABLE:
            return "No tilt that these readings can prove: touch no screw."
        case Tilt.REPEAT:
            return "Whether it is tilted cannot be told from these readings."
        case Tilt.ADJUST:
            turns = [
                f"screw {number} {'up' if screw.sixteenths > 0 else 'down'} {Fraction(abs(screw.sixteenths), 16)} turn"
                for number, screw in enumerate(figures.screws, 1)
                if screw.sixteenths
            ]
            return (
                f"Tilted: bed at {', '.join(turns)}; then print the patches again."
                if turns
                else "Tilted by less than 1/16 turn."
            )
    return ""


def far_said(layer_mm: float) -> str:
    """A thickness far from one layer, after the number."""
    return f"is far from one layer of {plain(layer_mm)} mm. Look again; Enter takes it as typed."


def moved_for_sheet_said(before_mm: float) -> str:
    """An offset that was moved for a sheet of another thickness."""
    return f"moved from {decimal_text(before_mm, 3)} for the sheet: check the sign, a hand on the switch"


def strip_said(figures: FirstLayerFigures, layer_mm: float, tilt: str) -> str:
    """The strip in words."""
    said = (
        f"Nine patches, mean {decimal_text(figures.mean_mm, 3)} {plus_minus(figures.half_width_95_mm)} mm of "
        f"{plain(layer_mm)} commanded."
    )
    return f"{said} {tilt}" if tilt else said


def stacks_said(other: str) -> str:
    """Where an offset comes from that another surface has, with both stacks on record."""
    return f"From the offset of {other} and both stacks on record. Negative: this one is thicker. Check the sign."
