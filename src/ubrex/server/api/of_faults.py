"""Routes of faults."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response

from ubrex.server import faults
from ubrex.server.api.caller import BYTES, BytesOf, CallerOf, OnceOf
from ubrex.server.api.router import router
from ubrex.server.views.attempts import PrintPhotosOut
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
from ubrex.server.views.profiles import ExportOut


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


@router.post("/faults/{fault_id}/photos", status_code=201, openapi_extra=BYTES)
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
