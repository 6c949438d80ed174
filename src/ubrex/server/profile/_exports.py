"""A profile taken along: as JSON that comes in again, as CSV, and as lines for the machine's own commands."""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Callable, Collection, Mapping, Sequence
from datetime import UTC, datetime
from functools import cached_property
from typing import Any, Final, Literal

from pydantic import ValidationError

from ubrex.core.calibrate import diameter_ratio, feed_ratio
from ubrex.core.chain import KINDS, Belongs, Heats, Kind, Origin
from ubrex.core.materials import FAMILIES, strictest
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.profile._limits import beyond_retraction_cap, heat_limits, nozzle_limits_of, too_fast
from ubrex.server.profile._tuned import Tuned, tuned_of
from ubrex.server.profile._values import FLOWS, NewValue, diameter_of, lock_toolhead, write_values
from ubrex.server.store.facts import ValueRow, fetch_newest
from ubrex.server.store.records import Setup
from ubrex.server.views.profiles import (
    CopyIn,
    ExportOut,
    ImportIn,
    ImportLineOut,
    ImportPreviewOut,
    ProfileFile,
    ProfileValue,
)
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words.machine import SAVE, Keeping, command_for
from ubrex.server.words.numbers import day, plain, unit_text
from ubrex.server.words.profile import limit_said, shared_said
from ubrex.server.workshop import (
    bounds_of,
    get_setup,
    owners,
    places_of,
    scope_keys,
    setup_out,
    setup_title,
    setups_in_use,
    unit_of,
    usable_setup,
)

FORMAT: Final = "ubrex-profile"
VERSION: Final = 1
LARGEST: Final = 300_000
"""Longest file [characters] that is read at all; a profile has a few thousand."""

_FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")
"""First characters that make a spreadsheet run a cell; text that begins so gets an apostrophe before it."""

HOLDS_FOR: Final = {
    Kind.E_STEPS: "the extruder it was measured on",
    Kind.HEAT_BIAS: "the hotend it was looked up on",
    Kind.LEVEL: "the bed it was measured on",
    Kind.Z_OFFSET: "the nozzle and the sheet it was measured on",
    Kind.DIAMETER: "the filament it was measured on",
}
"""Kinds that say something of parts and nothing of a profile: they go only where those parts are."""

ExportShape = Literal["json", "csv", "commands"]


def export_profile(_work: Work, setup_id: int, shape: ExportShape) -> ExportOut:
    """A profile in one of three shapes."""
    setup = get_setup(setup_id)
    found = tuned_of(setup)
    make: dict[ExportShape, Callable[[Setup, Tuned], str]] = {
        "json": _as_json,
        "csv": _as_csv,
        "commands": _as_commands,
    }
    endings = {"json": "json", "csv": "csv", "commands": "gcode"}
    stem = "-".join(f"{setup.toolhead.machine.name} {setup.filament.name}".lower().split())
    name = "".join(letter for letter in stem if letter.isalnum() or letter == "-")
    return ExportOut(name=f"{name or 'profile'}.{endings[shape]}", text=make[shape](setup, found))


