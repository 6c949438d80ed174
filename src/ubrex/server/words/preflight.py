"""The card before a print: eight ticks, two minutes, the same every time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Final

from ubrex.core.chain import KINDS, Kind, Unattended
from ubrex.core.materials import Drying, Dryness, Enclosure, Family
from ubrex.server.words.inventory import left_said
from ubrex.server.words.numbers import DASH, NBSP, ago, day, plain, unit_text


@dataclass(frozen=True, slots=True)
class Tick:
    """One thing to see to; ``lead`` is read at a glance."""

    lead: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Scene:
    """What a card depends on."""

    family: Family
    spool: str
    numbers: str
    plate: str
    adhesive: str
    adhesive_purpose: str
    dried: str
    dryness: Dryness
    fan: float | None
    bridges: float | None
    enclosure: str
    draught: bool
    room: str
    left: str
    alone: str


_SOAKS = {Enclosure.NEEDED, Enclosure.HEATED}
_STICKS_TOO_WELL = {"petg", "copolyester", "tpu", "pc"}


def ticks(scene: Scene) -> Sequence[Tick]:
    """The eight ticks of a setup, in the order in which they are done."""
    return (
        Tick("Spool and profile.", f"{scene.spool} is on, and the sliced file says {scene.numbers}."),
        Tick("Plate.", f"{scene.plate}. Clean and cold to the eye, no finger marks."),
        Tick("Adhesive.", _adhesive(scene)),
        Tick("Dry.", _dry(scene)),
        Tick("Soak and prime.", _soak(scene)),
        Tick("Fan.", _fan(scene)),
        Tick("Brim, door, room.", _door(scene)),
        Tick(
            "Enough, checked, stay.",
            f"{_capital(scene.left)}. The file was looked through; somebody stays for the first layers. {scene.alone}",
        ),
    )


def _capital(text: str) -> str:
    return f"{text[:1].upper()}{text[1:]}"


def _adhesive(scene: Scene) -> str:
    if scene.adhesive and scene.adhesive_purpose != "none":
        return f"{scene.adhesive}, to {scene.adhesive_purpose}."
    if scene.family.key in _STICKS_TOO_WELL:
        return f"{scene.family.name} can weld itself to a bare smooth sheet: put a release agent between."
    return "None in use. A brim or glue if corners lifted last time."


def _dry(scene: Scene) -> str:
    row = scene.family
    how = "as its maker says"
    if row.dry_c is not None and row.dry_h is not None:
        how = f"{plain(row.dry_c.low)}{NBSP}°C for {plain(row.dry_h.low)}{NBSP}h or as its maker says"
    if scene.dryness is Dryness.WET:
        return f"Wet: it popped and was not dried since. Dry it first, {how}."
    if row.dry_always and scene.dryness is not Dryness.DRY:
        return f"{scene.dried}. {row.name} always wants drying, new and sealed too: {how}."
    return f"{scene.dried}. Feed 50 mm in air: silent and smooth, carry on; pops or steam mean dry it first, {how}."


def _soak(scene: Scene) -> str:
    if scene.family.enclosure in _SOAKS:
        soaked = f"Bed hot, nozzle at 150{NBSP}°C or below, door shut, 20{DASH}30{NBSP}min"
        return f"{soaked}; nozzle up in the last 3 minutes; primed."
    return "Bed at its heat for a few minutes, nozzle up last, a line primed beside the part."


def _fan(scene: Scene) -> str:
    """The fan of this profile where it has one; what is usual for the family where not."""
    row = scene.family
    bridges = "" if scene.bridges is None else f"; {plain(scene.bridges)}{NBSP}% over bridges"
    if scene.fan is not None:
        then = "off, all the way" if scene.fan == 0 else f"then {plain(scene.fan)}{NBSP}%"
        return f"Off for the first 1{DASH}3 layers, {then}{bridges}."
    if row.fan is None:
        return f"Not set: as the label says; off for the first layers{bridges}."
    if row.fan.high == 0:
        return f"Not set: off, all the way, is usual{bridges}."
    usual = plain(row.fan.low) if row.fan.low == row.fan.high else f"{plain(row.fan.low)}{DASH}{plain(row.fan.high)}"
    return f"Not set: off for the first 1{DASH}3 layers, then {usual}{NBSP}% is usual{bridges}."


def _door(scene: Scene) -> str:
    """Brim, door and air, as this machine has them."""
    air = f" The room was read at {scene.room}." if scene.room else ""
    draught = " The room was draughty then: shut it out first." if scene.draught else " No draught on the bed."
    closed = scene.enclosure != "none"
    match scene.family.enclosure:
        case Enclosure.NEEDED | Enclosure.HEATED:
            door = "door shut, room aired outside it" if closed else "no enclosure here: expect lifted corners"
            said = f"Brim of 10{DASH}15 lines for wide parts; {door}."
        case Enclosure.OPEN if closed:
            said = "Door open or off: this filament jams in warm air."
        case _:
            said = "Brim where the foot is small."
    return said + air + draught


NO_SPOOL: Final = "this setup names no spool: weigh the one that is on, need and a reserve have to be on it"

_LACKS: Final = {
    Unattended.FREE: "something holds what heats",
    Unattended.TESTED: "nobody tested that it stops heating when its sensor fails",
    Unattended.FAN: "nobody has looked at the heat-sink fan since the card was due",
    Unattended.FILE: "its file has to be checked here and found harmless",
}


def alone_said(lacks: Sequence[Unattended]) -> str:
    """Whether it may print with nobody near, and what keeps it from that."""
    if not lacks:
        return "Unattended: possible, with a smoke alarm overhead and nothing near that burns."
    return f"Unattended: no, {' and '.join(_LACKS[one] for one in lacks)}."


def spool_said(filament: str, spool: str | None) -> str:
    """What is on."""
    return filament if spool is None else f"{filament}, spool {spool},"


def hold_said(danger: str) -> str:
    """What comes before everything that heats."""
    return f"Hold. {danger}"


def first_job_said(done: str) -> str:
    """The first job after work on the machine."""
    return f"{_capital(done)}: this is the first job after. Stay for all of it."


def number_said(kind: Kind, number: str, why: Sequence[str]) -> str:
    """A number by its name, and what is against it."""
    because = f" ({'; '.join(why)})" if why else ""
    return f"{KINDS[kind].name.lower()} {number}{NBSP}{unit_text(KINDS[kind].unit.value)}{because}"


def not_good_said(word: str, numbers: Sequence[str]) -> str:
    """Numbers that the bench does not let pass, and its word for them."""
    return f"{word}, so not to be read out as good: {', '.join(numbers)}."


def heat_said(kind: Kind, first_c: float | None, rest_c: float | None, bias_c: float) -> str:
    """A temperature as it is set, first layer and rest, and as it really is where that is known to differ."""
    name = "nozzle" if kind is Kind.NOZZLE else "bed"
    shown = [plain(round(number, 1)) for number in (first_c, rest_c) if number is not None]
    said = shown[0] if len(set(shown)) == 1 else f"{shown[0]}, then {shown[1]}"
    real = "" if bias_c == 0 or rest_c is None else f", really {plain(round(rest_c - bias_c, 1))}"
    return f"{name} {said}{NBSP}°C{real}"


def unset_said(kind: Kind, usual: str) -> str:
    """A temperature that nobody set."""
    return f"{'nozzle' if kind is Kind.NOZZLE else 'bed'} nothing, since none is set here ({usual or 'see the label'})"


def joined(rows: Sequence[str]) -> str:
    """Two clauses as one."""
    return " and ".join(rows)


def plate_said(surface: str | None, washed: str | None, prints: int) -> str:
    """The plate, when it was washed, and how much was printed on it since."""
    when = "washed, nobody noted when" if washed is None else f"washed {washed}"
    count = "" if prints == 0 else f", {prints} print{'s' if prints > 1 else ''} since"
    return f"{surface or 'The plate'}, {when}{count}"


def dried_said(hours: float | None) -> str:
    """When it was dried last."""
    return "No drying that counts was noted" if hours is None else f"Dried {hours_said(hours)}"


def left_on_said(left_g: float, printed_g: float) -> str:
    """What is on a spool that was weighed."""
    return f"{left_said(left_g, printed_g)} are on the spool: what it takes and a reserve have to be less"


MECHANICS: Final = (
    "Frame screws tight; belts tensioned alike; wheels and guides without play; hotend not rocking; grub screws on their "
    "flats; gear clean and tensioned; feed path free by hand; nozzle sealed; liner without a gap. Switched off and cold."
)
"""What is looked at before anything is tuned (job, section 3, *before*)."""

WET_TEST: Final = (
    "Feed 50 mm into the air: a smooth, silent strand is dry. Pops, steam or bubbles: dry it until 2 h more take no "
    "more than 1 g off the spool."
)


def mechanics_said(days: float | None) -> str:
    """When the mechanics were gone through."""
    return "Mechanics: not looked at" if days is None else f"Mechanics: gone through {ago(days)}"


_FILAMENT: Final = {
    Dryness.DRY: "dry",
    Dryness.UNTESTED: "not listened to",
    Dryness.OVERDUE: "dried too long ago",
    Dryness.NEVER_DRIED: "silent, and not dried",
    Dryness.WET: "wet",
}


def filament_said(state: Dryness, hours: float | None) -> str:
    """How dry the filament is, and how many hours since it was dried."""
    since = "" if hours is None else f", dried {hours_said(hours)}"
    return f"Filament: {_FILAMENT[state]}{since}"


def hours_said(hours: float) -> str:
    r"""How long ago, in hours while that means something.

    >>> hours_said(5.4), hours_said(100)
    ('5\xa0h ago', '4\xa0days ago')
    """
    return f"{hours:.0f}{NBSP}h ago" if hours < HOURS_SHOWN else f"{hours / 24:.0f}{NBSP}days ago"


HOURS_SHOWN: Final = 96.0
"""Up to here a drying is told in hours: thirsty filament counts them."""


def found_said(days: float) -> str:
    """What the wet test is, and when it was done last."""
    return f"Found {ago(days)}. {WET_TEST}"


def gone_through_said(days: float | None) -> str:
    """When the safety card was gone through."""
    return "nobody has gone through this card yet" if days is None else f"gone through {ago(days)}"


def waits_said(steps: Sequence[str], asked: Drying | None) -> str:
    """What waits for dry filament, and how it is dried."""
    how = "as its maker says"
    if asked is not None:
        how = f"at {plain(asked.celsius.low)} °C for {plain(asked.hours.low)} h or more"
    return (
        f"{', '.join(steps)} wait until the filament is dry: {how}, until 2 h more take no more than 1 g off the spool."
    )


def wet_test_said(state: Dryness, asked: Drying | None) -> str:
    """Why a run opens with the wet test; where listening is not enough, that it has to be dried all the same."""
    dry = "Dry it as its maker says"
    if asked is not None:
        dry = f"Dry it at {plain(asked.celsius.low)} °C for {plain(asked.hours.low)} h, or as its maker says"
    if state is Dryness.NEVER_DRIED:
        return (
            "No drying of this spool that counts is noted here, and its family drinks more than ears can tell: silent is "
            f"not dry. {dry}, then write it down on the spool’s log."
        )
    return (
        "Feed 50 mm into the air, hot, before anything is printed. Smooth and silent: go on. Pops, bubbles or steam: it is "
        f"wet, and what is measured then is the water. {dry}, then test again."
    )


def heard_said(kind: str, number: float, at: datetime) -> str:
    """What was found on a spool last, and when."""
    if kind == "dried":
        return f"dried {plain(number)} h, {day(at)}"
    return f"{'silent' if number == 0 else f'{plain(number)} pops'}, {day(at)}"
