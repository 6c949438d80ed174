"""A setup as the judgement sees it, and what is said against its values: every door to them asks here."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from typing import Protocol, TypeAlias

from ubrex.core.calibrate import LabelRange
from ubrex.core.chain import KINDS, SHOWN_HERE, Heats, Kind
from ubrex.core.errors import UnreadableEntry
from ubrex.core.heat import heat_use
from ubrex.core.judge import Finding, Parts, Severity, Usual, judge, judge_change, usual_of
from ubrex.core.materials import Hardness, Limit, Liner, Window, family, read_hardness
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.store.facts import ValueRow
from ubrex.server.store.records import Filament, Setup, TunedValue
from ubrex.server.words.judgement import asks_said, finding_said, told_said
from ubrex.server.words.profile import usual_said
from ubrex.server.words.values import off_said, true_said

Values: TypeAlias = Mapping[Kind, ValueRow] | Mapping[Kind, TunedValue]


class TunedLike(Protocol):
    """A setup with its values, and what it is made of."""

    @property
    def setup(self) -> Setup:
        """The setup."""

    @property
    def values(self) -> Mapping[Kind, ValueRow]:
        """Its values."""

    @property
    def parts(self) -> Parts:
        """What it is made of."""


def parts_of(setup: Setup, heat_check: float | None, *, confirmed: bool = False) -> Parts:
    """What a setup is made of; ``heat_check``: what its hotend shows too much [°C], if anybody looked."""
    machine, hotend, surface, filament = (
        setup.toolhead.machine,
        setup.toolhead.hotend,
        setup.surface,
        setup.filament,
    )
    return Parts(
        filament=family(filament.family),
        bore_mm=setup.nozzle.bore_mm,
        nozzle_material=setup.nozzle.material,
        liner=Liner(hotend.liner),
        hotend_max_c=hotend.max_c,
        printed_parts_max_c=hotend.printed_parts_max_c,
        bed_max_c=machine.bed_max_c,
        surface_max_c=None if surface is None else surface.max_c,
        has_surface=surface is not None,
        chamber_max_c=machine.chamber_max_c,
        enclosure=machine.enclosure,
        max_speed_mm_s=machine.max_speed_mm_s,
        direct=machine.feed_path == "direct",
        bypass_for_soft=machine.bypass_for_soft,
        flags=frozenset(filament.flags),
        label=label_of(filament),
        label_bed=None
        if filament.bed_low_c is None or filament.bed_high_c is None
        else Window(low=filament.bed_low_c, high=filament.bed_high_c),
        hardness=hardness_of(filament),
        bias_c=heat_check,
        bias_confirmed=confirmed,
    )


def label_of(filament: Filament) -> tuple[LabelRange, ...]:
    """Nozzle ranges as printed on the spool."""
    return tuple(
        LabelRange(low_c=row["low_c"], high_c=row["high_c"], from_mm_s=row.get("from_mm_s") or 0.0)
        for row in filament.label
    )


def hardness_of(filament: Filament) -> Hardness | None:
    """Shore hardness as entered; None where nobody did, or wrote something else there in an older Ubrex."""
    try:
        return read_hardness(filament.hardness)
    except UnreadableEntry:
        return None


def numbers_of(values: Values) -> dict[Kind, float]:
    """Values as plain numbers."""
    return {kind: value.number for kind, value in values.items()}


def parts_with(setup: Setup, values: Values) -> Parts:
    """What a setup is made of, with the heat check among its values."""
    checked = values.get(Kind.HEAT_BIAS)
    if checked is None:
        return parts_of(setup, None)
    return parts_of(setup, checked.number, confirmed=checked.origin in SHOWN_HERE)


def limit_on(tuned: TunedLike, kind: Kind) -> Limit | None:
    """The strictest limit of a temperature of this kind; None where nothing limits it."""
    return tuned.parts.limit_of(KINDS[kind].heats)


def usual_on(tuned: TunedLike, kind: Kind) -> Usual | None:
    """What is usual for a value on a setup: its spool's label before its family."""
    return usual_of(tuned.parts, numbers_of(tuned.values), kind)


def usual_said_on(tuned: TunedLike, kind: Kind) -> str:
    """What is usual for a value on a setup, in words."""
    filament, usual, parts = family(tuned.setup.filament.family), usual_on(tuned, kind), tuned.parts
    said = usual_said(kind, usual, filament, tuned.setup.nozzle.bore_mm)
    if not is_off(parts) or KINDS[kind].heats is not Heats.NOZZLE or usual is None:
        return said
    wanted = round((usual.window.low + usual.window.high) / 2 - parts.trusted_bias_c)
    return f"{said}. {true_said(wanted, heat_use(wanted, bias_c=-parts.trusted_bias_c, confirmed=True).set_c)}"


def is_off(parts: Parts) -> bool:
    """Whether its display is known to say something else than what is."""
    return parts.bias_confirmed and round(parts.trusted_bias_c) != 0


def off_said_on(tuned: TunedLike) -> str:
    """By how much the display of a setup is off, where that is known."""
    return off_said(tuned.parts.trusted_bias_c) if is_off(tuned.parts) else ""


def judged_values(tuned: TunedLike) -> dict[Kind, list[Finding]]:
    """What is to be said against the values of a setup as they stand, by kind."""
    found: dict[Kind, list[Finding]] = {}
    for one in judge(tuned.parts, numbers_of(tuned.values)):
        if one.kind is not None:
            found.setdefault(one.kind, []).append(one)
    return found


def judged_change(
    setup: Setup, before: Values, new: Mapping[Kind, float], *, typed: Iterable[Kind] = ()
) -> list[Finding]:
    """What is to be said against values about to be written; a heat check among them limits the others at once."""
    checked = new.get(Kind.HEAT_BIAS)
    parts = parts_with(setup, before) if checked is None else parts_of(setup, checked)
    return judge_change(parts, numbers_of(before), new, typed=typed)


def refuse_findings(
    findings: Iterable[Finding],
    fields: TypedFields,
    at: Mapping[Kind, str],
    *,
    note: str,
    as_typed: Collection[str] = (),
) -> None:
    """Say what is against values at their fields: what is refused, and what asks while there is no note.

    ``at``: the field of each kind; ``as_typed``: fields that were asked about and are right as they stand.
    """
    for one in findings:
        field = "" if one.kind is None else at.get(one.kind, "")
        if not field or fields.has(field):
            continue
        if one.severity is Severity.REFUSED:
            fields.add(FieldProblem(field, one.code.value, told_said(one)))
        elif one.severity is Severity.ASKS and not note.strip() and field not in as_typed:
            said, fits = asks_said(one), None if one.fits is None else f"{one.fits:g}"
            fields.add(FieldProblem(field, one.code.value, said, suggested=fits))


def said_of(findings: Iterable[Finding]) -> list[str]:
    """Findings in words, as they stand on a row."""
    return [finding_said(one) for one in findings]
