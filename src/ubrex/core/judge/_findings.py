"""What can be said against a value, a part or a spool: each code once, how grave it is, and where that comes from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from ubrex.core.chain import Kind
from ubrex.core.materials import HeatLimit


class Severity(StrEnum):
    """How grave a finding is, the gravest first.

    ``DANGER`` holds everything that heats; ``REFUSED`` is a limit of parts; ``ASKS`` lets a value pass with a note, and
    stays on its row as long as the value does; ``REMARK`` is only said.
    """

    DANGER = "danger"
    REFUSED = "refused"
    ASKS = "asks"
    REMARK = "remark"


class Whose(StrEnum):
    """Whose word a range is."""

    LABEL = "label"
    FAMILY = "family"


class Code(StrEnum):
    """What is found."""

    TOO_HOT = "too_hot"
    TOO_FAST = "too_fast"
    LINE_IMPOSSIBLE = "line_impossible"
    LINE_BELOW_LAYER = "line_below_layer"
    LAYER_TOO_HIGH = "layer_too_high"
    CANNOT_PRINT = "cannot_print"
    OUTSIDE_LABEL = "outside_label"
    OUTSIDE_FAMILY = "outside_family"
    BEYOND_CEILING = "beyond_ceiling"
    HEATER_WEAK = "heater_weak"
    FAN_FAR = "fan_far"
    FAN_UNUSUAL = "fan_unusual"
    FLEXIBLE_TOO_FAST = "flexible_too_fast"
    PULL_TOO_LONG = "pull_too_long"
    PULL_TOO_FAST = "pull_too_fast"
    MELT_BEYOND = "melt_beyond"
    MELT_UNUSUAL = "melt_unusual"
    MELT_CLAIM = "melt_claim"
    LINE_FAR = "line_far"
    LINE_UNUSUAL = "line_unusual"
    LAYER_TOO_THIN = "layer_too_thin"
    SLIP = "slip"
    SIGN = "sign"
    FAR_FROM_RECORD = "far_from_record"
    UNUSUAL = "unusual"
    ABRASIVE_NOZZLE = "abrasive_nozzle"
    SMALL_BORE = "small_bore"
    BYPASS = "bypass"
    TUBE_FOR_SOFT = "tube_for_soft"
    OPEN_MACHINE = "open_machine"
    CLOSED_MACHINE = "closed_machine"
    DRAUGHT = "draught"
    DAMP = "damp"
    BED_UNSET = "bed_unset"
    PARTS_SOFTEN = "parts_soften"
    NOT_DRY = "not_dry"
    WET = "wet"
    SPOOL_EMPTY = "spool_empty"
    SPOOL_SHORT = "spool_short"
    SPOOL_RESERVE = "spool_reserve"
    SPOOL_UNWEIGHED = "spool_unweighed"
    SPOOL_END = "spool_end"
    MORE_THAN_SPOOL = "more_than_spool"
    FASTER_THAN_MELT = "faster_than_melt"


@dataclass(frozen=True, slots=True)
class Rule:
    """How grave a finding is, where its rule comes from, and who shows it."""

    severity: Severity
    source: str
    shown: str


_VALUES: Final = "typing, copying, import, restoring, values of a file, tonight's numbers"
_FILES: Final = f"{_VALUES}, start forms and files of pieces, file check"
_PARTS: Final = "bench, starts, card before a print"
_SPOOLS: Final = "card before a print, file check, log of prints"

RULES: Final[Mapping[Code, Rule]] = {
    Code.TOO_HOT: Rule(
        Severity.REFUSED, "limits of hotend, liner, bed, surface, chamber (job, sections 2 and 9)", _FILES
    ),
    Code.TOO_FAST: Rule(Severity.REFUSED, "the machine's stated speed (job, section 2)", _FILES),
    Code.LINE_IMPOSSIBLE: Rule(Severity.REFUSED, "0.75 to 2 bores (job, chain row 5)", _FILES),
    Code.LINE_BELOW_LAYER: Rule(Severity.REFUSED, "a line is a stadium (rules, B)", _FILES),
    Code.LAYER_TOO_HIGH: Rule(Severity.REFUSED, "0.8 of the bore (job, chain row 5)", _FILES),
    Code.CANNOT_PRINT: Rule(Severity.REFUSED, "limits of the hotend against label or family (job, section 5)", _PARTS),
    Code.OUTSIDE_LABEL: Rule(Severity.ASKS, "the spool's label wins (job, section 1)", _FILES),
    Code.OUTSIDE_FAMILY: Rule(Severity.ASKS, "usual windows where the label is silent (job, section 5)", _FILES),
    Code.BEYOND_CEILING: Rule(Severity.ASKS, "the hottest that any school prints (job, section 5)", _FILES),
    Code.HEATER_WEAK: Rule(Severity.ASKS, "what a heat log left in hand at the top (rules, L)", _FILES),
    Code.FAN_FAR: Rule(Severity.ASKS, "10 points beyond the family's fan (job, section 5; E)", _FILES),
    Code.FAN_UNUSUAL: Rule(Severity.REMARK, "the family's fan (job, section 5)", _FILES),
    Code.FLEXIBLE_TOO_FAST: Rule(Severity.ASKS, "20 to 25 mm/s through a tube (job, section 5; E)", _VALUES),
    Code.PULL_TOO_LONG: Rule(Severity.ASKS, "caps by feed path and stiffness (rules, F)", _FILES),
    Code.PULL_TOO_FAST: Rule(Severity.ASKS, "caps by feed path and stiffness (rules, F)", _FILES),
    Code.MELT_BEYOND: Rule(Severity.ASKS, "speed is melt rate over width and height (job, chain row 9)", _VALUES),
    Code.MELT_UNUSUAL: Rule(Severity.REMARK, "the family's melt rate (job, section 5)", _VALUES),
    Code.MELT_CLAIM: Rule(Severity.ASKS, "twice the family's: a high-flow hotend (job, section 5)", _VALUES),
    Code.LINE_FAR: Rule(Severity.ASKS, "0.9 to 1.25 bores (job, chain row 5)", _FILES),
    Code.LINE_UNUSUAL: Rule(Severity.REMARK, "1.05 to 1.25 bores (job, chain row 5)", _FILES),
    Code.LAYER_TOO_THIN: Rule(Severity.ASKS, "0.15 of the bore (job, chain row 5)", _FILES),
    Code.SLIP: Rule(Severity.ASKS, "a factor of 10, 100 or 1000 against the record (job, chain row 2)", _VALUES),
    Code.SIGN: Rule(Severity.ASKS, "the number on record with the other sign (job, chain row 3)", _VALUES),
    Code.FAR_FROM_RECORD: Rule(Severity.ASKS, "e-steps by a fifth, an offset by half a millimetre (E)", _VALUES),
    Code.UNUSUAL: Rule(Severity.ASKS, "what such a number usually is (E)", _VALUES),
    Code.ABRASIVE_NOZZLE: Rule(Severity.REMARK, "filled filament wants a hardened nozzle (job, section 5)", _PARTS),
    Code.SMALL_BORE: Rule(
        Severity.REMARK, "glitter and wood: 0.6 mm; fibres: larger than 0.4 (job, section 5)", _PARTS
    ),
    Code.BYPASS: Rule(Severity.REMARK, "soft filament bypasses a feeder (job, section 2)", _PARTS),
    Code.TUBE_FOR_SOFT: Rule(Severity.REMARK, "flexibles: direct feed preferred (job, section 5)", _PARTS),
    Code.OPEN_MACHINE: Rule(Severity.REMARK, "families that want an enclosure (job, section 5)", _PARTS),
    Code.CLOSED_MACHINE: Rule(Severity.REMARK, "families that are printed open (job, section 5)", _PARTS),
    Code.DRAUGHT: Rule(Severity.REMARK, "draught lifts corners and splits layers (job, section 7)", _PARTS),
    Code.DAMP: Rule(
        Severity.REMARK, "thirsty filament drinks from the air of the room (job, sections 2 and 5; E)", _PARTS
    ),
    Code.BED_UNSET: Rule(Severity.REMARK, "bed heat belongs to surface and filament (job, section 2)", _PARTS),
    Code.PARTS_SOFTEN: Rule(Severity.REMARK, "printed parts round the hotend (job, section 2)", _PARTS),
    Code.NOT_DRY: Rule(Severity.REMARK, "drying, always for the thirsty (job, sections 3 and 5)", _PARTS),
    Code.WET: Rule(Severity.ASKS, "wet filament holds what rests on it (job, section 4)", _PARTS),
    Code.SPOOL_EMPTY: Rule(Severity.ASKS, "need and a reserve on the spool (job, section 8)", _SPOOLS),
    Code.SPOOL_SHORT: Rule(Severity.ASKS, "need and a reserve on the spool (job, section 8)", _SPOOLS),
    Code.SPOOL_RESERVE: Rule(Severity.ASKS, "need and a reserve on the spool (job, section 8)", _SPOOLS),
    Code.SPOOL_UNWEIGHED: Rule(
        Severity.REMARK, "nothing is claimed of a spool nobody weighed (job, section 8)", _SPOOLS
    ),
    Code.SPOOL_END: Rule(Severity.REMARK, "a tight coil near the end of a spool (job, section 7)", _SPOOLS),
    Code.MORE_THAN_SPOOL: Rule(Severity.ASKS, "no spool gives more than it holds", _SPOOLS),
    Code.FASTER_THAN_MELT: Rule(Severity.ASKS, "no hotend melts 100 mm³/s (job, section 5; E)", _SPOOLS),
}
"""One rule for each code; ``docs/methods/judgement.md`` is this table."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing found.

    ``kind``: the value it is about, None for one of parts or spools. ``value``: the number, ``low`` to ``high``: what is
    allowed or usual, in the unit of the kind; ``fits``: a number that would do. ``at_mm_s``: the speed that
    a label was read at. ``rests``: other values it depends on.
    ``why``: in words, where the table it comes from says so itself. ``days_ago``: when that was read which it is about.
    ``about``: the value whose number it is, where it is told at another one that makes it wrong.
    """

    code: Code
    kind: Kind | None = None
    value: float = 0.0
    low: float | None = None
    high: float | None = None
    fits: float | None = None
    at_mm_s: float | None = None
    limit: HeatLimit | None = None
    whose: Whose | None = None
    rests: frozenset[Kind] = frozenset()
    why: str = ""
    days_ago: float = 0.0
    about: Kind | None = None

    @property
    def severity(self) -> Severity:
        """How grave it is."""
        return RULES[self.code].severity


_GRAVITY: Final = {severity: place for place, severity in enumerate(Severity)}


def gravest_first(findings: list[Finding]) -> list[Finding]:
    """Findings in the order in which a person has to know them."""
    return sorted(findings, key=lambda one: _GRAVITY[one.severity])
