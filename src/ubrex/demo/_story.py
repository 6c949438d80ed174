"""What happened at the Lanternfold Puppet Workshop. Every name and number is made up and obeys the rules."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any, Final, Literal

from ubrex.core.calibrate import EStepsMethod
from ubrex.core.chain import Change, Grade, Kind, Purpose, Step
from ubrex.core.materials import Liner
from ubrex.core.quantity import ToolKind
from ubrex.server import bench as benches
from ubrex.server import checks, profile, runs
from ubrex.server.attempts import (
    end_trial,
    log_print,
    look_again,
    plan_part,
    set_part_facts,
    show_attempt_form,
    show_margin_attempts,
)
from ubrex.server.desk import Desk
from ubrex.server.faults import answer_fault, close_fault, open_fault
from ubrex.server.profile import check_safety, log_change, recorded_setting, tick_value, type_values
from ubrex.server.views.attempts import LookAgainIn, PartFactsIn, PlanIn, PrintIn, TrialEndIn, TrialIn
from ubrex.server.views.bench import ChangeIn
from ubrex.server.views.checks import CheckIn
from ubrex.server.views.faults import FaultAnswerIn, FaultCloseIn, FaultIn
from ubrex.server.views.records import RecordIn, RecordKind, SpoolEntryIn
from ubrex.server.views.runs import (
    DecisionIn,
    ReadingIn,
    RunEditIn,
    RunOut,
    RunStartIn,
    StrikeIn,
)
from ubrex.server.views.towers import RatingIn
from ubrex.server.views.values import ReadBackIn, SafetyIn, TickIn, TypedValuesIn
from ubrex.server.views.workshop import FirstSetupIn, InstrumentOut, PersonIn, RoomIn, ZeroIn
from ubrex.server.words.machine import Keeping
from ubrex.server.workshop import (
    add_instrument,
    add_person,
    add_record,
    add_spool_entry,
    all_instruments,
    assemble_setup,
    check_zero,
    create_setup,
    edit_record,
    first_setup,
    list_filaments,
    list_machines,
    list_picks,
    list_setups,
    read_room,
    show_form,
)

HERON: Final = {
    "machine": "Heron",
    "feed_path": "bowden",
    "keeps_setting": Keeping.COMMAND_PAIR.value,
    "runaway": Grade.TESTED.value,
    "liner": Liner.LINED.value,
    "hotend_max": "240",
    "bed_max": "80",
    "bore": "0.4",
    "surface": "Smooth sheet",
    "filament": "Fallow PLA oat",
    "family": "pla",
}
KESTREL: Final = {
    "machine": "Kestrel",
    "feed_path": "direct",
    "keeps_setting": Keeping.TURN_IN_FILE.value,
    "setting_places": "3",
    "runaway": Grade.MAKER_SAYS.value,
    "liner": Liner.ALL_METAL.value,
    "hotend_max": "285",
    "bed_max": "110",
    "bore": "0.4",
    "surface": "Textured sheet",
    "filament": "Tarn PETG smoke",
    "family": "petg",
}
KESTREL_ASA: Final = KESTREL | {
    "bore": "0.6", "nozzle_material": "hardened", "filament": "Cinder ASA black", "family": "asa",
}  # fmt: skip
KESTREL_TPU: Final = KESTREL | {"filament": "Mallow TPU 95A plum", "family": "tpu"}
HERON_BIRCH: Final = HERON | {"filament": "Fallow PLA birch"}
HERON_FOAM: Final = HERON | {"filament": "Thistledown foaming PLA white", "family": "foaming_pla"}
WREN: Final = HERON | {
    "machine": "Wren",
    "feed_path": "direct",
    "keeps_setting": Keeping.MENU.value,
    "setting_places": "1",
    "runaway": Grade.UNKNOWN.value,
    "surface": "",
    "liner": Liner.UNKNOWN.value,
    "hotend_max": "",
}


SpoolFinding = Literal["weighed", "dried", "diameter", "wet_test"]
Outcome = Literal["good", "bad", "stopped"]
Where = Literal["typed", "label", "family"]


@dataclass(frozen=True, slots=True)
class Bench:
    """Who and what is there, by id."""

    desk: Desk
    person_id: int
    calliper_id: int
    ruler_id: int
    micrometer_id: int

    def measure(self, setup_id: int, step: Step, method: str, *typed: str, **given: str) -> RunOut:
        """Start a run that prints, with what its form offers and what is ``given``, and take its readings."""
        offered = self.desk.do(runs.start_form, None, setup_id, step)
        fields = next(way for way in offered.methods if way.method == method).fields
        form = RunStartIn(
            setup_id=setup_id,
            step=step,
            method=method,
            instrument_id=self.micrometer_id,
            values={row.name: row.value for row in fields} | given,
        )
        return self.read(self.desk.do(runs.start_run, self.person_id, form), *typed)

    def rate(self, run: RunOut, **ratings: str) -> RunOut:
        """Rate a tower from its top band down: a figure for each band, criterion by criterion; a dot leaves one out."""
        assert run.body.kind == "rated"
        bands = [band.index for band in run.body.tower.bands]
        for key, figures in ratings.items():
            for band, figure in zip(bands, figures, strict=True):
                if figure != ".":
                    form = RatingIn(band=band, key=key, rating=int(figure), taken_at=self.desk.clock())
                    self.desk.do(runs.rate, self.person_id, run.id, form)
        return self.desk.do(runs.show_run, self.person_id, run.id)

    def start(self, setup_id: int, current: str, *, method: EStepsMethod = EStepsMethod.OPEN_AIR) -> RunOut:
        """Start an e-steps run with the calliper; with the ruler where a mark is read."""
        tool = self.ruler_id if method is EStepsMethod.MARKED else self.calliper_id
        form = RunStartIn(
            setup_id=setup_id,
            step=Step.E_STEPS,
            method=method.value,
            instrument_id=tool,
            values={"current": current, "commanded": "100", "mark": "120"},
        )
        return self.desk.do(runs.start_run, self.person_id, form)

    def read(self, run: RunOut, *typed: str) -> RunOut:
        """Take readings one after the other."""
        for text in typed:
            form = ReadingIn(typed=text, taken_at=self.desk.clock())
            run = self.desk.do(runs.take_reading, self.person_id, run.id, form)
        return run

    def apply(self, run: RunOut, note: str, *, read_back: bool = True) -> RunOut:
        """Apply what a run proposes, and read it back."""
        run = self.desk.do(runs.decide, self.person_id, run.id, run.version, DecisionIn(action="apply", note=note))
        if read_back and run.decision is not None and run.decision.values:
            value = run.decision.values[0]
            form = ReadBackIn(typed=value.setting)
            self.desk.do(profile.read_back, self.person_id, run.setup.id, value.id, form)
        return run

    def keep(self, run: RunOut, note: str) -> RunOut:
        """Keep what is set."""
        return self.desk.do(runs.decide, self.person_id, run.id, run.version, DecisionIn(action="keep", note=note))

    def enter(self, kind: RecordKind, parent: int | None = None, **typed: str) -> int:
        """Add a record; its id."""
        form = self.desk.do(show_form, None, kind, None)
        values = {row.name: row.value for row in form.fields} | typed
        made = self.desk.do(add_record, self.person_id, kind, RecordIn(values=values, parent_id=parent))
        assert made.id is not None
        return made.id

    def describe(self, kind: RecordKind, record_id: int, **typed: str) -> None:
        """Say more about a record."""
        form = self.desk.do(show_form, None, kind, record_id)
        values = {row.name: row.value for row in form.fields} | typed
        self.desk.do(edit_record, self.person_id, kind, record_id, form.version, RecordIn(values=values))

    def find(self, kind: RecordKind, name: str) -> int:
        """Id of a filament or machine by its name."""
        rows = {row.name: row.id for row in self.desk.do(list_machines, None)}
        if kind is RecordKind.FILAMENT:
            rows = {row.name: row.id for row in self.desk.do(list_filaments, None)}
        return rows[name]

    def found_on(self, spool_id: int, kind: SpoolFinding, number: str, second: str = "", note: str = "") -> None:
        """Write down what was found on a spool."""
        form = SpoolEntryIn(kind=kind, number=number, second=second, note=note)
        self.desk.do(add_spool_entry, self.person_id, spool_id, form)

    def printed(
        self, setup_id: int, what: str, hours: str, grams: str, outcome: Outcome = "good", note: str = ""
    ) -> int:
        """Write a real print down."""
        form = PrintIn(what=what, hours=hours, grams=grams, outcome=outcome, note=note)
        return self.desk.do(log_print, self.person_id, setup_id, form).id

    def attempt(self, setup_id: int, outcome: Outcome, note: str, strings: int | None, **more: Any) -> int:
        """Write an attempt at the elbow joint down, with its strings rated."""
        signs = {} if strings is None else {"stringing": strings}
        form = PrintIn(what="elbow joint", outcome=outcome, note=note, signs=signs | more.pop("signs", {}), **more)
        return self.desk.do(log_print, self.person_id, setup_id, form).id

    def case(self, setup_id: int, complaint: str, *found: tuple[str, str]) -> int:
        """Open a case and say what was found."""
        fault = self.desk.do(open_fault, self.person_id, FaultIn(setup_id=setup_id, complaint=complaint)).id
        for key, answer in found:
            form = FaultAnswerIn(kind="finding", key=key, answer=answer)
            self.desk.do(answer_fault, self.person_id, fault, form)
        return fault

    def put_back(self, setup_id: int, kind: Kind) -> None:
        """Put a setting back that is another for a trial."""
        for row in self.desk.do(show_margin_attempts, None, setup_id).trials:
            if row.kind is kind:
                self.desk.do(end_trial, self.person_id, row.id, TrialEndIn(how="put_back"))

    def put_on(self, setup_id: int, spool_id: int, purpose: Purpose) -> None:
        """Put a spool on a setup, and say what it is tuned for."""
        now = next(row for row in self.desk.do(list_picks, None, setup_id, "purpose") if row.now)
        form = now.form.model_copy(update={"spool_id": spool_id, "purpose": purpose})
        self.desk.do(assemble_setup, self.person_id, form)

    def type_in(self, setup_id: int, note: str = "", *, origin: Where = "typed", **typed: str) -> None:
        """Type values by hand, off the spool's label, or take what is usual for the family."""
        form = TypedValuesIn(values=typed, origin=origin, note=note)
        self.desk.do(type_values, self.person_id, setup_id, form)

    def check_heat(self, setup_id: int, shown: str, true: str) -> None:
        """Type what a hotend shows and what is really there."""
        self.type_in(setup_id, heat_bias=shown, heat_bias_true=true)

    def tick(self, setup_id: int, *kinds: Kind) -> None:
        """Tick numbers as typed into the slicing program."""
        for line in self.desk.do(benches.show_bench, None, setup_id).tonight:
            if line.kind in kinds and line.value is not None:
                self.desk.do(tick_value, self.person_id, line.value.id, TickIn(ticked=True))

    def safe(self, setup_id: int, runaway: Grade, liner: Liner, note: str) -> None:
        """Go through the card that comes before everything that heats."""
        form = SafetyIn(runaway=runaway, liner=liner, note=note)
        self.desk.do(check_safety, self.person_id, setup_id, form)

    def checked(self, setup_id: int, kind: str, *, note: str = "", **typed: str) -> None:
        """Check the machine of a setup."""
        self.desk.do(checks.take_check, self.person_id, setup_id, CheckIn(kind=kind, values=typed, note=note))

    def change(self, setup_id: int, kind: Change, note: str) -> None:
        """Log what was done to the machine of a setup."""
        self.desk.do(log_change, self.person_id, setup_id, ChangeIn(kind=kind, note=note))


