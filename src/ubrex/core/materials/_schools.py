"""Where practitioners disagree: both sides, which one is the default and why, and the test that decides."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True, kw_only=True)
class School:
    """One disagreement; ``default`` says what is done unless a person chooses, ``test`` what would decide.

    ``flexible_only``: it is about filament that bends, and means nothing beside any other.
    """

    key: str
    topic: str
    one: str
    other: str
    default: str
    test: str
    flexible_only: bool = False
    source: str = "both sides as practised (job, section 6)"


SCHOOLS: Final[tuple[School, ...]] = (
    School(
        key="e_step_method", topic="How e-steps are measured", one="Open air: a pure constant of the machine.",
        other="Through the hot nozzle with marks: no dismantling.",
        default="Open air where the tube comes off, else marked at slow feed. Values of the two are never mixed.",
        test="Both on one evening: more than 1 % apart means slip under back pressure.",
    ),
    School(
        key="flow_sample", topic="What flow is measured on", one="One wall.", other="Two walls, a fixed box, or the top.",
        default="Both, when the part mixes thin walls and solids; the one that matches the part is used.",
        test="A single and a double wall of one print, reconciled.",
    ),
    School(
        key="under_feed", topic="Calibrated, or a little under", one="Exactly as measured.",
        other="2 to 5 % under: corners, fits and top layers look better.",
        default="As measured; what is on purpose is a number of its own with a name.", test="Two top plates side by side.",
    ),
    School(
        key="flexible_strings", topic="Strings on flexibles", one="Retract almost nothing: long pulls jam.",
        other="Retract a little more.", default="Dry first, then step up from 0 and stop at the first click or grind.",
        test="A retraction tower on dry filament.", flexible_only=True,
    ),
    School(
        key="err_hot", topic="Err hot or cold", one="Hot: ugly but whole, for ABS, ASA and PC.",
        other="Cold: foam turns brittle, flexibles lose spring, PLA breaks down.", default="Per family.",
        test="The bond tabs of a temperature tower.",
    ),
    School(
        key="one_change", topic="One change at a time", one="Yes: know what helped.", other="Several: done by tonight.",
        default="One; a small plan of prints where two settings are coupled. Shared blame is shown.",
        test="Four prints, both settings at two levels.",
    ),
    School(
        key="label", topic="The label, or one's own number", one="Follow the spool.", other="My hotend reads differently.",
        default="The label, moved by what the heat check found.", test="A probe in the nozzle.",
    ),
    School(
        key="levelling", topic="How often to level", one="Before every print.", other="Once, then leave it.",
        default="By the spread of repeated probes.", test="Probe one point ten times.",
    ),
    School(
        key="purge", topic="What to purge with", one="Cleaning filament.", other="New filament until clean, or a cold pull.",
        default="By the pair of families.", test="A strand that runs straight and in one colour.",
    ),
    School(
        key="cold_pull", topic="How to pull cold", one="Gently, at about 100 °C.", other="Firmly, at about 90 °C.",
        default="By the hotend, gently on a lined one.", test="A tip that shows the whole inside of the nozzle.",
    ),
    School(
        key="removal", topic="When to take a part off", one="Warm.", other="Cold, flexing the sheet.",
        default="Per family and surface, remembered.", test="The next part.",
    ),
    School(
        key="adhesive", topic="Adhesive on the plate", one="The sign of a bad plate.",
        other="Essential: it grips what warps and releases what welds.", default="Allowed; its purpose is recorded.",
        test="A washed plate with and without.",
    ),
    School(
        key="nozzle_life", topic="How long a nozzle lives", one="A few kilograms.",
        other="Hundreds, unless it is fed abrasives.", default="Counter, symptoms and drift together; symptoms win.",
        test="A new nozzle of the same size on the same part.",
    ),
    School(
        key="squish", topic="How low the first layer", one="Lower and hotter grips.",
        other="That makes the foot that spoils fits.",
        default="By the part: grip, or fit.", test="The bottom edge of a fitting part.",
    ),
    School(
        key="brim", topic="Glue, brim or raft", one="A brim of 10 to 15 lines.", other="A raft.", default="By purpose.",
        test="The corner that lifted last time.",
    ),
    School(
        key="z_hop", topic="Z-hop", one="Small.", other="A full millimetre at high speed.",
        default="By speed, height and how often a part was knocked off.", test="A tall part that curls.",
    ),
    School(
        key="first_look", topic="Which look comes first", one="The cheapest that can harm nothing.",
        other="The one that tells most, whatever it takes.",
        default="What tells most for its minutes, later where it could harm.",
        test="Count the minutes until it was found, for a few faults each.",
    ),
    School(
        key="gear_or_heat", topic="Gear first, or heat first", one="Gear and grip first.", other="Heat first.",
        default="By the odds.",
        test="Push by hand, hot: it runs freely, and it is the gear; it does not, and it is heat or nozzle.",
    ),
    School(
        key="speed", topic="Speed", one="Push it.", other="What is advertised is not usable.",
        default="By the top-speed ladder, last of all.", test="The ladder itself.",
    ),
)  # fmt: skip
"""All disagreements that the workshop has met."""
