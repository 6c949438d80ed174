"""Whether something may print with nobody near."""

from __future__ import annotations

from ubrex.core.chain import Grade, unattended
from ubrex.server.profile._standing import Standings
from ubrex.server.words import preflight as words


def alone_said(found: Standings, *, file_harmless: bool) -> str:
    """Whether a print on a setup may run with nobody near, and what keeps it from that.

    ``file_harmless``: whether this very file was looked through, and nothing harmful was found in it.
    """
    lacks = unattended(
        tested=found.setup.toolhead.machine.runaway == Grade.TESTED.value,
        fan_looked_at=not found.fan_in_doubt,
        held=bool(found.held),
        file_checked=file_harmless,
    )
    return words.alone_said(lacks)