def _tool(name: str, kind: ToolKind, step: str, error: str) -> dict[str, str]:
    return {"name": name, "kind": kind.value, "resolution": step, "max_permissible_error": error}


def load_demo(now: datetime) -> None:
    """Fill an empty workshop with a year that ends ``now``."""
    # Everything goes in by the doors that a person uses, at the hour it happened: it is judged as theirs is.
    opened = now - timedelta(days=338)
    first = Desk(lambda: opened).do(
        first_setup,
        None,
        FirstSetupIn(
            workshop="Lanternfold Puppet Workshop",
            setup=HERON,
            instrument=_tool("Calliper 2", ToolKind.CALLIPER, "0.01", "0.03"),
            person=PersonIn(name="Wim"),
        ),
    )
    desk = Desk(lambda: opened)
    calliper = desk.do(all_instruments, None)[0]

    def add_tool(name: str, kind: ToolKind, step: str, error: str) -> InstrumentOut:
        return desk.do(add_instrument, first.person.id, RecordIn(values=_tool(name, kind, step, error)))

    ruler = add_tool("Steel rule", ToolKind.RULER, "0.5", "0.5")
    add_tool("Glue-pot scale", ToolKind.SCALE, "0.01", "0.02")
    fine = add_tool("Micrometer", ToolKind.MICROMETER, "0.001", "0.003")
    probe = add_tool("Kiln probe", ToolKind.THERMOMETER, "0.1", "1")
    ines = desk.do(add_person, None, PersonIn(name="Ines"))

    def bench(days: float, person_id: int) -> Bench:
        moment = now - timedelta(days=days)
        return Bench(Desk(lambda: moment), person_id, calliper.id, ruler.id, fine.id)

    _heron(
        bench(331, first.person.id),
        bench(305, ines.id),
        bench(262, ines.id),
        bench(231, first.person.id),
        first.setup_id,
    )
    _heron_profile(bench(233, first.person.id), first.setup_id)
    _flashed(bench(198, first.person.id), first.setup_id)
    _heron_last(bench(196, ines.id), first.setup_id)
    kestrel = _kestrel(bench(150, ines.id), bench(63, ines.id))
    _wren(bench(3, first.person.id))
    bench(41, ines.id).change(first.setup_id, Change.MECHANICS, "One wheel had play; its nut was turned.")
    bench(9, first.person.id).change(kestrel, Change.GEAR_TENSION, "PETG dust in the teeth.")
    bench(41, ines.id).safe(
        first.setup_id, Grade.TESTED, Liner.LINED, "Tested as its maker describes, with the sensor's line switched off."
    )
    _spare_heads(bench(10, ines.id), bench(3, ines.id), first.setup_id)
    _inventory(bench(236, ines.id), bench(9, ines.id), first.setup_id, kestrel)
    _kestrel_heat(replace(bench(44, ines.id), micrometer_id=probe.id), kestrel)
    _kestrel_profile(bench(41, ines.id), bench(12, ines.id), kestrel)
    _foam(bench(4, first.person.id))
    _hands(bench(20, ines.id), bench(6, ines.id))
    _elbow(bench(19, ines.id), first.setup_id)
    _elbow_attempts(lambda days: bench(days, ines.id), first.setup_id)
    for days, person_id in ((190, ines.id), (150, first.person.id), (88, ines.id), (34, ines.id), (5, ines.id)):
        _prints(bench(days, person_id), first.setup_id, days)
    _measured(bench(18, ines.id), bench(12, ines.id), first.setup_id)
    _brackets(bench(8, ines.id))
    for days, wall in zip(range(150, 0, -15), WORN_WALLS, strict=False):
        _birch(bench(days, first.person.id), *wall)
    _kestrel_pressure(bench(7, ines.id), kestrel)
    _faults(lambda days: bench(days, ines.id), first.setup_id, kestrel)
    bench(2, ines.id).desk.do(check_zero, ines.id, calliper.id, ZeroIn(read="0.00"))


