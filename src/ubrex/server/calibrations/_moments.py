"""When a sample was made, as a form says it."""

from __future__ import annotations

from datetime import datetime

from ubrex.server.calibrations._calibration import Filled
from ubrex.server.desk import FieldProblem
from ubrex.server.words.readings import NOT_A_DATE


def read_moment(form: Filled, name: str, in_future: str) -> datetime | None:
    """A moment that has passed; None where nothing was said, or it cannot be."""
    typed = form.typed.get(name, "").strip()
    if not typed:
        return None
    try:
        at = datetime.fromisoformat(typed)
    except ValueError:
        form.fields.add(FieldProblem(name, "not_a_date", NOT_A_DATE))
        return None
    at = at if at.tzinfo is not None else at.replace(tzinfo=form.now.tzinfo)
    if at > form.now:
        form.fields.add(FieldProblem(name, "in_future", in_future))
        return None
    return at
