"""Kinds of checks: what each asks, and what it says of what was typed."""

from __future__ import annotations

import math
import re
import statistics
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

from ubrex.core.chain import Heats, Kind
from ubrex.core.checks import (
    DRAG_MM,
    DRAG_STD_MM,
    GOOD_MM,
    LEVEL_STD_MM,
    USABLE_MM,
    before_after,
    levelling_rounds,
    mesh_shape,
    repeatability,
    two_state,
)
from ubrex.core.errors import UnreadableEntry
from ubrex.core.heat import HeatLogVerdict, HeatMargin, MarginVerdict, heat_log, heat_margin
from ubrex.core.quantity import Unit, parse_entry
from ubrex.server.checks._log import HeatLogRows, UnreadableLog, read_log
from ubrex.server.desk import FieldProblem, TypedFields
from ubrex.server.profile import Tuned
from ubrex.server.views.checks import Grade
from ubrex.server.views.forms import FieldOut, FormOptionOut
from ubrex.server.words import checks as words
from ubrex.server.words.numbers import plain

PIECE_GOOD_MM, PIECE_USABLE_MM = 0.05, 0.1
"""Range of ten of a piece printed again that is good, and that is usable [mm] (rules, S)."""

MOST_READING, MOST_HEIGHT_MM, MOST_SIZE_MM = 1e6, 20.0, 2000.0
"""Readings beyond these come from a slip: of anything, of a height above the bed, of a piece."""

MOST_ROWS: Final = 100

STEADY_S: Final = 180.0
"""The end of a log in which duty is read [s]."""

