"""What is said about pieces that are printed and measured: walls, filament, first-layer patches."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import (
    DIAMETER_TARGET_PCT,
    FLOW_TARGET_PCT,
    OFFSET_TOLERANCE_MM,
    DiameterFigures,
    FirstLayerFigures,
    FlowFigures,
    Reprint,
    Tilt,
)
from ubrex.core.quantity import Reason, Verdict, decimal_text
from ubrex.server.words.numbers import DASH, NBSP, percent, plain, plus_minus, signed

METHOD_NAMES: Final = {
    "box": "walls of a hollow box",
    "diameter": "filament, two ways at each place",
    "patches": "nine patches of one layer",
    "tower": "temperature tower, rated",
    "pulls": "retraction tower, rated",
    "foam": "foaming tower, walls measured",
}
"""Ways to measure what is printed, in a few words."""

SPANS: Final = {"1": "in the middle", "2": "a third along", "3": "two thirds along"}

BOX_PROCEDURE: Final = (
    "Print the piece with the numbers it was written for. Stay for the first layers.",
    "Let it cool, take it off, cut the brim away from you.",
    "The cut corner is the seam. From there, wall A has one notch at its foot, B two, C three, D four.",
    "Close the jaws and look for 0.00; on a shim or a drill shank if you can, and say so under Other tool.",
    "Measure the walls in the order shown, jaw tips 2 to 3 mm below the rim, never at the foot, a corner or the seam.",
)

SLICED_ELSEWHERE: Final = (
    "Slice the body with as many wall lines as you chose, no infill, no top layers, the brim outside. What a wall should "
    "measure comes from the line width and spacing you typed: they have to be those of your program."
)

DIAMETER_PROCEDURE: Final = (
    "Straighten half a metre or more of filament; places at least 20 cm apart.",
    "At each place turn the filament in the jaws and type the widest reading, then the one across it.",
    "Three places first; the jaws' zero checked on a drill shank halves the doubt.",
)

PATCH_PROCEDURE: Final = (
    "Print the nine patches; stay with it, a hand near the switch: a wrong offset digs in.",
    "Let the bed cool. Peel the patches off with their numbers on.",
    "Measure the middle of each, three presses and the middle one of them, with a micrometer if there is one.",
    "Textured plates make patches read several hundredths thick: use a smooth plate, or trust the eye.",
)


def title_said(verdict: Verdict, reason: Reason, proposal: str, more: int | None) -> str:
    """The verdict in a few words."""
    match verdict:
        case Verdict.APPLY:
            return f"Apply {proposal}"
        case Verdict.TRY:
            return f"Try {proposal}"
        case Verdict.KEEP:
            return "Leave it alone"
        case Verdict.REPEAT if reason is Reason.MORE_REPEATS and more:
            return f"Measure {more} more"
        case Verdict.REPEAT:
            return "These readings cannot tell"
    return "Something is wrong"


REFUSALS: Final = {
    Reason.INVALID_READING: "A reading cannot be used: strike it and measure again.",
    Reason.LINE_SPACING_NEEDED: "Two lines say nothing until it is known how far apart they lie: read it from the file.",
    Reason.LINE_NARROWER_THAN_LAYER: "A line cannot be narrower than its layer is high: look at the numbers of the print.",
    Reason.WRONG_NUMBER_OF_LINES: "The walls fit another number of lines than was asked for: one and two mixed up?",
    Reason.IMPLAUSIBLE: "So much is no flow error: look at the line width that was really sliced, and at the e-steps.",
    Reason.BEAD_NARROWER_THAN_LAYER: "The wall is thinner than a layer is high: this was not one line.",
    Reason.NO_RESPONSE: "The wall did not answer to the flow: print the two farther apart.",
    Reason.WALLS_READ_THICK: "Both walls read too thick by about the same: zero of the calliper, seam, or wavy layers. "
    "Nothing is averaged.",
    Reason.LINES_NOT_FUSED: "One and two lines disagree: the lines are not fused, or lie farther apart. Nothing is "
    "averaged; use the wall that is like your part.",
}
"""Why readings of walls say nothing."""


def flow_said(
    verdict: Verdict,
    reason: Reason,
    figures: FlowFigures,
    *,
    wanted_mm: float,
    tolerance_pct: float,
    proposal: str,
    low: str,
    high: str,
    more: int | None,
) -> str:
    """The verdict on walls in one sentence; ``wanted_mm``: what jaws would read at the right flow."""
    unsure = f"Uncertain by {plus_minus(figures.half_width_95_pct)}{NBSP}%"
    wall = decimal_text(figures.wall.mean_mm, 3)
    wanted = decimal_text(wanted_mm, 3)
    match reason:
        case Reason.OUTSIDE_TOLERANCE:
            return (
                f"Walls are {wall} instead of {wanted}{NBSP}mm: flow {proposal}{NBSP}% (95{NBSP}%: {low}{DASH}{high})."
            )
        case Reason.WITHIN_TOLERANCE:
            return f"Within {percent(tolerance_pct, 0)}: good enough, go on."
        case Reason.NO_ERROR_FOUND:
            unseen = percent(figures.half_width_95_pct, 0)
            return f"No error found; anything under {unseen} would not show with this calliper."
        case Reason.PROBABLY_REAL:
            return (
                f"Probably real, not proven to be worth a change: best guess {proposal}{NBSP}%; one more box at that "
                "settles it."
            )
        case Reason.MORE_REPEATS if more:
            return f"{unsure}: {more} more, spread over the walls, should settle it."
        case Reason.MORE_REPEATS:
            return f"{unsure}: the walls differ too much. Print a second box."
        case Reason.CHANGE_METHOD:
            return (
                f"This tool cannot see less than {plus_minus(figures.tool_half_width_pct)}{NBSP}% here. What would: its "
                "zero checked on a shim, a double wall, or a micrometer."
            )
    return REFUSALS.get(reason, "Something is wrong.") if verdict is Verdict.REFUSE else ""


def diameter_said(
    reason: Reason, figures: DiameterFigures | None, proposal: str, nominal: str, more: int | None
) -> str:
    """The verdict on filament in one sentence."""
    if figures is None:
        return REFUSALS[Reason.INVALID_READING]
    unsure = f"{plus_minus(figures.half_width_95_pct)}{NBSP}% of area"
    match reason:
        case Reason.OUTSIDE_TOLERANCE:
            return (
                f"Filament is {decimal_text(figures.diameter_mm, 3)} {plus_minus(figures.diameter_half_width_mm)}{NBSP}mm: "
                f"enter {proposal} as its diameter. Leave the flow alone: one of the two, never both."
            )
        case Reason.PROBABLY_REAL:
            return f"Probably {proposal}{NBSP}mm, not proven to be worth a change: measure at more places."
        case Reason.WITHIN_TOLERANCE:
            return f"{nominal} is good enough."
        case Reason.NO_ERROR_FOUND:
            return f"No difference from {nominal} found, {unsure}."
        case Reason.MORE_REPEATS:
            return f"Uncertain by {unsure}: {more} more places should settle it."
        case Reason.CHANGE_METHOD:
            return (
                f"Your callipers cannot tell this from {nominal} ({plain(DIAMETER_TARGET_PCT)}{NBSP}% of area is wanted): "
                "check them on a drill shank, or use a micrometer."
            )
        case Reason.IMPLAUSIBLE:
            found = decimal_text(figures.diameter_mm, 2)
            return f"{found}{NBSP}mm is not {nominal}: another filament, or a slip. It may not feed."
    return "Something is wrong."


def oval_said(figures: DiameterFigures) -> str:
    """What to expect of oval filament; empty if it is round enough."""
    if not figures.oval_bad:
        return ""
    return f"Oval by about {decimal_text(figures.ovality_mm, 2)} mm: flow will wander, and no setting mends that."


def offset_said(reason: Reason, figures: FirstLayerFigures, proposal: str) -> str:
    """The verdict on the offset in one sentence."""
    off = signed(figures.offset_error_mm, 2)
    match reason:
        case Reason.OUTSIDE_TOLERANCE:
            return f"The layer is {off}{NBSP}mm off: set the offset to {proposal}."
        case Reason.PROBABLY_REAL:
            return f"The layer is probably {off}{NBSP}mm off: {proposal} is the best guess; print again to see."
        case Reason.WITHIN_TOLERANCE:
            return f"Within {plain(OFFSET_TOLERANCE_MM)}{NBSP}mm: leave the offset where it is."
        case Reason.NO_ERROR_FOUND:
            return f"No error found; less than {decimal_text(figures.half_width_95_mm, 2)}{NBSP}mm would not show."
        case Reason.MORE_REPEATS:
            return "The readings scatter too much: three presses a patch, or a micrometer."
        case Reason.CHANGE_METHOD:
            return "This tool cannot see 0.03 mm: use a micrometer, or trust the eye on the pad."
        case Reason.IMPLAUSIBLE:
            return (
                f"{off}{NBSP}mm is more than the layer has to give: was this the layer commanded, and the right plate?"
            )
    return "Something is wrong."


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
                f"screw {number} {'up' if screw.eighths > 0 else 'down'} {abs(screw.eighths)}/8 turn"
                for number, screw in enumerate(figures.screws, 1)
                if screw.eighths
            ]
            return (
                f"Tilted: bed at {', '.join(turns)}; then print the patches again."
                if turns
                else "Tilted by less than 1/8 turn."
            )
    return ""


def walked_said(walls: str) -> str:
    """In which order the walls were really measured."""
    return f"Measured in the order {', '.join(walls)}: its readings stand at those walls."


def tolerance_said(tolerance_pct: float) -> str:
    """Why less than usual is worth a change here."""
    return f"For what this setup prints, {plain(tolerance_pct)} % is worth a change."


def zero_said(zero_mm: float) -> str:
    """A zero that was found wrong afterwards: the readings stay as they were read."""
    return (
        f"Closed, the tool read {signed(zero_mm, 3)} mm: that is taken off every reading, which stay as they were read."
    )


def reprint_said(found: Reprint | None) -> str:
    """What a reprint says of the value it was printed with."""
    return {
        Reprint.CONFIRMED: "Confirmed: the reprint is within 5 % of what was asked.",
        Reprint.CONSISTENT: "Consistent: the wall moved as it should; these readings cannot prove 5 %. Go on.",
        Reprint.CONTRADICTED: "Contradicted: the wall is not as the new flow should have made it. Look for another cause.",
        None: "",
    }[found]


def before_proof_said(verdict: Verdict, proposal: str) -> str | None:
    """What is asked before something unproven is applied; None where nothing has to be asked."""
    if verdict is Verdict.APPLY:
        return None
    return f"The readings do not prove that {proposal} is better. Applied all the same, the value will say so."


NARROWER: Final = f"Within ± {plain(FLOW_TARGET_PCT)} % would do here."
