"""The tables as peewee records; constraints live in the migrations. No logic here but the way to the core."""

from __future__ import annotations

from typing import Any

from peewee import (
    AutoField,
    BlobField,
    BooleanField,
    CompositeKey,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
    UUIDField,
)
from playhouse.postgres_ext import BinaryJSONField, DateTimeTZField

from ubrex.core.quantity import Tool
from ubrex.server.store.database import database


class Record(Model):
    """Base of all records: bound to the one database, named after its class in snake case."""

    id: Any = AutoField()

    class Meta:
        database = database
        legacy_table_names = False


class Entered(Record):
    """Base of what a person enters and changes; ``version`` counts the changes."""

    version = IntegerField(default=1)


class Workshop(Record):
    """The one workshop a database holds; browsers bind their queues to its id."""

    id = UUIDField(primary_key=True)
    name = TextField()
    created_at = DateTimeTZField()


class Person(Record):
    """A name in the workshop."""

    name = TextField()
    created_at = DateTimeTZField()


class Machine(Entered):
    """A printer; ``keeps_setting`` says how it holds its extruder setting, ``setting_places`` with how many decimals.

    ``lacks``: steps it does not offer. ``runaway``: how sure it is that it stops heating when its sensor fails.
    """

    name = TextField()
    feed_path = TextField()
    keeps_setting = TextField()
    setting_places = IntegerField()
    kinematics = TextField(default="moving_bed")
    width_mm = DoubleField(null=True)
    depth_mm = DoubleField(null=True)
    height_mm = DoubleField(null=True)
    enclosure = TextField(default="none")
    bed_max_c = DoubleField(null=True)
    chamber_max_c = DoubleField(null=True)
    tube_mm = DoubleField(null=True)
    bypass_for_soft = BooleanField(default=False)
    measures_offset = BooleanField(default=False)
    can_pause = BooleanField(default=False)
    runaway = TextField(default="unknown")
    runaway_note = TextField(default="")
    lacks = BinaryJSONField(default=list, index=False)
    relative_feed = BooleanField(default=True)
    centred = BooleanField(default=False)
    max_speed_mm_s = DoubleField(null=True)
    acceleration_mm_s2 = DoubleField(null=True)
    start_block = TextField(default="")
    end_block = TextField(default="")
    screws = TextField(default="")
    screw_pitch_mm = DoubleField(null=True)
    retired_at = DateTimeTZField(null=True)


class Hotend(Entered):
    """A hotend and what limits its heat; ``max_c`` None: not stated."""

    name = TextField()
    liner = TextField()
    max_c = DoubleField(null=True)
    liner_note = TextField(default="")
    printed_parts_max_c = DoubleField(null=True)
    heater_w = DoubleField(null=True)
    sensor = TextField(default="")
    sock = BooleanField(default=False)


class Toolhead(Record):
    """A hotend mounted on a machine with its extruder; e-steps belong to it."""

    machine = ForeignKeyField(Machine)
    machine_id: int
    hotend = ForeignKeyField(Hotend)
    hotend_id: int


class Nozzle(Entered):
    """A nozzle, and the toolhead it sits in or goes into."""

    bore_mm = DoubleField()
    material = TextField()
    toolhead = ForeignKeyField(Toolhead, null=True)
    toolhead_id: int | None
    fitted_at = DateTimeTZField(null=True)
    retired_at = DateTimeTZField(null=True)


class Surface(Entered):
    """What a machine prints on; ``max_c``: what sheet, glue and magnets stand; ``stack_mm``: thickness of all of it."""

    machine = ForeignKeyField(Machine)
    machine_id: int
    name = TextField()
    kind = TextField()
    textured = BooleanField(default=False)
    max_c = DoubleField(null=True)
    stack_mm = DoubleField(null=True)
    adhesive = TextField(default="")
    adhesive_purpose = TextField(default="none")
    retired_at = DateTimeTZField(null=True)


