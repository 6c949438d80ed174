"""Sliced files held against a setup: what would go wrong, whether they match tonight's numbers, how two of them differ."""

from __future__ import annotations

import hashlib
import re
from typing import Final

from ubrex.core.chain import KINDS, Danger, Kind, Origin
from ubrex.core.gcode import (
    CIRCLE,
    FAN_OFF_LAYERS,
    FileFacts,
    FileFinding,
    Flaw,
    Gcode,
    check_file,
    compare_settings,
    facts_of,
    is_same,
    read_gcode,
)
from ubrex.core.judge import Code, Finding, Severity, judge_one, judge_spool
from ubrex.core.materials import density_of
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import FieldProblem, Refused, TypedFields, Work
from ubrex.server.printing._pieces import layers_out, machine_limits
from ubrex.server.profile import (
    NewValue,
    Tuned,
    alone_said,
    diameter_of,
    judged_change,
    lock_values,
    numbers_of,
    read_value,
    refuse_findings,
    standing_of,
    tuned_of,
    write_values,
)
from ubrex.server.store.facts import fetch_on_spools
from ubrex.server.store.records import CheckedFile, Meaning
from ubrex.server.views.base import OptionOut
from ubrex.server.views.files import (
    FileCheckOut,
    FileCompareIn,
    FileDifferenceOut,
    FileFindingOut,
    FileMatchOut,
    FileSettingOut,
    FileValuesIn,
)
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words import files as words
from ubrex.server.words.files import flaw_said, where_said
from ubrex.server.words.numbers import unit_text
from ubrex.server.words.standing import DANGERS
from ubrex.server.workshop import setup_out, unit_of, usable_setup

MM3_PER_CM3: Final = 1000.0
_FACTS: Final = {
    Kind.NOZZLE_FIRST: "nozzle_first_c",
    Kind.NOZZLE: "nozzle_c",
    Kind.BED_FIRST: "bed_first_c",
    Kind.BED: "bed_c",
    Kind.FAN: "fan_pct",
    Kind.RETRACTION: "retraction_mm",
    Kind.LAYER_FIRST: "first_layer_mm",
    Kind.LAYER: "layer_mm",
    Kind.PRESSURE: "pressure_s",
}
"""Values that commands say without a doubt."""

_OF_UPPER: Final = frozenset({Kind.NOZZLE, Kind.BED, Kind.FAN, Kind.LAYER})
"""Values of the layers above the first ones: a file that has none need not say them."""

_KEPT_THERE: Final = frozenset({Kind.PRESSURE})
"""Values that a machine keeps itself: a file that does not say them leaves them as they are."""

MOST_SETTINGS: Final = 400
MOST_NAMED: Final = 6


def show_file_check(work: Work, setup_id: int, text: str, *, name: str = "") -> FileCheckOut:
    """What is wrong with a file for a setup, and whether it matches tonight's numbers.

    Its numbers are kept for the attempt that is printed from it, where it has a ``name``, does no harm, and somebody said
    who they are.

    Raises
    ------
    Refused
        If it is no text.
    """
    if "\x00" in text[:4096]:
        raise Refused(FieldProblem("file", "no_text", words.NO_TEXT))
    found = standing_of(usable_setup(setup_id), work.now)
    held = machine_limits(found)
    read = read_gcode(text.splitlines(keepends=True))
    setup = found.setup
    thick = diameter_of(setup, found.values.get(Kind.DIAMETER))
    density = density_of(setup.filament.family, setup.filament.density_g_cm3)
    g_per_mm = CIRCLE * thick**2 * density / MM3_PER_CM3
    facts = facts_of(read, held.acceleration_mm_s2)
    flaws = check_file(read, held, bore_mm=setup.nozzle.bore_mm, filament_mm=thick)
    whys = {Flaw.NOZZLE_TOO_HOT: held.nozzle.why, Flaw.BED_TOO_HOT: held.bed.why}
    need_g = facts.filament_mm * g_per_mm
    # Dangers of the machine first, then what the file would do, then what does not go with tonight's numbers.
    shown = [
        *(_danger(danger) for danger in found.held),
        *(_finding(one, whys.get(one.flaw, "")) for one in flaws),
        *(_judged(one) for one in _judgement(found, facts, need_g)),
    ]
    shown.sort(key=lambda one: not one.harmful)
    matches = _matches(found, facts)
    harmful = any(one.harmful for one in shown)
    differs = [row.name for row in matches if row.known and not row.same]
    unset = [row.name for row in matches if row.tonight == words.NOT_SET]
    unsaid = [row.name for row in matches if row.file == words.NOT_IN_FILE]
    # What does harm is not kept: nobody is offered to have printed it.
    if name.strip() and not harmful and work.person_id is not None:
        _keep(work, setup.id, name.strip(), text, facts, need_g)
    unknown = [name for name, _ in read.unknown.most_common(MOST_NAMED)]
    end, verdict = words.verdict_said(
        harmful=harmful, count=len(shown), differs=differs, unset=unset, unsaid=unsaid, unknown=unknown
    )
    return FileCheckOut(
        end=end,
        verdict=verdict,
        harmful=harmful,
        findings=shown,
        matches=matches,
        remarks=[
            words.size_said(facts.layers, facts.height_mm, need_g, facts.seconds),
            words.fan_said(facts),
            *words.speeds_said(read.override_pct, _fastest(read), held.speed_mm_s if held.speed_stated else None),
            words.in_a_row(alone_said(found, file_harmless=not shown and not read.unknown)),
            *words.unknown_said(sum(read.unknown.values()), unknown),
        ],
        program=read.program,
        settings=_settings(read),
        meanings=[OptionOut(value=kind.value, text=KINDS[kind].name) for kind in Kind if kind is not Kind.HEAT_BIAS],
        lines=read.lines,
        view=layers_out(read, held.volume),
    )


