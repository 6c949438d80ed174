"""What is said of attempts at a part: settings of a trial, series, plans, what is looked at again."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from ubrex.core.attempts import Factor, Qualified
from ubrex.core.chain import KINDS, Kind
from ubrex.core.quantity import decimal_text
from ubrex.server.words.numbers import NBSP, plain, signed, unit_text

COUNTS: Final[Mapping[str, tuple[str, str]]] = {
    "stringing": ("Strings counted", ""),
    "lift": ("Corner up by", "mm"),
    "bridging": ("Sags by", "mm"),
    "foot": ("Foot wider by", "mm"),
}
"""Signs that can be counted or measured: what is said before the number, and its unit."""

FITS: Final = {"free": "runs free", "snug": "snug", "filing": "needs filing", "no": "does not go"}

TRIED: Final = "tried"
WORKS: Final = "Does it work?"
STOPPED: Final = "Stopped at"
FILE: Final = "File"
NO_SUCH_FILE: Final = "That file was not checked on this setup."
REMIND: Final = "The reminder"
REMIND_WHY: Final = "in 1 minute to 14 days"
BEGUN_ENDED: Final = "That attempt prints no more."
REVISION: Final = "Part revision"
DRY: Final = "Since drying"
SCALE_WHY: Final = "0 to 1000 can be counted on a part"
LAYER_WHY: Final = "layers are counted from 1"
HEIGHT_WHY: Final = "a part is 0.05 to 2000 mm high"
FROM_WHY: Final = "say from which height in mm on: 0.1 to 2000"
FROM_LAYER_WHY: Final = "say from which layer on: 2 to 20 000"
NO_LAYERS: Final = "Layer heights are not set here: say the height in mm."
DAYS_WHY: Final = "in 1 to 1000 days"
AT_WHAT: Final = "What to look at"
EMPTY_LOOK: Final = "Say what to look at again: stains, warp, creep."
WEIGHT_WHY: Final = "parts weigh 0.01 g to 20 kg"
NO_SUCH_COUNT: Final = "Only strings, corners, sags and the foot are counted."
TWICE: Final = "The same setting twice: say it once."
NO_SUCH_PLACE: Final = "That print is not in the plan, or was made already."
ENDED: Final = "That was put back or kept already."
LOOKED: Final = "Somebody has looked already."
ONLY_WHOLE: Final = "Only what holds for the whole print can be kept as a value."
NEEDS_NUMBERS: Final = "Three to six numbers, apart by a blank: 200 205 210."
NEEDS_TWO: Final = "Two numbers for each setting, the lower first: 200 210."
NEEDS_THREE: Final = "Choose three settings."
NEEDS_ONE: Final = "Choose one setting."
SAME_TWICE: Final = "Each setting, and each number, once."
NOTHING_YET: Final = "Three attempts that differ are needed before a series says anything."
NOT_RATED: Final = "Nobody rated three of these attempts for this."


SMALLER: Final[Mapping[str, str]] = {
    "stringing": "two posts tell as much: a retraction tower.",
    "blobs": "corners and seams of a single wall tell as much: a retraction tower, or a box of one wall.",
    "surface": "stop when the wall that matters is high enough to judge.",
    "seam": "one wall with its seam tells as much: two seams side by side.",
    "overhang": "two sides that lean out tell as much: a temperature tower, or two ways to cool.",
    "bridging": "one span tells as much: a temperature tower has one in every band.",
    "bond": "a tab to snap tells as much: a temperature tower has one in every band.",
    "lift": "corners lift in the first layers: stop at 5 mm, the answer is in.",
    "foot": "the first millimetre tells: stop at 2 mm and take it off.",
}
"""The smallest piece that answers what is judged, by sign."""


def reach_said(reach: str, from_mm: float | None) -> str:
    """Where in a print a setting held, after its name; nothing where it held for all of it."""
    at = "" if from_mm is None else f"{plain(from_mm)}{NBSP}mm"
    return {"all": "", "first": ", first layers", "above": f", from {at} up", "once": f", changed at {at}"}[reach]


def change_on_the_way_said(name: str, text: str, unit: str, from_mm: float, layer: int | None) -> str:
    """What is to be changed while an attempt prints, and where."""
    at = f"{plain(from_mm)}{NBSP}mm" + ("" if layer is None else f", layer {layer}")
    return f"{name} to {text} {unit_text(unit)}".rstrip() + f" at {at}"


def file_differs_said(name: str, in_file: str, set_here: str) -> str:
    """A number of a file that is not the one set here."""
    return f"{name}: {in_file} in the file, {set_here} in the profile" if set_here else f"{name}: {in_file} in the file"


def file_too_much_said(file: str, name: str) -> str:
    """A file that asks for what the machine may not."""
    return f"{name} in {file} is beyond what this setup may now. Take no file, and say in the note what was set."


def kept_note(what: str) -> str:
    """Why a value is what it is, kept from a trial."""
    return f"kept from an attempt at {what}"


def trial_remark(otherwise: str) -> str:
    """Beside one of tonight's numbers that is set for a trial alone."""
    return f"for this trial only, {otherwise} otherwise" if otherwise else "for this trial only"


def stopped_said(layer: int | None, height_mm: float | None) -> str:
    """Where a print was stopped."""
    parts = [] if layer is None else [f"layer {layer}"]
    parts += [] if height_mm is None else [f"{plain(round(height_mm, 2))}{NBSP}mm"]
    return ", ".join(parts)