class Filament(Entered):
    """A filament as bought; ``label``: nozzle ranges as printed on the spool, ``flags``: filled, abrasive, ..."""

    name = TextField()
    family = TextField()
    maker = TextField(default="")
    colour = TextField(default="")
    diameter_mm = DoubleField(default=1.75)
    label = BinaryJSONField(default=list, index=False)
    bed_low_c = DoubleField(null=True)
    bed_high_c = DoubleField(null=True)
    dry_c = DoubleField(null=True)
    dry_h = DoubleField(null=True)
    hardness = TextField(default="")
    density_g_cm3 = DoubleField(null=True)
    flags = BinaryJSONField(default=list, index=False)
    retired_at = DateTimeTZField(null=True)


class Spool(Entered):
    """One spool of a filament; ``price`` of the full one, in any money. Its entries say how it was dried and weighed."""

    filament = ForeignKeyField(Filament)
    filament_id: int
    name = TextField()
    full_g = DoubleField()
    price = DoubleField(null=True)
    opened_at = DateTimeTZField(null=True)
    stored = TextField(default="")
    retired_at = DateTimeTZField(null=True)


class Instrument(Entered):
    """A measuring tool; resolution and permissible error in mm, or g for a scale.

    ``zero_off_mm`` and ``zero_error_mm``: what the last check of its zero found, and how far off thin sizes may be since.
    """

    name = TextField()
    kind = TextField()
    resolution = DoubleField()
    max_permissible_error = DoubleField()
    zero_checked_at = DateTimeTZField(null=True)
    zero_off_mm = DoubleField(default=0.0)
    zero_error_mm = DoubleField(null=True)
    retired_at = DateTimeTZField(null=True)

    def to_core(self) -> Tool:
        """The tool as the core knows it."""
        return Tool(resolution=self.resolution, max_permissible_error=self.max_permissible_error)


class ZeroCheck(Record):
    """What a tool read on a size that is known [mm]; 0 for closed jaws."""

    instrument = ForeignKeyField(Instrument)
    instrument_id: int
    typed = TextField()
    known_mm = DoubleField()
    read_mm = DoubleField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "zero_check"


class Setup(Record):
    """What is tuned together: toolhead, nozzle, filament, and what is printed on; ``purpose`` moves picks, never values."""

    toolhead = ForeignKeyField(Toolhead)
    toolhead_id: int
    nozzle = ForeignKeyField(Nozzle)
    nozzle_id: int
    filament = ForeignKeyField(Filament)
    filament_id: int
    surface = ForeignKeyField(Surface, null=True)
    surface_id: int | None
    spool = ForeignKeyField(Spool, null=True)
    spool_id: int | None
    purpose = TextField(default="everyday")
    created_at = DateTimeTZField()
    removed_at = DateTimeTZField(null=True)
    version = IntegerField(default=1)


class Run(Record):
    """One calibration of one step; ``inputs`` holds what belongs to its method.

    ``fed_at``: when the sample was made, where somebody said that it was before the run; ``made_at``: when it was made or
    read last, once the run is decided: what was done after that counts against its value.
    """

    setup = ForeignKeyField(Setup)
    setup_id: int
    step = TextField()
    state = TextField(default="open")
    method = TextField()
    instrument = ForeignKeyField(Instrument)
    instrument_id: int
    inputs = BinaryJSONField()
    use_history = BooleanField(default=True)
    fed_at = DateTimeTZField(null=True)
    made_at = DateTimeTZField(null=True)
    person = ForeignKeyField(Person)
    person_id: int
    started_at = DateTimeTZField()
    ended_at = DateTimeTZField(null=True)
    version = IntegerField(default=1)


class Reading(Record):
    """One number as read off the instrument; never changed after insert. ``place``: where on the piece, if it has places.

    ``zero_off_mm`` and ``zero_error_mm``: what was known of its tool's zero when it was taken; None for nothing.
    """

    run = ForeignKeyField(Run)
    run_id: int
    position = IntegerField()
    typed = TextField()
    number = DoubleField()
    unit = TextField()
    instrument = ForeignKeyField(Instrument)
    instrument_id: int
    resolution = DoubleField()
    max_permissible_error = DoubleField()
    zero_off_mm = DoubleField(default=0.0)
    zero_error_mm = DoubleField(null=True)
    taken_as_typed = TextField(null=True)
    place = TextField(null=True)
    person = ForeignKeyField(Person)
    person_id: int
    taken_at = DateTimeTZField()
    received_at = DateTimeTZField()


