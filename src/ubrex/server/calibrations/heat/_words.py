"""What is said of a heat check."""

from __future__ import annotations

from datetime import datetime
from typing import Final

from ubrex.core.heat import HeatProbe, HeatPush, HeatVerdict
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import NBSP, day, plain, plus_minus

PROBE: Final = MethodWords(
    name="With a probe",
    short="a probe in the hotend",
    why=(
        "What is really there, against what the display shows. Every temperature of a label or a tower is read off that "
        "display.",
    ),
    procedure=(
        "Cold: take the filament out, and pass the probe's wire where nothing pulls at it. Never onto mains parts.",
        "Seat the tip: in the melt is best, in the dry bore next, on the block last; say which: it decides what can be "
        "believed.",
        "Set the first temperature. Once the display stands still there, wait two minutes more, then read the probe.",
        "A minute later read it once more. Then the next temperature.",
        "Afterwards take the probe out while it is hot enough to come out by itself, and let all of it cool.",
    ),
    reads="the probe",
    slips=("display not still yet", "fan blew on the probe", "probe slipped out", "read in Fahrenheit"),
)
CONTACTS: Final = {"2": "In the melt", "4": "In the dry bore", "8": "On the block"}
CONTACT: Final = "Where the probe sits"
CONTACT_HINT: Final = (
    "It reads low by up to 2, 4 or 8 % of what it is above the room: nearer the melt, more can be believed."
)
ROOM: Final = "Room"


def room_hint(last_c: float | None, read_at: datetime | None) -> str:
    """What a thermometer shows now is asked for; what was read last is only said."""
    now = "What a thermometer beside the machine shows now"
    return (
        f"{now}." if last_c is None or read_at is None else f"{now}; last read on {day(read_at)}: {plain(last_c)} °C."
    )


COLD: Final = "The cold machine shows"
COLD_HINT: Final = (
    "Left empty where it is warm already. A cold sensor that shows something else than the room is the wrong kind."
)
SETS: Final = "Set to, one after the other"
SETS_HINT: Final = "Three over the range you use, 50 apart or more: 150; 200; 250."
SETS_WRONG: Final = "Type one to five temperatures from 100 °C up to the limit, apart by semicolons: 150; 200; 250."
SECOND: Final = "Is it a second test?"
SECONDS: Final = {
    "first": "The first one", "reseated": "Second, the same probe seated again", "other": "Second, another probe",
    "push": "Second, after a push of filament",
}  # fmt: skip
SECOND_HINT: Final = "Nothing is corrected before a second, independent test agrees with the first."
NO_FIRST: Final = "There is no first test of this hotend to confirm: begin with one."
CHOOSE: Final = "Choose one of the answers."
IMPOSSIBLE: Final = "is nothing a probe reads in a hotend that shows that."
LIMIT: Final = (
    "A probe that touches worse than was said confirms itself: check it with the push of filament before going hotter."
)


def reads_said(shown_c: float, number: int) -> str:
    """What is read next."""
    once = "" if number == 1 else ", once more"
    return f"the probe, display at {plain(shown_c)}{NBSP}°C{once}"


def sets_said(sets: list[float]) -> str:
    """The temperatures that are set."""
    return "; ".join(plain(celsius) for celsius in sets)


def really_said(at_c: float, bias_c: float, half_c: float) -> str:
    """What is really there when the display shows a temperature."""
    really = f"{decimal_text(at_c + bias_c, 0)} {plus_minus(half_c)}{NBSP}°C"
    return f"When it shows {plain(round(at_c))}{NBSP}°C it is really {really}."


def title_said(verdict: HeatVerdict, at_c: float, bias_c: float) -> str:
    """The verdict in a few words."""
    match verdict:
        case HeatVerdict.FINE:
            return "The display can be believed"
        case HeatVerdict.SUSPECT:
            return "Suspect: seat the probe again"
        case HeatVerdict.CONFIRMED:
            return f"Confirmed: {plain(round(at_c))} is really {plain(round(at_c + bias_c))}"
        case HeatVerdict.SENSOR_TABLE_WRONG:
            return "The sensor table is wrong"
        case HeatVerdict.CONTRADICTED:
            return "The two tests disagree"
        case HeatVerdict.NOT_PROVEN:
            return "Not proven"
    return "These readings cannot tell"


def heat_said(found: HeatProbe, verdict: HeatVerdict, at_c: float, bias_c: float, half_c: float, set_c: float) -> str:
    """What the readings say, and what to do, in two sentences."""
    really = really_said(at_c, bias_c, half_c)
    match verdict:
        case HeatVerdict.FINE:
            return f"{really} That is no reason to correct anything."
        case HeatVerdict.SUSPECT:
            return (
                f"{really} Nothing is changed yet: leave this run, seat the probe again or take another, and test "
                "once more."
            )
        case HeatVerdict.CONFIRMED:
            return f"{really} For a true 205 set {plain(set_c)}{NBSP}°C."
        case HeatVerdict.NOT_PROVEN:
            return f"{really} Both tests together are not sure enough: nothing changes."
        case HeatVerdict.CONTRADICTED:
            return "They differ by more than both can be wrong: look how the probe sits, and test again."
        case HeatVerdict.SENSOR_TABLE_WRONG if found.reason == "wrong_when_cold":
            return (
                "Cold, it shows something else than the room: sensor or table is of another kind. Correct that first."
            )
        case HeatVerdict.SENSOR_TABLE_WRONG:
            return "The error grows with temperature: the sensor table or type looks wrong. Correct that first."
    return _REASONS.get(found.reason, f"{really} Read it again once everything stands still.")


