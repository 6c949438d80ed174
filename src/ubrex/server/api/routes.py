"""The routes. Each one: wire to use case, call, answer."""

from __future__ import annotations

from typing import Annotated, Any, Final

from fastapi import APIRouter, Query, Request, Response
from peewee import PeeweeException
from pydantic import StringConstraints
from starlette.concurrency import run_in_threadpool

from ubrex import __version__
from ubrex.server import attempts, bench, checks, faults, printing, profile, runs, workshop
from ubrex.server import desk as _desk
from ubrex.server.api.caller import COOKIE, BytesOf, CallerOf, DeskOf, GateOf, OnceOf, VersionOf, signed_in_caller
from ubrex.server.store.database import database, unit_of_work
from ubrex.server.views.attempts import (
    AttemptFormOut,
    AttemptsOut,
    BegunIn,
    BegunsOut,
    DroppedOut,
    LoggedOut,
    LookAgainIn,
    LookedIn,
    LooksOut,
    MarginAttemptsOut,
    PartFactsIn,
    PlanIn,
    PrintIn,
    PrintPhotosOut,
    PrintsOut,
    SinceOut,
    TrialEndIn,
    TrialsOut,
)
from ubrex.server.views.base import ChangeKind, Moment, StepKind
from ubrex.server.views.bench import (
    BenchOut,
    ChangeIn,
    ChangeKindOut,
    ChangeOut,
    PreflightOut,
    PreviewOut,
    SetupLineOut,
    SetupNoteIn,
    WordOut,
)
from ubrex.server.views.checks import CheckIn, ChecksOut
from ubrex.server.views.faults import (
    FaultAnswerIn,
    FaultCloseIn,
    FaultIn,
    FaultSheetOut,
    FaultsOut,
    GuidesOut,
    HelpOut,
    LetGoIn,
)
from ubrex.server.views.files import FileCheckOut, FileCompareIn, FileDifferenceOut, FileValuesIn
from ubrex.server.views.forms import Answers
from ubrex.server.views.pieces import FileViewOut, PieceOut
from ubrex.server.views.profiles import (
    BesideOut,
    CopyIn,
    CourseOut,
    ExportOut,
    HistoryOut,
    ImportIn,
    ImportPreviewOut,
    NoteIn,
    RestoreIn,
    RevisionOut,
)
from ubrex.server.views.records import (
    AssemblyIn,
    CountersOut,
    FilamentOut,
    FilamentsOut,
    FormOut,
    FoundOut,
    LimitIn,
    LimitOut,
    MachineOut,
    PartOut,
    PickOut,
    RecordIn,
    RecordKind,
    SpoolEntryIn,
)
from ubrex.server.views.runs import (
    DecisionIn,
    ListPreviewOut,
    LiveOut,
    LiveStepIn,
    MethodOut,
    PieceIn,
    RatingOut,
    ReadingIn,
    ReadingListIn,
    RunEditIn,
    RunOut,
    RunsOut,
    RunStartIn,
    SchoolsOut,
    SideIn,
    StartOut,
    StrikeIn,
    TakeBackIn,
    WetTestIn,
)
from ubrex.server.views.towers import PhotosOut, RatingIn
from ubrex.server.views.values import ReadBackIn, SafetyIn, TickIn, TypedFormOut, TypedValuesIn, ValueOut
from ubrex.server.views.workshop import (
    FirstSetupFormOut,
    FirstSetupIn,
    FirstSetupOut,
    HealthOut,
    InstrumentOut,
    PersonIn,
    PersonOut,
    ProblemOut,
    RoomIn,
    RoomOut,
    SessionIn,
    SessionOut,
    SetupOut,
    WorkshopOut,
    ZeroIn,
)
from ubrex.server.words.glossary import GLOSSARY

FileKey = Annotated[str, StringConstraints(pattern="^[a-z0-9]{1,16}$")]
"""Which of the files of a run."""

PROBLEMS: Final[dict[int | str, dict[str, Any]]] = {
    "default": {"model": ProblemOut, "description": "Problem (RFC 9457)"}
}

BYTES: Final = {
    "requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}
}
"""The body of a photograph."""

router = APIRouter(prefix="/api/v1", responses=PROBLEMS)


@router.get("/health", status_code=200)
def health(response: Response) -> HealthOut:
    """Whether Ubrex is up and its database answers."""
    try:
        with unit_of_work():
            database.execute_sql("SELECT 1")
    except PeeweeException:
        response.status_code = 503
        return HealthOut(status="database_down", database=False, version=__version__)
    return HealthOut(status="ok", database=True, version=__version__)


@router.get("/session")
async def show_session(request: Request, desk: DeskOf, gate: GateOf) -> SessionOut:
    """Whether signing in is needed, and done."""
    try:
        await signed_in_caller(request, desk, gate)
    except _desk.NotSignedIn:
        return SessionOut(needed=True, signed_in=False)
    return SessionOut(needed=gate.needed, signed_in=True)