class Strike(Record):
    """A reading struck out, and why; ``at_once``: taken back before it counted."""

    reading = ForeignKeyField(Reading)
    reading_id: int
    reason = TextField()
    at_once = BooleanField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class Decision(Record):
    """What was decided on a run, with the figures it was decided on."""

    run = ForeignKeyField(Run)
    run_id: int
    action = TextField()
    verdict = TextField()
    reason = TextField()
    figures = BinaryJSONField()
    rule_version = TextField()
    before_proof = BooleanField()
    note = TextField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class TunedValue(Record):
    """One value of a profile, at the level it belongs to; immutable.

    ``beside``: of a heat check, what was shown [°C]. ``carried_from``: the value this one was rescaled from, as old as that.
    """

    kind = TextField()
    machine = ForeignKeyField(Machine, null=True)
    machine_id: int | None
    toolhead = ForeignKeyField(Toolhead, null=True)
    toolhead_id: int | None
    hotend = ForeignKeyField(Hotend, null=True)
    hotend_id: int | None
    nozzle = ForeignKeyField(Nozzle, null=True)
    nozzle_id: int | None
    surface = ForeignKeyField(Surface, null=True)
    surface_id: int | None
    filament = ForeignKeyField(Filament, null=True)
    filament_id: int | None
    number = DoubleField()
    unit = TextField()
    half_width_95 = DoubleField(null=True)
    origin = TextField()
    run = ForeignKeyField(Run, null=True)
    run_id: int | None
    decision = ForeignKeyField(Decision, null=True)
    decision_id: int | None
    restored_from = ForeignKeyField("self", null=True)
    restored_from_id: int | None
    replaces = ForeignKeyField("self", null=True)
    replaces_id: int | None
    beside = DoubleField(null=True)
    carried_from = ForeignKeyField("self", null=True)
    carried_from_id: int | None
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class TypedIn(Record):
    """Whether a value was typed into the slicing program; the newest entry of a value counts."""

    value = ForeignKeyField(TunedValue)
    value_id: int
    ticked = BooleanField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class ReadBack(Record):
    """What the machine said when a value was read back after switching on."""

    value = ForeignKeyField(TunedValue)
    value_id: int
    typed = TextField()
    number = DoubleField()
    matches = BooleanField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class Revision(Record):
    """A numbered, immutable list of values of one setup; only its note can be edited."""

    setup = ForeignKeyField(Setup)
    setup_id: int
    number = IntegerField()
    cause = TextField()
    from_number = IntegerField(null=True)
    note = TextField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()
    version = IntegerField(default=1)


class RevisionValue(Record):
    """A value in a revision."""

    id = None
    revision = ForeignKeyField(Revision)
    revision_id: int
    value = ForeignKeyField(TunedValue)
    value_id: int

    class Meta:
        primary_key = CompositeKey("revision", "value")


class SignedIn(Record):
    """A browser that gave the passphrase; only a hash of its token is kept."""

    id = None
    token_hash = TextField(primary_key=True)
    created_at = DateTimeTZField()
    expires_at = DateTimeTZField()


class Idempotency(Record):
    """An answered request that may be repeated; ``response`` is the JSON it was answered with."""

    id = None
    key = TextField(primary_key=True)
    request_hash = TextField()
    response = TextField(null=True)
    at = DateTimeTZField()


class LoggedChange(Record):
    """Work done on one part; ``happened_at`` may lie before the day it was logged."""

    machine = ForeignKeyField(Machine, null=True)
    machine_id: int | None
    nozzle = ForeignKeyField(Nozzle, null=True)
    nozzle_id: int | None
    surface = ForeignKeyField(Surface, null=True)
    surface_id: int | None
    filament = ForeignKeyField(Filament, null=True)
    filament_id: int | None
    setup = ForeignKeyField(Setup, null=True)
    setup_id: int | None
    kind = TextField()
    note = TextField()
    happened_at = DateTimeTZField()
    person = ForeignKeyField(Person)
    person_id: int
    logged_at = DateTimeTZField()

    class Meta:
        table_name = "change"