def _heron(first: Bench, check: Bench, gear: Bench, snag: Bench, setup_id: int) -> None:
    run = first.read(first.start(setup_id, "400", method=EStepsMethod.MARKED), "23", "22.5", "23.5")
    setting = _setting(first.apply(run, "As it came from the maker: everything too thin."))
    check.keep(
        check.read(check.start(setup_id, setting), "99.63", "99.91", "99.38"), "Still good after the autumn plays."
    )
    gear.change(setup_id, Change.EXTRUDER, "Drive gear: the teeth of the old one were round.")
    run = gear.read(gear.start(setup_id, setting), "101.92", "102.31", "101.78")
    setting = _setting(gear.apply(run, "New drive gear: the teeth of the old one were round."))
    run = snag.read(snag.start(setup_id, setting), "99.14", "91.30")
    form = StrikeIn(reason="spool snagged on the bracket")
    snag.desk.do(runs.strike_reading, snag.person_id, run.id, run.readings[-1].id, form)
    snag.desk.do(runs.leave, snag.person_id, run.id, run.version + 1)


def _heron_last(bench: Bench, setup_id: int) -> None:
    recorded = bench.desk.do(recorded_setting, None, setup_id)
    run = bench.read(bench.start(setup_id, recorded), "98.42", "98.71", "97.20")
    form = StrikeIn(reason="cut at an angle")
    run = bench.desk.do(runs.strike_reading, bench.person_id, run.id, run.readings[-1].id, form)
    run = bench.read(run, "98.35")
    bench.apply(run, "Gear tension set again; elbow joints were loose.")


