"""What is wrong, found by evidence: odds of causes, the next look that tells most, when to stop looking and mend."""

from ubrex.core.diagnose._base import OTHER, Check, Finding, Knowledge, Remedy, knowledge, read_knowledge
from ubrex.core.diagnose._odds import Case, Odds, Result, odds_of
from ubrex.core.diagnose._sheet import (
    NextCheck,
    Order,
    Reason,
    Sheet,
    bits_of,
    diagnose,
    effort_of,
    in_order,
    ready_from,
    reasons_for,
)

__all__ = [
    "OTHER",
    "Case",
    "Check",
    "Finding",
    "Knowledge",
    "NextCheck",
    "Odds",
    "Order",
    "Reason",
    "Remedy",
    "Result",
    "Sheet",
    "bits_of",
    "diagnose",
    "effort_of",
    "in_order",
    "knowledge",
    "odds_of",
    "read_knowledge",
    "ready_from",
    "reasons_for",
]