class Withdrawal(Record):
    """A logged change taken back: it counts for nothing and stays on record."""

    id = None
    change = ForeignKeyField(LoggedChange, primary_key=True)
    change_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class MachineCheck(Record):
    """A check of a machine: what was typed, and the figures it came to then. ``change``: the work it belongs to."""

    setup = ForeignKeyField(Setup)
    setup_id: int
    machine = ForeignKeyField(Machine)
    machine_id: int
    change = ForeignKeyField(LoggedChange, null=True)
    change_id: int | None
    kind = TextField()
    typed = BinaryJSONField()
    figures = BinaryJSONField()
    note = TextField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class CheckOff(Record):
    """A check taken back: it stays on record."""

    id = None
    check = ForeignKeyField(MachineCheck, primary_key=True)
    check_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class SpoolEntry(Record):
    """What was found on a spool: its mass [g], a diameter in two directions [mm], a wet test, hours of drying at °C.

    ``drying`` is put into the dryer for so many hours; ``dried`` came out of it.
    """

    spool = ForeignKeyField(Spool)
    spool_id: int
    kind = TextField()
    number = DoubleField()
    second = DoubleField(null=True)
    note = TextField(default="")
    at = DateTimeTZField()
    person = ForeignKeyField(Person)
    person_id: int
    logged_at = DateTimeTZField()


class RoomReading(Record):
    """The air the machines stand in."""

    temperature_c = DoubleField()
    humidity_pct = DoubleField(null=True)
    draught = BooleanField()
    at = DateTimeTZField()
    person = ForeignKeyField(Person)
    person_id: int


class PartFacts(Record):
    """What is known of a part: what for, its file, how heavy and how high. Parts go by name; the newest row counts."""

    what = TextField()
    revision = TextField(default="")
    purpose = TextField(default="")
    file = TextField(default="")
    grams = DoubleField(null=True)
    height_mm = DoubleField(null=True)
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "part_facts"


class Plan(Record):
    """A series of attempts at a part that is planned.

    ``factors``: kinds with their numbers, ``places``: what each print gets.
    """

    setup = ForeignKeyField(Setup)
    setup_id: int
    what = TextField()
    revision = TextField(default="")
    design = TextField()
    factors = BinaryJSONField(index=False)
    places = BinaryJSONField(index=False)
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    @classmethod
    def standing(cls) -> Any:
        """Plans that nobody dropped, as a condition of a query."""
        return cls.id.not_in(PlanOff.select(PlanOff.plan))


class PlanOff(Record):
    """A plan that was dropped; what was printed of it stays."""

    id = None
    plan = ForeignKeyField(Plan, primary_key=True)
    plan_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "plan_off"


class CheckedFile(Record):
    """What a sliced file says that was checked and found harmless: its numbers by kind, its size; not the file itself."""

    setup = ForeignKeyField(Setup)
    setup_id: int
    name = TextField()
    digest = TextField()
    numbers = BinaryJSONField(index=False)
    layers = IntegerField()
    height_mm = DoubleField()
    grams = DoubleField()
    seconds = DoubleField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "checked_file"


class Begun(Record):
    """An attempt that is printing: ``trials`` as they were typed; ``remind_at``: when to change something on the way."""

    setup = ForeignKeyField(Setup)
    setup_id: int
    what = TextField()
    revision = TextField(default="")
    file = ForeignKeyField(CheckedFile, null=True)
    file_id: int | None
    trials = BinaryJSONField(index=False)
    remind_at = DateTimeTZField(null=True)
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class BegunDone(Record):
    """What was to be changed on the way was changed."""

    id = None
    begun = ForeignKeyField(Begun, primary_key=True)
    begun_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "begun_done"


class BegunEnd(Record):
    """An attempt that prints no more: written down, or never meant."""

    id = None
    begun = ForeignKeyField(Begun, primary_key=True)
    begun_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "begun_end"


