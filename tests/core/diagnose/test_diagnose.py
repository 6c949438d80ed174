"""Faults by evidence: the worked cases, and what must hold whatever is answered in whatever order."""

from __future__ import annotations

import json
import random
import statistics
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.fingerprints import Fingerprint, assert_unchanged
from tests.simulated.faults import search

from ubrex.core.diagnose import (
    OTHER,
    Case,
    bits_of,
    diagnose,
    knowledge,
    odds_of,
    read_knowledge,
    ready_from,
    reasons_for,
)
from ubrex.core.errors import OutOfRange

CASES: list[Any] = json.loads((Path(__file__).parents[2] / "data" / "diagnosis.json").read_text())
BASE = knowledge()
SHEETS: Fingerprint = (16740, 3894450299, 481.0984554199175, 16.397782129844927)
OPEN_TUBE = ("tube", "lined", "pla", "open", "bed_moves")


@pytest.mark.parametrize("row", CASES, ids=lambda row: f"{row['id']}: {row['name']}")
def test_a_worked_case(row: Any) -> None:
    """Odds, order, the next look, the verdict and what stops everything."""
    sheet = diagnose(Case(**row["case"]))
    expected, within = row["expected"], row["tolerance"]
    shares = dict(sheet.causes)
    assert sheet.causes[0][0] == expected["top"]
    for cause, share in expected["odds"].items():
        assert shares[cause] == pytest.approx(share, abs=within["odds"])
    assert shares[OTHER] == pytest.approx(expected["off_list"], abs=within["odds"])
    assert sheet.checks[0].check in expected["next_any_of"]
    assert sheet.checks[0].bits == pytest.approx(expected["next_bits"], abs=within["bits"])
    assert (sheet.verdict, sheet.remedy) == (expected["verdict"], expected.get("remedy"))
    assert list(sheet.stop) == expected["stop"]
    must = row["must"]
    assert set(must.get("top3", [])) <= {cause for cause, _ in sheet.causes[:3]}
    assert must.get("not_top") != sheet.causes[0][0]


answers = st.sampled_from(sorted(BASE.findings)).flatmap(
    lambda key: st.tuples(st.just(key), st.sampled_from(BASE.findings[key].options))
)


@given(
    complaint=st.sampled_from(sorted(BASE.complaints)),
    found=st.lists(answers, max_size=5, unique_by=lambda row: row[0]),
)
@settings(max_examples=25, deadline=None)
def test_the_order_of_answers_never_matters_and_all_of_it_is_one(complaint: str, found: list[tuple[str, str]]) -> None:
    """The same odds either way round; hypotheses sum to 1, and nothing is ever impossible."""
    one, other = (Case(complaint=complaint, evidence=dict(rows)) for rows in (found, found[::-1]))
    assert dict(odds_of(one).causes) == pytest.approx(dict(odds_of(other).causes), rel=1e-9)
    assert sum(odds_of(one).hypotheses.values()) == pytest.approx(1)
    assert min(odds_of(one).causes.values()) > 0


def telling(cause: str) -> dict[str, str]:
    """The four findings that say most of a cause, what is not there too, and what follows from where it shows."""
    rows = []
    for key, finding in BASE.findings.items():
        for answer in finding.options:
            said = BASE.levels.get(finding.likely.get(cause, {}).get(answer, ""), 0.0)
            if said >= 0.5:
                rows.append((said / finding.background[answer], key, answer))
    return {key: answer for _, key, answer in sorted(rows, reverse=True)[:4]}


def test_every_cause_can_win() -> None:
    """On a machine where it is usual, four of its findings bring it among the first three; nearly all lead."""
    lead = 0
    for cause in BASE.usual:
        complaint = max(BASE.complaints, key=lambda key: BASE.levels.get(BASE.complaints[key].get(cause, ""), 0.0))
        context = [tag for tag, factor in BASE.context[cause].items() if factor > 1 and not tag.startswith("!")]
        case = Case(complaint=complaint, context=context, evidence=telling(cause))
        order = [name for name, _ in diagnose(case).causes]
        assert cause in order[:3], cause
        lead += order[0] == cause
    assert lead >= 0.9 * len(BASE.usual)


