"""Rules E, F and G: towers that are rated or measured. Worked cases are in tests/data/vectors."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    DEMANDS,
    Criterion,
    FoamSample,
    FoamVerdict,
    LabelRange,
    RetractionSample,
    RetractionVerdict,
    Stays,
    TowerSample,
    TowerVerdict,
    could_change,
    evaluate_foaming,
    evaluate_retraction,
    evaluate_tower,
    in_race,
    in_use_stays,
    label_at,
    next_ratings,
    retraction_bands,
    speed_bands,
    temperature_bands,
)
from ubrex.core.chain import Purpose
from ubrex.core.errors import OutOfRange
from ubrex.core.materials import HeatLimit, Limit, Stiffness, Window
from ubrex.core.quantity import Tool

CELSIUS = (235.0, 240.0, 245.0, 250.0, 255.0, 260.0, 265.0)
RATED = {
    Criterion.BOND: (0, 1, 2, 3, 4, 4, 4),
    Criterion.STRINGING: (4, 4, 4, 3, 3, 2, 1),
    Criterion.SURFACE: (2, 3, 4, 4, 3, 2, 2),
}
TOWER = TowerSample(temperatures_c=CELSIUS, raters=(RATED,))

ratings = st.lists(st.one_of(st.none(), st.integers(0, 4)), min_size=7, max_size=7)
tables = st.dictionaries(st.sampled_from(list(Criterion)), ratings)
purposes = st.sampled_from(list(DEMANDS))


def test_strength_goes_hotter_than_looks_and_offers_a_printed_band() -> None:
    """What a part is for moves the pick; what is offered was printed, and lies inside what will do."""
    strong, pretty = (evaluate_tower(TOWER, DEMANDS[purpose]) for purpose in (Purpose.STRENGTH, Purpose.LOOKS))
    assert strong.figures is not None
    assert pretty.figures is not None
    assert strong.verdict is pretty.verdict is TowerVerdict.PICK
    assert CELSIUS[strong.figures.offered] > CELSIUS[pretty.figures.offered]
    for figures in (strong.figures, pretty.figures):
        assert figures.will_do_c[0] <= CELSIUS[figures.offered] <= figures.will_do_c[1]


@given(table=tables, purpose=purposes, failed=st.frozensets(st.integers(0, 6)))
def test_a_failed_band_is_never_offered_nor_inside_what_will_do(
    table: dict[Criterion, list[int | None]], purpose: Purpose, failed: frozenset[int]
) -> None:
    """Whatever was rated, with however much missing: a veto holds."""
    result = evaluate_tower(TowerSample(temperatures_c=CELSIUS, raters=(table,), failed=failed), DEMANDS[purpose])
    if result.figures is None:
        assert result.verdict in {TowerVerdict.NOTHING_RATED, TowerVerdict.NO_BAND_LEFT}
        return
    figures = result.figures
    assert figures.offered not in failed
    assert figures.low_c <= figures.pick_c <= figures.high_c
    assert not any(figures.will_do_c[0] <= CELSIUS[band] <= figures.will_do_c[1] for band in failed)
    better = [band for band in range(7) if figures.low_c <= CELSIUS[band] <= figures.high_c]
    assert all(figures.bands[band].score <= figures.bands[figures.offered].score for band in better)
    assert all(band.std >= 0 for band in figures.bands)


def test_a_second_person_who_agrees_makes_it_surer() -> None:
    """Two who see the same tower: less doubt in every band, and the same temperature."""
    one, two = (
        evaluate_tower(replace(TOWER, raters=(RATED,) * count), DEMANDS[Purpose.LOOKS]).figures for count in (1, 2)
    )
    assert one is not None
    assert two is not None
    assert all(after.std < before.std for before, after in zip(one.bands, two.bands, strict=True))
    assert two.offered == one.offered


def test_what_contradicts_the_rest_is_named() -> None:
    """A perfect bond on the coldest band, when all hotter ones but the hottest have none."""
    odd = RATED | {Criterion.BOND: (4, 0, 0, 0, 1, 3, 4)}
    figures = evaluate_tower(replace(TOWER, raters=(odd,)), DEMANDS[Purpose.STRENGTH]).figures
    assert figures is not None
    assert figures.contradictions == ((0, Criterion.BOND, 0),)
    straight = evaluate_tower(TOWER, DEMANDS[Purpose.STRENGTH]).figures
    assert straight is not None
    assert straight.contradictions == ()


def test_a_tower_that_bonds_nowhere_asks_for_a_hotter_one() -> None:
    """For strength a bond is a must: no compromise on looks makes up for it."""
    weak = {Criterion.BOND: (0, 0, 0, 0, 0, 0, 1), Criterion.STRINGING: (4, 4, 4, 4, 4, 3, 3)}
    result = evaluate_tower(replace(TOWER, raters=(weak,)), DEMANDS[Purpose.STRENGTH])
    assert result.figures is not None
    assert result.verdict in {TowerVerdict.MINIMUM_NOT_MET, TowerVerdict.EXTEND_HOTTER}
    assert result.figures.direction == 1


STRICT = {
    Criterion.BOND: (0, 0, 1, 2, 2, 3, 3),
    Criterion.STRINGING: (4, 4, 4, 3, 3, 2, 1),
    Criterion.SURFACE: (2, 3, 4, 4, 3, 2, 2),
}
DOUBTED = TowerSample(temperatures_c=CELSIUS, raters=(STRICT,), unanchored=True, torn={})


@pytest.mark.parametrize(("torn", "stays"), [({}, Stays.LOOK_AT_BREAK), ({3: True}, Stays.YES), ({3: False}, Stays.NO)])
def test_where_strictness_decides_the_break_of_the_band_in_use_does(torn: dict[int, bool], stays: Stays) -> None:
    """By the words 250 °C is too weak, to a strict rater it holds: the break says which; other bands need none."""
    sample = replace(DOUBTED, torn=torn)
    figures = evaluate_tower(sample, DEMANDS[Purpose.STRENGTH]).figures
    assert figures is not None
    assert in_use_stays(sample, figures, 250.0) is stays
    assert [in_use_stays(sample, figures, celsius) for celsius in (240.0, 260.0)] == [Stays.NO, Stays.YES]
    plain = evaluate_tower(replace(DOUBTED, torn=None), DEMANDS[Purpose.STRENGTH]).figures
    assert plain is not None
    assert in_use_stays(replace(DOUBTED, torn=None), plain, 250.0) is Stays.NO, "where no break can be looked at"


@pytest.mark.parametrize(
    ("torn", "verdict"),
    [
        ({}, TowerVerdict.LOOK_AT_BREAK),
        ({6: True}, TowerVerdict.PICK),
        ({6: False}, TowerVerdict.MINIMUM_NOT_MET),
        ({0: True}, TowerVerdict.PICK),
        ({0: False}, TowerVerdict.LOOK_AT_BREAK),
    ],
)
def test_no_tower_is_called_too_weak_for_a_strict_rater(torn: dict[int, bool], verdict: TowerVerdict) -> None:
    """The best bond was rated *snaps clean*: by the words none is strong enough; a break says how strict they were meant."""
    weak = STRICT | {Criterion.BOND: (0, 0, 1, 1, 2, 2, 2)}
    found = evaluate_tower(replace(DOUBTED, raters=(weak,), torn=torn), DEMANDS[Purpose.STRENGTH])
    assert found.verdict is verdict
    assert found.figures is not None
    assert found.figures.nearest == 6
    assert found.figures.direction == (verdict is TowerVerdict.MINIMUM_NOT_MET)


def test_a_break_that_was_seen_counts_though_nobody_asked() -> None:
    """By every reading 265 °C holds, and it is the best; a break along a layer says that it does not, nor any in use."""
    good = replace(DOUBTED, raters=(STRICT | {Criterion.BOND: (0, 0, 1, 2, 3, 4, 4)},))
    demand = DEMANDS[Purpose.STRENGTH]
    plain = evaluate_tower(good, demand)
    assert plain.verdict is TowerVerdict.PICK
    assert plain.figures is not None
    assert in_use_stays(good, plain.figures, 255.0) is Stays.YES
    every = replace(good, torn=dict.fromkeys(range(7), False))
    assert evaluate_tower(every, demand).verdict in {TowerVerdict.MINIMUM_NOT_MET, TowerVerdict.EXTEND_HOTTER}
    assert in_use_stays(every, plain.figures, 255.0) is Stays.NO
    offered = CELSIUS[plain.figures.offered]
    assert in_use_stays(every, plain.figures, offered) is Stays.YES, "nothing printed is better"


@pytest.mark.parametrize(("least", "asked"), [(1.9, False), (2.0, True), (3.0, True), (3.1, False)])
def test_a_break_tells_only_whether_it_runs_across_the_layers(least: float, asked: bool) -> None:
    """Between *snaps clean* and *tears*; where more or less is a must, or of something else, words are taken as they are."""
    demand = replace(DEMANDS[Purpose.STRENGTH], minimum={Criterion.BOND: least})
    rows = [STRICT | {Criterion.BOND: (0, 0, low, low, mid, mid, high)} for low, mid, high in SPREAD]
    found = [evaluate_tower(replace(DOUBTED, raters=(row,)), demand) for row in rows]
    assert (
        any(
            one.verdict is TowerVerdict.LOOK_AT_BREAK
            or (one.figures is not None and one.figures.stays_c != one.figures.may_stay_c)
            for one in found
        )
        is asked
    )


SPREAD = ((0, 1, 1), (0, 1, 2), (1, 2, 2), (1, 2, 3), (2, 3, 3), (2, 3, 4))
"""Bonds of towers, cold, middle and hot."""


def test_ratings_that_are_all_alike_tell_nothing_apart() -> None:
    """Everything is good everywhere: keep what is set."""
    same = dict.fromkeys(RATED, (4,) * 7)
    assert (
        evaluate_tower(replace(TOWER, raters=(same,)), DEMANDS[Purpose.LOOKS]).verdict
        is TowerVerdict.DOES_NOT_DISCRIMINATE
    )


@pytest.mark.parametrize(
    ("sample", "verdict"),
    [
        (TowerSample(temperatures_c=(200.0,), raters=({Criterion.BOND: (3,)},)), TowerVerdict.TOO_FEW_BANDS),
        (TowerSample(temperatures_c=CELSIUS, raters=()), TowerVerdict.NOTHING_RATED),
        (TowerSample(temperatures_c=CELSIUS, raters=({Criterion.BOND: (None,) * 7},)), TowerVerdict.NOTHING_RATED),
        (replace(TOWER, failed=frozenset(range(7))), TowerVerdict.NO_BAND_LEFT),
    ],
)
def test_a_tower_that_cannot_say_anything_is_refused(sample: TowerSample, verdict: TowerVerdict) -> None:
    """One band, nothing rated, only what does not count, all failed."""
    assert evaluate_tower(sample, DEMANDS[Purpose.EVERYDAY]).verdict is verdict


def test_the_ends_are_looked_at_first_and_bond_last() -> None:
    """Snapping breaks the tower: strings, edges and surfaces are looked at while it stands."""
    empty = TowerSample(temperatures_c=CELSIUS, raters=())
    demand = DEMANDS[Purpose.STRENGTH]
    asked = next_ratings(empty, demand, in_race(empty, evaluate_tower(empty, demand)))
    criteria = [criterion for criterion, _ in asked]
    assert criteria[-1] is Criterion.BOND
    assert criteria.index(Criterion.BOND) == len(criteria) - criteria.count(Criterion.BOND)
    assert [band for _, band in asked[:3]] == [0, 3, 6]
    half = replace(empty, raters=({Criterion.BOND: (0, None, None, 0, None, None, 4)},))
    race = in_race(half, evaluate_tower(half, demand))
    left = {band for criterion, band in next_ratings(half, demand, race) if criterion is Criterion.STRINGING}
    assert 6 in left
    assert 1 not in left, "a band that cannot win any more is not asked for"


def test_a_last_rating_that_cannot_matter_is_known_not_to() -> None:
    """The tip of a band that falls apart does not decide on strength; the bond of a good one does."""
    assert not could_change(TOWER, DEMANDS[Purpose.STRENGTH], Criterion.DETAIL, 0)
    bare = replace(TOWER, raters=({Criterion.BOND: (None, None, None, None, None, None, 3)},))
    assert could_change(bare, DEMANDS[Purpose.STRENGTH], Criterion.BOND, 3)


@pytest.mark.parametrize("criterion", list(STRICT))
def test_what_a_rating_can_change_is_told_by_the_same_reading_as_the_pick(criterion: Criterion) -> None:
    """Of raters whose strictness nobody knows: a last cell changes something exactly if one of its five ratings does."""
    demand, seen = DEMANDS[Purpose.EVERYDAY], set()
    for band in range(7):
        row = list(STRICT[criterion])
        row[band] = None  # type: ignore[call-overload]
        sample = replace(DOUBTED, raters=(STRICT | {criterion: tuple(row)},))
        rated = [
            replace(DOUBTED, raters=(STRICT | {criterion: (*row[:band], rating, *row[band + 1 :])},))
            for rating in range(5)
        ]
        found = {
            (one.verdict, one.figures and one.figures.offered)
            for one in (evaluate_tower(each, demand) for each in (sample, *rated))
        }
        assert could_change(sample, demand, criterion, band) == (len(found) > 1), band
        seen.add(len(found) > 1)
    assert seen == {True, False}


def test_a_rating_outside_the_scale_is_refused() -> None:
    """Five is no rating."""
    with pytest.raises(OutOfRange):
        evaluate_tower(replace(TOWER, raters=({Criterion.BOND: (5,) * 7},)), DEMANDS[Purpose.STRENGTH])


DISTANCES = (0.2, 0.5, 0.8, 1.1, 1.4, 1.7, 2.0)


def strung(*strings: int | None, **other: object) -> RetractionSample:
    """A tower of these ratings."""
    return replace(RetractionSample(distances_mm=DISTANCES, strings=(strings,)), **other)  # type: ignore[arg-type]


def test_a_click_takes_its_distance_and_all_longer_ones_out() -> None:
    """The smallest that is good would have been the one that clicks."""
    clean = strung(0, 1, 2, 4, 4, 4, 4)
    assert evaluate_retraction(clean).figures.distance_mm == 1.1  # type: ignore[union-attr]
    clicked = evaluate_retraction(replace(clean, vetoed=frozenset({3})))
    assert clicked.figures is not None
    assert clicked.figures.distance_mm is None
    assert clicked.verdict is RetractionVerdict.BEYOND_LIMIT


@given(
    strings=st.lists(st.integers(0, 4), min_size=7, max_size=7),
    gap=st.lists(st.integers(0, 4), min_size=7, max_size=7),
    stiffness=st.sampled_from(list(Stiffness)),
    vetoed=st.frozensets(st.integers(0, 6), max_size=2),
)
def test_no_distance_beyond_its_cap_is_ever_picked(
    strings: list[int], gap: list[int], stiffness: Stiffness, vetoed: frozenset[int]
) -> None:
    """Whatever is rated: within the cap of stiffness and feed path, shorter than every one that clicked."""
    sample = strung(*strings, gaps=(gap,), stiffness=stiffness, vetoed=vetoed)
    figures = evaluate_retraction(sample).figures
    assert figures is not None
    assert all(after >= before - 1e-9 for before, after in pairwise(figures.p_good)), "longer never strings more"
    if figures.distance_mm is not None:
        assert figures.distance_mm <= sample.cap.distance_mm
        assert all(figures.distance_mm < DISTANCES[band] for band in vetoed)


@pytest.mark.parametrize(
    ("sample", "verdict"),
    [
        (strung(1, 1, 2, 1, 1, 1, 2), RetractionVerdict.DOES_NOT_RESPOND),
        (strung(4, 4, 4, 4, 4, 4, 4), RetractionVerdict.GOOD_EVERYWHERE),
        (strung(0, 0, 1, 2, 4, 4, 4, gaps=((4, 4, 3, 2, 0, 0, 0),)), RetractionVerdict.CONFLICT_GAP),
        (strung(0, 0, 0, 0, 0, 4, 4, stiffness=Stiffness.FLEXIBLE), RetractionVerdict.BEYOND_LIMIT),
        (strung(*[None] * 7), RetractionVerdict.NOTHING_RATED),
        (replace(strung(3, 4), distances_mm=(0.2, 0.5)), RetractionVerdict.TOO_FEW_BANDS),
        (strung(4, 4, 4, 4, 4, 4, 4, vetoed=frozenset({0})), RetractionVerdict.NO_BAND_LEFT),
    ],
)
def test_a_retraction_tower_says_what_the_lever_is(sample: RetractionSample, verdict: RetractionVerdict) -> None:
    """Distance, heat, damp, priming, or nothing at all."""
    assert evaluate_retraction(sample).verdict is verdict


def test_the_order_of_bands_does_not_matter() -> None:
    """A tower printed the other way up says the same."""
    straight = strung(0, 1, 2, 4, 4, 4, 4)
    turned = replace(straight, distances_mm=DISTANCES[::-1], strings=((4, 4, 4, 4, 2, 1, 0),))
    first, second = evaluate_retraction(straight).figures, evaluate_retraction(turned).figures
    assert first is not None
    assert second is not None
    assert first.distance_mm == second.distance_mm
    assert first.p_good == pytest.approx(second.p_good[::-1])


WIDTHS = (0.53, 0.575, 0.605, 0.6, 0.5275, 0.4775, 0.4475, 0.415)
FOAM = FoamSample(
    temperatures_c=(190.0, 197.0, 204.0, 211.0, 218.0, 225.0, 232.0, 239.0),
    widths_mm=tuple((width - 0.01, width, width + 0.01) for width in WIDTHS),
    bead=Bead(width_mm=0.45, height_mm=0.2),
    flow=0.7,
    tool=Tool(resolution=0.01, max_permissible_error=0.01),
)


def test_a_veto_cuts_off_all_hotter_bands() -> None:
    """Dark drops at 211: the flow is that of the hottest band before them."""
    free, cut = evaluate_foaming(FOAM), evaluate_foaming(replace(FOAM, vetoed=frozenset({2})))
    assert free.figures is not None
    assert cut.figures is not None
    assert free.figures.chosen_c == pytest.approx(free.figures.peak_c)
    assert cut.figures.chosen_c == 197.0
    assert cut.figures.flow is not None
    assert free.figures.flow is not None
    assert cut.figures.flow > free.figures.flow, "less swollen, so more has to be pushed"


def test_the_flow_makes_the_wall_as_wide_as_its_line() -> None:
    """The width that a wall of the new flow would have, by the same model, is the commanded one."""
    figures = evaluate_foaming(FOAM).figures
    assert figures is not None
    assert figures.flow is not None
    assert figures.width_mm is not None
    deficit = FOAM.bead.deficit_mm
    assert deficit + (figures.width_mm - deficit) * figures.flow / FOAM.flow == pytest.approx(0.45)


@pytest.mark.parametrize(
    ("sample", "verdict"),
    [
        (replace(FOAM, widths_mm=tuple((0.5, 0.51, 0.5) for _ in WIDTHS)), FoamVerdict.NO_RESPONSE),
        (replace(FOAM, widths_mm=tuple(row for row in FOAM.widths_mm[::-1])), FoamVerdict.PEAK),
        (replace(FOAM, widths_mm=tuple((0.4 + 0.02 * at,) * 3 for at in range(8))), FoamVerdict.EXTEND_HOTTER),
        (replace(FOAM, widths_mm=tuple((0.56 - 0.02 * at,) * 3 for at in range(8))), FoamVerdict.EXTEND_COOLER),
        (
            replace(FOAM, temperatures_c=FOAM.temperatures_c[:5], widths_mm=FOAM.widths_mm[:5]),
            FoamVerdict.TOO_FEW_BANDS,
        ),
        (replace(FOAM, vetoed=frozenset({0})), FoamVerdict.NO_BAND_LEFT),
    ],
)
def test_a_foaming_tower_says_where_the_peak_is(sample: FoamSample, verdict: FoamVerdict) -> None:
    """Inside, beyond either end, nowhere, or not to be told."""
    assert evaluate_foaming(sample).verdict is verdict


@pytest.mark.parametrize(
    "sample",
    [
        replace(FOAM, temperatures_c=FOAM.temperatures_c[::-1]),
        replace(FOAM, widths_mm=((), *FOAM.widths_mm[1:])),
        replace(FOAM, widths_mm=((0.0,), *FOAM.widths_mm[1:])),
    ],
)
def test_bands_out_of_order_or_without_readings_are_refused(sample: FoamSample) -> None:
    """No curve goes through these."""
    with pytest.raises(OutOfRange):
        evaluate_foaming(sample)


LINER = Limit(max_c=240, of=HeatLimit.LINER)


@given(
    low=st.floats(170, 260),
    width=st.floats(0, 90),
    bias=st.floats(-12, 12),
    limit=st.one_of(st.none(), st.floats(230, 300)),
)
def test_no_band_is_proposed_beyond_a_limit(low: float, width: float, bias: float, limit: float | None) -> None:
    """Whatever the label says: inside every limit, evenly spaced, coldest first, never more than ten."""
    cap = None if limit is None else Limit(max_c=limit, of=HeatLimit.HOTEND)
    found = temperature_bands(Window(low=low, high=low + width), bias_c=bias, limit=cap, coldest_c=170)
    assert 1 <= len(found.temperatures_c) <= 10 or (limit is not None and low + bias > limit - 10)
    assert all(170 <= value <= (limit or 400) for value in found.temperatures_c)
    assert {after - before for before, after in pairwise(found.temperatures_c)} <= {found.step_c}


def test_a_liner_cuts_the_tower_short_and_is_named() -> None:
    """235 to 270 on a lined hotend: up to 240, made up for at the cool end."""
    found = temperature_bands(Window(low=235, high=270), bias_c=0, limit=LINER, coldest_c=200)
    assert found.temperatures_c[-1] == 240
    assert found.cut == LINER
    assert len(found.temperatures_c) == 5
    free = temperature_bands(Window(low=190, high=220), bias_c=0, limit=LINER, coldest_c=170)
    assert free.cut is None
    assert free.temperatures_c == (190, 195, 200, 205, 210, 215, 220)


def test_a_hotend_that_shows_too_much_is_set_higher() -> None:
    """Shows 4 too much: all bands 5 up (a whole step); a confirmed 12: 15 up."""
    straight, shifted, confirmed = (
        temperature_bands(Window(low=190, high=220), bias_c=bias, limit=None, coldest_c=170).temperatures_c[0]
        for bias in (0.0, 4.0, 12.0)
    )
    assert (straight, shifted, confirmed) == (190, 195, 205)


def test_a_label_with_rows_by_speed_is_interpolated() -> None:
    """Half way between 50 and 150 mm/s, half way between the ranges."""
    rows = [LabelRange(low_c=190, high_c=210), LabelRange(low_c=210, high_c=230, from_mm_s=100)]
    assert label_at(rows, 50) == Window(low=200, high=220)
    assert label_at(rows, 400) == Window(low=210, high=230)
    assert label_at([], 50) is None


def test_soft_filament_steps_up_from_no_pull_at_all() -> None:
    """And never beyond its cap."""
    assert retraction_bands(1.0, from_zero=True)[0] == 0.0
    assert max(retraction_bands(1.0, from_zero=True)) == 1.0
    assert retraction_bands(2.0, from_zero=False) == (0.2, 0.5, 0.7, 1.0, 1.2, 1.5, 1.7, 2.0)
    assert max(speed_bands(25)) == 25