class Print(Record):
    """An attempt at a part on a setup and how it came out; counters add them up by the parts it went through then.

    ``stopped_layer``, ``stopped_mm``: where it was stopped. ``counts``: signs that were counted, or measured in mm.
    """

    setup = ForeignKeyField(Setup)
    setup_id: int
    machine = ForeignKeyField(Machine)
    machine_id: int
    nozzle = ForeignKeyField(Nozzle)
    nozzle_id: int
    surface = ForeignKeyField(Surface, null=True)
    surface_id: int | None
    spool = ForeignKeyField(Spool, null=True)
    spool_id: int | None
    abrasive = BooleanField()
    what = TextField()
    hours = DoubleField()
    grams = DoubleField()
    outcome = TextField()
    looks = TextField(null=True)
    signs = BinaryJSONField(default=dict, index=False)
    revision = TextField(default="")
    stopped_layer = IntegerField(null=True)
    stopped_mm = DoubleField(null=True)
    fit = TextField(null=True)
    counts = BinaryJSONField(default=dict, index=False)
    plan = ForeignKeyField(Plan, null=True)
    plan_id: int | None
    plan_place = IntegerField(null=True)
    file = ForeignKeyField(CheckedFile, null=True)
    file_id: int | None
    started_at = DateTimeTZField(null=True)
    note = TextField(default="")
    happened_at = DateTimeTZField()
    person = ForeignKeyField(Person)
    person_id: int
    logged_at = DateTimeTZField()

    @classmethod
    def standing(cls) -> Any:
        """Prints that nobody took back, as a condition of a query."""
        return cls.id.not_in(PrintOff.select(PrintOff.print))


class PrintOff(Record):
    """A print that was logged by mistake: it counts for nothing and stays on record."""

    id = None
    print = ForeignKeyField(Print, primary_key=True)
    print_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "print_off"


class Trial(Record):
    """A setting that was another in one attempt alone; ``reach``: where in the print, from ``from_mm`` on."""

    print = ForeignKeyField(Print)
    print_id: int
    setup = ForeignKeyField(Setup)
    setup_id: int
    kind = TextField()
    number = DoubleField()
    unit = TextField()
    reach = TextField()
    from_mm = DoubleField(null=True)


class TrialEnd(Record):
    """What became of a setting after its trial: put back, kept, or tried with another number."""

    id = None
    trial = ForeignKeyField(Trial, primary_key=True)
    trial_id: int
    how = TextField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "trial_end"


class LookAgain(Record):
    """Something of an attempt that shows only later."""

    print = ForeignKeyField(Print)
    print_id: int
    at_what = TextField()
    due_at = DateTimeTZField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "look_again"


class Looked(Record):
    """What was found when somebody looked again."""

    id = None
    look_again = ForeignKeyField(LookAgain, primary_key=True)
    look_again_id: int
    outcome = TextField()
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class PrintPhoto(Record):
    """A photograph of an attempt, and a small one of it, made once."""

    print = ForeignKeyField(Print)
    print_id: int
    media_type = TextField()
    width = IntegerField()
    height = IntegerField()
    content = BlobField()
    small = BlobField()
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "print_photo"


class PrintPhotoOff(Record):
    """A photograph taken off its attempt: it is shown no more, and stays on record."""

    id = None
    photo = ForeignKeyField(PrintPhoto, primary_key=True)
    photo_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "print_photo_off"


class AgeingLimit(Record):
    """After how many days a step's value is worth a look, where a person changed the usual limit."""

    id = None
    step = TextField(primary_key=True)
    days = DoubleField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()
    version = IntegerField(default=1)


class PartLimit(Record):
    """After how much use a part is worth a look, where a person changed the usual amount."""

    id = None
    part = TextField(primary_key=True)
    amount = DoubleField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()
    version = IntegerField(default=1)


class Note(Record):
    """What a person wants to remember of a setup."""

    setup = ForeignKeyField(Setup)
    setup_id: int
    text = TextField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class Meaning(Record):
    """What a setting of a slicing program means, as somebody confirmed it; the newest one counts."""

    program = TextField()
    name = TextField()
    kind = TextField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class Photo(Record):
    """A photograph of a run, or of one band of its tower; re-encoded, without what a camera writes into it."""

    run = ForeignKeyField(Run)
    run_id: int
    band = IntegerField(null=True)
    media_type = TextField()
    width = IntegerField()
    height = IntegerField()
    content = BlobField()
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    @classmethod
    def shown(cls) -> Any:
        """Photographs that nobody took off, as a condition of a query."""
        return cls.id.not_in(PhotoOff.select(PhotoOff.photo))


