"""Families, cautions, schools and limits: every row whole, and nothing ever heated beyond the strictest limit."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ubrex.core.materials import (
    CAUTIONS,
    FAMILIES,
    LINED_LIMIT_C,
    SCHOOLS,
    UNSTATED_NOZZLE_C,
    Family,
    Hazard,
    HeatLimit,
    Limit,
    Liner,
    Window,
    bed_limits,
    caution,
    family,
    feed_heat,
    nozzle_limits,
    strictest,
)

maybe_c = st.none() | st.floats(60, 600)


@pytest.mark.parametrize("row", FAMILIES, ids=lambda row: row.key)
@pytest.mark.parametrize("liner", Liner)
@pytest.mark.parametrize("maximum", [None, 200.0, 285.0])
def test_nothing_is_fed_beyond_the_strictest_limit(row: Family, liner: Liner, maximum: float | None) -> None:
    """Burnt liners kill birds: a liner that is not known counts as one in the hot zone."""
    heat = feed_heat(row.nozzle_low_c, nozzle_limits(liner=liner, hotend_max_c=maximum))
    lined = LINED_LIMIT_C if liner in {Liner.LINED, Liner.UNKNOWN} else None
    limits = [limit for limit in (maximum, lined) if limit is not None] or [UNSTATED_NOZZLE_C]
    assert heat.limit_c == min(limits)
    assert heat.target_c is None or heat.target_c <= min(limits)


@given(
    liner=st.sampled_from(Liner),
    hotend=maybe_c,
    row=st.sampled_from(FAMILIES),
    reads_low=st.floats(-30, 30),
)
def test_the_strictest_limit_is_below_every_other_and_allows_for_a_sensor_that_reads_low(
    liner: Liner, hotend: float | None, row: Family, reads_low: float
) -> None:
    """A hotend that is really 10 hotter than it shows may be set to 10 less; one that shows too much gains nothing."""
    limits = nozzle_limits(liner=liner, hotend_max_c=hotend, filament=row, reads_low_by_c=reads_low)
    held = strictest(limits)
    stated = [limit for limit in (hotend, row.ceiling_c) if limit is not None]
    if liner in {Liner.LINED, Liner.UNKNOWN}:
        stated.append(LINED_LIMIT_C)
    elif hotend is None:
        stated.append(UNSTATED_NOZZLE_C)
    assert held is not None
    assert held.max_c == pytest.approx(min(stated) - max(0.0, reads_low))
    assert held in limits


def test_the_limit_that_holds_is_named() -> None:
    """Nylon needs 245: a lined hotend gets no temperature at all, and is told why."""
    heat = feed_heat(family("nylon").nozzle_low_c, nozzle_limits(liner=Liner.LINED, hotend_max_c=300.0))
    assert (heat.target_c, heat.limit) == (None, HeatLimit.LINER)
    assert (
        feed_heat(family("nylon").nozzle_low_c, nozzle_limits(liner=Liner.ALL_METAL, hotend_max_c=300.0)).target_c
        == 245
    )
    assert strictest(bed_limits(bed_max_c=110, surface_max_c=80)) == Limit(max_c=80, of=HeatLimit.SURFACE)
    assert strictest([]) is None


@pytest.mark.parametrize("row", FAMILIES, ids=lambda row: row.key)
def test_a_family_row_is_whole_and_has_a_source(row: Family) -> None:
    """A window upside down, a density of 12 or a row without a source would reach a person unseen."""
    assert row.source
    assert row.notes
    windows = [(row.nozzle, 150, 350), (row.bed, 20, 130), (row.fan, 0, 100), (row.melt, 1, 30), (row.dry_c, 35, 100)]
    for window, least, most in windows:
        assert window is None or least <= window.low <= window.high <= most
    assert (row.nozzle is None) == (row.ceiling_c is None) == (row.bed is None)
    assert row.nozzle is None or row.ceiling_c is None or row.ceiling_c >= row.nozzle.high
    assert (row.dry_c is None) == (row.dry_h is None)
    assert row.density_g_cm3 is None or 0.8 < row.density_g_cm3 < 1.5


@pytest.mark.parametrize("row", SCHOOLS, ids=lambda row: row.key)
def test_a_school_names_both_sides_a_default_and_the_test_that_decides(row: object) -> None:
    """The tool never picks silently."""
    told = {field: getattr(row, field) for field in ("topic", "one", "other", "default", "test", "source")}
    assert all(told.values())
    assert told["one"] != told["other"]


def test_every_hazard_has_one_caution_and_every_key_is_used_once() -> None:
    """Two rows for one key, or none, would show a person the wrong words."""
    assert {row.hazard for row in CAUTIONS} == set(Hazard)
    assert all(caution(hazard).text and caution(hazard).lead.endswith(".") for hazard in Hazard)
    for keys in ([row.key for row in FAMILIES], [row.key for row in SCHOOLS], [row.hazard for row in CAUTIONS]):
        assert len(keys) == len(set(keys))


@pytest.mark.parametrize(
    ("low", "high", "whole"),
    [(204.625, 229.4, (205, 229)), (200.0000001, 220, (200, 220)), (204.2, 204.8, (204.2, 204.8))],
)
def test_heat_is_offered_in_whole_degrees_within_what_is_usual(
    low: float, high: float, whole: tuple[float, float]
) -> None:
    """Nobody sets 204.625 °C; a window without a whole degree stays what it is."""
    found = Window(low=low, high=high).whole
    assert (found.low, found.high) == whole
