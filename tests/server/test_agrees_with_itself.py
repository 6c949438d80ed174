"""What Ubrex offers, shows and keeps agrees with itself, on every setup of the sample workshop."""

from __future__ import annotations

import csv
import io
from collections import Counter
from itertools import product

import pytest

from tests.strategies import examples
from ubrex.core.chain import KINDS, Kind, Step
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode import RefusedFile
from ubrex.core.quantity import ToolKind
from ubrex.server import runs
from ubrex.server.desk import Clash, Desk, Refused, Work
from ubrex.server.printing import show_file_check
from ubrex.server.profile import export_profile, preview_import, tuned_of
from ubrex.server.store import database as store
from ubrex.server.store.records import Decision, Instrument
from ubrex.server.views.profiles import ImportIn
from ubrex.server.views.records import RecordIn, RecordKind
from ubrex.server.views.runs import RunOut, RunStartIn, StartMethodOut
from ubrex.server.workshop import Pickable, assemble_setup, edit_record, list_picks, setups_in_use, show_form

PRINTED = (Step.Z_OFFSET, Step.TEMPERATURE, Step.FLOW, Step.RETRACTION, Step.PRESSURE, Step.SIZE)

TONIGHT = {
    "box": {Kind.NOZZLE_FIRST, Kind.NOZZLE, Kind.BED_FIRST, Kind.BED},
    "patches": {Kind.NOZZLE_FIRST, Kind.BED_FIRST},
}
PIECES = {
    "box", "patches", "temperature", "retraction", "retraction_speed", "two_ways", "foaming", "pressure", "fit",
    "supports", "size",
}  # fmt: skip
TONIGHT |= dict.fromkeys(
    ("retraction", "retraction_speed", "two_ways", "pressure", "fit", "supports", "size"), TONIGHT["box"]
)
"""Heat that a piece has from tonight's numbers; towers that vary the nozzle's have only the bed's."""


def as_offered(setup_id: int, step: Step, way: StartMethodOut) -> RunStartIn:
    """A start form as it came, with the first tool it names."""
    tool = way.instruments[0].id if way.instruments else Instrument.get(Instrument.kind == ToolKind.CALLIPER.value).id
    values = {field.name: field.value for field in way.fields}
    return RunStartIn(setup_id=setup_id, step=step, method=way.method, instrument_id=tool, values=values)


def started(work: Work, form: RunStartIn) -> RunOut | None:
    """The run; None where something has to be typed first, or nothing may be heated."""
    try:
        return runs.start_run(work, form)
    except (Refused, Clash):
        return None


def test_a_piece_is_printed_as_it_was_shown_and_its_file_passes_our_own_check(sample: Desk) -> None:
    """Size, minutes and grams are those of the preview; held against its own setup the file has no finding."""

    def tried(work: Work) -> set[tuple[int, str]]:
        done: set[tuple[int, str]] = set()
        for setup, step in product(setups_in_use(), PRINTED):
            for way in runs.start_form(work, setup.id, step).methods:
                if sum(method == way.method for _, method in done) >= examples(4):
                    continue
                form = as_offered(setup.id, step, way)
                with store.database.atomic() as undone:
                    run = started(work, form)
                    if run is not None:
                        assert (run.entry is None) == (run.instrument.kind is ToolKind.EYES), way.method
                        assert run.entry is None or run.entry.slips
                        assert bool(run.entry and run.entry.slips) == (run.instrument.kind is not ToolKind.EYES), (
                            way.method
                        )
                    method = None if run is None else runs.show_method(work, run.id)
                    if run is not None and method and method.piece and method.files:
                        shown = runs.show_piece(work, setup.id, form)
                        told = (shown.size, shown.minutes, shown.grams, shown.refused)
                        assert told == (method.piece.size, method.piece.minutes, method.piece.grams, "")
                        held = show_file_check(work, setup.id, str(runs.file_of(work, run.id).content))
                        assert not held.harmful
                        said = {row.text for row in held.findings}
                        assert said <= set(shown.remarks), "what a file is asked about was said before it was written"
                        others = {row.kind for row in held.matches if row.known and not row.same}
                        assert not others & TONIGHT.get(way.method, {Kind.BED_FIRST, Kind.BED}), (
                            way.method,
                            held.matches,
                        )
                        done.add((setup.id, way.method))
                    undone.rollback()
        return done

    done = sample.do(tried, 1)
    assert {method for _, method in done} == PIECES, sorted(done)
    assert len(done) >= 12, sorted(done)


def entered(work: Work, kind: RecordKind, record_id: int, typed: dict[str, str]) -> None:
    """A record with these fields typed over."""
    form = show_form(work, kind, record_id)
    values = {field.name: field.value for field in form.fields} | typed
    edit_record(work, kind, record_id, form.version, RecordIn(values=values, as_typed=list(typed)))