@pytest.mark.parametrize("cause", ["nozzle_blocked", "wet", "sink_fan", "belt", "too_low", "plate_dirty"])
def test_one_wrong_answer_never_sinks_the_true_cause(cause: str) -> None:
    """Whichever of its findings is answered wrongly: it stays above 1 in 50, and among the first five."""
    complaint = max(BASE.complaints, key=lambda key: BASE.levels.get(BASE.complaints[key].get(cause, ""), 0.0))
    right = telling(cause)
    for wrong in right:
        for answer in set(BASE.findings[wrong].options) - {right[wrong]}:
            sheet = diagnose(Case(complaint=complaint, evidence={**right, wrong: answer}))
            assert dict(sheet.causes)[cause] > 0.02, (wrong, answer)
            assert cause in [name for name, _ in sheet.causes[:5]], (wrong, answer)


def test_every_complaint_has_a_harmless_look_of_three_minutes() -> None:
    """Before anything is known something can be looked at that costs nothing."""
    for complaint in BASE.complaints:
        checks = diagnose(Case(complaint=complaint, context=OPEN_TUBE)).checks
        assert any(one.minutes <= 3 and BASE.checks[one.check].harm == 0 for one in checks), complaint


def test_what_stops_everything_comes_before_any_remedy_is_weighed() -> None:
    """Burning smell, a singed tube, a heat that jumps, a lump round the hotend."""
    for case, key in (
        (Case(complaint="c_smell"), "off_at_switch"),
        (Case(complaint="c_blob"), "heaters_off_do_not_tear"),
        (Case(complaint="c_stopped", evidence={"touch": "yes"}), "off_at_switch"),
        (Case(complaint="c_temp", evidence={"ripple": "jumps"}), "heaters_off"),
        (Case(complaint="c_thin", evidence={"wire_look": "yes"}), "leave_off"),
    ):
        assert diagnose(case).stop == (key,)
    assert diagnose(Case(complaint="c_strings")).stop == ()


def test_a_remedy_that_helped_leaves_what_is_left_and_one_that_did_nothing_lowers_its_causes() -> None:
    """After *better* only what was not mended is looked for; after *gone* it is watched."""
    case = Case(complaint="c_stopped", context=OPEN_TUBE, evidence={"push": "not at all"})
    before = dict(diagnose(case).causes)["nozzle_blocked"]
    assert dict(diagnose(replace(case, remedies={"m_clear": "no change"})).causes)["nozzle_blocked"] < before
    helped = diagnose(replace(case, remedies={"m_clear": "better"}))
    assert helped.helped == ("nozzle_blocked", "nozzle_partly")
    assert dict(helped.causes)["nozzle_blocked"] == 0
    assert diagnose(replace(case, remedies={"m_clear": "gone"})).verdict == "watch"


def test_a_check_that_cannot_be_done_is_not_proposed_and_an_unsure_look_counts_less() -> None:
    """What was seen tells nothing twice; half sure lies between not looked and seen."""
    case = Case(complaint="c_stopped", context=OPEN_TUBE)
    first = diagnose(case).checks[0].check
    assert first not in [one.check for one in diagnose(replace(case, unable=[first])).checks]
    seen = replace(case, evidence={"sink_look": "slow, noisy or blocked"})
    shares = [dict(diagnose(one).causes)["sink_fan"] for one in (case, replace(seen, unsure=["sink_look"]), seen)]
    assert shares == sorted(shares)
    assert shares[0] < shares[1] < shares[2]
    assert bits_of("k_sinkfan", odds_of(seen), frozenset(seen.evidence)) == 0
    (reason, *_), against = reasons_for(seen, "sink_fan")
    assert (reason.what, reason.answer) == ("sink_look", "slow, noisy or blocked")
    assert against == []


