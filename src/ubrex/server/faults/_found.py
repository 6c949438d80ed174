"""What is found on the way without being the cause: it is mended all the same, and what is unsafe holds the next job."""

from __future__ import annotations

from collections.abc import Sequence

from peewee import JOIN

from ubrex.server.store.records import Fault, FaultAnswer, FaultAnswerOff, Machine
from ubrex.server.views.faults import AlsoFoundOut
from ubrex.server.words import causes
from ubrex.server.words import faults as words


def found_of(answers: Sequence[FaultAnswer], machine: str) -> list[AlsoFoundOut]:
    """What was found and not mended yet, by the newest word on each."""
    last = {(one.fault_id, one.key): one for one in answers if one.kind == "found"}
    return [
        AlsoFoundOut(
            fault_id=one.fault_id,
            key=one.key,
            machine=machine,
            text=causes.FOUND[one.key].text,
            mend=words.mend_said(causes.FOUND[one.key].remedy),
            unsafe=causes.FOUND[one.key].unsafe,
        )
        for one in last.values()
        if one.answer == ""
    ]


def found_on(machine: Machine) -> list[AlsoFoundOut]:
    """Everything found on a machine that nobody has mended, whichever case it was found in."""
    rows = (
        FaultAnswer.select()
        .join(Fault)
        .switch(FaultAnswer)
        .join(FaultAnswerOff, JOIN.LEFT_OUTER, on=(FaultAnswerOff.answer == FaultAnswer.id))
        .where(Fault.machine == machine.id, FaultAnswer.kind == "found", FaultAnswerOff.answer.is_null())
        .order_by(FaultAnswer.id)
    )
    # One thing found in two cases is one thing.
    return list({one.key: one for one in found_of(list(rows), machine.name)}.values())


def holds_of(machine: Machine) -> list[str]:
    """What of it holds the next job, in words."""
    return [words.hold_found_said(one.text) for one in found_on(machine) if one.unsafe]