Values = Mapping[str, str]


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What a check says. ``holds_c``: up to where a heater holds, where the check found that [°C]."""

    grade: Grade
    title: str
    sentence: str
    remarks: list[str] = field(default_factory=list)
    figures: dict[str, float | str | None] = field(default_factory=dict)
    mesh: list[list[float]] = field(default_factory=list)
    holds_c: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckKind:
    """A kind of check."""

    name: str
    why: str
    procedure: tuple[str, ...]
    offer: Callable[[Tuned], list[FieldOut]]
    read: Callable[[Tuned, Values, TypedFields], Outcome | None]


_GRADES: Final[dict[str, Grade]] = {
    "good": "good", "usable": "good", "ok": "good", "converged": "good", "good_enough": "good", "no_real_difference": "good",
    "lower": "good", "higher": "good", "poor": "bad", "stuck": "bad", "inverted": "bad", "unreliable": "bad",
    "diverging": "bad", "drifting": "bad",
}  # fmt: skip


def grade_of(verdict: str) -> Grade:
    """How a verdict is shown; one that is not known to be good or bad is open."""
    return _GRADES.get(verdict, "open")


def _numbers(
    name: str, text: str, fields: TypedFields, *, least: int = 1, most: float = MOST_READING
) -> list[float] | None:
    """Numbers one after the other; None where one cannot be read, cannot be, or there are too few."""
    found = []
    for part in re.split(r"[\s;]+", text.strip()):
        if not part:
            continue
        try:
            number = parse_entry(part, Unit.COUNT)
        except UnreadableEntry:
            fields.add(FieldProblem(name, "not_a_number", f"{part[:20]}: {words.NOT_NUMBERS}"))
            return None
        if abs(number) > most:
            fields.add(FieldProblem(name, "impossible", words.impossible_said(part[:20])))
            return None
        found.append(number)
    if len(found) < least:
        fields.add(FieldProblem(name, "too_few", words.TOO_FEW_NUMBERS if least > 1 else words.NOT_NUMBERS))
        return None
    if len(found) > words.MOST_READINGS:
        fields.add(FieldProblem(name, "too_many", words.TOO_MANY))
        return None
    return found


def _step(typed: Values, fields: TypedFields, usual: str) -> float | None:
    return fields.number(
        "step", typed.get("step", usual), what=words.STEP, low=0.0001, high=10, why=words.STEP_WHY, unit=Unit.COUNT
    )


def _lines(name: str, label: str, hint: str) -> FieldOut:
    return FieldOut(name=name, label=label, kind="lines", value="", hint=hint, needed=True)


def _choice(name: str, label: str, options: Mapping[str, str]) -> FieldOut:
    shown = [FormOptionOut(value=key, text=text) for key, text in options.items()]
    return FieldOut(name=name, label=label, kind="choice", value=next(iter(options)), options=shown)


def _repeats(
    name: str, usual: str, good: float, usable: float, most: float
) -> Callable[[Tuned, Values, TypedFields], Outcome | None]:
    def read(_tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
        readings = _numbers(name, typed.get(name, ""), fields, least=3, most=most)
        step = _step(typed, fields, usual)
        if readings is None or step is None:
            return None
        found = repeatability(readings, step, good=good, usable=usable)
        title, sentence = words.repeats_said(found, "mm", max(2, -math.floor(math.log10(step))))
        return Outcome(
            grade=grade_of(found.verdict), title=title, sentence=sentence,
            figures={"verdict": found.verdict, "range_of_ten": found.range_of_ten, "range": found.range},
        )  # fmt: skip

    return read


def _read_states(_tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
    expected: list[bool] = []
    read: list[bool] = []
    for name, there in (("with", True), ("without", False)):
        answers = re.findall(r"[a-z0-9]+", typed.get(name, "").lower())
        if not answers or any(answer not in _YES | _NO for answer in answers):
            fields.add(FieldProblem(name, "not_answers", words.NO_STATES))
            continue
        expected += [there] * len(answers)
        read += [answer in _YES for answer in answers]
    if fields.any:
        return None
    found = two_state(expected, read)
    title, sentence = words.states_said(found, words.SWITCHES.get(typed.get("which", ""), words.SWITCHES["run_out"]))
    return Outcome(
        grade=grade_of(found.verdict), title=title, sentence=sentence,
        figures={"verdict": found.verdict, "miss_rate_upper_95": found.miss_rate_upper_95},
    )  # fmt: skip


_YES: Final = frozenset({"y", "yes", "1", "on"})
_NO: Final = frozenset({"n", "no", "0", "off"})


def _words(line: str) -> list[str]:
    return re.findall(r"[^\s,;]+", line)


def _read_rounds(_tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
    rounds: list[list[float]] = []
    by_word = [line for line in typed.get("rounds", "").lower().splitlines() if line.strip()]
    felt = bool(by_word) and all(word in DRAG_MM for line in by_word for word in _words(line))
    for line in by_word:
        row = (
            [DRAG_MM[word] for word in _words(line)] if felt else _numbers("rounds", line, fields, most=MOST_HEIGHT_MM)
        )
        if row is None:
            return None
        rounds.append(row)
    if len(rounds) > MOST_ROWS:
        fields.add(FieldProblem("rounds", "too_many", words.TOO_MANY))
        return None
    found = levelling_rounds(rounds, reading_sd_mm=DRAG_STD_MM if felt else LEVEL_STD_MM)
    if found.verdict == "refuse":
        fields.add(FieldProblem("rounds", "not_alike", words.ROUNDS_ALIKE))
        return None
    last = rounds[-1]
    left = [error - statistics.fmean(last) for error in last]
    at = max(range(len(left)), key=lambda place: abs(left[place]))
    names = [name.strip() for name in typed.get("screws", "").split(",") if name.strip()]
    title, sentence = words.rounds_said(found, names[at] if at < len(names) else f"screw {at + 1}", left[at])
    return Outcome(
        grade=grade_of(found.verdict), title=title, sentence=sentence,
        figures={"verdict": found.verdict, "worst_mm": found.worst_mm[-1]},
    )  # fmt: skip


def _read_mesh(_tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
    rows: list[list[float]] = []
    for line in typed.get("mesh", "").splitlines():
        if not line.strip():
            continue
        row = _numbers("mesh", line.replace("|", " "), fields, most=MOST_HEIGHT_MM)
        if row is None:
            return None
        rows.append(row)
    if len(rows) > MOST_ROWS:
        fields.add(FieldProblem("mesh", "too_many", words.TOO_MANY))
        return None
    if typed.get("first") == "back":
        rows.reverse()
    found = mesh_shape(rows)
    if found.verdict == "refuse":
        fields.add(FieldProblem("mesh", "no_mesh", words.NO_MESH))
        return None
    title, sentence = words.mesh_said(found)
    return Outcome(
        grade=_MESH_GRADES[found.verdict], title=title, sentence=sentence, mesh=rows,
        figures={
            "verdict": found.verdict, "tilt_x_mm": found.tilt_x_mm, "tilt_y_mm": found.tilt_y_mm,
            "bowl_mm": found.bowl_mm,
        },
    )  # fmt: skip


_MESH_GRADES: Final[dict[str, Grade]] = {"even": "good", "level_first": "open", "bent": "bad", "uneven": "bad"}


def _read_before_after(_tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
    what = typed.get("what", "")
    if what not in words.MEASURED:
        fields.add(FieldProblem("what", "unknown", words.CHOOSE))
    before = _numbers("before", typed.get("before", ""), fields)
    after = _numbers("after", typed.get("after", ""), fields)
    step = _step(typed, fields, "0.1")
    if before is None or after is None or step is None or fields.any:
        return None
    found = before_after(what, before, after, step)
    title, sentence = words.before_after_said(found, words.MEASURED[what])
    return Outcome(
        grade=grade_of(found.verdict), title=title, sentence=sentence,
        figures={"verdict": found.verdict, "difference": found.difference, "half_width_95": found.half_width_95},
    )  # fmt: skip


def _read_heat(tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
    room = fields.number(
        "room",
        typed.get("room", ""),
        what=words.ROOM,
        low=-10,
        high=60,
        why="rooms are 0 to 40 °C warm",
        unit=Unit.CELSIUS,
    )
    top = fields.number(
        "top",
        typed.get("top", ""),
        what=words.TOP,
        low=100,
        high=600,
        why="hotends work at 100 to 500 °C",
        unit=Unit.CELSIUS,
    )
    try:
        # Read also where a number is missing: each field says at once what is wrong with it.
        rows = read_log(typed.get("log", ""))
    except UnreadableLog as error:
        fields.add(FieldProblem("log", "not_a_log", str(error)))
        return None
    if room is None or top is None:
        return None
    found = heat_log(rows.times_s, rows.shown_c, target_c=rows.target_c, duty=rows.duty)
    margin = _margin(rows, top, room)
    title, sentence = words.log_said(found, rows.target_c)
    limited = margin.verdict is MarginVerdict.HEATER_AT_ITS_LIMIT
    grade: Grade = "open" if found.verdict in {HeatLogVerdict.REPEAT, HeatLogVerdict.REFUSE} else "good"
    if limited or found.verdict in _WRONG_HEAT:
        grade = "bad"
    # A steady reading at full power is no good news.
    if limited and grade == "bad" and found.verdict is HeatLogVerdict.FINE:
        title = "The heater is near its limit"
    said = words.margin_said(margin, top)
    return Outcome(
        grade=grade, title=title, sentence=sentence, remarks=[said] if said else [],
        figures={
            "verdict": found.verdict.value, "settling_s": found.settling_s, "ripple_c": found.ripple_c,
            "overshoot_c": found.overshoot_c, "margin": margin.margin, "margin_low": margin.margin_low,
        },
        holds_c=_holds(tuned, margin, top),
    )  # fmt: skip


_WRONG_HEAT: Final = frozenset(
    {HeatLogVerdict.CHECK_WIRING, HeatLogVerdict.HEATER_AT_ITS_LIMIT, HeatLogVerdict.RETUNE_CONTROL}
)


def _margin(rows: HeatLogRows, top_c: float, room_c: float) -> HeatMargin:
    """What is left at the top: by the duty that held the end of the log, else by how fast it rose."""
    if rows.duty:
        end = [place for place, at in enumerate(rows.times_s) if at >= rows.times_s[-1] - STEADY_S]
        held = statistics.fmean(rows.shown_c[place] for place in end)
        return heat_margin(top_c, room_c=room_c, duty_at_c=held, duty=[rows.duty[place] for place in end])
    return heat_margin(top_c, room_c=room_c, times_s=rows.times_s, shown_c=rows.shown_c)


def _holds(tuned: Tuned, margin: HeatMargin, top_c: float) -> float | None:
    """Up to where the heater holds: what a log found, or that an earlier limit is gone."""
    if margin.verdict is MarginVerdict.HEATER_AT_ITS_LIMIT:
        return margin.stay_below_c
    if margin.verdict is MarginVerdict.FINE and Kind.HEATER_HOLDS in tuned.values:
        limit = tuned.parts.limit_of(Heats.NOZZLE)
        return top_c if limit is None else max(top_c, limit.max_c)
    return None


def _top(tuned: Tuned) -> str:
    limit, now = tuned.parts.limit_of(Heats.NOZZLE), tuned.values.get(Kind.NOZZLE)
    if limit is not None:
        return plain(limit.max_c)
    return "" if now is None else plain(now.number)


_STEP_HINT: Final = "What its last digit moves by."

CHECK_KINDS: Final[Mapping[str, CheckKind]] = {
    "probe_repeats": CheckKind(
        name="Probe, the same spot again",
        why="Whether the probe can be trusted to a hundredth: levelling and mesh rest on it.",
        procedure=(
            "Warm bed and nozzle as for a print, wipe the tip, wait five minutes.",
            "Let it touch the same spot ten times, and type what it says each time.",
        ),
        offer=lambda _tuned: [
            _lines("touches", "Touches, mm", "One after the other, as they came: 0.012 0.010 0.013"),
            FieldOut(name="step", label="Step", kind="number", unit="mm", value="0.001", hint=_STEP_HINT),
        ],
        read=_repeats("touches", "0.001", GOOD_MM, USABLE_MM, MOST_HEIGHT_MM),
    ),
    "both_states": CheckKind(
        name="Switch or sensor, in both states",
        why="Whether it says yes when there is something and no when there is nothing, each time.",
        procedure=(
            "Cold machine, hands clear of the axes: see what it says with filament in, lever pressed, probe near.",
            "Then without. Three times each, in turn.",
        ),
        offer=lambda _tuned: [
            _choice("which", "Which", words.SWITCHES),
            FieldOut(name="with", label="With it, it said", kind="text", value="", hint="y or n for each look: y y y"),
            FieldOut(name="without", label="Without, it said", kind="text", value="", hint="n n n"),
        ],
        read=_read_states,
    ),
    "level_rounds": CheckKind(
        name="Levelling, round by round",
        why="Whether turning the screws still helps, or when to stop.",
        procedure=(
            "Bed and nozzle warm. Measure at each screw, or feel a sheet of paper there; a line is a round.",
            "Turn the worst one, measure all again, add the line: Ubrex says when to stop.",
            "Level first, the offset afterwards: levelling moves it, and sets it only where the nozzle itself measures.",
        ),
        offer=lambda _tuned: [
            _lines("rounds", "Rounds", words.ROUNDS_HINT),
            FieldOut(
                name="screws", label="Screws", kind="text",
                value="front left, front right, back right, back left", hint="Their names, in that order.",
            ),
        ],
        read=_read_rounds,
    ),
    "mesh": CheckKind(
        name="Mesh of the bed",
        why="How much of it is tilt, which screws take away, and how much a bowl, which only a mesh follows.",
        procedure=(
            "Bed and nozzle warm, as for a print; let the machine touch its points, and copy what it says.",
            "A line for each row of points. Level by the screws first: a mesh that hides a tilt is at work all the time.",
            "Measure the offset afterwards: a mesh does not set it.",
        ),
        offer=lambda _tuned: [
            _lines("mesh", "Heights, mm", "From left to right, a line a row: 0.02 0.05 -0.01"),
            _choice("first", "The first line is", {"front": "the front row", "back": "the back row"}),
        ],
        read=_read_mesh,
    ),
    "piece_again": CheckKind(
        name="One piece, printed again",
        why="How far the same file comes out the same: no correction can be finer than that.",
        procedure=("Print the same piece three times or more, change nothing.", "Measure the same size on each."),
        offer=lambda _tuned: [
            _lines("sizes", "Sizes, mm", "One for each print."),
            FieldOut(name="step", label="Step", kind="number", unit="mm", value="0.01", hint=_STEP_HINT),
        ],
        read=_repeats("sizes", "0.01", PIECE_GOOD_MM, PIECE_USABLE_MM, MOST_SIZE_MM),
    ),
    "before_after": CheckKind(
        name="Before and after a change",
        why="Whether what was done made it quieter, faster, cooler or lighter, or only seems so.",
        procedure=(
            "The same tool in the same place, the same file; three readings before and three after are plenty.",
            "Choose the work it belongs to: the result stays with it.",
        ),
        offer=lambda _tuned: [
            _choice("what", "What", words.MEASURED),
            _lines("before", "Before", "One after the other."),
            _lines("after", "After", "One after the other."),
            FieldOut(name="step", label="Step", kind="number", value="0.1", hint=_STEP_HINT),
        ],
        read=_read_before_after,
    ),
    "heat_log": CheckKind(
        name="Heat, from a log",
        why="Whether the nozzle comes to its heat, stays there, and how much the heater has left.",
        procedure=(
            "Stay with the machine while it heats; fan and feed as in work: a heat-up in still air flatters.",
            "Log from cold to three minutes after it has settled, a line every second or two.",
            "Columns: time, target, shown, and duty if the machine says it.",
        ),
        offer=lambda tuned: [
            FieldOut(name="top", label=words.TOP, kind="number", unit="°C", value=_top(tuned)),
            FieldOut(name="room", label=words.ROOM, kind="number", unit="°C", value="22"),
            _lines("log", "Log", "Paste it, or read it from a file. time;target;shown;duty"),
        ],
        read=_read_heat,
    ),
}  # fmt: skip
"""Every kind, in the order in which they are offered."""


def outcome_of(kind: str, tuned: Tuned, typed: Values, fields: TypedFields) -> Outcome | None:
    """What a check says; None where a field needs another look."""
    return CHECK_KINDS[kind].read(tuned, typed, fields)


def offered(kind: str, tuned: Tuned, work_done: Sequence[FormOptionOut]) -> list[FieldOut]:
    """The fields of a kind, and the work it may belong to."""
    rows = CHECK_KINDS[kind].offer(tuned)
    if kind == "before_after":
        rows = [
            *rows,
            FieldOut(name="change", label="Belongs to", kind="choice", value="", options=[*work_done]),
        ]
    return rows
