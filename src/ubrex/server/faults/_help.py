"""A case for somebody elsewhere: everything known on one page, and as one file that needs nothing else to be read."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from datetime import UTC, datetime
from html import escape
from itertools import pairwise
from typing import Final

from ubrex.core.chain import KINDS, Change, Kind
from ubrex.core.gcode import is_same
from ubrex.core.quantity import decimal_text
from ubrex.server.attempts import ALBUM as ATTEMPT_ALBUM
from ubrex.server.attempts import out_said, signs_said
from ubrex.server.desk import Work, find
from ubrex.server.faults._ends import seen_on
from ubrex.server.faults._photos import ALBUM
from ubrex.server.faults._sheet import show_fault
from ubrex.server.profile import row_out, tuned_of
from ubrex.server.store.facts import ChangeRow, fetch_changes
from ubrex.server.store.records import CheckedFile, Fault, Print
from ubrex.server.views.attempts import PrintPhotoOut
from ubrex.server.views.faults import Door, FaultSheetOut, HelpOut, HelpPhotoOut, HelpRowOut, HelpSectionOut
from ubrex.server.views.profiles import ExportOut
from ubrex.server.words import help as words
from ubrex.server.words.changes import CHANGES
from ubrex.server.words.numbers import day, unit_text

MOST_CHANGES: Final = 30
MOST_CAUSES: Final = 6


def show_help(work: Work, fault_id: int) -> HelpOut:
    """Everything that is known of a case, in the order in which somebody elsewhere asks for it."""
    row, sheet = find(Fault, fault_id, "case"), show_fault(work, fault_id)
    part = seen_on(row).print
    photos = [*_photos(sheet.photos, "fault-photos"), *_attempt_photos(part)]
    changes = [one for one in fetch_changes(row.setup, MOST_CHANGES) if not one.withdrawn]
    sections = [
        HelpSectionOut(heading=words.SEEN, lines=_seen(sheet, part)),
        HelpSectionOut(heading=words.SETUP, rows=_setup(sheet)),
        HelpSectionOut(heading=words.CAUSES, rows=_causes(sheet)),
        HelpSectionOut(heading=words.LOOKED, lines=_answered(sheet, tried=False)),
        HelpSectionOut(heading=words.TRIED, lines=_answered(sheet, tried=True)),
        HelpSectionOut(heading=words.RECORD, lines=[one.text for one in sheet.facts if one.counts]),
        HelpSectionOut(heading=words.VALUES, rows=_values(work, row)),
        HelpSectionOut(heading=words.FILES, rows=_files(row)),
        HelpSectionOut(heading=words.CHANGES, lines=_changes(changes, row.at)),
    ]
    return HelpOut(
        fault_id=fault_id,
        title=words.title_said(sheet.complaint, sheet.setup.machine, day(sheet.at)),
        sections=[one for one in sections if one.lines or one.rows],
        photos=photos,
        missing=words.missing_said(photos=bool(photos), looked=bool(sheet.answered)),
    )


def _seen(sheet: FaultSheetOut, part: Print | None) -> list[str]:
    said = [sheet.complaint, sheet.where, sheet.note, sheet.reopened]
    if part is not None:
        said += [words.attempt_said(part.what, out_said(part)), *signs_said(part), part.note]
    return [one for one in said if one]


def _setup(sheet: FaultSheetOut) -> list[HelpRowOut]:
    setup = sheet.setup
    rows = (
        (words.MACHINE, setup.machine, setup.machine_detail),
        (words.HOTEND, setup.hotend, setup.hotend_detail),
        (words.NOZZLE, setup.nozzle, ""),
        (words.SURFACE, setup.surface, setup.surface_detail),
        (words.FILAMENT, setup.filament, setup.filament_detail),
    )
    return [HelpRowOut(name=name, text=", ".join(filter(None, said))) for name, *said in rows if any(said)]


def _causes(sheet: FaultSheetOut) -> list[HelpRowOut]:
    near = [one for one in sheet.causes if not one.aside][:MOST_CAUSES]
    return [HelpRowOut(name=one.name, text=f"{one.field}, {one.tenths}; {one.because}") for one in near]


def _answered(sheet: FaultSheetOut, *, tried: bool) -> list[str]:
    rows = [one for one in reversed(sheet.answered) if (one.kind == "remedy") is tried]
    return [words.answered_said(one.text, day(one.at), one.person) for one in rows]


def _values(work: Work, row: Fault) -> list[HelpRowOut]:
    """Numbers that are set, each with where it comes from."""
    tuned = tuned_of(row.setup)
    shown = [row_out(value, row.setup.toolhead.machine, work) for kind, value in tuned.values.items() if kind in KINDS]
    return [
        HelpRowOut(
            name=one.name,
            text=f"{one.text} {one.half_width_text} {one.unit_text}: {one.provenance.sentence}".replace("  ", " "),
        )
        for one in shown
    ]


def _files(row: Fault) -> list[HelpRowOut]:
    """What the last two checked files do not agree on; of one alone what it says."""
    newest = CheckedFile.select().where(CheckedFile.setup == row.setup_id).order_by(CheckedFile.id.desc()).limit(2)
    files = list(newest)[::-1]
    numbers = [{Kind(kind): float(number) for kind, number in one.numbers.items()} for one in files]
    for (one, other), (here, there) in zip(pairwise(files), pairwise(numbers), strict=True):
        differs = [
            HelpRowOut(
                name=KINDS[kind].name,
                text=words.between_said(one.name, _text(kind, here), other.name, _text(kind, there)),
            )
            for kind in Kind
            if (kind in here or kind in there) and not _alike(kind, here, there)
        ]
        return differs or [HelpRowOut(name=words.both_said(one.name, other.name), text=words.SAME)]
    return [HelpRowOut(name=KINDS[kind].name, text=_text(kind, one)) for one in numbers for kind in one]


def _alike(kind: Kind, here: dict[Kind, float], there: dict[Kind, float]) -> bool:
    return kind in here and kind in there and is_same(here[kind], there[kind], KINDS[kind].places)


def _text(kind: Kind, numbers: dict[Kind, float]) -> str:
    if kind not in numbers:
        return words.NOT_THERE
    return f"{decimal_text(numbers[kind], KINDS[kind].places)} {unit_text(KINDS[kind].unit.value)}".strip()


def _changes(changes: Sequence[ChangeRow], at: datetime) -> list[str]:
    """What was done to the machine, the newest first, with where the fault began among it."""
    told = [
        (one.at_s, words.change_said(CHANGES[Change(one.kind)].name, day(_moment(one.at_s)), one.person, one.note))
        for one in changes
    ]
    began = (at.timestamp(), words.began_said(day(at)))
    return [said for _, said in sorted([*told, began], reverse=True)] if told else []


def _moment(at_s: float) -> datetime:
    return datetime.fromtimestamp(at_s, UTC)


def _photos(photos: Sequence[PrintPhotoOut], door: Door) -> list[HelpPhotoOut]:
    return [
        HelpPhotoOut(door=door, id=one.id, said=words.photo_said(one.note, day(one.at), one.person)) for one in photos
    ]


def _attempt_photos(part: Print | None) -> list[HelpPhotoOut]:
    if part is None:
        return []
    return _photos(ATTEMPT_ALBUM.shown([part.id]).get(part.id, []), "print-photos")


def help_file(work: Work, fault_id: int) -> ExportOut:
    """The same as one file that any browser opens: its photographs are in it, and it asks for nothing from elsewhere."""
    page = show_help(work, fault_id)
    body = [f"<h1>{escape(page.title)}</h1>"]
    for section in page.sections:
        body.append(f"<h2>{escape(section.heading)}</h2>")
        if section.lines:
            body.append("<ul>" + "".join(f"<li>{escape(line)}</li>" for line in section.lines) + "</ul>")
        if section.rows:
            rows = "".join(f"<tr><th>{escape(row.name)}</th><td>{escape(row.text)}</td></tr>" for row in section.rows)
            body.append(f"<table>{rows}</table>")
    for photo in page.photos:
        album = ALBUM if photo.door == "fault-photos" else ATTEMPT_ALBUM
        data = base64.b64encode(album.picture(photo.id, small=False)).decode()
        body.append(
            f'<figure><img src="data:image/jpeg;base64,{data}" alt=""><figcaption>{escape(photo.said)}</figcaption></figure>'
        )
    body.append(f"<p>{escape(page.missing)}</p>" if page.missing else "")
    return ExportOut(name=f"case-{fault_id}.html", text=PAGE.format(title=escape(page.title), body="\n".join(body)))


PAGE: Final = """<!doctype html>
<html lang="en-GB"><head><meta charset="utf-8"><title>{title}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src data:; style-src 'unsafe-inline'">
<style>
body {{ font: 16px/1.5 sans-serif; max-width: 46rem; margin: 2rem auto; padding: 0 1rem }}
h2 {{ border-bottom: 2px solid; margin: 2rem 0 .5rem }}
table {{ border-collapse: collapse; width: 100% }}
th, td {{ text-align: left; vertical-align: top; border-bottom: 1px solid #ccc; padding: .2rem 1rem .2rem 0 }}
img {{ max-width: 100% }} figure {{ margin: 1rem 0 }}
</style></head><body>
{body}
</body></html>
"""
"""The page of a case that is sent away."""