def _kestrel(first: Bench, later: Bench) -> int:
    """Id of its setup."""
    petg = first.desk.do(create_setup, first.person_id, KESTREL)
    first.desk.do(create_setup, first.person_id, KESTREL_ASA)
    run = first.read(first.start(petg.id, "4.7"), "97.71", "98.05", "97.88")
    setting = _setting(first.apply(run, "First run on Kestrel."))
    run = later.read(later.start(petg.id, setting), "98.12", "98.40", "98.31")
    applied = later.apply(run, "After the extruder was cleaned.", read_back=False)
    value = next(iter(applied.decision.values), None) if applied.decision else None
    if value is not None:
        for typed in (setting, value.setting):
            later.desk.do(profile.read_back, later.person_id, petg.id, value.id, ReadBackIn(typed=typed))
    return petg.id


def _inventory(early: Bench, late: Bench, heron: int, kestrel: int) -> None:
    """What is known of machines, labels and spools."""
    early.describe(
        RecordKind.MACHINE, early.find(RecordKind.MACHINE, "Heron"), width_mm="220", depth_mm="220", height_mm="250",
        bed_max_c="100", tube_mm="400", bypass_for_soft="yes", runaway_note="Tested with the sensor's line switched off.",
    )  # fmt: skip
    early.describe(
        RecordKind.MACHINE, early.find(RecordKind.MACHINE, "Kestrel"), kinematics="still_bed", width_mm="250",
        depth_mm="250", height_mm="240", enclosure="passive", bed_max_c="115", can_pause="yes",
        runaway_note="Maker's booklet, page 12.",
    )  # fmt: skip
    early.describe(RecordKind.FILAMENT, early.find(RecordKind.FILAMENT, "Fallow PLA oat"), maker="Fallow", colour="oat",
                   label="195-220; 210-235 from 80 mm/s", bed_low_c="50", bed_high_c="60")  # fmt: skip
    early.describe(RecordKind.FILAMENT, early.find(RecordKind.FILAMENT, "Tarn PETG smoke"), maker="Tarn", colour="smoke",
                   label="230-245", bed_low_c="70", bed_high_c="80", dry_c="65", dry_h="6")  # fmt: skip
    early.describe(RecordKind.FILAMENT, early.find(RecordKind.FILAMENT, "Cinder ASA black"), maker="Cinder", colour="black",
                   label="240-260", flags="")  # fmt: skip
    oat = early.enter(RecordKind.SPOOL, early.find(RecordKind.FILAMENT, "Fallow PLA oat"), name="11", full_g="1000",
                      price="22", stored="box with silica gel")  # fmt: skip
    smoke = early.enter(RecordKind.SPOOL, early.find(RecordKind.FILAMENT, "Tarn PETG smoke"), name="14", full_g="1000",
                        stored="open shelf")  # fmt: skip
    late.found_on(oat, "weighed", "612")
    late.found_on(oat, "diameter", "1.74", "1.75")
    late.found_on(smoke, "wet_test", "7", note="Steam at the nozzle too.")
    late.put_on(heron, oat, Purpose.FIT)
    late.put_on(kestrel, smoke, Purpose.STRENGTH)
    late.desk.do(read_room, late.person_id, RoomIn(temperature="17", humidity="62", draught=True))


