"""Values brought in from a file or another setup: what is taken, what is left and why, and what it asks for."""

from __future__ import annotations

import json
import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final, Literal

from pydantic import ValidationError

from ubrex.core.calibrate import diameter_ratio, feed_ratio
from ubrex.core.chain import KINDS, Belongs, Kind, Origin
from ubrex.core.judge import Severity
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import FieldProblem, Refused, Work
from ubrex.server.profile._exports import FORMAT, VERSION, values_of
from ubrex.server.profile._parts import judged_change
from ubrex.server.profile._tuned import tuned_of
from ubrex.server.profile._values import FLOWS, NewValue, diameter_of, lock_values, write_values
from ubrex.server.store.facts import ValueRow, fetch_newest
from ubrex.server.store.records import Setup
from ubrex.server.views.profiles import CopyIn, ImportIn, ImportLineOut, ImportPreviewOut, ProfileFile, ProfileValue
from ubrex.server.views.workshop import SetupOut
from ubrex.server.words import exports as words
from ubrex.server.words.judgement import finding_said
from ubrex.server.words.numbers import plain, unit_text
from ubrex.server.words.profile import shared_said
from ubrex.server.workshop import (
    bounds_of,
    feed_said,
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

LARGEST: Final = 300_000
"""Longest file [characters] that is read at all; a profile has a few thousand."""

HOLDS_FOR: Final = words.HOLDS_FOR
"""Kinds that say something of parts and nothing of a profile: they go only where those parts are."""


@dataclass(frozen=True, slots=True)
class Judged:
    """What is said of values that come in: those that are left, and why; and what those ask that are taken."""

    left: Mapping[Kind, str]
    asks: Mapping[Kind, str]


def preview_import(_work: Work, setup_id: int, form: ImportIn) -> ImportPreviewOut:
    """What a file would add, change and leave on a setup; nothing is written."""
    setup = usable_setup(setup_id)
    file = _parsed(form.text)
    source = f"{file.machine}, {file.hotend}, {plain(file.nozzle_bore_mm)} {file.nozzle_material}, {file.filament}"
    return _preview(setup, file.values, _of_other_parts(setup, file), source, _warnings(setup, _Made.of_file(file)))


def import_profile(work: Work, setup_id: int, form: ImportIn) -> SetupOut:
    """Bring a file's values in, all or none: copied, not measured."""
    work.person()
    setup = usable_setup(setup_id)
    file = _parsed(form.text)
    came = words.from_file_said(file.machine, file.filament)
    return _copy(work, setup, file.values, _of_other_parts(setup, file), came=came, note=form.note)


def preview_copy(_work: Work, setup_id: int, form: CopyIn) -> ImportPreviewOut:
    """What copying another setup's values here would add, change and leave."""
    setup = usable_setup(setup_id)
    source = get_setup(form.from_setup_id)
    warnings = _warnings(setup, _Made.of_setup(source))
    return _preview(
        setup, values_of(tuned_of(source)), _measured_elsewhere(setup, source), setup_title(source), warnings
    )


def copy_profile(work: Work, setup_id: int, form: CopyIn) -> SetupOut:
    """Copy another setup's values here: each says that it was copied, not measured."""
    work.person()
    setup = usable_setup(setup_id)
    source = get_setup(form.from_setup_id)
    foreign = _measured_elsewhere(setup, source)
    came = words.from_setup_said(setup_title(source))
    return _copy(work, setup, values_of(tuned_of(source)), foreign, came=came, note=form.note)


def _preview(
    setup: Setup, given: Sequence[ProfileValue], foreign: Collection[Kind], source: str, warnings: Sequence[str]
) -> ImportPreviewOut:
    lines = compared_lines(setup, given, judged_in(setup, given, foreign))
    return ImportPreviewOut(
        source=source,
        onto=setup_title(setup),
        warning=" ".join(warnings),
        lines=lines,
        count=sum(line.action in {"add", "change"} for line in lines),
        asks=any(line.asks for line in lines),
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


def _copy(
    work: Work, setup: Setup, given: list[ProfileValue], foreign: Collection[Kind], *, came: str, note: str
) -> SetupOut:
    lock_values()
    lines = compared_lines(setup, given, judged_in(setup, given, foreign))
    actions = {line.kind: line.action for line in lines}
    said = note.strip()
    new = [
        NewValue(
            kind=value.kind,
            number=value.number,
            unit=value.unit,
            origin=Origin.COPIED,
            half_width_95=value.half_width_95,
            beside=value.beside,
            note=f"{came}: {said}" if said else came,
        )
        for value in given
        if actions[value.kind] in {"add", "change"}
    ]
    if not new:
        raise Refused(FieldProblem("text", "nothing_to_do", words.NOTHING_TO_TAKE))
    if not said:
        refuse_unasked(lines)
    same = [kind for kind, action in actions.items() if action == "same"]
    write_values(work, setup, new, cause="copied", note=came, stay=same)
    return setup_out(setup)


def refuse_unasked(lines: Sequence[ImportLineOut]) -> None:
    """Ask for a note where values that come in lie outside what is usual."""
    asking = [line.name for line in lines if line.asks]
    if asking:
        raise Refused(FieldProblem("note", "outside_usual", words.asks_note_said(asking)))


def judged_in(setup: Setup, given: Sequence[ProfileValue], foreign: Collection[Kind], *, slips: bool = True) -> Judged:
    """Values that are not taken, and why; and what the others ask for.

    ``foreign``: kinds that were measured on parts this setup does not have. What is refused is left out, and what is left
    over is judged again: it may be right without it, or wrong. ``slips``: whether a slipped point can be behind it.
    """
    here = tuned_of(setup).values
    left = {
        value.kind: words.holds_only_for_said(value.kind) if value.kind in foreign else why
        for value in given
        if value.kind in foreign or (why := _why_left(setup, value))
    }
    asks: dict[Kind, str] = {}
    while True:
        new = {value.kind: value.number for value in given if value.kind not in left}
        found = judged_change(setup, here, new, typed=new if slips else ())
        refused = {one.kind: finding_said(one) for one in found if one.severity is Severity.REFUSED and one.kind}
        if not refused:
            break
        left |= refused
    for one in found:
        if one.severity is Severity.ASKS and one.kind is not None and not _there(here.get(one.kind), new[one.kind]):
            asks.setdefault(one.kind, finding_said(one))
    return Judged(left, asks)


def _there(value: ValueRow | None, number: float) -> bool:
    return value is not None and value.number == number


def compared_lines(setup: Setup, given: Sequence[ProfileValue], judged: Judged) -> list[ImportLineOut]:
    """What becomes of each value: added, changed, the same already, or left with the reason."""
    here = tuned_of(setup).values
    lines = []
    elsewhere = _Elsewhere(setup)
    for value in given:
        now = here.get(value.kind)
        places = places_of(value.kind, setup.toolhead.machine)
        same = now is not None and (now.number, now.unit) == (value.number, value.unit)
        action: Literal["add", "change", "same", "leave"] = "add" if now is None else "change"
        why = ""
        if value.kind in judged.left and not same:
            action, why = "leave", judged.left[value.kind]
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
                asks=judged.asks.get(value.kind, "") if action in {"add", "change"} else "",
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
            why=words.FEEDS_AS_BEFORE,
        )
        for kind in FLOWS
        if kind in here and kind not in given and ratio != 1
    ]


