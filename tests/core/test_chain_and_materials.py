"""Standing of the one step there is, and how hot a hotend may be made."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ubrex.core.chain import EFFECTS, Change, Effect, NextReason, Origin, Standing, gravest, next_reason, standing
from ubrex.core.materials import FAMILIES, LINED_LIMIT_C, Family, HeatLimit, Liner, family, feed_heat


@pytest.mark.parametrize(
    ("origin", "age_days", "found"),
    [
        (None, 0.0, Standing.NEVER),
        (Origin.TYPED, 0.0, Standing.ASSUMED),
        (Origin.MEASURED, 180.0, Standing.FRESH),
        (Origin.MEASURED, 180.5, Standing.AGEING),
        (Origin.RESTORED, 3000.0, Standing.AGEING),
    ],
)
def test_age_alone_makes_a_value_ageing_and_never_worse(
    origin: Origin | None, age_days: float, found: Standing
) -> None:
    """A matrix that cries wolf gets switched off."""
    assert standing(origin=origin, age_days=age_days, ageing_after_days=180.0) is found


@pytest.mark.parametrize("origin", [None, *Origin])
@pytest.mark.parametrize("changed", Effect)
@pytest.mark.parametrize("age_days", [0.0, 400.0])
def test_a_change_never_makes_anything_fresher(origin: Origin | None, changed: Effect, age_days: float) -> None:
    """And what was never measured stays so: there is nothing to go stale."""
    order = [Standing.FRESH, Standing.AGEING, Standing.CHECK, Standing.ASSUMED, Standing.RE_ENTER, Standing.STALE]
    before = standing(origin=origin, age_days=age_days, ageing_after_days=180.0)
    after = standing(origin=origin, age_days=age_days, ageing_after_days=180.0, changed=changed)
    if before is Standing.NEVER:
        assert after is Standing.NEVER
    else:
        assert order.index(after) >= order.index(before)


@given(effects=st.lists(st.sampled_from(Effect)))
def test_the_gravest_effect_does_not_depend_on_the_order_of_logging(effects: list[Effect]) -> None:
    """Measure anew, put back, look: the first of these that is asked for counts."""
    found = gravest(effects)
    assert found is gravest(reversed(effects))
    assert (found is None) is (not effects)
    assert all(list(Effect).index(effect) >= list(Effect).index(found) for effect in effects if found)


def test_every_change_that_can_be_logged_touches_something() -> None:
    """An entry that changes nothing would teach a person that logging is in vain."""
    assert set(EFFECTS) == set(Change)
    assert all(EFFECTS.values())


def test_an_open_run_comes_before_everything_and_a_read_back_before_fresh() -> None:
    """Readings already taken are paid for; a value the machine may have lost is not fresh enough to rest on."""
    assert next_reason(Standing.NEVER, verified=True, run_open=True) is NextReason.RUN_OPEN
    assert next_reason(Standing.FRESH, verified=False, run_open=False) is NextReason.NOT_READ_BACK
    assert next_reason(Standing.FRESH, verified=True, run_open=False) is NextReason.NOTHING_DUE
    assert next_reason(Standing.AGEING, verified=True, run_open=False) is NextReason.OLD


@pytest.mark.parametrize("row", FAMILIES, ids=lambda row: row.key)
@pytest.mark.parametrize("liner", Liner)
@pytest.mark.parametrize("maximum", [None, 200.0, 285.0])
def test_nothing_is_heated_beyond_the_strictest_limit(row: Family, liner: Liner, maximum: float | None) -> None:
    """Burnt liners kill birds: a liner that is not known counts as one in the hot zone."""
    heat = feed_heat(row, liner=liner, hotend_max_c=maximum)
    limits = [limit for limit in (maximum, None if liner is Liner.ALL_METAL else LINED_LIMIT_C) if limit is not None]
    assert heat.limit_c == min(limits, default=None)
    assert heat.target_c is None or heat.target_c <= min(limits, default=1000.0)


def test_the_limit_that_holds_is_named() -> None:
    """Nylon needs 245: a lined hotend gets no temperature at all, and is told why."""
    heat = feed_heat(family("nylon"), liner=Liner.LINED, hotend_max_c=300.0)
    assert (heat.target_c, heat.limit) == (None, HeatLimit.LINER)
    assert feed_heat(family("nylon"), liner=Liner.ALL_METAL, hotend_max_c=300.0).target_c == 245


@pytest.mark.parametrize("row", FAMILIES, ids=lambda row: row.key)
def test_a_family_row_is_whole_and_has_a_source(row: Family) -> None:
    """A window upside down, a density of 12 or a row without a source would reach a person unseen."""
    assert row.source
    assert (row.nozzle_low_c is None) == (row.nozzle_high_c is None)
    if row.nozzle_low_c is not None and row.nozzle_high_c is not None:
        assert 150 < row.nozzle_low_c < row.nozzle_high_c <= 350
    assert row.density_g_cm3 is None or 0.8 < row.density_g_cm3 < 1.5