def _flashed(bench: Bench, heron: int) -> None:
    """Heron's firmware was flashed: what it keeps was looked up again, but for the heat check."""
    bench.change(heron, Change.FIRMWARE, "Settings came back empty.")
    later = replace(bench, desk=Desk(lambda: bench.desk.clock() + timedelta(hours=1)))
    later.safe(heron, Grade.TESTED, Liner.LINED, "Tested again after the firmware, as its maker describes.")
    later.check_heat(heron, "205", "201")
    later.type_in(heron, level="0.06", z_offset="-1.42")


def _measured(patches: Bench, box: Bench, heron: int) -> None:
    """Heron's first layer and flow, with the micrometer: the offset was right, the walls too thick; a reprint proves it."""
    thick = ("0.241", "0.238", "0.244", "0.236", "0.239", "0.243", "0.240", "0.237", "0.245")
    patches.keep(patches.measure(heron, Step.Z_OFFSET, "patches", *thick), "Smooth sheet, washed.")
    first = box.measure(heron, Step.FLOW, "box", "0.482", "0.485", "0.483", "0.484")
    box.desk.do(
        runs.decide, box.person_id, first.id, first.version, DecisionIn(action="apply", note="Walls 0.03 too thick.")
    )
    again = box.desk.do(runs.start_reprint, box.person_id, first.id)
    box.keep(box.read(again, "0.451", "0.449", "0.450", "0.452"), "")


