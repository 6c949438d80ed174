"""The one judgement: facts of a setup and numbers in, findings out. Every door asks here, and none has limits of its own."""

from ubrex.core.judge._entered import Entry, judge_entered, judge_label, judge_tool
from ubrex.core.judge._findings import RULES, Code, Finding, Rule, Severity, Whose, gravest_first
from ubrex.core.judge._parts import SUSPECT_BIAS_C, Parts, Usual, line_of, speed_of, usual_of
from ubrex.core.judge._setup import judge_dryness, judge_parts
from ubrex.core.judge._slips import SETTING_NEAR, judge_change, slip, slip_from
from ubrex.core.judge._spool import FASTEST_MELT_MM3_S, NEW_SPOOL_SLACK_G, RESERVE_G, judge_print, judge_spool
from ubrex.core.judge._values import SPEEDS, judge, judge_one, speed_at

__all__ = [
    "FASTEST_MELT_MM3_S",
    "NEW_SPOOL_SLACK_G",
    "RESERVE_G",
    "RULES",
    "SETTING_NEAR",
    "SPEEDS",
    "SUSPECT_BIAS_C",
    "Code",
    "Entry",
    "Finding",
    "Parts",
    "Rule",
    "Severity",
    "Usual",
    "Whose",
    "gravest_first",
    "judge",
    "judge_change",
    "judge_dryness",
    "judge_entered",
    "judge_label",
    "judge_one",
    "judge_parts",
    "judge_print",
    "judge_spool",
    "judge_tool",
    "line_of",
    "slip",
    "slip_from",
    "speed_at",
    "speed_of",
    "usual_of",
]
