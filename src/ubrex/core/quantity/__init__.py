"""What every calibration stands on: readings, tools, scatter, 95 % intervals and the guarded decision.

A ± in Ubrex is always the 95 % half-width. An unknown uncertainty is never 0: without one there is no estimate.
"""

from ubrex.core.quantity._compare import Comparison, compare
from ubrex.core.quantity._decide import USUAL_ERROR_PCT, Decision, Reason, Verdict, decide, decide_plainly, shrunk
from ubrex.core.quantity._display import decimal_text, half_width_places, same_setting
from ubrex.core.quantity._entry import (
    IMPOSSIBLE_FACTOR,
    EntryFinding,
    FarOff,
    Impossible,
    Slip,
    check_entry,
    parse_entry,
)
from ubrex.core.quantity._spread import (
    EXTRA_REPEATS_CAP,
    HISTORY_DOF_CAP,
    Component,
    Spread,
    SpreadHistory,
    combine,
    further_repeats,
    pooled_history,
    spread_of,
    student_quantile,
)
from ubrex.core.quantity._tools import (
    MOST_ERROR,
    MOST_ZERO_MM,
    RECTANGULAR_HALF,
    RECTANGULAR_STEP,
    USUAL_ERROR_STEPS,
    USUAL_STEP,
    ZERO_CHECKED_ERROR_MM,
    ZERO_HOLDS_HOURS,
    Tool,
    ToolKind,
    Unit,
    usual_error,
    zero_error,
)

__all__ = [
    "EXTRA_REPEATS_CAP",
    "HISTORY_DOF_CAP",
    "IMPOSSIBLE_FACTOR",
    "MOST_ERROR",
    "MOST_ZERO_MM",
    "RECTANGULAR_HALF",
    "RECTANGULAR_STEP",
    "USUAL_ERROR_PCT",
    "USUAL_ERROR_STEPS",
    "USUAL_STEP",
    "ZERO_CHECKED_ERROR_MM",
    "ZERO_HOLDS_HOURS",
    "Comparison",
    "Component",
    "Decision",
    "EntryFinding",
    "FarOff",
    "Impossible",
    "Reason",
    "Slip",
    "Spread",
    "SpreadHistory",
    "Tool",
    "ToolKind",
    "Unit",
    "Verdict",
    "check_entry",
    "combine",
    "compare",
    "decide",
    "decide_plainly",
    "decimal_text",
    "further_repeats",
    "half_width_places",
    "parse_entry",
    "pooled_history",
    "same_setting",
    "shrunk",
    "spread_of",
    "student_quantile",
    "usual_error",
    "zero_error",
]
