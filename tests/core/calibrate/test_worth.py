"""What a value may be off before it is worth a change, for each kind that a rule judges so."""

from __future__ import annotations

import pytest

from ubrex.core.calibrate import is_less_known, least_change
from ubrex.core.chain import Kind, Purpose


@pytest.mark.parametrize(
    ("kind", "number", "purpose", "amount", "share_pct"),
    [
        (Kind.E_STEPS, 410.45, Purpose.FIT, 4.1045, 1.0),
        (Kind.FLOW, 90.8, Purpose.FIT, 1.816, 2.0),
        (Kind.FLOW_THIN, 90.0, Purpose.EVERYDAY, 2.7, 3.0),
        (Kind.FLOW_SOLID, 40.0, Purpose.LIGHTNESS, 1.2, 3.0),
        (Kind.DIAMETER, 1.75, Purpose.LOOKS, 0.0175, 1.0),
        (Kind.SIZE_SCALE, 100.5, Purpose.FIT, 0.1005, 0.1),
        (Kind.Z_OFFSET, -1.42, Purpose.FIT, 0.02, None),
        (Kind.LEVEL, 0.3, Purpose.FIT, 0.04, None),
        (Kind.SIZE_INNER, 0.0, Purpose.FIT, 0.05, None),
        (Kind.HEAT_BIAS, -7.0, Purpose.STRENGTH, 5.0, None),
    ],
)
def test_a_change_is_worth_making_from_where_its_own_rule_says(
    kind: Kind, number: float, purpose: Purpose, amount: float, share_pct: float | None
) -> None:
    """A share of what is set where the rule gives one, else an amount; flow by what the part is for."""
    least = least_change(kind, number, purpose)
    assert least is not None
    assert least.amount == pytest.approx(amount)
    assert least.share_pct == share_pct


def test_kinds_that_no_rule_judges_so_have_no_least_change() -> None:
    """A temperature serves by ratings, a distance by strings: nothing is made up for them."""
    for kind in (Kind.NOZZLE, Kind.RETRACTION, Kind.FIT_SNUG, Kind.TOP_FLOW, Kind.PRESSURE, Kind.FLOW_BIAS):
        assert least_change(kind, 100.0, Purpose.EVERYDAY) is None


@pytest.mark.parametrize(
    ("found", "recorded", "less"), [(0.61, 0.4, True), (0.6, 0.4, False), (None, 0.4, False), (3.0, None, False)]
)
def test_a_value_is_less_known_from_half_as_much_again_where_both_are_known(
    found: float | None, recorded: float | None, less: bool
) -> None:
    """Two runs done alike differ by less than that."""
    assert is_less_known(found, recorded) is less
