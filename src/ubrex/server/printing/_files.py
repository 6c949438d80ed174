"""Sliced files held against a setup: what would go wrong, whether they match tonight's numbers, how two of them differ."""

from __future__ import annotations

import math
import re
from typing import Final

from ubrex.core.chain import KINDS, Kind, Origin
from ubrex.core.gcode import FileFacts, FileFinding, Flaw, Gcode, check_file, compare_settings, facts_of, read_gcode
from ubrex.core.materials import family
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import FieldProblem, Refused, TypedFields, Work
from ubrex.server.printing._pieces import layers_out, machine_limits
from ubrex.server.profile import NewValue, Tuned, diameter_of, lock_toolhead, read_value, tuned_of, write_values
from ubrex.server.store.facts import fetch_on_spools
from ubrex.server.store.records import Meaning
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
from ubrex.server.words.files import flaw_said, verdict_said, where_said
from ubrex.server.words.numbers import plain, unit_text
from ubrex.server.workshop import setup_out, unit_of, usable_setup

MM3_PER_CM3: Final = 1000.0
SAME: Final = 0.005
"""Numbers that differ by no more than this (relative) are the same: files round them."""

_FACTS: Final = {
    Kind.NOZZLE_FIRST: "nozzle_first_c",
    Kind.NOZZLE: "nozzle_c",
    Kind.BED_FIRST: "bed_first_c",
    Kind.BED: "bed_c",
    Kind.FAN: "fan_pct",
    Kind.RETRACTION: "retraction_mm",
    Kind.LAYER_FIRST: "first_layer_mm",
    Kind.LAYER: "layer_mm",
}
"""Values that commands say without a doubt."""

MOST_SETTINGS: Final = 400


def show_file_check(_work: Work, setup_id: int, text: str) -> FileCheckOut:
    """What is wrong with a file for a setup, and whether it matches tonight's numbers.

    Raises
    ------
    Refused
        If it is no text.
    """
    if "\x00" in text[:4096]:
        raise Refused(FieldProblem("file", "no_text", "This is no text file: a picture, an archive, a model?"))
    found = tuned_of(usable_setup(setup_id))
    held = machine_limits(found)
    read = read_gcode(text.splitlines(keepends=True))
    setup = found.setup
    thick = diameter_of(setup, found.values.get(Kind.DIAMETER))
    density = setup.filament.density_g_cm3 or family(setup.filament.family).density_g_cm3 or 1.24
    g_per_mm = math.pi / 4 * thick**2 * density / MM3_PER_CM3
    left_g = _left_g(found)
    findings = check_file(
        read,
        held,
        bore_mm=setup.nozzle.bore_mm,
        filament_mm=thick,
        left_mm=None if left_g is None else left_g / g_per_mm,
    )
    facts = facts_of(read, held.acceleration_mm_s2)
    whys = {Flaw.NOZZLE_TOO_HOT: held.nozzle.why, Flaw.BED_TOO_HOT: held.bed.why}
    shown = [_finding(one, whys.get(one.flaw, ""), g_per_mm) for one in findings]
    fan_from = (
        ""
        if facts.fan_from_mm is None
        else f"fan to {facts.fan_pct:.0f} % from {plain(round(facts.fan_from_mm, 2))} mm up"
    )
    return FileCheckOut(
        verdict=verdict_said(len(shown), sum(one.harmful for one in shown)),
        harmful=any(one.harmful for one in shown),
        findings=shown,
        matches=_matches(found, facts),
        remarks=[
            f"{facts.layers} layers, {decimal_text(facts.filament_mm * g_per_mm, 1)} g, about {_time_said(facts.seconds)}",
            *([fan_from] if fan_from else []),
            *([f"{sum(read.unknown.values())} commands were not understood: {_unknown(read)}"] if read.unknown else []),
        ],
        program=read.program,
        settings=_settings(read),
        meanings=[OptionOut(value=kind.value, text=KINDS[kind].name) for kind in Kind if kind is not Kind.HEAT_BIAS],
        lines=read.lines,
        view=layers_out(read, held.volume),
    )


def _unknown(read: Gcode) -> str:
    return ", ".join(name for name, _ in read.unknown.most_common(6))


def _time_said(seconds: float) -> str:
    hours, minutes = divmod(round(seconds / 60), 60)
    return f"{hours} h {minutes} min" if hours else f"{minutes} min"


def _left_g(found: Tuned) -> float | None:
    """Filament that should be left on the spool [g]; None where the setup names none."""
    spool = found.setup.spool_id
    return None if spool is None else fetch_on_spools([spool])[spool].left_g


def _finding(one: FileFinding, why: str, g_per_mm: float) -> FileFindingOut:
    shown = one
    if one.flaw is Flaw.SPOOL_SHORT:
        shown = FileFinding(flaw=one.flaw, found=one.found * g_per_mm, allowed=one.allowed * g_per_mm)
    lead, text = flaw_said(shown, why)
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
    """Tonight's numbers beside what the file's commands say."""
    rows = []
    for kind, name in _FACTS.items():
        number = getattr(facts, name)
        value = found.values.get(kind)
        if number is None or (value is None and number == 0):
            continue
        places = KINDS[kind].places
        unit = unit_text(KINDS[kind].unit.value)
        same = value is not None and math.isclose(number, value.number, rel_tol=SAME, abs_tol=0.51 * 10**-places)
        rows.append(
            FileMatchOut(
                kind=kind,
                name=KINDS[kind].name,
                file=f"{decimal_text(number, places)} {unit}",
                tonight="not set" if value is None else f"{decimal_text(value.number, places)} {unit}",
                same=same,
                known=value is not None,
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
            said = ["" if number is None else decimal_text(number, KINDS[kind].places) for number in pair]
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
    lock_toolhead(setup.toolhead_id)
    fields = TypedFields()
    new = []
    for row in form.values:
        found = _NUMBER.match(row.value)
        number = read_value(setup, row.kind, f"values.{row.name}", found[0] if found else row.value, fields)
        if number is not None:
            unit = unit_of(row.kind, setup.toolhead.machine)
            new.append(NewValue(kind=row.kind, number=number, unit=unit, origin=Origin.READ_FROM_FILE, note=row.name))
    fields.refuse_if_any()
    Meaning.insert_many(
        [
            {"program": form.program, "name": row.name, "kind": row.kind.value, "person": person, "at": work.now}
            for row in form.values
        ]
    ).execute()
    write_values(work, setup, new, cause="typed", note=f"Read from a file: {form.program}"[:2000])
    return setup_out(setup)