@router.post("/session")
def sign_in(body: SessionIn, request: Request, response: Response, desk: DeskOf, gate: GateOf) -> SessionOut:
    """Sign in with the passphrase of the workshop."""
    client = request.client.host if request.client else ""
    gate.check(body.passphrase, client=client, now=desk.clock())
    response.set_cookie(
        COOKIE,
        desk.do(_desk.sign_in, None, gate.passphrase_hash),
        max_age=int(_desk.SIGNED_IN_FOR.total_seconds()),
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
    )
    return SessionOut(needed=gate.needed, signed_in=True)


@router.delete("/session")
def sign_out(request: Request, response: Response, desk: DeskOf, gate: GateOf) -> SessionOut:
    """Sign out."""
    desk.do(_desk.sign_out, None, request.cookies.get(COOKIE, ""), gate.passphrase_hash)
    response.delete_cookie(COOKIE)
    return SessionOut(needed=gate.needed, signed_in=not gate.needed)


@router.get("/workshop")
def show_workshop(caller: CallerOf) -> WorkshopOut:
    """The workshop, and where to begin."""
    return caller.do(workshop.show_workshop)


@router.post("/people", status_code=201)
def add_person(body: PersonIn, once: OnceOf) -> PersonOut:
    """Add a name; a name already there is that person."""
    return once.do(PersonOut, workshop.add_person, body)


@router.get("/instruments")
def list_instruments(caller: CallerOf) -> list[InstrumentOut]:
    """Measuring tools."""
    return caller.do(workshop.all_instruments)


@router.post("/instruments", status_code=201)
def add_instrument(body: Answers, once: OnceOf) -> InstrumentOut:
    """Add a measuring tool."""
    return once.do(InstrumentOut, workshop.add_instrument, body)


@router.post("/instruments/{instrument_id}/zero-checks", status_code=201)
def check_zero(instrument_id: int, body: ZeroIn, once: OnceOf) -> InstrumentOut:
    """Note what a tool reads on a known size, or closed."""
    return once.do(InstrumentOut, workshop.check_zero, instrument_id, body)


@router.get("/forms/{kind}")
def show_new_form(kind: RecordKind, caller: CallerOf) -> FormOut:
    """The form of a record that is not there yet."""
    return caller.do(workshop.show_form, kind, None)


@router.get("/records/{kind}/{record_id}")
def show_record(kind: RecordKind, record_id: int, caller: CallerOf) -> FormOut:
    """A record as its form."""
    return caller.do(workshop.show_form, kind, record_id)


@router.post("/records/{kind}", status_code=201)
def add_record(kind: RecordKind, body: RecordIn, once: OnceOf) -> FormOut:
    """Add a machine, a part of one, a filament, a spool or a tool."""
    return once.do(FormOut, workshop.add_record, kind, body)


@router.put("/records/{kind}/{record_id}")
def edit_record(kind: RecordKind, record_id: int, body: RecordIn, version: VersionOf, caller: CallerOf) -> FormOut:
    """Change a record."""
    return caller.do(workshop.edit_record, kind, record_id, version, body)


@router.post("/records/{kind}/{record_id}/retirement", status_code=201)
def retire_record(kind: RecordKind, record_id: int, version: VersionOf, once: OnceOf) -> FormOut:
    """Take a record out of use; what refers to it stays."""
    return once.do(FormOut, workshop.retire_record, kind, record_id, version)


@router.get("/machines")
def list_machines(caller: CallerOf) -> list[MachineOut]:
    """Machines with their hotends, nozzles and surfaces."""
    return caller.do(workshop.list_machines)


@router.get("/tools")
def list_tools(caller: CallerOf) -> list[PartOut]:
    """Measuring tools in use."""
    return caller.do(workshop.list_tools)


@router.get("/filaments")
def list_filaments(caller: CallerOf) -> list[FilamentOut]:
    """Filaments with their spools."""
    return caller.do(workshop.list_filaments)


@router.post("/spools/{spool_id}/entries", status_code=201)
def add_spool_entry(spool_id: int, body: SpoolEntryIn, once: OnceOf) -> FilamentsOut:
    """Write down what was found on a spool."""
    return once.do(FilamentsOut, workshop.add_spool_entry, spool_id, body)


@router.get("/room")
def show_room(caller: CallerOf) -> RoomOut:
    """The air the machines stand in."""
    return caller.do(workshop.show_room)


@router.post("/room", status_code=201)
def read_room(body: RoomIn, once: OnceOf) -> RoomOut:
    """Write down the air the machines stand in."""
    return once.do(RoomOut, workshop.read_room, body)


@router.get("/first-setup")
def show_first_setup(caller: CallerOf) -> FirstSetupFormOut:
    """The forms of an empty workshop."""
    return caller.do(workshop.show_first_setup)