def _said_by(facts: FileFacts) -> dict[Kind, float]:
    """What its commands say without a doubt."""
    found = {kind: getattr(facts, name) for kind, name in _FACTS.items()}
    return {kind: number for kind, number in found.items() if number is not None}


def _keep(work: Work, setup_id: int, name: str, text: str, facts: FileFacts, grams: float) -> None:
    """Write down what a file says, once for each file that is checked again and again."""
    digest = hashlib.sha256(text.encode()).hexdigest()
    last = CheckedFile.select().where(CheckedFile.setup == setup_id).order_by(CheckedFile.id.desc()).first()
    if last is not None and (last.digest, last.name) == (digest, name):
        return
    CheckedFile.create(
        setup=setup_id, name=name, digest=digest, layers=facts.layers, height_mm=facts.height_mm, grams=grams,
        numbers={kind.value: number for kind, number in _said_by(facts).items()}, seconds=facts.seconds,
        person=work.person(), at=work.now,
    )  # fmt: skip


def _fastest(read: Gcode) -> float:
    """The fastest move [mm/s]."""
    return float(read.speed.max()) if read.count else 0.0


def _danger(danger: Danger) -> FileFindingOut:
    """What holds everything that heats, as the first thing said of a file."""
    return FileFindingOut(
        code=danger.value, harmful=True, lead=words.HOLD, text=DANGERS[danger], where="", line=0, z_mm=0.0
    )


_BY_FLAWS: Final = frozenset({Code.TOO_HOT, Code.TOO_FAST, Code.PULL_TOO_LONG, Code.PULL_TOO_FAST})
"""What the file itself is held to line by line already."""


def _judgement(found: Tuned, facts: FileFacts, need_g: float) -> list[Finding]:
    """What the judgement says of the numbers in a file, and of the spool it is printed from."""
    fallen = {kind: number for kind, number in _said_by(facts).items() if KINDS[kind].heats is None or number > 0}
    values = numbers_of(found.values)
    findings = [one for kind, number in fallen.items() for one in judge_one(found.parts, values | fallen, kind, number)]
    spool = found.setup.spool
    if spool is not None:
        row = fetch_on_spools([spool.id])[spool.id]
        findings += judge_spool(
            left_g=row.left_g, weighed=row.weighed, full_g=spool.full_g, need_g=need_g, tube=not found.parts.direct
        )
    return [one for one in findings if one.code not in _BY_FLAWS and one.severity in {Severity.REFUSED, Severity.ASKS}]


def _judged(one: Finding) -> FileFindingOut:
    lead, text = words.judged_said(one)
    return FileFindingOut(
        code=one.code.value,
        harmful=one.severity is Severity.REFUSED,
        lead=lead,
        text=text,
        where="",
        line=0,
        z_mm=0.0,
    )


def _finding(one: FileFinding, why: str) -> FileFindingOut:
    lead, text = flaw_said(one, why)
    return FileFindingOut(
        code=one.flaw.value,
        harmful=one.harmful,
        lead=lead,
        text=text,
        where=where_said(one),
        line=one.line,
        z_mm=one.z_mm,
    )