def _as_json(setup: Setup, found: Tuned) -> str:
    machine, hotend, nozzle = setup.toolhead.machine, setup.toolhead.hotend, setup.nozzle
    file = ProfileFile(
        format="ubrex-profile",
        version=1,
        machine=machine.name,
        hotend=hotend.name,
        nozzle_bore_mm=nozzle.bore_mm,
        nozzle_material=nozzle.material,
        surface=None if setup.surface is None else setup.surface.name,
        filament=setup.filament.name,
        family=setup.filament.family,
        values=_values_of(found),
    )
    return json.dumps(file.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n"


def _as_csv(_setup: Setup, found: Tuned) -> str:
    """Rows as RFC 4180 has them: comma, CRLF, quotes doubled. Full precision, decimal points."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["value", "number", "unit", "half_width_95", "origin", "person", "date", "note"])
    for kind in Kind:
        value = found.values.get(kind)
        if value is None:
            continue
        writer.writerow(
            [
                KINDS[kind].name,
                repr(float(value.number)),
                value.unit,
                "" if value.half_width_95 is None else repr(float(value.half_width_95)),
                value.origin,
                _safe(value.person),
                datetime.fromtimestamp(value.at_s, UTC).isoformat(),
                _safe(value.note or value.decision_note or ""),
            ]
        )
    return out.getvalue()


def _safe(text: str) -> str:
    return f"'{text}" if text.startswith(_FORMULA) else text


def _as_commands(setup: Setup, found: Tuned) -> str:
    """What the machine keeps in firmware, as lines for its start; every line says what it does. Nothing here heats."""
    machine = setup.toolhead.machine
    lines = [f"; {setup_title(setup)}", f"; written by Ubrex from values of {_newest_day(found)}"]
    esteps, offset, pressure = (found.values.get(kind) for kind in (Kind.E_STEPS, Kind.Z_OFFSET, Kind.PRESSURE))
    if machine.keeps_setting == Keeping.COMMAND_PAIR.value:
        if esteps is not None and esteps.unit == Unit.STEPS_PER_MM.value:
            setting = decimal_text(esteps.number, machine.setting_places)
            lines.append(f"{command_for(Kind.E_STEPS, setting)} ; extruder: {setting} steps feed 1 mm")
        if offset is not None:
            said = plain(offset.number)
            far = plain(abs(offset.number))
            lines.append(
                f"{command_for(Kind.Z_OFFSET, said)} ; the nozzle is {far} mm from where the probe finds the bed"
            )
        if pressure is not None:
            said = plain(pressure.number)
            lines.append(f"{command_for(Kind.PRESSURE, said)} ; pressure compensation: {said} s")
        lines.append(f"; {SAVE} would store them for good; without it they hold until the machine is switched off")
    else:
        where = "its configuration file" if machine.keeps_setting == Keeping.TURN_IN_FILE.value else "its own menu"
        lines.append(f"; {machine.name} keeps these in {where}; they are no commands:")
        for kind, value in ((Kind.E_STEPS, esteps), (Kind.Z_OFFSET, offset), (Kind.PRESSURE, pressure)):
            if value is not None:
                places = places_of(kind, machine)
                lines.append(f"; {KINDS[kind].name}: {decimal_text(value.number, places)} {unit_text(value.unit)}")
    return "\n".join(line.replace("\N{MINUS SIGN}", "-") for line in lines) + "\n"


def _newest_day(found: Tuned) -> str:
    newest = max((value.at_s for value in found.values.values()), default=None)
    return (
        "no day yet" if newest is None else day(datetime.fromtimestamp(newest, UTC)).replace("\N{NO-BREAK SPACE}", " ")
    )


def preview_import(_work: Work, setup_id: int, form: ImportIn) -> ImportPreviewOut:
    """What a file would add, change and leave on a setup; nothing is written."""
    setup = usable_setup(setup_id)
    file = _parsed(form.text)
    lines = compared_lines(setup, file.values, left_out(setup, file.values, _of_other_parts(setup, file)))
    return ImportPreviewOut(
        source=f"{file.machine}, {file.hotend}, {plain(file.nozzle_bore_mm)} {file.nozzle_material}, {file.filament}",
        onto=setup_title(setup),
        warning=_warning(setup, file),
        lines=lines,
        count=sum(line.action in {"add", "change"} for line in lines),
    )


def import_profile(work: Work, setup_id: int, form: ImportIn) -> SetupOut:
    """Bring a file's values in, all or none: copied, not measured."""
    work.person()
    setup = usable_setup(setup_id)
    file = _parsed(form.text)
    note = f"from a file of {file.machine}, {file.filament}"
    return _copy(work, setup, file.values, _of_other_parts(setup, file), note=note)


def preview_copy(_work: Work, setup_id: int, form: CopyIn) -> ImportPreviewOut:
    """What copying another setup's values here would add, change and leave."""
    setup = usable_setup(setup_id)
    source = get_setup(form.from_setup_id)
    given = _values_of(tuned_of(source))
    lines = compared_lines(setup, given, left_out(setup, given, _measured_elsewhere(setup, source)))
    return ImportPreviewOut(
        source=setup_title(source),
        onto=setup_title(setup),
        warning="",
        lines=lines,
        count=sum(line.action in {"add", "change"} for line in lines),
    )


def copy_profile(work: Work, setup_id: int, form: CopyIn) -> SetupOut:
    """Copy another setup's values here: each says that it was copied, not measured."""
    work.person()
    setup = usable_setup(setup_id)
    source = get_setup(form.from_setup_id)
    foreign = _measured_elsewhere(setup, source)
    return _copy(work, setup, _values_of(tuned_of(source)), foreign, note=f"from {setup_title(source)}")


def _values_of(found: Tuned) -> list[ProfileValue]:
    return [portable(kind, found.values[kind]) for kind in Kind if kind in found.values]


def portable(kind: Kind, value: ValueRow) -> ProfileValue:
    """A value as a file holds it."""
    return ProfileValue(
        kind=kind,
        number=value.number,
        unit=Unit(value.unit),
        half_width_95=value.half_width_95,
        origin=Origin(value.origin),
        at=datetime.fromtimestamp(value.at_s, UTC),
        person=value.person,
        beside=value.beside,
        note=value.note or value.decision_note or "",
    )


def _measured_elsewhere(setup: Setup, source: Setup) -> set[Kind]:
    """Kinds that hold for parts alone, which are not those of this setup."""
    return {kind for kind in HOLDS_FOR if owners(kind, source) != owners(kind, setup)}


def _of_other_parts(setup: Setup, file: ProfileFile) -> set[Kind]:
    """The same by the names of the parts: all that a file from another computer says of them."""
    head, nozzle, surface = setup.toolhead, setup.nozzle, setup.surface
    named = {
        Belongs.MACHINE: (file.machine, head.machine.name),
        Belongs.TOOLHEAD: (f"{file.machine} {file.hotend}", f"{head.machine.name} {head.hotend.name}"),
        Belongs.HOTEND: (file.hotend, head.hotend.name),
        Belongs.NOZZLE: ((file.nozzle_bore_mm, file.nozzle_material), (nozzle.bore_mm, nozzle.material)),
        Belongs.SURFACE: (file.surface, None if surface is None else surface.name),
        Belongs.FILAMENT: (file.filament, setup.filament.name),
    }
    return {kind for kind in HOLDS_FOR if any(named[part][0] != named[part][1] for part in KINDS[kind].belongs)}


def _copy(work: Work, setup: Setup, given: list[ProfileValue], foreign: Collection[Kind], *, note: str) -> SetupOut:
    lock_toolhead(setup.toolhead_id)
    lines = compared_lines(setup, given, left_out(setup, given, foreign))
    actions = {line.kind: line.action for line in lines}
    new = [
        NewValue(
            kind=value.kind,
            number=value.number,
            unit=value.unit,
            origin=Origin.COPIED,
            half_width_95=value.half_width_95,
            beside=value.beside,
            note=note,
        )
        for value in given
        if actions[value.kind] in {"add", "change"}
    ]
    if not new:
        raise Refused(
            FieldProblem("text", "nothing_to_do", "Nothing in it differs from what is here, or may be taken.")
        )
    same = [kind for kind, action in actions.items() if action == "same"]
    write_values(work, setup, new, cause="copied", note=note, stay=same)
    return setup_out(setup)


def left_out(setup: Setup, given: list[ProfileValue], foreign: Collection[Kind]) -> dict[Kind, str]:
    """Values that are not taken, and why; ``foreign``: kinds that were measured on parts this setup does not have."""
    here = tuned_of(setup).values
    heat = next((value for value in given if value.kind is Kind.HEAT_BIAS and value.kind not in foreign), None)
    whys = {
        value.kind: f"it holds only for {HOLDS_FOR[value.kind]}; measure it here"
        if value.kind in foreign
        else _why_left(setup, value, here, heat)
        for value in given
    }
    return {kind: why for kind, why in whys.items() if why}


def compared_lines(setup: Setup, given: list[ProfileValue], left: Mapping[Kind, str]) -> list[ImportLineOut]:
    """What becomes of each value: added, changed, the same already, or ``left`` with the reason."""
    here = tuned_of(setup).values
    lines = []
    elsewhere = _Elsewhere(setup)
    for value in given:
        now = here.get(value.kind)
        places = places_of(value.kind, setup.toolhead.machine)
        same = now is not None and (now.number, now.unit) == (value.number, value.unit)
        action: Literal["add", "change", "same", "leave"] = "add" if now is None else "change"
        why = ""
        if value.kind in left and not same:
            action, why = "leave", left[value.kind]
        elif same:
            action = "same"
        else:
            why = elsewhere.said(value, now)
        lines.append(
            ImportLineOut(
                kind=value.kind,
                name=KINDS[value.kind].name,
                action=action,
                now="" if now is None else f"{decimal_text(now.number, places)} {unit_text(now.unit)}",
                becomes=f"{decimal_text(value.number, places)} {unit_text(value.unit)}",
                why=why,
            )
        )
    taken = {value.kind: value for value, line in zip(given, lines, strict=True) if line.action in {"add", "change"}}
    return lines + _following(setup, here, taken, {value.kind for value in given})


class _Elsewhere:
    """What a value that comes in is on the other setups of the workshop, which are looked at once for all values."""

    def __init__(self, setup: Setup) -> None:
        self._setup, self._own = setup, scope_keys(setup)

    @cached_property
    def _keys(self) -> list[Mapping[frozenset[Belongs], str]]:
        return [scope_keys(one) for one in setups_in_use() if one.id != self._setup.id]

    def said(self, value: ProfileValue, now: ValueRow | None) -> str:
        """For how many others it will hold, and whether flow follows there; empty if it is this one's alone."""
        belongs = KINDS[value.kind].belongs
        own = self._own.get(belongs)
        sharing = [keys for keys in self._keys if own is not None and keys.get(belongs) == own]
        moves = sharing and _flow_moves_by(self._setup, value, now) != 1
        return shared_said(len(sharing), flows_follow=bool(moves) and self._have_flows(sharing))

    def _have_flows(self, sharing: Sequence[Mapping[frozenset[Belongs], str]]) -> bool:
        """Whether any of them has a flow that is not the flow of this setup too."""
        shapes = {KINDS[flow].belongs for flow in FLOWS}
        scopes = {keys[shape] for keys in sharing for shape in shapes if shape in keys} - {*self._own.values()}
        return any(row.kind in FLOWS for row in fetch_newest(sorted(scopes)))


def _flow_moves_by(setup: Setup, value: ProfileValue, now: ValueRow | None) -> float:
    """What a flow is multiplied by to feed as much with this value as with what is here now."""
    if value.kind is Kind.E_STEPS and now is not None and now.unit == value.unit.value:
        return 1 / feed_ratio(now.number, value.number, value.unit)
    if value.kind is Kind.DIAMETER:
        return 1 / diameter_ratio(diameter_of(setup, now), value.number)
    return 1.0


def _following(
    setup: Setup, here: Mapping[Kind, ValueRow], taken: Mapping[Kind, ProfileValue], given: Collection[Kind]
) -> list[ImportLineOut]:
    """Flows that do not come along, and feed as much as before with the e-steps or the diameter that do."""
    ratio = math.prod(_flow_moves_by(setup, value, here.get(kind)) for kind, value in taken.items())
    return [
        ImportLineOut(
            kind=kind,
            name=KINDS[kind].name,
            action="change",
            now=f"{decimal_text(here[kind].number, KINDS[kind].places)} %",
            becomes=f"{decimal_text(here[kind].number * ratio, KINDS[kind].places)} %",
            why="it feeds as much as before",
        )
        for kind in FLOWS
        if kind in here and kind not in given and ratio != 1
    ]


def _why_left(setup: Setup, value: ProfileValue, here: Mapping[Kind, ValueRow], heat: ProfileValue | None) -> str:
    """Why a value is not taken; empty if it may be. ``heat``: a heat check that comes with it, whose limits hold too."""
    kind = KINDS[value.kind]
    machine = setup.toolhead.machine
    if kind.step.value in machine.lacks:
        return f"{machine.name} does not offer it"
    if None in owners(value.kind, setup).values():
        return "this setup does not say what it prints on"
    unit = unit_of(value.kind, machine)
    if value.unit is not unit:
        return f"{machine.name} keeps it in {unit_text(unit.value)}"
    low, high = bounds_of(value.kind, setup)
    if not low <= value.number <= high:
        return kind.why
    too_much = too_fast(setup, value.kind, value.number) or beyond_retraction_cap(setup, value.kind, value.number)
    if too_much:
        return too_much
    if kind.heats is not None:
        held = heat_limits(setup, value.kind, here.get(Kind.HEAT_BIAS))
        if kind.heats is Heats.NOZZLE and heat is not None:
            held = held + nozzle_limits_of(setup, heat)
        limit = strictest(held)
        if limit is not None and value.number > limit.max_c:
            return limit_said(limit.max_c, limit.of)
    return ""


def _warning(setup: Setup, file: ProfileFile) -> str:
    """What does not fit between a file and the setup it is brought onto."""
    if file.family != setup.filament.family:
        names = {row.key: row.name for row in FAMILIES}
        return f"The file is of {names.get(file.family, file.family)}, and this setup holds {names[setup.filament.family]}."
    if file.nozzle_bore_mm != setup.nozzle.bore_mm:
        return f"The file is of a {plain(file.nozzle_bore_mm)} nozzle, and this one has {plain(setup.nozzle.bore_mm)}."
    return ""


def _parsed(text: str) -> ProfileFile:
    """A profile file, or a reason with the place.

    Raises
    ------
    Refused
        If it is too large, broken, foreign, from a newer Ubrex, or holds what cannot be.
    """
    if len(text) > LARGEST:
        raise _unreadable("too_large", f"This file has {len(text)} characters; a profile has a few thousand.")
    try:
        found: Any = json.loads(text)
    except json.JSONDecodeError as error:
        said = f"Line {error.lineno}, column {error.colno}: {error.msg}. The file is cut off or is no JSON."
        raise _unreadable("broken", said) from error
    except RecursionError as error:
        raise _unreadable("broken", "This file is nested deeper than any profile.") from error
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise _unreadable("foreign", "This is not a profile of Ubrex: it lacks the line that says so.")
    version = found.get("version")
    if isinstance(version, int) and version > VERSION:
        said = f"This profile is of version {version}, and this Ubrex reads up to {VERSION}. Update first."
        raise _unreadable("newer", said)
    try:
        file = ProfileFile.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        where = " / ".join(str(part) for part in first["loc"])
        raise _unreadable("broken", f"At {where}: {first['msg']}.") from error
    seen = [value.kind for value in file.values]
    if len(seen) != len(set(seen)):
        raise _unreadable("twice", "A value stands in this file twice: which one counts?")
    return file


def _unreadable(code: str, said: str) -> Refused:
    return Refused(FieldProblem("text", code, said))