@router.post("/first-setup", status_code=201)
def create_first_setup(body: FirstSetupIn, once: OnceOf) -> FirstSetupOut:
    """Give an empty workshop its first setup, tool and person."""
    return once.do(FirstSetupOut, workshop.first_setup, body)


@router.get("/setups")
def list_setups(caller: CallerOf) -> list[SetupOut]:
    """Setups in use."""
    return caller.do(workshop.list_setups)


@router.post("/setups", status_code=201)
def create_setup(body: Answers, once: OnceOf) -> SetupOut:
    """Add a setup."""
    return once.do(SetupOut, workshop.create_setup, body)


@router.get("/setups/{setup_id}")
def show_setup(setup_id: int, caller: CallerOf) -> SetupOut:
    """One setup."""
    return caller.do(workshop.show_setup, setup_id)


@router.get("/setups/{setup_id}/picks/{part}")
def list_picks(setup_id: int, part: workshop.Pickable, caller: CallerOf) -> list[PickOut]:
    """What can be chosen for one part of a setup, and what each choice results in."""
    return caller.do(workshop.list_picks, setup_id, part)


@router.post("/assemblies", status_code=201)
def assemble_setup(body: AssemblyIn, once: OnceOf) -> SetupOut:
    """The setup with these parts, made if need be."""
    return once.do(SetupOut, workshop.assemble_setup, body)


@router.post("/setups/{setup_id}/removal", status_code=201)
def remove_setup(setup_id: int, version: VersionOf, once: OnceOf) -> SetupOut:
    """Take a setup out of use; its record stays."""
    return once.do(SetupOut, workshop.remove_setup, setup_id, version)


@router.get("/setups/{setup_id}/bench")
def show_bench(setup_id: int, caller: CallerOf) -> BenchOut:
    """The bench with this setup on it."""
    return caller.do(bench.show_bench, setup_id)


@router.get("/setups/{setup_id}/course")
def show_course(setup_id: int, caller: CallerOf) -> CourseOut:
    """The values of a setup over time."""
    return caller.do(profile.show_course, setup_id)


@router.get("/setups/{setup_id}/history")
def show_history(setup_id: int, caller: CallerOf, left: int | None = None, right: int | None = None) -> HistoryOut:
    """Revisions of a setup, and the difference between two."""
    return caller.do(profile.show_history, setup_id, left, right)


@router.get("/setups/{setup_id}/beside/{other_id}")
def show_beside(setup_id: int, other_id: int, caller: CallerOf) -> BesideOut:
    """Two setups side by side."""
    return caller.do(profile.show_beside, setup_id, other_id)


@router.put("/setups/{setup_id}/revisions/{number}/note")
def edit_note(setup_id: int, number: int, body: NoteIn, version: VersionOf, caller: CallerOf) -> RevisionOut:
    """Change the note of a revision."""
    return caller.do(profile.edit_note, setup_id, number, version, body)


@router.get("/setups/{setup_id}/change-kinds")
def list_change_kinds(setup_id: int, caller: CallerOf) -> list[ChangeKindOut]:
    """Work that can be logged, and what it will make of which setups."""
    return caller.do(profile.list_change_kinds, setup_id)


@router.get("/setups/{setup_id}/change-preview")
def preview_change(setup_id: int, kind: ChangeKind, caller: CallerOf, happened_at: Moment | None = None) -> PreviewOut:
    """What logging a change will make of each setup that shares the part."""
    return caller.do(profile.preview_change, setup_id, kind, happened_at)


@router.post("/setups/{setup_id}/changes", status_code=201)
def log_change(setup_id: int, body: ChangeIn, once: OnceOf) -> ChangeOut:
    """Log what was done to the machine of a setup."""
    return once.do(ChangeOut, profile.log_change, setup_id, body)


@router.post("/changes/{change_id}/withdrawal", status_code=201)
def withdraw_change(change_id: int, once: OnceOf) -> ChangeOut:
    """Take a logged change back."""
    return once.do(ChangeOut, profile.withdraw_change, change_id)


@router.get("/setups/{setup_id}/values/{step}")
def show_typed_form(setup_id: int, step: StepKind, caller: CallerOf) -> TypedFormOut:
    """The values of one row of the chain, to be typed."""
    return caller.do(profile.typed_form, setup_id, step)


@router.post("/setups/{setup_id}/values", status_code=201)
def type_values(setup_id: int, body: TypedValuesIn, once: OnceOf) -> SetupOut:
    """Write values typed by hand or read off a label."""
    return once.do(SetupOut, profile.type_values, setup_id, body)


@router.post("/values/{value_id}/ticks", status_code=201)
def tick_value(value_id: int, body: TickIn, once: OnceOf) -> TickIn:
    """Say whether a value is in the slicing program."""
    return once.do(TickIn, profile.tick_value, value_id, body)


