"""Hypothesis strategies, in one place."""

from __future__ import annotations

from hypothesis import settings
from hypothesis import strategies as st

from ubrex.core.calibrate import EStepsMethod, EStepsSample
from ubrex.core.quantity import Tool

DEEPER = 10
"""How many times as many examples ``./ubrex test --slow`` tries."""


def examples(usual: int) -> int:
    """How many examples of what takes long are tried: each run tries others, and a slow one many."""
    return usual * (DEEPER if settings.get_current_profile_name() == "deep" else 1)


lengths = st.floats(min_value=85.0, max_value=115.0).map(lambda value: round(value, 2))
"""Fed lengths a calliper could read for 100 mm commanded."""

tools = st.builds(
    Tool,
    resolution=st.sampled_from([0.01, 0.05, 0.5]),
    max_permissible_error=st.sampled_from([0.0, 0.03, 0.5]),
)


@st.composite
def open_air_samples(draw: st.DrawFn) -> EStepsSample:
    """Samples of 1 to 8 cut lengths of 100 mm."""
    readings = draw(st.lists(lengths, min_size=1, max_size=8))
    return EStepsSample(method=EStepsMethod.OPEN_AIR, commanded_mm=100.0, readings=tuple(readings), tool=draw(tools))
