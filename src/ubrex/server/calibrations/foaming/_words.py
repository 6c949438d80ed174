"""What is said about foaming towers."""

from __future__ import annotations

from typing import Final

from ubrex.core.calibrate import FoamVerdict
from ubrex.core.quantity import decimal_text
from ubrex.server.calibrations._calibration import MethodWords
from ubrex.server.words.numbers import DASH, NBSP, plus_minus

TOWER: Final = MethodWords(
    name="Foaming tower, measured",
    short="foaming tower, walls measured",
    why=("Single walls from cold to hot: where it swells most, and the flow that goes with it.",),
    procedure=(
        "Print the tower at one speed: foam needs its time in the melt. Air the room; leave if it smells sharp.",
        "Let it cool. The post says the °C of each band.",
        "On each band measure the four arms from their free ends, the jaws about 9 mm in, three arms at least.",
        "When it is cold, look for dark drops and bend each band: X takes a band out, and all hotter ones with it.",
    ),
    reads="width of a wall",
    slips=("on the seam", "on a blob", "jaws not square", "other wall measured"),
)

FOAM_CAUTION: Final = ("Foam.", "Past its peak it smokes and smells: air the room, stop the print, never sniff it hot.")
STRINGS_EXPECTED: Final = "strings are expected of foam: warm air, not retraction"
OUTSIDE_FITS: Final = "The outside of a swollen wall is what must fit. Retraction comes last, and strings stay."
WIDTH: Final = "Width, mm"
NO_LINE: Final = "cannot be one line, foamed or not. Enter takes it as typed."


def method_said(count: int) -> str:
    """How it is found."""
    return f"foaming tower, {count} bands"


def volume_said(ratio: float) -> str:
    """How much it swells."""
    return f"{decimal_text(ratio, 2)} times the volume of the coldest band for the same filament."


def left_said(count: int) -> str:
    """How many widths are still asked for."""
    return "Every band is measured." if count == 0 else f"{count} width{'s' if count > 1 else ''} left."


def with_flow_said(title: str, flow_pct: float) -> str:
    """A title with the flow that goes with the temperature."""
    return f"{title}, flow {decimal_text(flow_pct, 1)}"


def flow_said(flow_pct: float, half_width_pct: float) -> str:
    """The flow that goes with the temperature, with its ±."""
    return f"flow {decimal_text(flow_pct, 1)} {plus_minus(half_width_pct)} %"


def foam_said(
    verdict: FoamVerdict, *, chosen: str, low: str, high: str, flow: str, half: str, ends: tuple[str, str]
) -> str:
    """A foaming tower in a sentence or two."""
    match verdict:
        case FoamVerdict.PEAK:
            return f"It foams most at {chosen}{NBSP}°C ({low}{DASH}{high}); flow there {flow} ± {half}{NBSP}%."
        case FoamVerdict.PLATEAU:
            return (
                f"Equally foamed from {low} to {high}{NBSP}°C: take the coolest, {chosen}; flow there {flow} ± "
                f"{half}{NBSP}%."
            )
        case FoamVerdict.EXTEND_HOTTER:
            return f"Walls still grow at {ends[1]}{NBSP}°C: print a hotter tower, if hotend and filament allow it."
        case FoamVerdict.EXTEND_COOLER:
            return f"Walls are widest at {ends[0]}{NBSP}°C already: print a cooler tower."
        case FoamVerdict.NO_RESPONSE:
            return (
                "Walls are alike over the whole range: no foaming seen. Another range, or filament that does not foam?"
            )
        case FoamVerdict.NO_BAND_LEFT:
            return "Even the coldest band is taken out: print a cooler tower."
    return "A peak takes six bands or more: print a tower with more."
