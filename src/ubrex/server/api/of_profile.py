"""Routes of the bench, its values and its history."""

from __future__ import annotations

from ubrex.server import bench, checks, profile, workshop
from ubrex.server.api.caller import CallerOf, OnceOf, VersionOf
from ubrex.server.api.router import router
from ubrex.server.views.base import ChangeKind, Moment, StepKind
from ubrex.server.views.bench import BenchOut, ChangeIn, ChangeKindOut, ChangeOut, PreflightOut, PreviewOut, SetupNoteIn
from ubrex.server.views.checks import CheckIn, ChecksOut
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
from ubrex.server.views.records import CountersOut, LimitIn, LimitOut
from ubrex.server.views.values import ReadBackIn, SafetyDoneOut, SafetyIn, TickIn, TypedFormOut, TypedValuesIn, ValueOut
from ubrex.server.views.workshop import SetupOut


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
def check_safety(setup_id: int, body: SafetyIn, once: OnceOf) -> SafetyDoneOut:
    """Go through the card that comes before everything that heats."""
    return once.do(SafetyDoneOut, profile.check_safety, setup_id, body)


@router.post("/setups/{setup_id}/restorations", status_code=201)
def restore_revision(setup_id: int, body: RestoreIn, version: VersionOf, once: OnceOf) -> HistoryOut:
    """Go back to a revision; ``If-Match`` carries the number of the newest one seen."""
    return once.do(HistoryOut, profile.restore_revision, setup_id, version, body)


@router.post("/setups/{setup_id}/values/{value_id}/read-backs", status_code=201)
def read_back(setup_id: int, value_id: int, body: ReadBackIn, once: OnceOf) -> ValueOut:
    """Say what the machine shows after switching on."""
    return once.do(ValueOut, profile.read_back, setup_id, value_id, body)
