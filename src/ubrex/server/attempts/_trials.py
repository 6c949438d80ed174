"""Settings that are another for a trial alone: read with an attempt, and put back or kept afterwards."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from typing import Final, cast

from ubrex.core.chain import KINDS, Kind, Origin
from ubrex.core.quantity import Unit, decimal_text
from ubrex.server.attempts._settings import SET_BY_HAND, held_of, layers_of
from ubrex.server.desk import Clash, FieldProblem, TypedFields, Work, find
from ubrex.server.profile import (
    NewValue,
    Tuned,
    judged_change,
    lock_values,
    read_value,
    refuse_findings,
    tuned_of,
    write_values,
)
from ubrex.server.store.prepared import Insert
from ubrex.server.store.records import Machine, Print, Setup, Trial, TrialEnd
from ubrex.server.store.trials import fetch_open_trials
from ubrex.server.views.attempts import Reach, SettingOut, TrialEndIn, TrialIn, TrialOut, TrialsOut
from ubrex.server.words import attempts as words
from ubrex.server.words.numbers import unit_text
from ubrex.server.workshop import places_of, unit_of, usable_setup

HIGHEST_MM: Final = 2000.0
MOST_LAYERS: Final = 20_000
_TRIAL, _END = Insert(Trial), Insert(TrialEnd)


@dataclass(frozen=True, slots=True)
class Tried:
    """A setting of an attempt, read."""

    kind: Kind
    number: float
    unit: Unit
    reach: Reach
    from_mm: float | None


def read_trials(tuned: Tuned, trials: Sequence[TrialIn], fields: TypedFields) -> list[Tried]:
    """Settings of an attempt, held to the same limits as values that are typed; what is wrong stands at ``trials.N``.

    What is only unusual is not asked about: it was printed, and to find out is what a trial is for.
    """
    found: list[Tried] = []
    for place, one in enumerate(trials):
        at = f"trials.{place}"
        number = read_value(tuned.setup, one.kind, at, one.typed, fields)
        from_mm = _from_mm(tuned, one, at, fields) if one.reach in {"above", "once"} else None
        if any(other.kind == one.kind and other.reach == one.reach for other in trials[:place]):
            fields.add(FieldProblem(at, "twice", words.TWICE))
        if number is None or fields.has(at):
            continue
        findings = judged_change(tuned.setup, tuned.values, {one.kind: number}, typed=[one.kind])
        refuse_findings(findings, fields, {one.kind: at}, note=words.TRIED)
        unit = unit_of(one.kind, tuned.setup.toolhead.machine)
        found.append(Tried(one.kind, number, unit, one.reach, from_mm))
    return found


def _from_mm(tuned: Tuned, one: TrialIn, at: str, fields: TypedFields) -> float | None:
    """From which height something was another [mm]: as it was typed, or where that layer begins."""
    layers = layers_of(tuned)
    if one.from_mm.strip() or not one.from_layer.strip():
        return fields.number(at, one.from_mm, what=words.STOPPED, low=0.1, high=HIGHEST_MM, why=words.FROM_WHY)
    layer = fields.number(at, one.from_layer, what=words.STOPPED, low=2, high=MOST_LAYERS, why=words.FROM_LAYER_WHY)
    if layer is not None and layers is None:
        fields.add(FieldProblem(at, "no_layers", words.NO_LAYERS))
    return None if layer is None or layers is None else round(layers.top_mm(round(layer)), 3)


def write_trials(work: Work, row: Print, tried: Sequence[Tried], back: Collection[Kind] = ()) -> None:
    """Write the settings of an attempt down; what was tried of the same kind before is replaced by them.

    ``back``: what the profile says again in this print, so that it was put back.
    """
    before = fetch_open_trials(row.setup_id) if tried or back else []
    for old in before:
        if old.reach == "all" and Kind(old.kind) in back:
            _END.add_unless_there(trial=old.id, how="put_back", person=work.person(), at=work.now)
    for one in tried:
        for old in before:
            if (old.kind, old.reach) == (one.kind.value, one.reach):
                _END.add_unless_there(trial=old.id, how="replaced", person=work.person(), at=work.now)
        _TRIAL.add(
            print=row, setup=row.setup_id, kind=one.kind.value, number=one.number, unit=one.unit.value, reach=one.reach,
            from_mm=one.from_mm,
        )  # fmt: skip


def open_trials(tuned: Tuned) -> list[TrialOut]:
    """What is still set for a trial on a setup, with what stands in the profile."""
    found = []
    for row in fetch_open_trials(tuned.setup.id):
        kind = Kind(row.kind)
        value = tuned.values.get(kind)
        otherwise = "" if value is None else held_of(kind, value.number, value.unit).text
        places = places_of(kind, tuned.setup.toolhead.machine)
        found.append(
            TrialOut(
                id=row.id,
                kind=kind,
                name=KINDS[kind].name + words.reach_said(row.reach, row.from_mm),
                text=f"{decimal_text(row.number, places)} {unit_text(row.unit)}".strip(),
                number_text=decimal_text(row.number, places),
                otherwise=otherwise,
                reach=cast("Reach", row.reach),
                from_mm=row.from_mm,
                can_keep=row.reach == "all",
                what=row.what,
            )
        )
    return found


def trials_now(trials: Iterable[tuple[str, float]], machine: Machine) -> dict[Kind, str]:
    """What is set for a trial in the whole of a print, by kind, as it is typed."""
    return {Kind(kind): decimal_text(number, places_of(Kind(kind), machine)) for kind, number in trials}


def end_trial(work: Work, trial_id: int, form: TrialEndIn) -> TrialsOut:
    """Put a setting back, or keep it: then it is a value that an attempt spoke for, not a measured one."""
    person = work.person()
    row = find(Trial, trial_id, "trial")
    setup = usable_setup(row.setup_id)
    lock_values()
    if TrialEnd.select().where(TrialEnd.trial == row.id).exists():
        raise Clash(words.ENDED, code="ended_already")
    if form.how == "kept":
        _keep(work, setup, row, form.note.strip())
    if not _END.add_unless_there(trial=row, how=form.how, person=person, at=work.now):
        raise Clash(words.ENDED, code="ended_already")
    return TrialsOut(trials=open_trials(tuned_of(setup)))


def _keep(work: Work, setup: Setup, row: Trial, note: str) -> None:
    if row.reach != "all":
        raise Clash(words.ONLY_WHOLE, code="only_whole")
    fields, kind, now = TypedFields(), Kind(row.kind), tuned_of(setup)
    findings = judged_change(setup, now.values, {kind: row.number}, typed=[kind])
    refuse_findings(findings, fields, {kind: "how"}, note=note)
    fields.refuse_if_any()
    said = words.kept_note(row.print.what)
    new = NewValue(
        kind=kind,
        number=row.number,
        unit=Unit(row.unit),
        origin=Origin.ATTEMPT,
        note=f"{said}. {note}" if note else said,
    )
    write_values(work, setup, [new], cause="typed", note=new.note)


def settings_of(tuned: Tuned) -> list[SettingOut]:
    """What can be another in one attempt, with what it is now."""
    machine = tuned.setup.toolhead.machine
    return [
        SettingOut(
            kind=kind,
            name=row.name,
            text="" if kind not in tuned.values else decimal_text(tuned.values[kind].number, places_of(kind, machine)),
            unit_text=unit_text(unit_of(kind, machine).value),
        )
        for kind, row in KINDS.items()
        if row.set_at in SET_BY_HAND and kind is not Kind.FLOW_BIAS
    ]