def test_of_many_reasons_the_three_strongest_are_told() -> None:
    """All that is known of a partly blocked nozzle, answered as it would be where there is one."""
    telling = {
        name: row.likely["nozzle_partly"] for name, row in BASE.findings.items() if row.likely.get("nozzle_partly")
    }
    seen = {name: max(likely, key=lambda answer: BASE.levels[likely[answer]]) for name, likely in telling.items()}
    case = Case(complaint="c_stopped", context=OPEN_TUBE, evidence=seen)
    alone = [reasons_for(replace(case, evidence={name: answer}), "nozzle_partly")[0] for name, answer in seen.items()]
    assert len(list(filter(None, alone))) > 3
    told = [reason.factor for reason in reasons_for(case, "nozzle_partly")[0]]
    assert len(told) == 3
    assert told == sorted(told, reverse=True)


def test_more_effort_asks_for_surer_odds() -> None:
    """Cleaning a plate from 0.55, a new nozzle from 0.85."""
    assert [ready_from(key) for key in ("m_wash", "m_clear", "m_nozzle")] == [0.55, 0.70, 0.85]


def test_what_is_not_known_is_refused_by_name() -> None:
    """A complaint, an answer, a remedy; and data that names a cause nobody describes."""
    for given_ in (
        {"complaint": "c_sings"},
        {"complaint": "c_thin", "evidence": {"push": "sideways"}},
        {"complaint": "c_thin", "remedies": {"m_pray": "gone"}},
    ):
        with pytest.raises(OutOfRange):
            Case(**given_)
    held = {
        "levels": {"A": 0.9}, "wrong_answer": {}, "shares": {}, "first": [], "hot_already": [], "causes": {},
        "complaints": {"c": {"ghost": "A"}}, "findings": {}, "checks": {}, "remedies": {},
    }  # fmt: skip
    with pytest.raises(OutOfRange, match="ghost"):
        read_knowledge(held)


def test_a_few_short_looks_find_most_causes() -> None:
    """Sixty faults, nothing on record: half within three looks, most of those within three minutes, most mended at once."""
    searches = [search(random.Random(seed)) for seed in range(60)]
    looks = [minutes for one in searches for minutes in one.minutes]
    assert statistics.median(len(one.minutes) for one in searches) <= 3
    assert statistics.fmean(minutes <= 3 for minutes in looks) >= 0.7
    assert statistics.fmean(one.is_mended for one in searches) >= 0.65


def made_up(seed: int) -> Case:
    """A case somebody might have: answers, some not sure, remedies tried, looks that cannot be had, causes of before."""
    rng = random.Random(seed)
    complaint, *others = rng.sample(sorted(BASE.complaints), 3)
    found = rng.sample(sorted(BASE.findings), rng.randint(0, 6))
    tried = rng.sample(sorted(BASE.remedies), rng.randint(0, 2))
    return Case(
        complaint=complaint,
        context=rng.sample(sorted({tag for row in BASE.context.values() for tag in row}), 4),
        also={one: rng.random() < 0.5 for one in others[: rng.randint(0, 2)]},
        evidence={one: rng.choice(BASE.findings[one].options) for one in found},
        remedies={one: rng.choice(["no change", "no change", "better", "gone"]) for one in tried},
        unable=rng.sample(sorted(BASE.checks), 2),
        unsure=[one for one in found if rng.random() < 0.2],
        usual_here={rng.choice(sorted(BASE.usual)): 1.5},
        hot=rng.choice([None, True, False]),
    )


def test_sheets_are_what_they_were() -> None:
    """Odds, looks, remedies and reasons of eighty made-up cases; whoever changes a rule changes this too, and says why."""
    sheets = []
    for seed in range(80):
        case = made_up(seed)
        sheet = diagnose(case)
        odds = sorted(dict(sheet.causes).items())
        reasons = [sorted(one.factor for side in reasons_for(case, cause) for one in side) for cause, _ in odds[::9]]
        looks = sorted((one.check, one.bits, one.minutes, one.score) for one in sheet.checks)
        sheets.append((odds, looks, sheet.stop, sheet.ask_first, sheet.verdict, sheet.p_remedy or 0.0, reasons))
    assert_unchanged(sheets, SHEETS, rel=1e-9)
