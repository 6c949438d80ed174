"""Tonight's numbers: what is typed into the slicing program, in the order in which it is typed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final, TypedDict

from ubrex.core.chain import (
    KINDS,
    SHOWN_HERE,
    Heats,
    Kind,
    Origin,
    SetAt,
    Standing,
    Step,
)
from ubrex.core.judge import Code, Finding, Severity
from ubrex.core.quantity import decimal_text
from ubrex.server.bench._sums import sum_of
from ubrex.server.profile import Standings, Tuned, effective_flow, is_off, offer_on, usual_said_on
from ubrex.server.store.facts import ValueRow
from ubrex.server.views.bench import (
    TonightLineOut,
)
from ubrex.server.views.values import ValueOut
from ubrex.server.words.attempts import trial_remark
from ubrex.server.words.judgement import kept_said
from ubrex.server.words.numbers import unit_text
from ubrex.server.words.standing import CHOSEN, NOT_SET, OUT_OF_LIMITS, TOO_HOT, on_purpose_said, standing_word
from ubrex.server.words.values import really_said

_ALWAYS_THERE: Final = (Kind.LINE_WIDTH, Kind.LAYER, Kind.NOZZLE, Kind.BED, Kind.FLOW, Kind.FAN)
"""Numbers that no slicing program does without: shown with what is usual while there is no value."""

_CHOSEN: Final = frozenset({Kind.LINE_WIDTH, Kind.LAYER, Kind.LAYER_FIRST})
"""Numbers that somebody decided on: nothing measures them, and nothing makes them stale."""


class TimelessLine(TypedDict):
    """What a line says whatever the time."""

    kind: Kind
    step: Step
    name: str
    text: str
    unit_text: str
    usual: str
    offer: str
    remark: str
    sum: str


def timeless_lines(
    tuned: Tuned, findings: Mapping[Kind, Sequence[Finding]], trials: Mapping[Kind, str]
) -> list[TimelessLine]:
    """Numbers for the slicing program, in the order in which they are typed; ``trials``: what is set for one alone."""
    return [
        _timeless(kind, tuned, findings.get(kind, []), trials.get(kind))
        for kind, what in KINDS.items()
        if what.set_at is SetAt.SLICER
        and kind is not Kind.FLOW_BIAS
        and (kind in tuned.values or kind in _ALWAYS_THERE)
    ]


def _timeless(kind: Kind, tuned: Tuned, findings: Sequence[Finding], trial: str | None) -> TimelessLine:
    value = tuned.values.get(kind)
    text, remark = _tonight_text(kind, value, tuned)
    if trial is not None:
        text, remark = trial, trial_remark(text)
    said = [] if value is None else kept_said(findings, value.note if value.run_id is None else "")
    return TimelessLine(
        kind=kind,
        step=KINDS[kind].step,
        name=KINDS[kind].name,
        text=text,
        unit_text=unit_text(KINDS[kind].unit.value),
        usual="" if value is not None else usual_said_on(tuned, kind),
        offer="" if value is not None else offer_on(tuned, kind),
        remark="; ".join([*([remark] if remark else []), *said]),
        sum="" if trial is not None else sum_of(kind, tuned.values, tuned.setup.nozzle.bore_mm),
    )


def tonight_lines(
    lines: Sequence[TimelessLine],
    shown: Mapping[Kind, ValueOut],
    found: Standings,
    findings: Mapping[Kind, Sequence[Finding]],
    trials: Mapping[Kind, str],
) -> list[TonightLineOut]:
    """The same lines with what grows older: ``shown`` values, and where each stands."""
    rows = []
    for line in lines:
        kind = line["kind"]
        value = found.values.get(kind)
        now, word = tonight_standing(kind, value, found, findings.get(kind, []))
        rows.append(
            TonightLineOut(
                **line,
                value=shown.get(kind),
                half_width_text="" if value is None or kind in trials else shown[kind].half_width_text,
                standing=now,
                standing_word=word,
                typed_in=value is not None and found.typed_in.get(value.id, False),
            )
        )
    return rows


def tonight_standing(
    kind: Kind, value: ValueRow | None, found: Standings, findings: Sequence[Finding]
) -> tuple[Standing, str]:
    """Where one of tonight's numbers stands: what is refused before how far it may be believed."""
    if value is None:
        return Standing.NEVER, NOT_SET
    if any(one.code is Code.TOO_HOT for one in findings):
        return Standing.OUT, TOO_HOT
    if any(one.severity is Severity.REFUSED for one in findings):
        return Standing.OUT, OUT_OF_LIMITS
    if kind in _CHOSEN:
        return Standing.ASSUMED, CHOSEN
    facts = found.steps.get(KINDS[kind].step)
    now = Standing.ASSUMED if facts is None or facts.standing is Standing.NEVER else facts.standing
    if now in {Standing.FRESH, Standing.AGEING} and Origin(value.origin) not in SHOWN_HERE:
        now = Standing.ASSUMED
    if now is Standing.ASSUMED and Origin(value.origin) in SHOWN_HERE:
        now = Standing.FRESH
    return now, standing_word(now)


def _tonight_text(kind: Kind, value: ValueRow | None, found: Tuned) -> tuple[str, str]:
    """The number to type, and a word on it: flow is typed with its bias in it."""
    if value is None:
        return "", ""
    places = KINDS[kind].places
    bias = found.values.get(Kind.FLOW_BIAS)
    if kind is Kind.FLOW and bias is not None and bias.number != 100:
        calibrated = decimal_text(value.number, places)
        typed = effective_flow(list(found.values.values())) or value.number
        return decimal_text(typed, places), on_purpose_said(calibrated, bias.number)
    parts = found.parts
    if KINDS[kind].heats is Heats.NOZZLE and is_off(parts):
        return decimal_text(value.number, places), really_said(value.number - parts.trusted_bias_c)
    return decimal_text(value.number, places), ""
