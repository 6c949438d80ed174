"""Routes of the workshop: people, what stands in it, setups, what is found, backups."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request, Response
from peewee import PeeweeException
from starlette.concurrency import run_in_threadpool

from ubrex import __version__
from ubrex.server import bench, workshop
from ubrex.server import desk as _desk
from ubrex.server.api.caller import COOKIE, CallerOf, DeskOf, GateOf, OnceOf, VersionOf, signed_in_caller
from ubrex.server.api.router import router
from ubrex.server.store.database import database, unit_of_work
from ubrex.server.views.bench import SetupLineOut, WordOut
from ubrex.server.views.forms import Answers
from ubrex.server.views.records import (
    AssemblyIn,
    FilamentOut,
    FilamentsOut,
    FormOut,
    FoundOut,
    MachineOut,
    PartOut,
    PickOut,
    RecordIn,
    RecordKind,
    SpoolEntryIn,
)
from ubrex.server.views.runs import SchoolsOut, SideIn
from ubrex.server.views.workshop import (
    FirstSetupFormOut,
    FirstSetupIn,
    FirstSetupOut,
    HealthOut,
    InstrumentOut,
    PersonIn,
    PersonOut,
    RoomIn,
    RoomOut,
    SessionIn,
    SessionOut,
    SetupOut,
    WorkshopOut,
    ZeroIn,
)
from ubrex.server.words.glossary import GLOSSARY


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
def add_instrument(body: RecordIn, once: OnceOf) -> InstrumentOut:
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
    """Setups, values, runs, prints, notes, changes, spools and cases by any words of them."""
    return caller.do(workshop.find_all, text)


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


@router.get("/schools")
def list_schools(caller: CallerOf) -> SchoolsOut:
    """Where practitioners disagree, and the side of whoever asks."""
    return caller.do(workshop.list_schools)


@router.put("/schools/{key}")
def take_side(key: str, body: SideIn, once: OnceOf) -> SchoolsOut:
    """Choose a side; it is remembered for the person."""
    return once.do(SchoolsOut, workshop.take_side, key, body)