def test_a_run_is_looked_at_whatever_is_entered_of_its_machine_later(sample: Desk) -> None:
    """A smaller bed, none at all, another bore, a lower limit: the piece stays, and is not written any more."""
    edits: list[tuple[RecordKind, dict[str, str]]] = [
        (RecordKind.MACHINE, {"width_mm": "30", "depth_mm": "30", "height_mm": "30"}),
        (RecordKind.MACHINE, {"width_mm": "", "depth_mm": "", "height_mm": ""}),
        (RecordKind.NOZZLE, {"bore_mm": "1.2"}),
        (RecordKind.HOTEND, {"max_c": "180"}),
    ]

    def tried(work: Work) -> set[tuple[str, str]]:
        done: set[tuple[str, str]] = set()
        looked_at: Counter[str] = Counter()
        for setup, step in product(setups_in_use(), PRINTED):
            head = setup.toolhead
            records = {
                RecordKind.MACHINE: head.machine_id,
                RecordKind.NOZZLE: setup.nozzle_id,
                RecordKind.HOTEND: head.hotend_id,
            }
            for way in runs.start_form(work, setup.id, step).methods:
                if not way.prints or looked_at[way.method] >= examples(2):
                    continue
                with store.database.atomic() as undone:
                    run = started(work, as_offered(setup.id, step, way))
                    looked_at[way.method] += run is not None
                    for kind, typed in edits:
                        if run is None:
                            continue
                        before = runs.show_method(work, run.id).piece
                        with store.database.atomic() as put_back:
                            entered(work, kind, records[kind], typed)
                            runs.show_run(work, run.id, early=True)
                            shown = runs.show_method(work, run.id).piece
                            assert shown is not None
                            assert before is not None
                            assert (shown.outlines, shown.refused) == (before.outlines, "")
                            with pytest.raises((RefusedFile, OutOfRange, Clash)):
                                runs.file_of(work, run.id)
                            done.add((way.method, kind))
                            put_back.rollback()
                    undone.rollback()
        return done

    assert len(sample.do(tried, 1)) == len(PIECES) * 3


@pytest.mark.parametrize("part", ["machine", "nozzle", "surface", "filament", "purpose"])
def test_what_is_picked_is_what_goes_on_the_bench(sample: Desk, part: Pickable) -> None:
    """Every choice for every setup: the title that was shown is the title of what results, and one is on the bench now."""

    def tried(work: Work) -> int:
        taken = 0
        for setup in setups_in_use():
            rows = list_picks(work, setup.id, part)
            assert sum(row.now for row in rows) <= 1
            for row in rows:
                with store.database.atomic() as undone:
                    made = assemble_setup(work, row.form)
                    assert made.title == row.title
                    assert row.setup_id in {made.id, None}
                    undone.rollback()
                taken += 1
        return taken

    assert sample.do(tried, 1) > 5


def test_a_profile_taken_along_is_what_stands_on_the_bench(sample: Desk) -> None:
    """Brought in again where it came from, JSON changes nothing; CSV has a row for each value, with the same number."""

    def tried(work: Work) -> int:
        rows = 0
        for setup in setups_in_use():
            values = tuned_of(setup).values
            text = export_profile(work, setup.id, "json").text
            lines = preview_import(work, setup.id, ImportIn(text=text)).lines
            assert all(line.action == "same" or (line.now == line.becomes and line.why) for line in lines)
            assert {line.kind for line in lines} == set(values)
            table = list(csv.DictReader(io.StringIO(export_profile(work, setup.id, "csv").text)))
            assert {row["value"]: float(row["number"]) for row in table} == pytest.approx(
                {KINDS[kind].name: value.number for kind, value in values.items()}
            )
            rows += len(table)
        return rows

    assert sample.do(tried, 1) > 40


def test_a_decided_run_still_says_what_was_decided_on_it(sample: Desk) -> None:
    """Judged anew from its readings, every run gives the verdict, the reason and the value that are on record."""

    def tried(work: Work) -> int:
        decisions = list(Decision.select())
        for decision in decisions:
            shown = runs.show_run(work, decision.run_id)
            assert shown.result is not None
            assert shown.decision is not None
            assert (shown.result.verdict, shown.result.reason) == (decision.verdict, decision.reason)
            value = next(iter(shown.decision.values), None)
            if decision.action == "apply" and value is not None:
                assert float(shown.result.proposal) == pytest.approx(value.number, abs=0.006), decision.run_id
        return len(decisions)

    assert sample.do(tried, 1) >= 10