class PhotoOff(Record):
    """A photograph taken off its run: it is shown no more, and stays on record."""

    id = None
    photo = ForeignKeyField(Photo, primary_key=True)
    photo_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "photo_off"


class Fault(Record):
    """A case: what is seen on a machine, from an attempt or not; ``layer``, ``height_mm``: where on the part."""

    setup = ForeignKeyField(Setup)
    setup_id: int
    machine = ForeignKeyField(Machine)
    machine_id: int
    print = ForeignKeyField(Print, null=True)
    print_id: int | None
    complaint = TextField()
    layer = IntegerField(null=True)
    height_mm = DoubleField(null=True)
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


class FaultPhoto(Record):
    """A photograph of a case, and a small one of it, made once."""

    fault = ForeignKeyField(Fault)
    fault_id: int
    media_type = TextField()
    width = IntegerField()
    height = IntegerField()
    content = BlobField()
    small = BlobField()
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "fault_photo"


class FaultPhotoOff(Record):
    """A photograph taken off its case: it is shown no more, and stays on record."""

    id = None
    photo = ForeignKeyField(FaultPhoto, primary_key=True)
    photo_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "fault_photo_off"


class LetGo(Record):
    """How a part of a family came off a surface, or did not."""

    family = TextField()
    surface = ForeignKeyField(Surface)
    surface_id: int
    way = TextField()
    worked = BooleanField()
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "let_go"


class FaultAnswer(Record):
    """An answer in a case: a finding, a further complaint, a check that cannot be done, a fact that is not so, a remedy."""

    fault = ForeignKeyField(Fault)
    fault_id: int
    kind = TextField()
    key = TextField()
    answer = TextField()
    unsure = BooleanField(default=False)
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "fault_answer"


class FaultAnswerOff(Record):
    """An answer that was taken back: it counts no more, and stays on record."""

    id = None
    answer = ForeignKeyField(FaultAnswer, primary_key=True)
    answer_id: int
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "fault_answer_off"


class FaultEnd(Record):
    """A case closed with what it was, or opened again on what was seen then; the newest row counts."""

    fault = ForeignKeyField(Fault)
    fault_id: int
    closed = BooleanField()
    cause = TextField()
    print = ForeignKeyField(Print, null=True)
    print_id: int | None
    layer = IntegerField(null=True)
    height_mm = DoubleField(null=True)
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()

    class Meta:
        table_name = "fault_end"


class SideTaken(Record):
    """The side a person takes where practitioners disagree; the newest one counts."""

    person = ForeignKeyField(Person)
    person_id: int
    school = TextField()
    side = TextField()
    at = DateTimeTZField()

    class Meta:
        table_name = "side_taken"


class SafetyCheck(Record):
    """The card *safe to tune*, gone through: what was found on that day."""

    machine = ForeignKeyField(Machine)
    machine_id: int
    runaway = TextField()
    liner = TextField()
    note = TextField(default="")
    person = ForeignKeyField(Person)
    person_id: int
    at = DateTimeTZField()


WORKSHOP_TABLES: tuple[type[Record], ...] = (
    Workshop,
    Person,
    Machine,
    Hotend,
    Toolhead,
    Nozzle,
    Surface,
    Filament,
    Spool,
    SpoolEntry,
    RoomReading,
    Instrument,
    ZeroCheck,
    Setup,
    Run,
    Reading,
    Strike,
    Decision,
    TunedValue,
    ReadBack,
    Revision,
    RevisionValue,
    LoggedChange,
    Withdrawal,
    MachineCheck,
    CheckOff,
    TypedIn,
    PartFacts,
    Plan,
    PlanOff,
    CheckedFile,
    Begun,
    BegunDone,
    BegunEnd,
    Print,
    PrintOff,
    Trial,
    TrialEnd,
    LookAgain,
    Looked,
    PrintPhoto,
    PrintPhotoOff,
    Fault,
    FaultAnswer,
    FaultAnswerOff,
    FaultEnd,
    FaultPhoto,
    FaultPhotoOff,
    LetGo,
    AgeingLimit,
    PartLimit,
    SafetyCheck,
    Note,
    Meaning,
    Photo,
    PhotoOff,
    SideTaken,
)
"""Everything a backup holds, in an order in which rows can be put back."""