def _matches(found: Tuned, facts: FileFacts) -> list[FileMatchOut]:
    """Tonight's numbers beside what the file's commands say; what only one of the two says is not compared."""
    rows = []
    said = _said_by(facts)
    for kind in _FACTS:
        number, value = said.get(kind), found.values.get(kind)
        # What neither asks for is nothing to compare.
        if (number is None and not (value and value.number)) or (number == 0 and value is None):
            continue
        if number is None and (kind in _KEPT_THERE or (kind in _OF_UPPER and facts.layers <= FAN_OFF_LAYERS)):
            continue
        places = KINDS[kind].places
        unit = unit_text(KINDS[kind].unit.value)
        unsaid = words.UNCLEAR if kind is Kind.FAN and facts.fan_unclear else words.NOT_IN_FILE
        rows.append(
            FileMatchOut(
                kind=kind,
                name=KINDS[kind].name,
                file=unsaid if number is None else f"{decimal_text(number, places)} {unit}",
                tonight=words.NOT_SET if value is None else f"{decimal_text(value.number, places)} {unit}",
                same=number is not None and value is not None and is_same(number, value.number, places),
                known=number is not None and value is not None,
            )
        )
    return rows


def compare_files(_work: Work, setup_id: int, form: FileCompareIn) -> list[FileDifferenceOut]:
    """Settings that two files do not agree on: what their commands say first, then what their remarks say."""
    found = tuned_of(usable_setup(setup_id))
    held = machine_limits(found)
    left, right = (read_gcode(text.splitlines(keepends=True)) for text in (form.left, form.right))
    facts = [facts_of(one, held.acceleration_mm_s2) for one in (left, right)]
    rows = []
    for kind, name in _FACTS.items():
        pair = [getattr(one, name) for one in facts]
        if pair[0] != pair[1]:
            nothing = [words.UNCLEAR if kind is Kind.FAN and one.fan_unclear else "" for one in facts]
            said = [
                unsaid if number is None else decimal_text(number, KINDS[kind].places)
                for number, unsaid in zip(pair, nothing, strict=True)
            ]
            if said[0] != said[1]:
                rows.append(FileDifferenceOut(name=KINDS[kind].name, left=said[0], right=said[1], by="commands"))
    rows += [
        FileDifferenceOut(name=one.name, left=one.left or "", right=one.right or "", by="remarks")
        for one in compare_settings(left, right)
    ]
    return rows


_NUMBER: Final = re.compile(r"[-+]?\d+(?:\.\d+)?")


def _settings(read: Gcode) -> list[FileSettingOut]:
    """What remarks say, each with what it means where somebody said so for this program before."""
    known = {row.name: row.kind for row in Meaning.select().where(Meaning.program == read.program).order_by(Meaning.id)}
    return [
        FileSettingOut(
            name=name,
            value=value,
            is_number=_NUMBER.match(value) is not None,
            kind=Kind(known[name]) if name in known else None,
        )
        for name, value in list(read.settings.items())[:MOST_SETTINGS]
    ]


def take_file_values(work: Work, setup_id: int, form: FileValuesIn) -> SetupOut:
    """Take values from a file, as *read from a file*; what each setting means is remembered for its program."""
    person = work.person()
    setup = usable_setup(setup_id)
    lock_values()
    fields, now = TypedFields(), tuned_of(setup)
    at, numbers = {}, {}
    for row in form.values:
        field = f"values.{row.name}"
        number = _in_unit_of(row.kind, row.value, field, now, fields)
        if number is not None:
            at[row.kind], numbers[row.kind] = field, number
    findings = judged_change(setup, now.values, numbers, typed=numbers)
    refuse_findings(findings, fields, at, note=form.note)
    fields.refuse_if_any()
    names = {row.kind: row.name for row in form.values}
    said = form.note.strip()
    new = [
        NewValue(
            kind=kind,
            number=number,
            unit=unit_of(kind, setup.toolhead.machine),
            origin=Origin.READ_FROM_FILE,
            note=f"{names[kind]}: {said}" if said else names[kind],
        )
        for kind, number in numbers.items()
    ]
    Meaning.insert_many(
        [
            {"program": form.program, "name": row.name, "kind": row.kind.value, "person": person, "at": work.now}
            for row in form.values
        ]
    ).execute()
    write_values(work, setup, new, cause="typed", note=words.read_from_said(form.program))
    return setup_out(setup)


def _in_unit_of(kind: Kind, text: str, field: str, now: Tuned, fields: TypedFields) -> float | None:
    """The number of a setting in the unit of what it means; a share of something else is no length and no speed."""
    found = _NUMBER.match(text)
    percent, wanted = "%" in text, KINDS[kind].unit is Unit.PERCENT
    if found is not None and percent and not wanted:
        fields.add(FieldProblem(field, "percent", words.percent_said(text, KINDS[kind].name)))
        return None
    return read_value(now.setup, kind, field, found[0] if found else text, fields)
