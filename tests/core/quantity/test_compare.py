"""Whether two measured values differ, or only their readings do."""

from __future__ import annotations

import math

import pytest

from ubrex.core.quantity import compare


@pytest.mark.parametrize(
    ("after", "real"), [(104.99, False), (105.01, True), (95.01, False), (94.99, True), (100.0, False)]
)
def test_the_doubt_of_both_counts(after: float, real: bool) -> None:
    """Half-widths of 3 and 4 make one of 5 of their difference; either alone would be too little."""
    found = compare(100.0, 3.0, after, 4.0)
    assert found.real is real
    assert found.change == pytest.approx(after - 100.0)


def test_what_was_never_measured_cannot_be_compared() -> None:
    """No interval, no answer; two numbers without any doubt differ or are the same."""
    assert compare(1.0, None, 2.0, 0.1).real is None
    assert compare(1.0, 0.1, 2.0, None).times is None
    assert compare(1.0, 0.0, 2.0, 0.0).times == math.inf
    assert compare(1.0, 0.0, 1.0, 0.0).real is False
