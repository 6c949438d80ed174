"""The card before a print, for the setup as it stands."""

from __future__ import annotations

from ubrex.core.chain import Change, Kind
from ubrex.core.materials import family
from ubrex.core.quantity import decimal_text
from ubrex.server.desk import Work
from ubrex.server.profile._standing import DAY_S, standing_of
from ubrex.server.store.facts import fetch_on_spools
from ubrex.server.store.records import SpoolEntry
from ubrex.server.views.base import CautionOut
from ubrex.server.views.bench import PreflightOut
from ubrex.server.words.inventory import left_said
from ubrex.server.words.numbers import ago
from ubrex.server.words.preflight import Scene, ticks
from ubrex.server.workshop import get_setup, setup_out


def show_preflight(work: Work, setup_id: int) -> PreflightOut:
    """Eight ticks for a setup."""
    setup = get_setup(setup_id)
    found = standing_of(setup, work.now)
    surface, spool = setup.surface, setup.spool
    washed = found.done_at_s(Change.PLATE_WASHED)
    entries = (
        [] if spool is None else list(SpoolEntry.select().where(SpoolEntry.spool == spool).order_by(SpoolEntry.at))
    )
    dried = next((row for row in reversed(entries) if row.kind == "dried"), None)
    now_s = work.now.timestamp()
    numbers = [
        f"{name} {decimal_text(value.number, 0)} °C"
        for kind, name in ((Kind.NOZZLE, "nozzle"), (Kind.BED, "bed"))
        if (value := found.values.get(kind)) is not None
    ]
    left = "Weigh the spool: need and a reserve have to be on it"
    if spool is not None:
        held = fetch_on_spools([spool.id])[spool.id]
        left = f"{left_said(held.left_g, held.printed_g)} on the spool are enough"
    scene = Scene(
        family=family(setup.filament.family),
        spool=setup.filament.name if spool is None else f"{setup.filament.name}, spool {spool.name},",
        numbers=" and ".join(numbers) or "what the label says",
        surface="The plate" if surface is None else surface.name,
        washed="washed, nobody noted when" if washed is None else f"washed {ago((now_s - washed) / DAY_S)}",
        adhesive="" if surface is None else surface.adhesive,
        adhesive_purpose="none" if surface is None else surface.adhesive_purpose,
        dried="Nobody noted a drying" if dried is None else f"Dried {ago((now_s - dried.at.timestamp()) / DAY_S)}",
        enclosure=setup.toolhead.machine.enclosure,
        left=left,
    )
    return PreflightOut(
        setup=setup_out(setup), ticks=[CautionOut(lead=row.lead, text=row.text) for row in ticks(scene)]
    )