def _why_left(setup: Setup, value: ProfileValue) -> str:
    """Why a value cannot stand on a setup at all; empty if it may be judged."""
    kind, machine = KINDS[value.kind], setup.toolhead.machine
    if kind.step.value in machine.lacks:
        return words.not_offered_said(machine.name)
    if None in owners(value.kind, setup).values():
        return words.NO_SURFACE
    unit = unit_of(value.kind, machine)
    if value.unit is not unit:
        return words.kept_in_said(machine.name, unit)
    low, high = bounds_of(value.kind, setup)
    return "" if low <= value.number <= high else kind.why


@dataclass(frozen=True, slots=True, kw_only=True)
class _Made:
    """What values that come in were tuned on; None or empty where a file does not say."""

    family: str
    bore_mm: float
    hardness: str
    feed: str

    @staticmethod
    def of_file(file: ProfileFile) -> _Made:
        return _Made(family=file.family, bore_mm=file.nozzle_bore_mm, hardness=file.hardness, feed=file.feed_path)

    @staticmethod
    def of_setup(setup: Setup) -> _Made:
        return _Made(
            family=setup.filament.family,
            bore_mm=setup.nozzle.bore_mm,
            hardness=setup.filament.hardness,
            feed=feed_said(setup.toolhead.machine),
        )


def _warnings(setup: Setup, there: _Made) -> list[str]:
    """What does not fit between the setup that values come from and the one they are brought onto."""
    here = _Made.of_setup(setup)
    return [
        *([words.other_family_said(there.family, here.family)] if there.family != here.family else []),
        *([words.other_bore_said(there.bore_mm, here.bore_mm)] if there.bore_mm != here.bore_mm else []),
        *(
            [words.other_hardness_said(there.hardness, here.hardness)]
            if there.hardness and here.hardness and there.hardness != here.hardness
            else []
        ),
        *([words.other_feed_said(there.feed, here.feed)] if there.feed and there.feed != here.feed else []),
    ]


def _parsed(text: str) -> ProfileFile:
    """A profile file, or a reason with the place.

    Raises
    ------
    Refused
        If it is too large, broken, foreign, from a newer Ubrex, or holds what cannot be.
    """
    if len(text) > LARGEST:
        raise _unreadable("too_large", words.too_large_said(len(text)))
    try:
        found: Any = json.loads(text)
    except json.JSONDecodeError as error:
        raise _unreadable("broken", words.cut_off_said(error.lineno, error.colno, error.msg)) from error
    except RecursionError as error:
        raise _unreadable("broken", words.NESTED) from error
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise _unreadable("foreign", words.FOREIGN)
    version = found.get("version")
    if isinstance(version, int) and version > VERSION:
        raise _unreadable("newer", words.newer_said(version, VERSION))
    try:
        file = ProfileFile.model_validate(found)
    except ValidationError as error:
        first = error.errors()[0]
        where = " / ".join(str(part) for part in first["loc"])
        raise _unreadable("broken", words.wrong_at_said(where, first["msg"])) from error
    seen = [value.kind for value in file.values]
    if len(seen) != len(set(seen)):
        raise _unreadable("twice", words.TWICE)
    return file


def _unreadable(code: str, said: str) -> Refused:
    return Refused(FieldProblem("text", code, said))
