"""Checks of a machine: whether the readings that follow can be trusted at all, and what a change of it did."""

from ubrex.server.checks._checks import list_checks, take_check, withdraw_check
from ubrex.server.checks._log import HeatLogRows, UnreadableLog, read_log

__all__ = ["HeatLogRows", "UnreadableLog", "list_checks", "read_log", "take_check", "withdraw_check"]