@router.post("/setups/{setup_id}/prints", status_code=201)
def log_print(setup_id: int, body: PrintIn, once: OnceOf) -> LoggedOut:
    """Write down an attempt and how it came out."""
    return once.do(LoggedOut, attempts.log_print, setup_id, body)


@router.get("/setups/{setup_id}/prints")
def list_prints(setup_id: int, caller: CallerOf) -> PrintsOut:
    """Real prints of a setup, as they were logged."""
    return caller.do(attempts.list_prints, setup_id)


@router.get("/prints")
def export_prints(caller: CallerOf) -> ExportOut:
    """All prints as a table."""
    return caller.do(attempts.export_prints)


@router.get("/setups/{setup_id}/attempt-form")
def show_attempt_form(setup_id: int, caller: CallerOf) -> AttemptFormOut:
    """What an attempt is written down with, and what is still set for a trial."""
    return caller.do(attempts.show_attempt_form, setup_id)


@router.post("/setups/{setup_id}/begun", status_code=201)
def begin_attempt(setup_id: int, body: BegunIn, once: OnceOf) -> BegunsOut:
    """Write down that an attempt is printing, with what is to be changed on the way."""
    return once.do(BegunsOut, attempts.begin, setup_id, body)


@router.get("/begun")
def list_begun(caller: CallerOf) -> BegunsOut:
    """Attempts that are printing, on all setups."""
    return caller.do(attempts.list_begun)


@router.post("/begun/{begun_id}/change-done", status_code=201)
def change_done(begun_id: int, once: OnceOf) -> BegunsOut:
    """What was to be changed on the way was changed."""
    return once.do(BegunsOut, attempts.change_done, begun_id)


@router.post("/begun/{begun_id}/end", status_code=201)
def end_begun(begun_id: int, once: OnceOf) -> BegunsOut:
    """It prints no more, or was never meant."""
    return once.do(BegunsOut, attempts.end_begun, begun_id)


@router.get("/setups/{setup_id}/attempts-now")
def show_margin_attempts(setup_id: int, caller: CallerOf) -> MarginAttemptsOut:
    """The part that was printed last, what to put back, and what is to be looked at again."""
    return caller.do(attempts.show_margin_attempts, setup_id)


@router.get("/prints/{print_id}/part")
def show_part(print_id: int, caller: CallerOf, sign: Annotated[str | None, Query(max_length=40)] = None) -> AttemptsOut:
    """All attempts at the part of one of them, side by side."""
    return caller.do(attempts.show_part, print_id, sign)


@router.put("/prints/{print_id}/part")
def set_part_facts(print_id: int, body: PartFactsIn, once: OnceOf) -> AttemptsOut:
    """Write down what is known of a part."""
    return once.do(AttemptsOut, attempts.set_part_facts, print_id, body)


@router.post("/prints/{print_id}/plans", status_code=201)
def plan_series(print_id: int, body: PlanIn, once: OnceOf) -> AttemptsOut:
    """Plan a series of attempts at the part, in an order that nobody chose."""
    return once.do(AttemptsOut, attempts.plan_part, print_id, body)


@router.post("/plans/{plan_id}/withdrawal", status_code=201)
def drop_plan(plan_id: int, once: OnceOf) -> DroppedOut:
    """Drop a plan; what was printed of it stays."""
    return once.do(DroppedOut, attempts.drop_plan, plan_id)


@router.post("/trials/{trial_id}/end", status_code=201)
def end_trial(trial_id: int, body: TrialEndIn, once: OnceOf) -> TrialsOut:
    """Put a setting back after its trial, or keep it."""
    return once.do(TrialsOut, attempts.end_trial, trial_id, body)


@router.post("/prints/{print_id}/looks", status_code=201)
def look_again(print_id: int, body: LookAgainIn, once: OnceOf) -> LooksOut:
    """Have something of an attempt looked at again."""
    return once.do(LooksOut, attempts.look_again, print_id, body)


@router.post("/looks/{look_id}", status_code=201)
def look(look_id: int, body: LookedIn, once: OnceOf) -> LooksOut:
    """Say what was found when somebody looked again."""
    return once.do(LooksOut, attempts.look, look_id, body)


@router.post(
    "/prints/{print_id}/photos",
    status_code=201,
    openapi_extra=BYTES,
)
def add_print_photo(
    print_id: int, content: BytesOf, once: OnceOf, note: Annotated[str, Query(max_length=200)] = ""
) -> PrintPhotosOut:
    """Keep a photograph of an attempt."""
    return once.do(PrintPhotosOut, attempts.add_print_photo, print_id, content, note=note)