def _kestrel_heat(bench: Bench, kestrel: int) -> None:
    """Kestrel shows too much: two tests with the tip in the melt, the probe seated again between them."""
    offered = {"sets": "150; 200; 245", "room": "21", "contact": "2"}
    low = ("144.0", "143.8", "191.6", "191.9", "234.6", "234.3")
    first = bench.measure(kestrel, Step.HEAT, "heat_probe", *low, **offered)
    bench.desk.do(runs.leave, bench.person_id, first.id, first.version)
    low = ("143.7", "144.1", "191.5", "191.4", "234.8", "234.2")
    again = bench.measure(kestrel, Step.HEAT, "heat_probe", *low, **offered, second="reseated")
    bench.apply(again, "The glass bead sits beside the cartridge.", read_back=False)


def _kestrel_pressure(bench: Bench, kestrel: int) -> None:
    """The tower that found what Kestrel's own line takes for the smoke PETG."""
    tower = {"line": "M900 K{value}", "low": "0", "high": "0.1", "count": "6", "speed": "60", "slow": "15"}
    run = bench.measure(kestrel, Step.PRESSURE, "pressure", **tower)
    run = bench.rate(run, slow_down="012344", speed_up="012234")
    bench.apply(run, "Looked at with the lamp from the side.", read_back=False)


WORN_WALLS: Final = (
    ("0.451", "0.449", "0.452", "0.450"), ("0.448", "0.451", "0.449", "0.450"), ("0.452", "0.450", "0.451", "0.453"),
    ("0.450", "0.448", "0.451", "0.449"), ("0.449", "0.451", "0.450", "0.452"), ("0.451", "0.450", "0.449", "0.448"),
    ("0.443", "0.441", "0.444", "0.442"), ("0.438", "0.436", "0.439", "0.437"), ("0.431", "0.433", "0.432", "0.430"),
    ("0.428", "0.426", "0.429", "0.427"),
)  # fmt: skip
"""Walls of the birch PLA's boxes: steady, and from the seventh on thinner, as if the nozzle were closing."""


def _birch(bench: Bench, *walls: str) -> None:
    """Birch PLA for the stage frames on Heron: a box now and then, always at the flow that it began with."""
    rows = bench.desk.do(list_setups, None)
    birch = next((row.id for row in rows if row.filament == HERON_BIRCH["filament"]), None)
    if birch is None:
        birch = bench.desk.do(create_setup, bench.person_id, HERON_BIRCH).id
        bench.type_in(birch, nozzle="205", bed="55", flow="100")
    run = bench.measure(birch, Step.FLOW, "box", *walls, flow="100")
    bench.keep(run, "Stage frames, next box.")


def _spare_heads(kept: Bench, applied: Bench, heron: int) -> None:
    """Two heads from the shelf: one measured off and kept all the same, one measured well three days ago."""
    here = next(row for row in kept.desk.do(list_picks, None, heron, "purpose") if row.now).form
    for bench, machine, name, limit in ((kept, "Heron", "Shelf head", "260"), (applied, "Kestrel", "Wide head", "290")):
        machine_id = bench.find(RecordKind.MACHINE, machine)
        bench.enter(RecordKind.HOTEND, machine_id, name=name, liner="all_metal", max_c=limit)
        head = next(row for row in bench.desk.do(list_machines, None) if row.id == machine_id).hotends[-1]
        nozzle = bench.enter(RecordKind.NOZZLE, head.parent_id, bore_mm="0.8", material="hardened")
        form = here.model_copy(update={"toolhead_id": head.parent_id, "nozzle_id": nozzle, "surface_id": None})
        setup = bench.desk.do(assemble_setup, bench.person_id, form)
        run = bench.start(setup.id, "405" if bench is kept else "4.6")
        if bench is kept:
            bench.keep(bench.read(run, "97.82", "97.91", "97.75"), "No time tonight; the peg is due.")
        else:
            bench.apply(bench.read(run, "98.61", "98.72", "98.66"), "First run of the wide head.")