def count_said(key: str, number: float) -> str:
    """A sign as it was counted."""
    name, unit = COUNTS[key]
    return f"{name}: {plain(number)}{NBSP}{unit}".strip()


def number_said(number: int) -> str:
    """An attempt by its number."""
    return f"attempt {number}"


def factor_said(one: Factor) -> str:
    """What a setting did over a series."""
    size = f"{signed(one.effect, 1)}, {signed(one.low, 1)} to {signed(one.high, 1)}"
    shared = f" Not to be told from {' and '.join(one.shared_with)}: they moved together." if one.shared_with else ""
    said = {
        "probably_helped": f"more of it probably helped ({size})",
        "probably_hurt": f"more of it probably hurt ({size})",
        "cannot_tell": f"cannot tell ({size})",
    }[one.verdict]
    return f"{said}.{shared}"


def word_factor_said(one: Factor) -> str:
    """The same of something that has no more and less."""
    return factor_said(one).replace("more of it ", "")


def series_said(count: int, sure: int) -> str:
    """What a whole series comes to."""
    if sure == 0:
        return f"Over {count} attempts nothing stands out: no single change is to be praised or blamed yet."
    return f"Over {count} attempts {sure} of the changes {'stands' if sure == 1 else 'stand'} out."


def counts_said(key: str, before: float, after: float, *, real: bool | None) -> str:
    """What was counted in two attempts, and whether that is more than chance."""
    worth = "" if real is None else (", real" if real else ", may be chance")
    return f"{COUNTS[key][0]}: {plain(before)} to {plain(after)}{worth}."


def qualified_said(found: Qualified, prints: int, failed: int) -> str:
    """How far a part can be relied on with the settings it has now."""
    if found.upper_95 is None:
        return "Not printed to the end with these settings yet."
    went = "none failed" if failed == 0 else f"{failed} failed"
    still = f"it may still fail up to {100 * found.upper_95:.0f} % of the time"
    said = f"{prints} {'attempt' if prints == 1 else 'attempts'} with these settings, {went}: {still}."
    if found.verdict == "qualified":
        return f"Qualified. {said}"
    if found.verdict == "failing":
        return f"{said} That is too often to be chance: find out why."
    more = found.clean_prints_needed
    return said if more is None else f"{said} Mended is a word for {more} more without a failure."


def look_said(at_what: str, what: str, when: str, *, due: bool) -> str:
    """What is to be looked at again."""
    return f"{at_what} on {what}: {'due since' if due else 'look on'} {when}"


def looked_said(at_what: str, outcome: str) -> str:
    """What was found when somebody looked again."""
    return f"{at_what}: {'still good' if outcome == 'good' else 'not good'}"


ONE_NAME: Final = "One setting, in random order"
DESIGN_NAMES: Final = {
    "one": ONE_NAME,
    "3in4": "Three settings in four prints",
    "3in8": "Three settings in eight prints",
}
CONFOUNDED: Final = "In four prints each setting cannot be told from the other two working together; eight prints can."


def planned_said(place: int, count: int, what: str) -> str:
    """Which print of a series is next."""
    return f"Print {place} of {count} of the series: {what}"


def missing_said(missing: int) -> str:
    """How far a plan is."""
    return f"{missing} {'print' if missing == 1 else 'prints'} of the series not made or not rated yet."


def best_said(what: str, predicted: float) -> str:
    """The best corner of a design."""
    return f"Best of what was tried: {what}, about {plain(round(min(4.0, max(0.0, predicted)), 1))} of 4."


def effect_said(name: str, effect: float, half: float | None, *, real: bool | None) -> str:
    """What one setting of a design did, from its lower to its higher number."""
    size = f"{signed(effect, 1)}" + ("" if half is None else f" {chr(177)}{NBSP}{plain(round(half, 1))}")
    if real is None:
        return f"{name}: {size}; without repeats nobody knows how much of that is scatter."
    return f"{name}: {size}, {'real' if real else 'may be chance'}."


_REASONS: Final = {
    Kind.NOZZLE: "their displays, blocks and speeds differ",
    Kind.NOZZLE_FIRST: "their displays, blocks and speeds differ",
    Kind.BED: "plates and where their sensors sit differ",
    Kind.BED_FIRST: "plates and where their sensors sit differ",
    Kind.RETRACTION: "the way from gear to nozzle differs in length and slack",
    Kind.RETRACTION_SPEED: "gear and tube differ",
    Kind.FLOW: "e-steps and the hold of the gear differ",
    Kind.PRESSURE: "the way from gear to nozzle differs",
    Kind.TOP_FLOW: "hotends melt differently much",
    Kind.Z_OFFSET: "each probe and plate has its own",
    Kind.FAN: "ducts and fans differ",
}


def elsewhere_said(kind: Kind, name: str, one: str, here: str, other: str, there: str) -> str:
    """Why the same part has other numbers on another machine."""
    why = _REASONS.get(kind)
    said = f"{name}: {here} on {one}, {there} on {other}"
    return f"{said}, likely because {why}." if why else f"{said}."


def tried_said(kind: Kind, number: float, unit: str, reach: str, from_mm: float | None) -> str:
    """A setting that was another in one attempt, with its number."""
    number_text = f"{decimal_text(number, KINDS[kind].places)} {unit_text(unit)}".strip()
    return f"{KINDS[kind].name}{reach_said(reach, from_mm)} {number_text}"
