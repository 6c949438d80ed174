"""What is said about flow: the box, its walls, what they say."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import FLOW_TARGET_PCT, FlowFigures, FlowReason, Reprint
from ubrex.core.gcode.pieces import Piece
from ubrex.core.quantity import Reason, Verdict, decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import DASH, NBSP, percent, plain, plus_minus, signed
from ubrex.server.words.readings import SOMETHING_WRONG, UNUSABLE

BOX: Final = MethodWords(
    name="Hollow box, walls measured",
    short="walls of a hollow box",
    why=("What comes out, as your part will have it: four walls, jaws below the rim.",),
    procedure=(
        "Print the piece with the numbers it was written for. Stay for the first layers.",
        "Let it cool, take it off, cut the brim away from you.",
        "The cut corner is the seam. From there, wall A has one notch at its foot, B two, C three, D four.",
        "Close the jaws and look for 0.00; on a shim or a drill shank if you can, and say so under Other tool.",
        "Measure the walls in the order shown, jaw tips 2 to 3 mm below the rim, never at the foot, a corner or the seam.",
    ),
    reads="width of a wall",
    slips=("on the seam", "on a blob", "jaws not square", "other wall measured"),
)

SPANS: Final = {"1": "in the middle", "2": "a third along", "3": "two thirds along"}


SLICED_ELSEWHERE: Final = (
    "Slice the body with as many wall lines as you chose, no infill, no top layers, the brim outside. What a wall should "
    "measure comes from the line width and spacing you typed: they have to be those of your program."
)


REFUSALS: Final = {
    Reason.INVALID_READING: UNUSABLE,
    FlowReason.LINE_SPACING_NEEDED: "Two lines say nothing until it is known how far apart they lie: read it from the file.",
    FlowReason.LINE_NARROWER_THAN_LAYER: "A line cannot be narrower than its layer is high: look at its numbers.",
    FlowReason.WRONG_NUMBER_OF_LINES: "The walls fit another number of lines than was asked for: one and two mixed up?",
    Reason.IMPLAUSIBLE: "So much is no flow error: look at the line width that was really sliced, and at the e-steps.",
    FlowReason.BEAD_NARROWER_THAN_LAYER: "The wall is thinner than a layer is high: this was not one line.",
    FlowReason.NO_RESPONSE: "The wall did not answer to the flow: print the two farther apart.",
    FlowReason.WALLS_READ_THICK: "Both walls read too thick by about the same: zero of the calliper, seam, or wavy layers. "
    "Nothing is averaged.",
    FlowReason.LINES_NOT_FUSED: "One and two lines disagree: the lines are not fused, or lie farther apart. Nothing is "
    "averaged; use the wall that is like your part.",
}
"""Why readings of walls say nothing."""

WALLS_HINT: Final = "One line is the plainest. Both tell a wrong zero from a wrong flow."
CURRENT_HINT: Final = "The calibrated one; a bias is left out."
SPACING: Final = "Two lines lie apart"
SPACING_HINT: Final = "Only for a sliced box: the spacing in its file."
PRINTED_AT: Final = "Printed already, on"
PRINTED_AT_HINT: Final = "Leave empty for a piece still to be printed."
RESCALE: Final = "If e-steps changed since"
CURRENT: Final = "Printed with flow"
SPACING_WHY: Final = "lines lie about a line width apart"
OWN: Final = "Written by"
"""The start form of a box."""


def flow_said(
    verdict: Verdict,
    reason: Reason | FlowReason,
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
    return REFUSALS.get(reason, f"{SOMETHING_WRONG}.") if verdict is Verdict.REFUSE else ""


def walked_said(walls: str) -> str:
    """In which order the walls were really measured."""
    return f"Measured in the order {', '.join(walls)}: its readings stand at those walls."


def tolerance_said(tolerance_pct: float) -> str:
    """Why less than usual is worth a change here."""
    return f"For what this setup prints, {plain(tolerance_pct)} % is worth a change."


def reprint_said(found: Reprint | None) -> str:
    """What a reprint says of the value it was printed with."""
    return {
        Reprint.CONFIRMED: "Confirmed: the reprint is within 5 % of what was asked.",
        Reprint.CONSISTENT: "Consistent: the wall moved as it should; these readings cannot prove 5 %. Go on.",
        Reprint.CONTRADICTED: "Contradicted: the wall is not as the new flow should have made it. Look for another cause.",
        None: "",
    }[found]


NARROWER: Final = f"Within ± {plain(FLOW_TARGET_PCT)} % would do here."

BODIES: Final = {"stl": "Take it as STL", "3mf": "as 3MF"}
"""Solid bodies that can be taken along, and what their buttons say."""

NO_WALL: Final = "cannot be a wall of this box. Enter takes it as typed."
NO_SUCH_ORDER: Final = "One goes round from any wall, one way or the other."
IN_FUTURE: Final = "That lies in the future: when was it printed?"
CHANGED_FROM_UNKNOWN: Final = "E-steps were changed since, and it is not known from what."

WALLS: Final = {"one": "One line", "two": "Two lines", "both": "Both, in one print"}
WRITTEN_BY: Final = {"yes": "Ubrex", "no": "my slicing program"}
IF_CHANGED: Final = {"no": "refuse it", "yes": "rescale its flow"}
"""Choices of the start form."""


def method_said(walls: str, verifies: int | None) -> str:
    """How it is measured; ``verifies``: the run whose flow is printed again."""
    lines = {"one": "walls of one line", "two": "walls of two lines", "both": "one and two lines"}[walls]
    return f"{'' if verifies is None else f'reprint of run {verifies}, '}hollow box, {lines}"


def heat_said(nozzle_c: float, bed_c: float | None) -> str:
    """How hot it was printed."""
    bed = "bed not heated" if bed_c is None else f"bed {plain(bed_c)} °C"
    return f"nozzle {plain(nozzle_c)} °C, {bed}"


def far_said(number: float, wanted: str, other: str) -> str:
    """A width that no flow explains; ``other``: the walls it is nearer to, if it is."""
    if other:
        return (
            f"{plain(number)} mm is nearer to {other} than to {wanted}. Is this the right box, and wall? Enter takes it as "
            "typed."
        )
    return f"{plain(number)} mm is far from what any flow would make of this wall. Look again; Enter takes it as typed."


def stuck_said(count: int, number: float) -> str:
    """Readings that are too much alike."""
    return f"All {count} read {plain(number)}: is the calliper stuck, or locked?"


def off_said(place: str, off_mm: float) -> str:
    """One reading far from the rest."""
    where = "above" if off_mm > 0 else "below"
    return (
        f"{place} is {decimal_text(abs(off_mm), 2)} {where} the rest: seam, blob or corner? Measure it again, or strike it "
        "out with its cause."
    )


def both_said(single: float | None, double: float | None) -> str:
    """What one line and two lines say by themselves [%]."""
    shown = ["nothing" if flow is None else f"{decimal_text(flow, 1)} %" for flow in (single, double)]
    return f"One line alone says {shown[0]}, two say {shown[1]}."


def moved_said(by_mm: float) -> str:
    """How far the walls are from where they should be."""
    return f"{signed(by_mm, 3)}{NBSP}mm"


def strip_said(count: int, lines: str, mean_mm: float, half_width_mm: float, target_mm: float) -> str:
    """The strip in words."""
    return (
        f"{count} readings of {lines}, mean {decimal_text(mean_mm, 3)} {plus_minus(half_width_mm)} mm; jaws would read "
        f"{decimal_text(target_mm, 2)} mm at the right flow."
    )


def heading(piece: Piece) -> list[tuple[str, str]]:
    """What the head of a file says of a box."""
    two = piece.bead.wall_mm(2, piece.spacing_mm)
    return [("expected width", f"one line {piece.bead.width_mm:.3f} mm, two lines {two:.3f} mm")]


def rescaled_said(before_flow: float, before: float, after_flow: float, after: float, unit: str) -> str:
    """How a flow is worth the same at other e-steps."""
    return f"{plain(before_flow)} % at {plain(before)} feeds as much as {plain(after_flow)} % at {plain(after)} {unit}"


def too_old_said(sum_said: str) -> str:
    """A piece that was printed before the e-steps were changed."""
    return (
        f"E-steps were changed since: the same error would be corrected twice. {sum_said}: choose “rescale its flow”."
    )


def changed_since_said(machine: str, changed: str) -> str:
    """E-steps that were changed after the piece was printed."""
    return (
        f"E-steps of {machine} were changed on {changed}, after this piece was printed. Its walls would correct the same "
        "error twice: leave this run and print again, or start one with the flow rescaled."
    )


def reprint_label(flow: str) -> str:
    """The button of a reprint."""
    return f"Print again at {flow} %"


def reprint_why(flow: str) -> str:
    """What a reprint is for."""
    return f"The same piece at {flow} %: it ends in confirmed, consistent or contradicted."
