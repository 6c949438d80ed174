"""What is said about flow: the box, its walls, what they say."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.core.calibrate import FLOW_TARGET_PCT, BoxMassFigures, FlowFigures, FlowReason, Reprint
from ubrex.core.gcode.pieces import Piece
from ubrex.core.quantity import Reason, ToolKind, Verdict, decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import DASH, NBSP, percent, plain, plus_minus, signed
from ubrex.server.words.readings import SOMETHING_WRONG, UNUSABLE, unseen_said

BOX: Final = MethodWords(
    name="Hollow box, walls measured",
    short="walls of a hollow box",
    why=("What comes out, as your part will have it: four walls, jaws below the rim.",),
    procedure=(
        "Print the piece with the numbers it was written for. Stay for the first layers.",
        "Let it cool, take it off, cut the brim away from you.",
        "The cut corner is the seam. From there, wall A has one notch at its foot, B two, C three, D four.",
        "Close the jaws and look for 0.00; on a shim or a drill shank if you can, and say so under Other tool.",
        "Close them only until they touch: a strong hand presses a wall in by a hundredth or two; the flow comes out high. "
        "In doubt read each wall once more with the jaws only just touching: Read softly.",
        "Measure the walls in the order shown, jaw tips 2 to 3 mm below the rim, never at the foot, a corner or the seam.",
    ),
    reads="width of a wall",
    slips=("on the seam", "on a blob", "jaws not square", "other wall measured"),
)

WEIGHED: Final = MethodWords(
    name="Hollow box, weighed",
    short="a weighed hollow box",
    why=(
        "How much of the filament that was commanded is in the box: free of the zero, the waves and the shape of a wall. "
        "It does not see how lines fuse.",
    ),
    procedure=(
        "Print the piece with the numbers it was written for, one or several times. Stay for the first layers.",
        "Take each off whole, its brim still on; the line primed beside it stays on the plate.",
        "Cut a piece of this spool about as heavy as what you weigh, measure and weigh it: that is the reference.",
        "Lay all boxes on the scale together and type what it shows. Take them off, look for 0, weigh again.",
    ),
    reads="mass of the boxes",
    slips=("brim cut off", "scale not at 0", "primed line weighed too", "a box forgotten"),
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
    FlowReason.WALLS_READ_THICK: "Walls of one line and of two read too thick by about the same: zero of the calliper, "
    "seam, or wavy layers. Nothing is averaged: check the zero on a known size first.",
    FlowReason.LINES_NOT_FUSED: "Walls of one line and of two do not fit together: the jaws read thin, as with a zero that "
    "is off below 0 or a hand that presses walls in, or the lines are not fused, or lie farther apart. Nothing is "
    "averaged: check the zero on a known size first.",
    FlowReason.CONTRADICTED: "The wall is not as the new flow should have made it: a third flow would not mend that. Is it "
    "the right box, the right file, the same filament? Look for another cause, and leave this run.",
}
"""Why readings of walls say nothing."""

WALLS_HINT: Final = "One line is the plainest. Both tell a wrong zero from a wrong flow."
CURRENT_HINT: Final = "The calibrated one; a bias is left out."
SPACING: Final = "Two lines lie apart"
SPACING_HINT: Final = "Only for a sliced box: the spacing in its file."
PRINTED_AT: Final = "Printed already, on"
PRINTED_AT_HINT: Final = "Leave empty for a piece still to be printed."
RESCALE: Final = "If e-steps or diameter changed since"
CURRENT: Final = "Printed with flow"
SPACING_WHY: Final = "lines lie about a line width apart"
OWN: Final = "Written by"
"""The start form of a box."""


def finer_said(tool: ToolKind, *, zero_checked: bool, lines: int, fusing: bool) -> str:
    """What would tell more than these readings, of what has not been done yet; ``fusing``: most doubt is how lines fuse."""
    if fusing:
        return "How far two lines fuse is most of it: a box of one line would tell."
    ways = []
    if tool is ToolKind.CALLIPER and not zero_checked:
        ways.append("its zero checked on a drill shank before you measure")
    if lines == 1:
        ways.append("one and two lines in one print")
    if tool is not ToolKind.MICROMETER:
        ways.append("a micrometer")
    *most, last = ways or [""]
    listed = f"{', '.join(most)} or {last}" if most else last
    return f"What would: {listed}." if ways else "A second box tells a little more."


def flow_said(
    verdict: Verdict,
    reason: Reason | FlowReason,
    figures: FlowFigures,
    *,
    wanted_mm: float,
    tolerance_pct: float,
    proposal: str,
    half_width_pct: float,
    low: str,
    high: str,
    more: int | None,
    finer: str,
) -> str:
    """The verdict on walls in one sentence; ``wanted_mm``: what jaws would read at the right flow.

    ``half_width_pct``: of the flow to set [% of flow]; ``finer``: what would tell more.
    """
    unsure = f"Uncertain by {plus_minus(half_width_pct)} in {proposal}{NBSP}%"
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
            return f"No error found; anything under {unseen_said(figures.half_width_95_pct)} would not show."
        case Reason.TOO_SMALL:
            return f"Off by about {percent(abs(figures.error_pct), 1)}: less than is worth a change."
        case FlowReason.RESTS_ON_ZERO:
            thin = "thin" if figures.error_pct > 0 else "thick"
            return (
                f"Walls of one line and of two are off alike: that is flow, or jaws that read {thin}. Their zero is known, "
                f"so it is taken for flow: best guess {proposal}{NBSP}%; one more box at that settles it."
            )
        case FlowReason.LAST_DIGIT:
            return (
                f"Worth a change, but the last digit of one reading more or less would leave that open: best guess "
                f"{proposal}{NBSP}%; one more box at that settles it."
            )
        case Reason.PROBABLY_REAL:
            return (
                f"Probably real, not proven to be worth a change: best guess {proposal}{NBSP}%; one more box at that "
                "settles it."
            )
        case Reason.BEST_GUESS:
            return (
                f"It may be chance, but the best guess is a change worth making: {proposal}{NBSP}%; one more box at that "
                "settles it."
            )
        case Reason.MORE_REPEATS if more:
            return f"{unsure}: {more} more, spread over the walls, should settle it."
        # No number of readings settles it: it is the walls that differ, not what is read of them.
        case Reason.MORE_REPEATS:
            return (
                f"{unsure}: the walls differ too much. Print a second box at the same flow; both are judged together."
            )
        case Reason.CHANGE_METHOD:
            return (
                f"Nothing under {plus_minus(figures.tool_half_width_pct)}{NBSP}% can be seen here, however often it is "
                f"read. {finer}"
            )
    return REFUSALS.get(reason, f"{SOMETHING_WRONG}.") if verdict is Verdict.REFUSE else ""


def sides_said(apart_mm: float) -> str:
    """Walls along x and along y that differ for good."""
    wider, narrower = ("A and C", "B and D") if apart_mm > 0 else ("B and D", "A and C")
    return (
        f"Walls {wider} are {decimal_text(abs(apart_mm), 2)} mm wider than {narrower}: that is mechanics, belts or play, "
        "and no flow mends it."
    )


def shrunk_said(whole: str) -> str:
    """That less than the whole correction is proposed."""
    return (
        f"The walls alone say {whole}{NBSP}%; with so much doubt a part of the way leaves less error on average, and that "
        "is what is proposed."
    )


def keeps_said(current: str, recorded: str) -> str:
    """That keeping changes the record."""
    return (
        f"On record is {recorded}{NBSP}%. Keep means that the flow of this box, {current}{NBSP}%, is written instead."
    )


def on_record_said(proposal: str) -> str:
    """That what is proposed is what stands there already."""
    return f"{proposal}{NBSP}% is on record already: nothing is left to change."


def other_boxes_said(runs: Sequence[int]) -> str:
    """Boxes of the same flow and evening that are judged with this one."""
    named = " and ".join(f"run {number}" for number in runs)
    return f"Judged together with the walls of {named}, printed the same evening at the same flow."


def same_box_title(run_id: int) -> str:
    """The question whether a box is an old one."""
    return f"Is this the box of run {run_id}?"


def same_box_said(run_id: int, then: str, now: str) -> str:
    """Walls that stand where those of an earlier box stood."""
    return (
        f"These walls stand where those of run {run_id} stood, which was printed at {then}{NBSP}%, and not where "
        f"{now}{NBSP}% would have put them. One box is corrected once."
    )


def was_box_said(run_id: int, flow: str) -> str:
    """That a box was recognised as an old one."""
    return f"The box of run {run_id}: judged as printed at {flow}{NBSP}%, what it was worth today."


def walked_said(walls: str) -> str:
    """In which order the walls were really measured."""
    return f"Measured in the order {', '.join(walls)}: its readings stand at those walls."


def tolerance_said(tolerance_pct: float, half_width_pct: float | None) -> str:
    """Why less than usual is worth a change here; with the 95 % half-width [%] where that shows so little only by chance."""
    said = f"For what this setup prints, {plain(tolerance_pct)} % is worth a change"
    if half_width_pct is None or half_width_pct <= tolerance_pct:
        return f"{said}."
    return f"{said}; of these readings {unseen_said(half_width_pct)} is the least that would be sure."


def reprint_said(found: Reprint | None) -> str:
    """What a reprint says of the value it was printed with."""
    return {
        Reprint.CONFIRMED: "Confirmed: the reprint is within 5 % of what was asked.",
        Reprint.CONSISTENT: "Consistent: the wall moved as it should; these readings cannot prove 5 %. Go on.",
        Reprint.CONTRADICTED: "Contradicted: the wall is not as the new flow should have made it. Look for another cause.",
        None: "",
    }[found]


NARROWER: Final = f"Within ± {plain(FLOW_TARGET_PCT)} % would do here."

NO_WALL: Final = "cannot be a wall of this box. Enter takes it as typed."
NO_SUCH_ORDER: Final = "One goes round from any wall, one way or the other."
IN_FUTURE: Final = "That lies in the future: when was it printed?"
CHANGED_FROM_UNKNOWN: Final = "E-steps were changed since, and it is not known from what."

BOXES: Final = "Boxes on the scale"
BOXES_HINT: Final = "Printed alike and weighed together: three tell three times as much."
BOXES_WHAT: Final = "The number of boxes"
BOXES_WHY: Final = "one to nine boxes are weighed together"
WHOLE_BOXES: Final = "Boxes are counted in whole ones."
AS_HEAVY: Final = "About as heavy as what you weigh: the error of the scale cancels."


def weighed_said(
    verdict: Verdict, reason: Reason, figures: BoxMassFigures, *, tolerance_pct: float, proposal: str, more: int | None
) -> str:
    """The verdict on the mass of boxes in one sentence."""
    unsure = f"Uncertain by {plus_minus(figures.half_width_95_pct)}{NBSP}%"
    match reason:
        case Reason.OUTSIDE_TOLERANCE:
            return (
                f"They weigh {decimal_text(figures.mean_g, 2)} instead of {decimal_text(figures.expected_g, 2)}{NBSP}g: "
                f"flow {proposal}{NBSP}%, {plus_minus(figures.half_width_95_pct)}{NBSP}% of it."
            )
        case Reason.WITHIN_TOLERANCE:
            return f"Within {percent(tolerance_pct, 0)}: good enough, go on."
        case Reason.NO_ERROR_FOUND:
            return f"No error found; anything under {unseen_said(figures.half_width_95_pct)} would not show."
        case Reason.TOO_SMALL:
            return f"Off by about {percent(abs(figures.error_pct), 1)}: less than is worth a change."
        case Reason.PROBABLY_REAL:
            return (
                f"Probably real, not sure to be worth a change: best guess {proposal}{NBSP}%; one more box settles it."
            )
        case Reason.BEST_GUESS:
            return (
                f"It may be chance, but the best guess is worth a change: {proposal}{NBSP}%; one more box settles it."
            )
        case Reason.MORE_REPEATS if more:
            return f"{unsure}: weigh them {more} more time{'s' if more > 1 else ''}."
        case Reason.MORE_REPEATS | Reason.CHANGE_METHOD:
            return f"{unsure}. More boxes on the scale together, and a reference as heavy as they are, would tell."
    return REFUSALS.get(reason, f"{SOMETHING_WRONG}.") if verdict is Verdict.REFUSE else ""


def mass_far_said(number: float) -> str:
    """A mass that no flow explains, after the number."""
    return (
        f"{plain(number)} g is far from what these boxes can weigh. All of them, brim and all? Enter takes it as typed."
    )


NO_MASS: Final = "cannot be the mass of these boxes. Enter takes it as typed."


def mass_strip_said(count: int, mean_g: float, half_g: float, expected_g: float) -> str:
    """The strip in words."""
    return (
        f"{count} weighings, mean {decimal_text(mean_g, 3)} {plus_minus(half_g)} g; {decimal_text(expected_g, 3)} g were "
        "commanded."
    )


WALLS: Final = {"one": "One line", "two": "Two lines", "both": "Both, in one print"}
WRITTEN_BY: Final = {"yes": "Ubrex", "no": "my slicing program"}
IF_CHANGED: Final = {"no": "refuse it", "yes": "rescale its flow"}
"""Choices of the start form."""


def sees_said(half_width_pct: float, checked_pct: float | None) -> str:
    """What a tool tells of the flow with four walls; ``checked_pct``: with its zero checked, where it is not."""
    said = f"Four walls tell the flow to ±{NBSP}{half_width_pct:.0f}{NBSP}% with it."
    if checked_pct is None or checked_pct > half_width_pct * 0.85:
        return said
    return f"{said} With its zero checked, ±{NBSP}{checked_pct:.0f}{NBSP}%: press I on the run, it takes a minute."


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


def rescaled_said(before_flow: float, after_flow: float, changes: Sequence[tuple[float, float, str]]) -> str:
    """How a flow is worth the same at other e-steps, or another diameter; each change with its unit."""
    before = " and ".join(f"{plain(old)} {unit}" for old, _, unit in changes)
    after = " and ".join(f"{plain(new)} {unit}" for _, new, unit in changes)
    return f"{plain(before_flow)} % at {before} feeds as much as {plain(after_flow)} % at {after}"


def rescaled_by_said(sum_said: str) -> str:
    """That a run was started with a flow that was rescaled; "" where it was not."""
    return f"rescaled: {sum_said}" if sum_said else ""


def too_old_said(sum_said: str) -> str:
    """A piece that was printed before the e-steps or the diameter were changed."""
    return (
        "E-steps or diameter were changed since: the same error would be corrected twice. "
        f"{sum_said}: choose “rescale its flow”."
    )


def flow_then_said(then_pct: float, now_pct: float) -> str:
    """That another flow was on record when the piece was printed."""
    return (
        f"When it was printed the record said {decimal_text(then_pct, 1)} %; {decimal_text(now_pct, 1)} came after. Was it "
        f"printed with {decimal_text(then_pct, 1)}?"
    )


def changed_since_said(what: str, changed: str) -> str:
    """E-steps, or a diameter, that were changed after the piece was printed."""
    return (
        f"{what} on {changed}, after this piece was printed. Its walls would correct the same error twice: leave this run "
        "and print again, or start one that says when it was printed, at the flow of then."
    )


def steps_changed_said(machine: str) -> str:
    """What was changed, of a machine."""
    return f"E-steps of {machine} were changed"


DIAMETER_CHANGED: Final = "The diameter of this filament was changed"


def reprint_label(flow: str) -> str:
    """The button of a reprint."""
    return f"Print again at {flow} %"


def reprint_why(flow: str) -> str:
    """What a reprint is for."""
    return f"The same piece at {flow} %: it ends in confirmed, consistent or contradicted."
