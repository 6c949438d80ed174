"""Sides that a person takes where practitioners disagree: chosen once, remembered, the other side stays in sight."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final, Literal, cast

from ubrex.core.materials import SCHOOLS
from ubrex.server.desk import Missing, Work
from ubrex.server.store.records import SideTaken
from ubrex.server.views.runs import SchoolOut, SchoolsOut, SideIn

Side = Literal["usual", "one", "other"]

_BY_KEY: Final = {row.key: row for row in SCHOOLS}


def sides_of(person_id: int | None) -> dict[str, Side]:
    """What a person chose, by school; a school that is not in it is left to the usual way."""
    if person_id is None:
        return {}
    rows = (
        SideTaken.select()
        .where(SideTaken.person == person_id)
        .order_by(SideTaken.school, SideTaken.id.desc())
        .distinct(SideTaken.school)
    )
    return {row.school: cast("Side", row.side) for row in rows}


def schools_out(keys: Iterable[str], sides: dict[str, Side], *, flexible: bool = True) -> list[SchoolOut]:
    """Schools as a screen shows them, both sides and what would decide; ``flexible``: those of filament that bends too."""
    return [
        SchoolOut(
            key=key,
            topic=_BY_KEY[key].topic,
            one=_BY_KEY[key].one,
            other=_BY_KEY[key].other,
            usual=_BY_KEY[key].default,
            test=_BY_KEY[key].test,
            side=sides.get(key, "usual"),
        )
        for key in keys
        if flexible or not _BY_KEY[key].flexible_only
    ]


def list_schools(work: Work) -> SchoolsOut:
    """Every school, with the side of whoever asks."""
    return SchoolsOut(schools=schools_out(tuple(_BY_KEY), sides_of(work.person_id)))


def take_side(work: Work, key: str, form: SideIn) -> SchoolsOut:
    """Choose a side, or go back to the usual way."""
    if key not in _BY_KEY:
        raise Missing(f"There is no such disagreement: {key}.", key=key)
    SideTaken.create(person=work.person(), school=key, side=form.side, at=work.now)
    return list_schools(work)
