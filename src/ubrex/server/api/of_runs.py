"""Routes of runs, pieces and files."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request, Response
from pydantic import StringConstraints
from starlette.concurrency import run_in_threadpool

from ubrex.server import printing, runs
from ubrex.server.api.caller import BYTES, BytesOf, CallerOf, OnceOf, VersionOf
from ubrex.server.api.router import router
from ubrex.server.views.base import StepKind
from ubrex.server.views.files import FileCheckOut, FileCompareIn, FileDifferenceOut, FileValuesIn
from ubrex.server.views.pieces import FileViewOut, PieceOut
from ubrex.server.views.profiles import ExportOut
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
    StartOut,
    StrikeIn,
    TakeBackIn,
    WetTestIn,
)
from ubrex.server.views.towers import PhotosOut, RatingIn
from ubrex.server.views.workshop import SetupOut

FileKey = Annotated[str, StringConstraints(pattern="^[a-z0-9]{1,16}$")]
"""Which of the files of a run."""


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


@router.post("/runs/{run_id}/photos", status_code=201, openapi_extra=BYTES)
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