_REASONS: Final = {
    "probe_in_fahrenheit": "The probe reads in Fahrenheit: switch it to °C, strike these and read again.",
    "implausible": "More than 40 °C off is no heat check: the probe does not sit where it should.",
    "not_settled": "The probe still moved: wait until both stand still, and read again.",
    "two_readings_per_temperature_needed": "Two readings at each temperature are needed.",
    "invalid_reading": "One reading is none of a hotend: strike it.",
}


def strip_said(count: int, bias_c: float, half_c: float) -> str:
    """The strip in words."""
    return f"{count} readings; true less shown {decimal_text(bias_c, 1)} {plus_minus(half_c)} °C."


def first_said(bias_c: float, half_c: float) -> str:
    """What the first test said."""
    return f"First test: {decimal_text(bias_c, 1)} {plus_minus(half_c)}{NBSP}°C."


PUSH: Final = MethodWords(
    name="By pushing filament, without a probe",
    short="filament pushed by hand",
    why=(
        "From where on filament runs freely, against the same filament and nozzle on a hotend you trust. It sees a wrong "
        "sensor, not a tuning difference: about 14 °C.",
    ),
    procedure=(
        "Open the drive gear so that your hand feels the nozzle. Eye protection; face not above the nozzle.",
        "Set the coolest temperature, wait two minutes, push a little with the same force each time, and say how it runs.",
        "Five degrees more, and again. Stop after two that run freely.",
        "Do the same with the same spool and nozzle on a hotend that was checked: this one is held against it.",
    ),
    reads="answers of 0 to 2",
)
PUSH_SECONDS: Final = {"first": "The first one", "probe": "Second, after a probe"}
FROM, TO = "Coolest", "Hottest"
FROM_HINT: Final = "Where it does not run yet; then every 5 °C."
REFERENCE: Final = "Where it ran freely on a hotend you trust"
REFERENCE_HINT: Final = "Same spool, same nozzle. Empty: this run only finds where it runs freely here."
NO_REFERENCE: Final = (
    "Without that there is nothing to confirm with: push the same filament on a hotend you trust first."
)
STEPS_WRONG: Final = "Four to sixteen steps of 5 °C: 15 to 75 °C between coolest and hottest."
PUSH_LIMIT: Final = "It rests on two hands and one spool: a probe sees three times as much."


def hottest_said(top_c: float) -> str:
    """Why a temperature is refused."""
    return f"this hotend is checked between 100 and {plain(round(top_c))} °C"


def push_title(found: HeatPush, verdict: HeatVerdict, bias_c: float) -> str:
    """What a push says, in a few words."""
    match verdict:
        case HeatVerdict.KNEE_ONLY:
            return f"It runs freely from {plain(round(found.knee_c or 0.0))}{NBSP}°C"
        case HeatVerdict.FINE:
            return "Nothing wrong that a push can show"
        case HeatVerdict.SUSPECT:
            return f"Suspect: really {plain(abs(round(bias_c)))}{NBSP}°C {'hotter' if bias_c > 0 else 'cooler'}"
        case HeatVerdict.CONFIRMED:
            return f"Confirmed: really {plain(abs(round(bias_c)))}{NBSP}°C {'hotter' if bias_c > 0 else 'cooler'}"
        case HeatVerdict.CONTRADICTED:
            return "The two tests disagree"
        case HeatVerdict.NOT_PROVEN:
            return "Not proven"
        case HeatVerdict.EXTEND_COOLER:
            return "It runs freely from the start"
        case HeatVerdict.EXTEND_HOTTER:
            return "It never runs freely"
    return "These answers cannot tell"


def push_said(verdict: HeatVerdict, bias_c: float, half_c: float) -> str:
    """What a push says, and what to do."""
    match verdict:
        case HeatVerdict.KNEE_ONLY:
            return "Type that where the same filament and nozzle are pushed on another hotend. Of this one it says nothing."
        case HeatVerdict.FINE:
            return f"It would not see less than {plain(round(half_c))}{NBSP}°C. That is weak: a probe sees more."
        case HeatVerdict.SUSPECT:
            return (
                f"True less shown {decimal_text(bias_c, 0)} {plus_minus(half_c)}{NBSP}°C. Nothing is changed yet: test it "
                "with a probe as well."
            )
        case HeatVerdict.CONFIRMED:
            return f"Both tests: true less shown {decimal_text(bias_c, 0)} {plus_minus(half_c)}{NBSP}°C."
        case HeatVerdict.CONTRADICTED:
            return "They differ by more than both can be wrong: look how the probe sits, and test again."
        case HeatVerdict.NOT_PROVEN:
            return "Both tests together are not sure enough: nothing changes."
        case HeatVerdict.EXTEND_COOLER:
            return "Begin cooler: where it does not run at all."
        case HeatVerdict.EXTEND_HOTTER:
            return "Go on hotter, as far as the limit lets you; or it is blocked."
        case HeatVerdict.REPEAT:
            return "It ran freely and then, hotter, not at all: a blockage moves. Clear it, then again."
    return "More than 40 °C off is no heat check: another nozzle, another filament, or a blockage."
