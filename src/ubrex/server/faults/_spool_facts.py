"""What the record knows of spool, file and nozzle, and of the same spool on other machines."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Final

from ubrex.core.bead import bead_or_none
from ubrex.core.chain import Kind
from ubrex.core.judge import Code
from ubrex.core.materials import Dryness, family
from ubrex.server.attempts import differs_from_file
from ubrex.server.desk import Work
from ubrex.server.profile import Standings, dry_rows, dryness_of, judged_values, tuned_of
from ubrex.server.store.facts import fetch_on_spools
from ubrex.server.store.records import Fault, FaultEnd, Filament, Machine, Print, Setup
from ubrex.server.words import faults as words
from ubrex.server.words.numbers import day, plain

LAST_QUARTER: Final = 0.25
"""From here the windings are tight (diagnosis, 2)."""

ELSEWHERE_WITHIN: Final = timedelta(days=30)
"""A spool says something of another machine within so many days (E)."""

MUCH_HOTTER_C: Final = 20.0
"""By how much hotter a family that was there before wants it to leave something behind (E)."""

Told = tuple[str, str, str, str]
"""A finding, its answer, the entry it rests on, and the screen where that stands."""

SPOOLS, BENCH = "/filaments", "/"


def spool_facts(work: Work, fault: Fault, row: Print | None, standings: Standings, began: datetime) -> list[Told]:
    """Everything the record tells of what was fed, and of the file of the attempt ``row``."""
    setup = fault.setup
    found = [
        *_dry(work, setup),
        *_left(setup),
        *_before(setup, began),
        *_elsewhere(fault, setup, began),
        *_file(setup, row),
        *_melt(standings),
    ]
    retraction = standings.values.get(Kind.RETRACTION)
    if retraction is not None:
        far = any(one.code is Code.PULL_TOO_LONG for one in judged_values(standings).get(Kind.RETRACTION, []))
        found.append(("r_pull", "yes" if far else "no", words.pull_said(plain(retraction.number), far=far), BENCH))
    return found


def _dry(work: Work, setup: Setup) -> list[Told]:
    row = family(setup.filament.family)
    if not (row.hygroscopic or row.dry_always):
        return []
    now = dryness_of(setup, dry_rows(setup), work.now)
    if now is Dryness.UNTESTED:
        return []
    return [("r_dry", "no" if now is Dryness.DRY else "yes", words.dry_said(dry=now is Dryness.DRY), SPOOLS)]


def _left(setup: Setup) -> list[Told]:
    if setup.spool is None:
        return []
    held = fetch_on_spools([setup.spool.id])[setup.spool.id]
    # A spool that nobody weighed or wrote prints of is full by the book alone.
    if not held.weighed and held.printed_g == 0:
        return []
    last = held.left_g <= LAST_QUARTER * setup.spool.full_g
    said = words.left_said(plain(round(held.left_g)), plain(setup.spool.full_g))
    return [("spool_left", "yes" if last else "no", said, SPOOLS)]


def _before(setup: Setup, began: datetime) -> list[Told]:
    """What went through this nozzle before: particles, a family that wants it much hotter."""
    found: list[Told] = []
    rows = (
        Print.select(Print, Setup, Filament)
        .join(Setup, on=(Print.setup == Setup.id))
        .join(Filament)
        .where(Print.standing(), Print.nozzle == setup.nozzle_id, Print.happened_at <= began)
        .order_by(Print.happened_at.desc(), Print.id.desc())
    )
    abrasive = rows.where(Print.abrasive).first()
    if abrasive is not None:
        said = words.filled_said(abrasive.setup.filament.name, day(abrasive.happened_at))
        found.append(("r_filled", "yes", said, f"/attempts/{abrasive.id}"))
    here = family(setup.filament.family).nozzle_low_c
    other = rows.where(Setup.filament != setup.filament_id).first()
    if other is not None and here is not None:
        there = family(other.setup.filament.family).nozzle_low_c
        if there is not None:
            hotter = there - here >= MUCH_HOTTER_C
            said = words.before_said(other.setup.filament.name, day(other.happened_at))
            found.append(("r_residue", "yes" if hotter else "no", said, f"/attempts/{other.id}"))
    return found


def _elsewhere(fault: Fault, setup: Setup, began: datetime) -> list[Told]:
    """The same spool on another machine: the same trouble there speaks of the spool, a good print of the machine here."""
    if setup.spool_id is None:
        return []
    same = (
        Fault.select(Fault, Machine)
        .join(Setup, on=(Fault.setup == Setup.id))
        .switch(Fault)
        .join(Machine)
        .where(
            Setup.spool == setup.spool_id, Fault.machine != fault.machine_id, Fault.complaint == fault.complaint,
            Fault.at >= began - ELSEWHERE_WITHIN, Fault.id.not_in(FaultEnd.select(FaultEnd.fault).where(FaultEnd.closed)),
        )
        .order_by(Fault.id.desc())
        .first()
    )  # fmt: skip
    if same is not None:
        return [("f_follows", "spool", words.same_there_said(same.machine.name, day(same.at)), f"/faults/{same.id}")]
    good = (
        Print.select(Print, Machine)
        .join(Machine)
        .where(
            Print.standing(), Print.spool == setup.spool_id, Print.machine != fault.machine_id, Print.outcome == "good",
            Print.happened_at >= began - ELSEWHERE_WITHIN,
        )
        .order_by(Print.happened_at.desc())
        .first()
    )  # fmt: skip
    if good is None:
        return []
    said = words.good_there_said(good.machine.name, day(good.happened_at))
    return [("f_follows", "machine", said, f"/attempts/{good.id}")]


def _file(setup: Setup, row: Print | None) -> list[Told]:
    """The file of an attempt, where one was checked: whether it says tonight's numbers."""
    if row is None or row.file is None:
        return []
    file = row.file
    differs = differs_from_file(tuned_of(setup), file)
    said = words.file_said(file.name, differs)
    return [("f_profile", "no" if differs else "yes", said, f"/attempts/{row.id}")]


def _melt(standings: Standings) -> list[Told]:
    """The fastest line that is set, against what the hotend was measured to melt."""
    numbers = {kind: value.number for kind, value in standings.values.items()}
    speeds = [numbers[one] for one in (Kind.SPEED_OUTER, Kind.SPEED_INNER, Kind.SPEED_FILL) if one in numbers]
    line, cap = bead_or_none(numbers.get(Kind.LINE_WIDTH), numbers.get(Kind.LAYER)), numbers.get(Kind.TOP_FLOW)
    if not speeds or line is None or cap is None:
        return []
    asked = max(speeds) * line.area_mm2
    said = words.melt_said(plain(round(asked, 1)), plain(round(cap, 1)))
    return [("r_melt", "yes" if asked > cap else "no", said, BENCH)]
