"""What is said of faults: what people see, what may be behind it, how to look, and what mends it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from ubrex.core.attempts import Qualified
from ubrex.core.chain import KINDS, Kind, Step
from ubrex.server.words.causes import CAUSES, COMPLAINTS, FOUND, REMEDIES
from ubrex.server.words.looks import ANSWERS, QUESTIONS
from ubrex.server.words.numbers import NBSP, plain
from ubrex.server.words.standing import STEP_NAMES

STATES: Final = {
    "as_it_stands": "as it stands",
    "cold": "cold",
    "hot": "hot",
    "prints": "prints something",
    "dry": "hours in the dryer",
    "record": "from the record",
}

WHERE: Final = "Where on the part"

MENDED: Final = "mended"

FIELDS: Final = ((0.03, "set aside"), (0.20, "possible"), (0.55, "likely"), (0.85, "most likely"), (2.0, "nearly sure"))
"""Odds in words, up to which share."""

NOTHING_YET: Final = "usual for this, nothing looked at yet"

NOTHING_TOLD: Final = "nothing that was looked at says much of it"

OFF_LIST: Final = "None of these fits well. Show somebody what is known; a photo of what you see helps most."

CLOSED: Final = "Closed."

NO_SUCH: Final = "There is no such answer."

NOT_OPEN: Final = "This case is closed. Open it again first."

EMPTY_CAUSE: Final = "Say what it was."

RESULTS: Final = {"no change": "no change", "better": "better, not gone", "gone": "gone"}


def answer_text(answer: str) -> str:
    """An answer as it is read."""
    return ANSWERS.get(answer, answer)


def field_said(share: float) -> str:
    """Odds in words."""
    return next(word for most, word in FIELDS if share < most)


def place_of(share: float) -> float:
    """Where odds stand on a scale whose fields are as wide as each other: 0 to 1; *nearly sure* ends the last one."""
    limits = [0.0, *(most for most, _ in FIELDS[:3]), 1.0]
    at = next(place for place in range(4) if share <= limits[place + 1])
    return (at + (share - limits[at]) / (limits[at + 1] - limits[at])) / 4


def tenths_said(share: float) -> str:
    """Odds in tenths, never as a bare per cent."""
    tenths = round(10 * share)
    return {0: "less than 1 in 10", 10: "more than 9 in 10"}.get(tenths, f"about {tenths} in 10")


def reason_said(what: str, answer: str) -> str:
    """A finding, or a remedy that was tried, as a reason."""
    if what in REMEDIES:
        return f"{REMEDIES[what][0].lower()}: {RESULTS[answer]}"
    return f"{QUESTIONS[what].rstrip('?').lower()}: {answer_text(answer)}"


def because_said(pro: Sequence[str], con: Sequence[str], *, looked: bool) -> str:
    """Why a cause stands where it stands; ``looked``: whether anything was found at all."""
    if not pro and not con:
        return NOTHING_TOLD if looked else NOTHING_YET
    parts = [f"because {'; '.join(pro)}"] if pro else []
    parts += [f"speaks against it: {'; '.join(con)}"] if con else []
    return ". ".join(parts)


def check_verdict(first: str, second: str, minutes: float) -> str:
    """Look once more, and what that would tell apart."""
    return f"Look once more: {plain(minutes)}{NBSP}min would tell “{first}” from “{second}”."


def try_verdict(remedy: str, share: float, *, unsure: bool) -> str:
    """What to try."""
    if unsure:
        return f"Not sure, but cheap: {remedy}."
    return f"Try this: {remedy}. That it is this, {tenths_said(share)}."


def then_said(seen: str) -> str:
    """What must be seen before it counts."""
    return f"Only then: {seen}."


def reopened_said(closed: str, again: str, cause: str, note: str) -> str:
    """A case that came again, with what was noted then."""
    return f"Closed on {closed} as “{cause}”. {came_again_said(again, note)}"


def came_again_said(again: str, note: str) -> str:
    """What was gone with a remedy, and is not."""
    return f"It came again on {again}{_noted(note)}. What was gone was not cured."


def seen_again_said(again: str, note: str) -> str:
    """What was there all along."""
    return f"Seen again on {again}{_noted(note)}."


def _noted(note: str) -> str:
    return f": “{note}”" if note else ""


def closed_before_said(closed: str, cause: str) -> str:
    """The same on a machine with another setup."""
    return f"The same on this machine was closed on {closed} as “{cause}”, with another setup."


def mended_said(cause: str) -> str:
    """A case that was closed, on the timeline of its machine."""
    return f"Fault: {CAUSES[cause].lower()}"


def cure_note(remedy: str | None, note: str) -> str:
    """What mended it, and what was noted."""
    return ". ".join(part for part in (mend_said(remedy), note) if part)


def mend_said(remedy: str | None) -> str:
    """What mends something that was found."""
    return "" if remedy is None else REMEDIES[remedy][0]


def found_said(key: str, *, mended: bool) -> str:
    """Something found on the way, as an answer."""
    return f"{'Mended' if mended else 'Found on the way'}: {FOUND[key].text.lower()}"


def hold_found_said(text: str) -> str:
    """What was found and holds the next job."""
    return f"{text}: found on this machine and not mended. Nothing heats before it is."


def dry_said(*, dry: bool) -> str:
    """Whether the spool counts as dry."""
    return (
        "The spool counts as dry" if dry else "Longer since drying than this family stands, or it was heard to be wet"
    )


def left_said(left: str, full: str) -> str:
    """What is left on a spool."""
    return f"About {left} of {full}{NBSP}g left on the spool"


def filled_said(filament: str, when: str) -> str:
    """Particles went through the nozzle."""
    return f"{filament} went through this nozzle, {when}"


def before_said(filament: str, when: str) -> str:
    """What was printed before."""
    return f"{filament} was printed through it before, {when}"


def same_there_said(machine: str, when: str) -> str:
    """The same trouble with the same spool elsewhere."""
    return f"{machine} has the same trouble with this spool, {when}"


def good_there_said(machine: str, when: str) -> str:
    """The same spool prints well elsewhere."""
    return f"This spool printed well on {machine}, {when}"


def file_said(name: str, differs: Sequence[str]) -> str:
    """What the checked file of the attempt says."""
    return f"{name}: {'; '.join(differs)}" if differs else f"{name} says tonight's numbers"


def melt_said(asked: str, most: str) -> str:
    """The fastest line that is set, against what was measured."""
    return f"The fastest line asks for {asked} of {most}{NBSP}mm³/s"


def pull_said(number: str, *, far: bool) -> str:
    """How far it is pulled back."""
    return f"Retraction {number}{NBSP}mm: {'farther than' if far else 'within what'} this feed path takes"


def title_said(complaint: str, machine: str) -> str:
    """A case in a list."""
    return f"{machine}: {COMPLAINTS[complaint][0].lower()}"


def unchanged_said(finding: str, since: str) -> str:
    """Nothing of a kind was written down since it was good."""
    return f"{QUESTIONS[finding].rstrip('?')}: nothing written down since {since}"


def jams_said(count: int) -> str:
    """Stops within two weeks."""
    return f"{count} blockages written down in the two weeks before"


def stands_said(step: Step, *, is_sound: bool) -> str:
    """How a row of the chain stands."""
    return f"{STEP_NAMES[step]} {'was measured and stands' if is_sound else 'is stale or was never measured'}"


def within_said(kind: Kind, number: str) -> str:
    """A value that is usual."""
    return f"{KINDS[kind].name} {number}: within what is usual"


def outside_said(kind: Kind, number: str, low: str, high: str) -> str:
    """A value that is not."""
    return f"{KINDS[kind].name} {number}: outside {low} to {high}"


def room_said(celsius: str, *, draught: bool, when: str) -> str:
    """The room as it was read last."""
    return f"Room {celsius}{NBSP}°C{', in a draught' if draught else ''}, {when}"


def work_note(remedy: str, complaint: str) -> str:
    """Why work was done, in its log."""
    return f"{remedy}. Because: {complaint[0].lower()}{complaint[1:]}."


def watch_said(found: Qualified, prints: int, failed: int) -> str:
    """Gone is not cured: how often it may still come, by the prints since."""
    if found.upper_95 is None:
        return "Gone, and not proven yet: watch it through the next prints, and stay with the first."
    if failed:
        return f"{failed} of {prints} prints since did not work: look whether it is the same."
    said = (
        f"Not seen for {prints} {'print' if prints == 1 else 'prints'}: {tenths_said(found.upper_95)} may still fail."
    )
    return said if found.verdict == "qualified" else f"{said} Watch it."