@router.get("/print-photos/{photo_id}", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
def show_print_photo(photo_id: int, caller: CallerOf, *, small: bool = False) -> Response:
    """A photograph of an attempt, or the small one of it."""
    content = caller.do(attempts.show_print_photo, photo_id, small=small)
    return Response(content, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@router.post("/print-photos/{photo_id}/removal")
def remove_print_photo(photo_id: int, once: OnceOf) -> PrintPhotosOut:
    """Take a photograph off its attempt."""
    return once.do(PrintPhotosOut, attempts.remove_print_photo, photo_id)


@router.get("/prints/{print_id}/since")
def show_since(print_id: int, caller: CallerOf, against: int | None = None) -> SinceOut:
    """What changed since the same part was printed last, or between two attempts, and what may be believed of it."""
    return caller.do(attempts.show_since, print_id, against)


@router.post("/prints/{print_id}/withdrawal", status_code=201)
def withdraw_print(print_id: int, once: OnceOf) -> PrintsOut:
    """Take a print back that was logged by mistake."""
    return once.do(PrintsOut, attempts.withdraw_print, print_id)


@router.get("/faults")
def list_faults(caller: CallerOf) -> FaultsOut:
    """Cases, the open ones first, and everything that can be seen."""
    return caller.do(faults.list_faults)


@router.post("/faults", status_code=201)
def open_fault(body: FaultIn, once: OnceOf) -> FaultSheetOut:
    """Open a case with what is seen."""
    return once.do(FaultSheetOut, faults.open_fault, body)


@router.get("/setups/{setup_id}/guides")
def show_guides(setup_id: int, caller: CallerOf) -> GuidesOut:
    """Guides through work at the machine, with the temperatures of this setup."""
    return caller.do(faults.show_guides, setup_id)


@router.get("/faults/{fault_id}")
def show_fault(fault_id: int, caller: CallerOf) -> FaultSheetOut:
    """A case as it stands: causes by their odds, the next look, what to try."""
    return caller.do(faults.show_fault, fault_id)


@router.get("/faults/{fault_id}/help")
def show_help(fault_id: int, caller: CallerOf) -> HelpOut:
    """Everything known of a case, for somebody elsewhere."""
    return caller.do(faults.show_help, fault_id)


@router.get("/faults/{fault_id}/help-file")
def help_file(fault_id: int, caller: CallerOf) -> ExportOut:
    """The same as one file that any browser opens."""
    return caller.do(faults.help_file, fault_id)


@router.post(
    "/faults/{fault_id}/photos",
    status_code=201,
    openapi_extra=BYTES,
)
def add_fault_photo(
    fault_id: int, content: BytesOf, once: OnceOf, note: Annotated[str, Query(max_length=200)] = ""
) -> PrintPhotosOut:
    """Keep a photograph of a case."""
    return once.do(PrintPhotosOut, faults.add_fault_photo, fault_id, content, note=note)


@router.get("/fault-photos/{photo_id}", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
def show_fault_photo(photo_id: int, caller: CallerOf, *, small: bool = False) -> Response:
    """A photograph of a case, or the small one of it."""
    content = caller.do(faults.show_fault_photo, photo_id, small=small)
    return Response(content, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@router.post("/fault-photos/{photo_id}/removal")
def remove_fault_photo(photo_id: int, once: OnceOf) -> PrintPhotosOut:
    """Take a photograph off its case."""
    return once.do(PrintPhotosOut, faults.remove_fault_photo, photo_id)


@router.post("/setups/{setup_id}/let-go", status_code=201)
def remember_let_go(setup_id: int, body: LetGoIn, once: OnceOf) -> GuidesOut:
    """Write down how a part came off, for its family and this surface."""
    return once.do(GuidesOut, faults.remember_let_go, setup_id, body)


@router.post("/faults/{fault_id}/answers", status_code=201)
def answer_fault(fault_id: int, body: FaultAnswerIn, once: OnceOf) -> FaultSheetOut:
    """Write one answer down, in any order."""
    return once.do(FaultSheetOut, faults.answer_fault, fault_id, body)


@router.post("/fault-answers/{answer_id}/withdrawal", status_code=201)
def take_back_answer(answer_id: int, once: OnceOf) -> FaultSheetOut:
    """Take an answer back; it stays on record."""
    return once.do(FaultSheetOut, faults.take_back_answer, answer_id)


@router.post("/faults/{fault_id}/end", status_code=201)
def close_fault(fault_id: int, body: FaultCloseIn, once: OnceOf) -> FaultSheetOut:
    """Close a case with what it was."""
    return once.do(FaultSheetOut, faults.close_fault, fault_id, body)


@router.post("/faults/{fault_id}/reopening", status_code=201)
def reopen_fault(fault_id: int, once: OnceOf) -> FaultSheetOut:
    """Open a case again."""
    return once.do(FaultSheetOut, faults.reopen_fault, fault_id)


@router.get("/setups/{setup_id}/checks")
def list_checks(setup_id: int, caller: CallerOf) -> ChecksOut:
    """What can be checked on the machine of a setup, and what was."""
    return caller.do(checks.list_checks, setup_id)


@router.post("/setups/{setup_id}/checks", status_code=201)
def take_check(setup_id: int, body: CheckIn, once: OnceOf) -> ChecksOut:
    """Take a check of a machine."""
    return once.do(ChecksOut, checks.take_check, setup_id, body)


@router.post("/checks/{check_id}/withdrawal", status_code=201)
def withdraw_check(check_id: int, once: OnceOf) -> ChecksOut:
    """Take a check back."""
    return once.do(ChecksOut, checks.withdraw_check, check_id)


@router.get("/standings")
def show_setups(caller: CallerOf) -> list[SetupLineOut]:
    """All setups side by side."""
    return caller.do(bench.show_setups)


@router.get("/words")
def list_words(_caller: CallerOf) -> list[WordOut]:
    """Words of the trade and of Ubrex, explained."""
    return [WordOut(key=key, name=word.name, text=word.text, drawing=word.drawing) for key, word in GLOSSARY.items()]


@router.get("/found")
def find_all(caller: CallerOf, text: Annotated[str, Query(max_length=80)] = "") -> list[FoundOut]:
    """Setups, runs, prints, notes, changes and spools by any words of them."""
    return caller.do(workshop.find_all, text)


@router.get("/setups/{setup_id}/exports/{shape}")
def export_profile(setup_id: int, shape: profile.ExportShape, caller: CallerOf) -> ExportOut:
    """A profile as JSON, as CSV, or as lines for the machine."""
    return caller.do(profile.export_profile, setup_id, shape)


@router.post("/setups/{setup_id}/import-previews")
def preview_import(setup_id: int, body: ImportIn, caller: CallerOf) -> ImportPreviewOut:
    """What a profile file would add, change and leave."""
    return caller.do(profile.preview_import, setup_id, body)


@router.post("/setups/{setup_id}/imports", status_code=201)
def import_profile(setup_id: int, body: ImportIn, once: OnceOf) -> SetupOut:
    """Bring a profile file in, all or none."""
    return once.do(SetupOut, profile.import_profile, setup_id, body)


@router.post("/setups/{setup_id}/copy-previews")
def preview_copy(setup_id: int, body: CopyIn, caller: CallerOf) -> ImportPreviewOut:
    """What copying another setup's values would add, change and leave."""
    return caller.do(profile.preview_copy, setup_id, body)


@router.post("/setups/{setup_id}/copies", status_code=201)
def copy_profile(setup_id: int, body: CopyIn, once: OnceOf) -> SetupOut:
    """Copy another setup's values here."""
    return once.do(SetupOut, profile.copy_profile, setup_id, body)


@router.post("/setups/{setup_id}/notes", status_code=201)
def add_note(setup_id: int, body: SetupNoteIn, once: OnceOf) -> BenchOut:
    """Write down what is to be remembered of a setup."""
    return once.do(BenchOut, bench.add_note, setup_id, body)


@router.get("/setups/{setup_id}/pre-flight")
def show_preflight(setup_id: int, caller: CallerOf) -> PreflightOut:
    """The card before a print."""
    return caller.do(bench.show_preflight, setup_id)


@router.get("/backup", response_class=Response, responses={200: {"content": {"application/zip": {}}}})
def download_backup(caller: CallerOf) -> Response:
    """The whole workshop in one file."""
    return Response(
        caller.desk.do_still(workshop.backup_bytes, caller.person_id),
        media_type="application/zip",
        headers={"Content-Disposition": 'attachment; filename="workshop.zip"'},
    )


@router.post(
    "/backup",
    status_code=201,
    openapi_extra={"requestBody": {"required": True, "content": {"application/zip": {"schema": {"type": "string"}}}}},
)
async def upload_backup(request: Request, caller: CallerOf) -> WorkshopOut:
    """Put a backup into a workshop that is still empty."""
    return await run_in_threadpool(caller.do, workshop.restore_bytes, await request.body())


@router.get("/setups/{setup_id}/counters")
def show_counters(setup_id: int, caller: CallerOf) -> CountersOut:
    """How much each part was used since it was last seen to."""
    return caller.do(workshop.show_counters, setup_id)


@router.get("/limits")
def list_limits(caller: CallerOf) -> list[LimitOut]:
    """After how much a value or a part is worth a look."""
    return caller.do(workshop.list_limits)


@router.put("/limits/{key}")
def set_limit(key: str, body: LimitIn, caller: CallerOf) -> list[LimitOut]:
    """Change after how much something is worth a look."""
    return caller.do(workshop.set_limit, key, body)


@router.post("/setups/{setup_id}/safety-checks", status_code=201)
def check_safety(setup_id: int, body: SafetyIn, once: OnceOf) -> SetupOut:
    """Go through the card that comes before everything that heats."""
    return once.do(SetupOut, profile.check_safety, setup_id, body)


@router.post("/setups/{setup_id}/restorations", status_code=201)
def restore_revision(setup_id: int, body: RestoreIn, version: VersionOf, once: OnceOf) -> HistoryOut:
    """Go back to a revision; ``If-Match`` carries the number of the newest one seen."""
    return once.do(HistoryOut, profile.restore_revision, setup_id, version, body)


@router.post("/setups/{setup_id}/values/{value_id}/read-backs", status_code=201)
def read_back(setup_id: int, value_id: int, body: ReadBackIn, once: OnceOf) -> ValueOut:
    """Say what the machine shows after switching on."""
    return once.do(ValueOut, profile.read_back, setup_id, value_id, body)


@router.get("/setups/{setup_id}/starts/{step}")
def show_start(setup_id: int, step: StepKind, caller: CallerOf) -> StartOut:
    """What is asked before a step is measured."""
    return caller.do(runs.start_form, setup_id, step)


@router.post("/setups/{setup_id}/pieces")
def show_piece(setup_id: int, body: PieceIn, caller: CallerOf) -> PieceOut:
    """A test piece before it is printed; nothing is written."""
    return caller.do(runs.show_piece, setup_id, body)


@router.post(
    "/setups/{setup_id}/file-checks",
    openapi_extra={"requestBody": {"required": True, "content": {"text/plain": {"schema": {"type": "string"}}}}},
)
async def check_file(
    setup_id: int, request: Request, caller: CallerOf, name: Annotated[str, Query(max_length=200)] = ""
) -> FileCheckOut:
    """Hold a file against a setup; of one with a name its numbers are kept for the attempt, the file itself is not."""
    text = (await request.body()).decode("utf-8", errors="replace")
    return await run_in_threadpool(lambda: caller.do(printing.show_file_check, setup_id, text, name=name))


@router.post("/setups/{setup_id}/file-values", status_code=201)
def take_file_values(setup_id: int, body: FileValuesIn, once: OnceOf) -> SetupOut:
    """Take values from a file, and remember what its settings mean."""
    return once.do(SetupOut, printing.take_file_values, setup_id, body)


@router.post("/setups/{setup_id}/file-comparisons")
def compare_files(setup_id: int, body: FileCompareIn, caller: CallerOf) -> list[FileDifferenceOut]:
    """Which settings two files do not agree on; nothing is written."""
    return caller.do(printing.compare_files, setup_id, body)


@router.post("/runs", status_code=201)
def start_run(body: RunStartIn, once: OnceOf) -> RunOut:
    """Start a run of a step."""
    return once.do(RunOut, runs.start_run, body)


@router.post("/runs/{run_id}/reading-lists", status_code=201)
def take_list(run_id: int, body: ReadingListIn, once: OnceOf) -> RunOut:
    """Take readings written down elsewhere: all or none."""
    return once.do(RunOut, runs.take_list, run_id, body)


@router.post("/runs/{run_id}/reading-list-previews")
def preview_list(run_id: int, body: ReadingListIn, caller: CallerOf) -> ListPreviewOut:
    """Where each number of a list would go; nothing is written."""
    return caller.do(runs.preview_list, run_id, body)


@router.post("/runs/{run_id}/reprints", status_code=201)
def start_reprint(run_id: int, once: OnceOf) -> RunOut:
    """Print the piece again with the value that was applied."""
    return once.do(RunOut, runs.start_reprint, run_id)


@router.get(
    "/runs/{run_id}/files/{key}",
    response_class=Response,
    responses={200: {"content": {"text/x-gcode": {}, "model/stl": {}, "model/3mf": {}}}},
)
def download_file(run_id: int, key: FileKey, caller: CallerOf) -> Response:
    """A file of a run: what prints it, or its piece as a solid body."""
    file = caller.do(runs.file_of, run_id, key)
    headers = {"Content-Disposition": f'attachment; filename="{file.name}"'}
    return Response(file.content, media_type=file.media, headers=headers)


@router.get("/runs/{run_id}/layers")
def show_layers(run_id: int, caller: CallerOf) -> FileViewOut:
    """The file of a run, layer by layer."""
    return caller.do(runs.layers_of, run_id)


@router.get("/runs/{run_id}/method")
def show_method(run_id: int, caller: CallerOf) -> MethodOut:
    """What does not change while a run goes on: how it goes, what can hurt, its piece and files."""
    return caller.do(runs.show_method, run_id)


@router.post("/runs/{run_id}/ticks", status_code=201)
def tick_step(run_id: int, body: LiveStepIn, once: OnceOf) -> LiveOut:
    """Write down that the machine was moved by a step while a piece prints, or take the last one back."""
    return once.do(LiveOut, runs.tick, run_id, body)


@router.post("/runs/{run_id}/offsets-by-eye", status_code=201)
def take_offset_over(run_id: int, once: OnceOf) -> RunOut:
    """Keep the offset that a pad was moved to by eye."""
    return once.do(RunOut, runs.take_offset_over, run_id)


@router.post("/runs/{run_id}/ratings", status_code=201)
def rate_band(run_id: int, body: RatingIn, once: OnceOf) -> RatingOut:
    """Rate a band of a tower, mark it, or take that back."""
    return once.do(RatingOut, runs.rate, run_id, body)


@router.get("/runs/{run_id}/photos")
def list_photos(run_id: int, caller: CallerOf) -> PhotosOut:
    """Photographs of a run, and of the one before it."""
    return caller.do(runs.list_photos, run_id)


@router.post(
    "/runs/{run_id}/photos",
    status_code=201,
    openapi_extra=BYTES,
)
def add_photo(
    run_id: int,
    content: BytesOf,
    once: OnceOf,
    band: Annotated[int | None, Query(ge=0)] = None,
    note: Annotated[str, Query(max_length=200)] = "",
) -> PhotosOut:
    """Keep a photograph of a run, or of one band of its tower."""
    return once.do(PhotosOut, runs.add_photo, run_id, content, band=band, note=note)


@router.get("/photos/{photo_id}", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
def show_photo(photo_id: int, caller: CallerOf) -> Response:
    """A photograph."""
    content = caller.do(runs.show_photo, photo_id)
    return Response(content, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})


@router.post("/photos/{photo_id}/removal")
def remove_photo(photo_id: int, once: OnceOf) -> PhotosOut:
    """Take a photograph off its run."""
    return once.do(PhotosOut, runs.remove_photo, photo_id)


@router.post("/setups/{setup_id}/wet-tests", status_code=201)
def note_wet_test(setup_id: int, step: StepKind, body: WetTestIn, once: OnceOf) -> StartOut:
    """Write down what 50 mm fed into the air sounded like."""
    return once.do(StartOut, runs.note_wet_test, setup_id, body, step)


@router.get("/schools")
def list_schools(caller: CallerOf) -> SchoolsOut:
    """Where practitioners disagree, and the side of whoever asks."""
    return caller.do(workshop.list_schools)


@router.put("/schools/{key}")
def take_side(key: str, body: SideIn, once: OnceOf) -> SchoolsOut:
    """Choose a side; it is remembered for the person."""
    return once.do(SchoolsOut, workshop.take_side, key, body)


@router.get("/runs")
def list_runs(
    caller: CallerOf, cursor: int | None = None, limit: Annotated[int, Query(ge=1, le=200)] = runs.PAGE
) -> RunsOut:
    """Runs: the open ones, then the ended ones by page."""
    return caller.do(runs.list_runs, cursor=cursor, limit=limit)


@router.get("/readings")
def export_readings(caller: CallerOf) -> ExportOut:
    """All readings of all runs as CSV."""
    return caller.do(runs.export_readings)


@router.get("/runs/{run_id}")
def show_run(run_id: int, caller: CallerOf, early: bool = False) -> RunOut:
    """A run; ``early`` shows a result before the readings first asked for are in."""
    return caller.do(runs.show_run, run_id, early=early)


@router.patch("/runs/{run_id}")
def edit_run(run_id: int, body: RunEditIn, version: VersionOf, caller: CallerOf) -> RunOut:
    """Use another tool, or leave earlier scatter out."""
    return caller.do(runs.edit_run, run_id, version, body)


@router.post("/runs/{run_id}/readings", status_code=201)
def take_reading(run_id: int, body: ReadingIn, once: OnceOf) -> RunOut:
    """Take a reading."""
    return once.do(RunOut, runs.take_reading, run_id, body)


@router.post("/runs/{run_id}/taken-back", status_code=201)
def take_back_reading(run_id: int, once: OnceOf, body: TakeBackIn | None = None) -> RunOut:
    """Take back the readings that are named, or the last one."""
    return once.do(RunOut, runs.take_back, run_id, body or TakeBackIn())


@router.post("/runs/{run_id}/readings/{reading_id}/strike", status_code=201)
def strike_reading(run_id: int, reading_id: int, body: StrikeIn, once: OnceOf) -> RunOut:
    """Strike a reading out, with its reason."""
    return once.do(RunOut, runs.strike_reading, run_id, reading_id, body)


@router.post("/runs/{run_id}/decision", status_code=201)
def decide_run(run_id: int, body: DecisionIn, version: VersionOf, once: OnceOf) -> RunOut:
    """Apply or keep."""
    return once.do(RunOut, runs.decide, run_id, version, body)


@router.post("/runs/{run_id}/leave", status_code=201)
def leave_run(run_id: int, version: VersionOf, once: OnceOf) -> RunOut:
    """Leave a run undecided."""
    return once.do(RunOut, runs.leave, run_id, version)