def _hands(first: Bench, later: Bench) -> None:
    """Marionette hands in plum TPU: a label that was wrong, and a flow kept although it was measured off."""
    tpu = first.desk.do(create_setup, first.person_id, KESTREL_TPU)
    first.type_in(tpu.id, origin="label", nozzle="215", bed="50")
    first.type_in(tpu.id, flow="102", fan="60", retraction="0.4", speed_outer="20", speed_inner="25")
    first.type_in(tpu.id, origin="family", top_flow="3")
    later.type_in(tpu.id, "The label is wrong: at 215 it strings and loses its spring.", nozzle="226")


def _prints(bench: Bench, heron: int, days: int) -> None:
    """A few real prints, so that revisions carry their marks and the plate its count."""
    bench.printed(heron, "elbow joints, 12 pairs", "7", "180")
    if days == 88:
        bench.printed(heron, "owl head", "5", "90", "bad", "Left corner up; the door stood open.")
    if days == 5:
        owl = bench.printed(heron, "owl head", "5", "90", "good", "Door shut, plate washed.")
        bench.desk.do(look_again, bench.person_id, owl, LookAgainIn(at_what="stains on raw wood", days="4"))
    if days == 34:
        bench.change(heron, Change.PLATE_WASHED, "With dish soap, then dry.")


_SERIES: Final = {"195": 4, "200": 3, "205": 2, "210": 1, "215": 0}
"""Strings of the elbow joint by temperature."""


def _elbow_attempts(at: Callable[[float], Bench], heron: int) -> None:
    """Nine attempts at the elbow joint: a fix that was luck, two changes that cannot be told apart, a series that tells."""
    cooler = _tried(Kind.NOZZLE, "200")
    at(16).attempt(heron, "bad", "Strings in the socket.", 1, counts={"stringing": "24"}, fit="filing")
    at(15).attempt(heron, "good", "Cooler.", 3, counts={"stringing": "7"}, fit="snug", trials=[cooler])
    at(14).attempt(heron, "bad", "The same again: that was luck.", 1, counts={"stringing": "19"}, trials=[cooler])
    both, bench = [_tried(Kind.NOZZLE, "195"), _tried(Kind.RETRACTION_SPEED, "30")], at(12)
    last = bench.attempt(heron, "good", "Cooler still, and pulled slower.", 3, fit="snug", trials=both)
    facts = PartFactsIn(purpose="puppet joints", file="elbow.gcode", grams="14", height_mm="36")
    bench.desk.do(set_part_facts, bench.person_id, last, facts)
    bench.put_back(heron, Kind.NOZZLE)
    series = PlanIn(design="one", kinds=[Kind.NOZZLE], typed=[" ".join(_SERIES)])
    bench.desk.do(plan_part, bench.person_id, last, series)
    for bench in map(at, (11, 9, 8, 7, 2)):
        planned = bench.desk.do(show_attempt_form, None, heron).planned
        if planned is not None:
            (one,) = planned.settings
            strings, stopped = _SERIES[one.typed], _SERIES[one.typed] == 0
            bench.attempt(
                heron, "stopped" if stopped else "good" if strings > 1 else "bad", f"Series, {one.typed} °C.", strings,
                plan_id=planned.plan_id, plan_place=planned.place, stopped_layer="37" if stopped else "", hours="1.4",
                trials=[_tried(one.kind, one.typed), both[1]],
            )  # fmt: skip
        bench.put_back(heron, Kind.NOZZLE)


def _faults(at: Callable[[float], Bench], heron: int, kestrel: int) -> None:
    """A case that is open, one that was closed, and one that is watched."""
    wren = next(row.id for row in at(2.5).desk.do(list_setups, None) if row.machine == "Wren")
    smelly = at(2.9).case(wren, "c_temp", ("ripple", "falls short"), ("power", "always full"), ("sock", "no"))
    closed = FaultCloseIn(cause="heater_limit", note="Its supply gives 11 V under load.")
    at(2.8).desk.do(close_fault, at(2.8).person_id, smelly, closed)
    pops = at(6).case(kestrel, "c_pops", ("strand", "bubbles or pops"), ("f_profile", "yes"))
    at(6).desk.do(answer_fault, at(6).person_id, pops, FaultAnswerIn(kind="remedy", key="m_dry", answer="gone"))
    at(1).case(heron, "c_stopped", ("end_there", "yes"), ("when", "after an hour or more"))


def _tried(kind: Kind, typed: str) -> TrialIn:
    return TrialIn(kind=kind, typed=typed)


