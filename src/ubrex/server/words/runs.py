"""What is said about runs, whatever they measure: how they end, what is left to do, why something cannot be done."""

from __future__ import annotations

from typing import Final

from ubrex.core.chain import SetAt
from ubrex.core.waits import PIECE_COOLS_S

OUTDATED: Final = "Readings have come in since this was shown. Look at the result again, then decide."
ALL_MEASURED: Final = "Every place of this piece has its reading. Strike one out to measure it again."
NOT_MEASURED: Final = "Nothing is measured in this run: its bands are rated."
NOT_RATED: Final = "Nothing is rated in this run."
NO_REASON: Final = "Say why: a slipped cut, a snag, the wrong piece."
NOTHING_TO_TAKE_BACK: Final = "There is no reading to take back."
NOTHING_HERE: Final = "There is nothing to take back here."
STRUCK_ALREADY: Final = "This reading is struck out already."
NO_READINGS: Final = "There is no reading to decide on."
NO_SURFACE: Final = (
    "This depends on the build surface, and this setup does not say which one is on. Choose it on the bench."
)
NO_FILE: Final = "Nothing is printed in this run."
NOTHING_PRINTED: Final = "Nothing is printed for this."
NOTHING_TO_VERIFY: Final = "There is no new flow to print again with."
NO_SPOOL: Final = (
    "This setup does not say which spool is on it, so there is nowhere to write it. Choose the spool on the bench."
)
NO_LIVE: Final = "Nothing is moved while this piece prints."
NO_STEP: Final = "There is no step to take back."
SUPERSEDED: Final = "A newer value has replaced this one since."
A_MARK: Final = "A band is marked, or it is not."
NO_SCALE: Final = "That is not rated on this tower."
NOT_PRINTED: Final = "This band was not printed: take that mark off first."


def no_run(run_id: int) -> str:
    """A run that is not there."""
    return f"There is no run {run_id} in this workshop."


def no_method(method: str) -> str:
    """A way to measure that is not there."""
    return f"There is no way named {method}."


def no_calibration(step: str) -> str:
    """A step without a calibration."""
    return f"{step} cannot be measured here yet: type its value in."


def no_reading(run_id: int, reading_id: int) -> str:
    """A reading that is not there."""
    return f"Run {run_id} has no reading {reading_id}."


def removed_said(run_id: int, setup: str) -> str:
    """A run on a setup that was removed."""
    return f"The setup of run {run_id}, {setup}, was removed. Leave the run; its readings are kept."


def decided_already_said(run_id: int, person: str, at: str) -> str:
    """A run that was decided."""
    return f"Run {run_id} was decided by {person} on {at}. Start a new run to measure again."


def left_already_said(run_id: int) -> str:
    """A run that was left."""
    return f"Run {run_id} was left. Start a new one."


def still_open_said(run_id: int) -> str:
    """A step that has an open run already."""
    return f"Run {run_id} of this step is still open. Go on with it, or leave it first."


def wrong_tool_said(tool: str) -> str:
    """A tool that cannot read this."""
    return f"{tool} cannot read this: choose another tool."


def needs_tool_said(kinds: str) -> str:
    """A way for which there is no tool."""
    return f"Needs a {kinds}: add one below."


def line_said(line: int, text: str, problem: str) -> str:
    """What is wrong with one line of a list."""
    return f"Line {line}, {text}: {problem}"


def place_taken_said(label: str, text: str, person: str, typed: str, asked: str) -> str:
    """A number for a place that somebody else has read meanwhile; ``asked``: the place that is next, "" if none is."""
    said = f"{label} has been read meanwhile: {text}, by {person}."
    return (
        f"{said} If {typed} was read at {asked}, Enter takes it there." if asked else f"{said} Nothing is left to read."
    )


def no_place_said(place: str) -> str:
    """A place that the piece of a run does not have."""
    return f"This piece has no place {place}."


def cannot_decide_said(title: str, sentence: str) -> str:
    """Readings on which nothing can be decided."""
    return f"{title}. {sentence} Nothing can be decided on these readings."


def refused_file_said(why: str) -> str:
    """A file that must not be written."""
    return f"This file cannot be written: {why}."


def decided_said(person: str, at: str, *, applied: bool) -> str:
    """Who decided, and when."""
    return f"{'Applied' if applied else 'Kept'} by {person} on {at}."


def other_form_since_said(machine: str) -> str:
    """A number that cannot be entered any more."""
    return f"{machine} keeps its setting in a different form since: this number cannot be entered there."


def to_set_said(where: SetAt, name: str, setting: str, unit: str) -> str:
    """Where a value is set."""
    number = f"{name[:1].lower()}{name[1:]} {setting} {unit}".rstrip()
    match where:
        case SetAt.SLICER:
            return f"Type in, and tick on the bench: {number}."
        case SetAt.MACHINE:
            return f"Set at the machine: {number}."
        case SetAt.DRAWING:
            return f"For the next part you draw: {number}."
    return f"On record, nothing to set: {number}."


def no_such_band_said(count: int) -> str:
    """A band that a tower does not have."""
    return f"This tower has {count} bands."


def no_such_rating_said(most: int, best: int) -> str:
    """A rating that a scale does not have."""
    return f"A rating is 0 to {most}." if most <= best else f"There are {most} crossings in a band."


def no_such_step_said(steps: str) -> str:
    """A step by which the machine is not moved."""
    return f"Move it by {steps} mm, up or down."


def left_said(state: str, counted: int, asked: int) -> str:
    """A run without a decision."""
    return "Left undecided" if state == "left" else f"Open, {counted} of {max(counted, asked)} readings"


def outcome_said(number: str, unit: str, kept: str | None) -> str:
    """What was applied; ``kept``: what was in use before, None where nothing was."""
    return f"Applied {number} {unit}".rstrip() if kept is None else f"Applied {number}, was {kept}"


def not_possible_said(name: str, number: float, why: str) -> str:
    """A result that nobody could type in."""
    return f"{name} of {number:.4g} cannot be: {why}. Something before it is wrong; keep what is set, and look there."


def stages(*, rated: bool) -> list[tuple[str, str, float]]:
    """What is done in turn with a piece that is printed: key, name, and when to look whether it is over [s]."""
    return [
        ("file", "Take the file", 0.0),
        ("print", "Print it", 0.0),
        ("cool", "Let it cool", PIECE_COOLS_S),
        ("read", "Rate it" if rated else "Measure it", 0.0),
        ("decide", "Decide", 0.0),
    ]


PATCHES_READ: Final = (
    "Patches were read already: they were printed with the offset before. Type the new one in on the bench."
)


def by_eye_said(run_id: int) -> str:
    """Where an offset comes from that was found on a pad, by eye."""
    return f"By eye on the pad of run {run_id}."


def taken_back_said(run_id: int) -> str:
    """Why a revision was gone back to."""
    return f"What run {run_id} had decided was taken back."
