"""Routes of attempts at parts."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response

from ubrex.server import attempts
from ubrex.server.api.caller import BYTES, BytesOf, CallerOf, OnceOf
from ubrex.server.api.router import router
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
from ubrex.server.views.profiles import ExportOut


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


@router.post("/prints/{print_id}/photos", status_code=201, openapi_extra=BYTES)
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