def _heron_profile(bench: Bench, heron: int) -> None:
    """What was typed for the oat PLA; the e-steps measured later rescale its flow."""
    bench.check_heat(heron, "205", "201")
    bench.type_in(heron, line_width="0.44", layer="0.2", layer_first="0.24", level="0.06", z_offset="-1.42")
    bench.type_in(heron, speed_outer="30")
    bench.type_in(heron, origin="label", nozzle="205", nozzle_first="210", bed="55", bed_first="60")
    bench.type_in(heron, flow="100", fan="100", retraction="5.5", retraction_speed="40", z_hop="0.2", top_flow="8")
    bench.tick(heron, Kind.NOZZLE, Kind.NOZZLE_FIRST, Kind.BED, Kind.BED_FIRST, Kind.LINE_WIDTH, Kind.FLOW)


def _foam(bench: Bench) -> None:
    """Owl heads in foam: a run that somebody left open on the bench."""
    foam = bench.desk.do(create_setup, bench.person_id, HERON_FOAM)
    recorded = bench.desk.do(recorded_setting, None, foam.id)
    bench.read(bench.start(foam.id, recorded), "96.2")


def _kestrel_profile(earlier: Bench, later: Bench, kestrel: int) -> None:
    """What was typed for the smoke PETG, and what happened to nozzle and spool since."""
    earlier.type_in(kestrel, line_width="0.42", layer="0.2", z_offset="0.12")
    earlier.type_in(kestrel, origin="label", nozzle="238", bed="75")
    earlier.type_in(kestrel, flow="97", flow_bias="98", fan="40", fan_bridge="100", retraction="0.8", top_flow="9")
    later.change(kestrel, Change.NOZZLE_SAME, "The old one wore oval.")
    later.change(kestrel, Change.WET, "Stood open during the autumn fair.")


def _brackets(bench: Bench) -> None:
    """Lamp brackets in black ASA hang over the stage: a tower rated for strength, its tabs snapped last."""
    asa = next(row for row in bench.desk.do(list_setups, None) if row.filament == "Cinder ASA black")
    run = bench.measure(asa.id, Step.TEMPERATURE, "temperature", coldest="235", hottest="270", fan="10", bed="95")
    edit = RunEditIn(purpose=Purpose.STRENGTH)
    run = bench.desk.do(runs.edit_run, bench.person_id, run.id, run.version, edit)
    run = bench.rate(
        run, stringing=".4443210", overhang=".4433221", bridging=".4443211", surface=".3343322", blobs=".4443321",
        detail=".4333221", bond="01234444",
    )  # fmt: skip
    bench.apply(run, "Brackets hang over the stage.", read_back=False)


def _elbow(bench: Bench, heron: int) -> None:
    """The elbow joint turns on its own pin: a ladder, tried hot off the plate."""
    run = bench.measure(heron, Step.SIZE, "fit", wants="snug", peg="6", low="0.1", high="0.5", count="9")
    bench.apply(bench.rate(run, fit="333332110"), "Elbow joint: pins of 6 mm.", read_back=False)


def _wren(bench: Bench) -> None:
    wren = bench.desk.do(create_setup, bench.person_id, WREN)
    bench.describe(RecordKind.MACHINE, bench.find(RecordKind.MACHINE, "Wren"), lacks="pressure")
    bench.type_in(wren.id, line_width="0.42", e_steps="93")
    bench.checked(wren.id, "heat_log", log=_weak_log(), top="215", room="19", note="Log of the first warm-up, fan on.")
    bench.checked(wren.id, "probe_repeats", touches="0.012 0.031 0.018 0.040 0.022 0.035", step="0.001")
    later = replace(bench, desk=Desk(lambda: bench.desk.clock() + timedelta(hours=3)))
    later.change(wren.id, Change.FIRMWARE, "Whoever sold it had set everything back.")


def _weak_log() -> str:
    """Ten minutes of a heater that holds 205 with nine tenths of its power."""
    rows, shown = ["time;target;shown;duty"], 19.0
    for seconds in range(0, 900, 3):
        held = shown >= 204
        rows.append(f"{seconds};205;{shown + (seconds % 7 - 3) * 0.1:.1f};{0.91 if held else 1}")
        shown = 205.0 if held else shown + 3 * (226 - shown) / 110
    return "\n".join(rows)


def _setting(run: RunOut) -> str:
    """The setting a decided run left on the machine."""
    assert run.decision is not None
    return run.decision.values[0].setting
