"""Towers that are rated or measured: start, ratings by key, verdict, decision; and what goes wrong on the way."""

from __future__ import annotations

import io
from typing import Any

import pytest
from PIL import Image

from tests.server.conftest import Person
from tests.server.test_inventory import edit
from tests.server.test_printed_runs import BOX, read_all
from tests.server.test_profile import type_in

CRITERIA = ("stringing", "surface", "overhang", "bridging", "blobs", "bond")
HOT_IS_BETTER = {"bond": (0, 1, 2, 3, 4, 4, 4)}


def begin(person: Person, step: str = "temperature", method: str = "temperature", **typed: str) -> Any:
    """The response to a run started with what its form proposes."""
    form = person.get(f"/setups/{person.setup_id}/starts/{step}")
    (way,) = [row for row in form["methods"] if row["method"] == method]
    values = {row["name"]: row["value"] for row in way["fields"]} | typed
    body = {"setup_id": person.setup_id, "step": step, "method": method, "instrument_id": 1, "values": values}
    return person.post("/runs", body)


def remarks_of(person: Person, **typed: str) -> str:
    """What is said of a tower before it is printed."""
    form = person.get(f"/setups/{person.setup_id}/starts/temperature")
    values = {row["name"]: row["value"] for row in form["methods"][0]["fields"]} | typed
    piece = person.post(f"/setups/{person.setup_id}/pieces", {"method": "temperature", "values": values})
    assert piece.status_code in {200, 201}, piece.text
    return " ".join(piece.json()["remarks"])


def rate(person: Person, run: Any, band: int, key: str, rating: int | None) -> Any:
    """The response to one rating."""
    body = {"band": band, "key": key, "rating": rating, "taken_at": person.clock.now.isoformat()}
    return person.post(f"/runs/{run['id']}/ratings", body)


def rate_all(person: Person, run: Any, key: str, ratings: tuple[int, ...]) -> Any:
    """A run with one criterion rated from the coldest (or shortest) band to the hottest."""
    order = sorted(range(len(ratings)), key=lambda index: value_of(run, index))
    for index, rating in zip(order, ratings, strict=True):
        run = rated(person, run, index, key, rating)
    return run


def rated(person: Person, run: Any, band: int, key: str, rating: int | None) -> Any:
    """A run after one rating, which has to be taken; laid over the run it changed, the answer is the run."""
    answer = rate(person, run, band, key, rating)
    assert answer.status_code == 201, answer.text
    after, change = person.get(f"/runs/{run['id']}"), answer.json()
    if change["since"] == run["version"]:
        assert laid_over(run, change) == after
    return after


def laid_over(run: Any, change: Any) -> Any:
    """A run with what one rating changed of it, as a screen lays it over."""
    changed = {band["index"]: band for band in change["bands"]}
    readings = {row["id"]: row for row in [*run["readings"], *change["readings"]]}
    tower = run["body"]["tower"]
    bands = [changed.get(band["index"], band) for band in tower["bands"]]
    new = {"bands": bands, "waiting": change["waiting"], "left": change["left"]}
    new |= {} if change["scales"] is None else {"scales": change["scales"]}
    kept = {name: change[name] for name in ("version", "entry", "finding", "result", "actions", "curve")}
    return {**run, **kept, "readings": list(readings.values()), "body": {"kind": "rated", "tower": {**tower, **new}}}


def value_of(run: Any, index: int) -> float:
    """The value of a band."""
    return float(next(band["text"] for band in run["body"]["tower"]["bands"] if band["index"] == index))


def band_at(run: Any, value: float) -> Any:
    """The band of a value."""
    return next(band for band in run["body"]["tower"]["bands"] if float(band["text"]) == value)


def codes(answer: Any) -> dict[str, str]:
    """Codes of the problems at their fields."""
    assert answer.status_code == 422, answer.text
    return {row["field"]: row["code"] for row in answer.json()["fields"]}


def all_rated(person: Person, run: Any) -> Any:
    """A tower whose middle is best: bond comes with heat, everything else goes."""
    run = rate_all(person, run, "stringing", (4, 4, 4, 3, 2, 1, 0))
    run = rate_all(person, run, "surface", (2, 3, 4, 4, 3, 2, 1))
    run = rate_all(person, run, "overhang", (4, 4, 4, 3, 2, 2, 1))
    return rate_all(person, run, "bond", (1, 2, 3, 4, 4, 4, 4))


def test_a_tower_is_proposed_printed_rated_and_applied(labelled: Person) -> None:
    """From the label, in 5 °C bands; what is offered was printed; applied it is the setup's own and asks flow for a look."""
    form = labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")
    assert [way["method"] for way in form["methods"]] == ["temperature"], "only what foams has a foaming tower"
    fields = {row["name"]: row for row in form["methods"][0]["fields"]}
    assert (fields["coldest"]["value"], fields["hottest"]["value"]) == ("200", "230")
    assert "the spool's label" in remarks_of(labelled)
    run = begin(labelled).json()
    assert [band["text"] for band in run["body"]["tower"]["bands"]] == ["200", "205", "210", "215", "220", "225", "230"]
    assert run["body"]["tower"]["bands"][0]["index"] == 6, "hottest below: the top of the tower is the coldest"
    assert run["body"]["tower"]["waiting"][0]["key"] != "bond"
    assert run["result"] is None
    text = labelled.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    assert text.startswith("; Temperature tower"), text[:300]
    assert text.index("M104 S230") < text.index("M104 S225") < text.index("M104 S200")
    assert "; band 7: 200 °C" in text
    run = all_rated(labelled, run)
    assert run["result"]["verdict"] == "apply"
    assert run["result"]["proposal"] in {"210", "215"}
    offered = band_at(run, float(run["result"]["proposal"]))
    assert offered["offered"]
    assert offered["inside"]
    assert offered["cells"][0]["word"] in {"none", "hairs"}
    assert all(band["snapped"] for band in run["body"]["tower"]["bands"]), "whose bond is rated, its tab is broken"
    answer = labelled.decide(run, "apply")
    assert answer.status_code == 201, answer.text
    bench = labelled.get(f"/setups/{labelled.setup_id}/bench")
    row = next(step for step in bench["steps"] if step["step"] == "temperature")
    assert row["value"]["setting"] == run["result"]["proposal"]
    assert row["standing"] == "fresh"
    assert row["value"]["half_width_text"], "no number without its uncertainty"
    (line,) = labelled.get("/runs")["ended"]
    assert line["outcome"] == f"Applied {run['result']['proposal']} °C", "nothing was in use before"


def test_an_applied_temperature_asks_what_rests_on_it_for_a_look(labelled: Person) -> None:
    """Flow was measured at 228; at 210 less comes out, and its row says why it is to be checked."""
    assert type_in(labelled, {"nozzle": "228", "e_steps": "410"}).status_code == 201
    form = {"setup_id": labelled.setup_id, "step": "flow", "method": "box", "instrument_id": 1, "values": BOX}
    box = read_all(labelled, labelled.post("/runs", form).json(), "0.45", "0.455", "0.46", "0.45")
    assert labelled.decide(box, "keep").status_code == 201
    labelled.clock.wait(hours=2)

    def flow_row() -> Any:
        rows = labelled.get(f"/setups/{labelled.setup_id}/bench")["steps"]
        return next(row for row in rows if row["step"] == "flow")

    assert flow_row()["cause"] == "kept, though the readings could not tell"
    run = all_rated(labelled, begin(labelled).json())
    assert labelled.decide(run, "apply").status_code == 201
    assert flow_row()["standing"] in {"check", "stale"}
    assert "temperature" in flow_row()["cause"].lower()


@pytest.mark.parametrize("foaming", [False, True])
def test_a_pick_that_a_new_limit_forbids_is_not_set_any_more(labelled: Person, *, foaming: bool) -> None:
    """The hotend was swapped between printing and rating: the limit is named, and nothing can be applied."""
    run = foam(labelled) if foaming else all_rated(labelled, begin(labelled).json())
    best = run["result"]["proposal"]
    assert float(best) >= 210
    assert edit(labelled, "hotend", 1, max_c="205").status_code == 200
    run = labelled.get(f"/runs/{run['id']}")
    assert (run["result"]["title"], run["result"]["proposal"]) == ("Only beyond what is safe", "")
    assert run["result"]["remarks"][0].startswith(
        f"{best} °C may not be set here any more: the stated maximum of the hotend"
    )
    assert labelled.decide(run, "apply").status_code == 409


def test_the_temperature_in_use_stays_where_it_will_do(labelled: Person) -> None:
    """A change costs flow, retraction and top speed: kept, and kept again without a question."""
    assert type_in(labelled, {"nozzle": "210"}).status_code == 201
    run = all_rated(labelled, begin(labelled).json())
    assert run["result"]["verdict"] == "keep", run["result"]
    assert band_at(run, 210)["in_use"]
    assert run["result"]["keep_text"] == "210"
    assert run["result"]["ask_before"], "changing it all the same is asked about"
    assert labelled.decide(run, "keep").status_code == 201


def test_what_is_rated_again_or_taken_back_stays_on_record(labelled: Person) -> None:
    """The old figure is struck, with its reason; the grid shows the new one."""
    run = begin(labelled).json()
    for rating in (4, 1, None):
        run = rated(labelled, run, 2, "stringing", rating)
    assert [row["struck"] for row in run["readings"]] == ["rated again", "cleared"]
    assert run["body"]["tower"]["bands"][4]["cells"][0]["rating"] is None
    assert rate(labelled, run, 2, "stringing", None).status_code == 409
    again = rated(labelled, rated(labelled, run, 2, "stringing", 3), 2, "stringing", 3)
    assert len(again["readings"]) == 3, "the same figure twice is one rating"


def test_two_people_rate_one_tower_and_see_each_other(labelled: Person) -> None:
    """Each has their own figures; the other's stand beside them; both count."""
    run = rated(labelled, begin(labelled).json(), 0, "stringing", 1)
    other = labelled.post("/people", {"name": "Otto"}).json()["id"]
    labelled.id, first = other, labelled.id
    run = rated(labelled, run, 0, "stringing", 3)
    cell = next(cell for cell in run["body"]["tower"]["bands"][-1]["cells"] if cell["key"] == "stringing")
    assert cell["rating"] == 3
    assert [(row["person"], row["rating"]) for row in cell["others"]] == [("Ines", 1)]
    assert all(row["struck"] is None for row in run["readings"])
    labelled.id = first


def test_a_band_that_failed_is_out_and_one_that_was_not_printed_takes_no_rating(labelled: Person) -> None:
    """A mark is a fact of the tower: whoever made it, anybody may take it back."""
    run = all_rated(labelled, begin(labelled).json())
    best = band_at(run, float(run["result"]["proposal"]))["index"]
    run = rated(labelled, run, best, "failed", 1)
    assert not next(band for band in run["body"]["tower"]["bands"] if band["index"] == best)["inside"]
    assert float(run["result"]["proposal"]) != value_of(run, best)
    run = rated(labelled, run, 6, "missing", 1)
    assert codes(rate(labelled, run, 6, "blobs", 2)) == {"band": "not_printed"}
    assert all(cell["band"] != 6 for cell in run["body"]["tower"]["waiting"])
    labelled.id = labelled.post("/people", {"name": "Otto"}).json()["id"]
    back = rated(labelled, labelled.get(f"/runs/{run['id']}"), best, "failed", None)
    assert not next(band for band in back["body"]["tower"]["bands"] if band["index"] == best)["out"]


def test_ratings_that_contradict_the_rest_are_named(labelled: Person) -> None:
    """A whole bond on the coldest band beside four that fall apart: said, and kept."""
    run = rate_all(labelled, begin(labelled).json(), "bond", (4, 0, 0, 0, 1, 3, 4))
    run = rate_all(labelled, run, "stringing", (4, 4, 4, 3, 2, 1, 0))
    assert "Bond at 200" in run["finding"]
    odd = [cell["odd"] for cell in band_at(run, 200)["cells"] if cell["key"] == "bond"]
    assert odd == [True]


def test_bands_printed_in_the_wrong_order_are_swapped_and_keep_their_ratings(labelled: Person) -> None:
    """The ratings belong to the plastic, the temperature to what was set there."""
    run = rated(labelled, begin(labelled).json(), 0, "stringing", 0)
    edit_body = {"swap": [0, 6]}
    answer = labelled.client.patch(
        f"/api/v1/runs/{run['id']}", json=edit_body, headers=labelled.headers(run["version"])
    )
    assert answer.status_code == 200, answer.text
    swapped = answer.json()
    assert value_of(swapped, 0) == 200
    cell = next(cell for cell in band_at(swapped, 200)["cells"] if cell["key"] == "stringing")
    assert cell["rating"] == 0
    assert any("230 and 200 swapped" in fact for fact in swapped["body"]["tower"]["facts"])


def test_what_a_tower_is_rated_for_can_be_changed_while_it_is_rated(labelled: Person) -> None:
    """Strength wants it hotter than looks; lightness is not a matter of this tower."""
    run = all_rated(labelled, begin(labelled).json())

    def set_for(purpose: str) -> Any:
        now = labelled.get(f"/runs/{run['id']}")
        headers = labelled.headers(now["version"])
        return labelled.client.patch(f"/api/v1/runs/{run['id']}", json={"purpose": purpose}, headers=headers)

    strong, pretty = set_for("strength").json(), set_for("looks").json()
    assert float(strong["result"]["proposal"]) > float(pretty["result"]["proposal"])
    assert codes(set_for("lightness")) == {"purpose": "not_here"}


def looked_at_for_strength(labelled: Person) -> Any:
    """A tower from 200 to 230 with 215 in use, rated for strength, its tabs still whole."""
    assert type_in(labelled, {"nozzle_first": "215", "nozzle": "215"}).status_code in {200, 201}
    run = begin(labelled).json()
    run = labelled.patch(f"/runs/{run['id']}", {"purpose": "strength"}, version=run["version"]).json()
    run = rate_all(labelled, run, "stringing", (4, 4, 4, 3, 3, 2, 1))
    return rate_all(labelled, run, "surface", (2, 3, 4, 4, 3, 2, 2))


@pytest.mark.parametrize(("broke", "verdict"), [(1, "keep"), (0, "apply")])
def test_a_break_is_looked_at_where_a_strict_rater_would_change_what_holds(
    labelled: Person, broke: int, verdict: str
) -> None:
    """Rated *snaps clean*, 215 is too weak for strength, unless whoever rates is strict: the face of the break tells."""
    run = looked_at_for_strength(labelled)
    assert "break" not in {scale["key"] for scale in run["body"]["tower"]["scales"]}, "nothing is broken yet"
    run = rate_all(labelled, run, "bond", (0, 0, 1, 2, 2, 3, 3))
    assert (run["result"]["verdict"], run["result"]["title"]) == ("repeat", "Look at one break first")
    assert "215\xa0°C in slanting light" in run["result"]["sentence"]
    (scale,) = [scale for scale in run["body"]["tower"]["scales"] if scale["key"] == "break"]
    assert (scale["most"], scale["words"]) == (1, ["along a layer", "across layers"])
    asked = run["body"]["tower"]["waiting"][-1]
    assert (asked["key"], asked["band"]) == ("break", band_at(run, 215)["index"])
    assert codes(rate(labelled, run, asked["band"], "break", 2)) == {"rating": "no_such_rating"}
    run = rated(labelled, run, asked["band"], "break", broke)
    assert run["result"]["verdict"] == verdict, run["result"]
    assert "break" not in {row["key"] for row in run["body"]["tower"]["waiting"]}
    run = rated(labelled, run, asked["band"], "break", None)
    assert run["result"]["title"] == "Look at one break first", "taken back, it is asked again"


def test_what_stays_though_it_may_be_too_weak_says_so_until_its_break_was_seen(labelled: Person) -> None:
    """All bonds alike and doubtful: nothing is surely better than 215, and nobody is told that it holds."""
    run = looked_at_for_strength(labelled)
    run = rate_all(labelled, run, "bond", (2, 2, 2, 2, 2, 3, 3))
    band = band_at(run, 215)["index"]

    def doubted() -> bool:
        return any("likelier too weak" in remark for remark in run["result"]["remarks"])

    assert run["result"]["verdict"] == "keep"
    assert doubted()
    run = rated(labelled, run, band, "break", 1)
    assert run["result"]["verdict"] == "keep"
    assert not doubted()
    run = rated(labelled, run, band, "break", 0)
    assert run["result"]["title"] == "Look at one break first", "the band that would be set is doubtful too"


@pytest.mark.parametrize(
    ("typed", "field", "code"),
    [
        ({"coldest": "210", "hottest": "210"}, "hottest", "upside_down"),
        ({"coldest": "210", "hottest": "214"}, "hottest", "too_few"),
        ({"coldest": "200", "hottest": "241"}, "hottest", "out_of_range"),
        ({"coldest": "120"}, "coldest", "out_of_range"),
        ({"speed": "fast"}, "speed", "not_a_number"),
        ({"line_width": "0.9"}, "line_width", "out_of_range"),
    ],
)
def test_a_tower_that_says_nothing_or_goes_too_far_is_refused_at_its_field(
    labelled: Person, typed: dict[str, str], field: str, code: str
) -> None:
    """One band, upside down, hotter than the liner stands, too cold to feed."""
    assert codes(begin(labelled, **typed)) == {field: code}


def test_a_lined_hotend_cuts_the_tower_short_and_says_so(labelled: Person) -> None:
    """The label goes to 265; the liner does not."""
    assert edit(labelled, "filament", 1, label="230-265", family="petg").status_code == 200
    form = labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")
    fields = {row["name"]: row for row in form["methods"][0]["fields"]}
    assert fields["hottest"]["value"] == "240"
    assert "limit of its liner" in remarks_of(labelled)


def test_a_label_with_rows_by_speed_follows_the_speed(labelled: Person) -> None:
    """At 40 mm/s between the row for slow and the row for 80."""
    assert edit(labelled, "filament", 1, label="190-210; 210-230 from 80 mm/s").status_code == 200
    form = labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")
    fields = {row["name"]: row["value"] for row in form["methods"][0]["fields"]}
    assert (fields["coldest"], fields["hottest"]) == ("200", "220")
    assert "200–220\N{NO-BREAK SPACE}°C at 40" in remarks_of(labelled)
    faster = remarks_of(labelled, speed="80")
    assert "210–230\N{NO-BREAK SPACE}°C at 80" in faster
    assert "you chose the ends yourself" in faster, "the proposal holds for its speed, and says so"


def test_a_rating_that_is_none_is_refused(labelled: Person) -> None:
    """No such band, no such scale, no such figure."""
    run = begin(labelled).json()
    assert codes(rate(labelled, run, 9, "stringing", 2)) == {"band": "no_such_band"}
    assert codes(rate(labelled, run, 1, "gloss", 2)) == {"key": "no_such_scale"}
    assert codes(rate(labelled, run, 1, "stringing", 7)) == {"rating": "no_such_rating"}
    flow = labelled.start()
    assert rate(labelled, flow, 0, "stringing", 2).status_code == 409


def test_thirsty_filament_is_tested_in_the_air_first(labelled: Person) -> None:
    """Pops: it is wet, and everything waits until it was dried. Dried: the tower, for a week."""
    assert edit(labelled, "filament", 1, family="tpu", label="210-230").status_code == 200
    spool = {"values": {"name": "1", "full_g": "750"}, "parent_id": 1}
    made = labelled.post("/records/spool", spool)
    assert made.status_code == 201, made.text
    (now,) = [row for row in labelled.get(f"/setups/{labelled.setup_id}/picks/purpose") if row["now"]]
    picked = labelled.post("/assemblies", now["form"] | {"spool_id": made.json()["id"]})
    assert picked.status_code in {200, 201}, picked.text
    labelled.setup_id = picked.json()["id"]
    start = labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")
    assert "50 mm" in start["wet_test"]["sentence"]
    assert "Dry it at 50 °C for 6 h" in start["wet_test"]["sentence"]
    wet = labelled.post(f"/setups/{labelled.setup_id}/wet-tests?step=temperature", {"pops": 4})
    assert wet.status_code == 201, wet.text
    assert wet.json()["wet_test"]["wet"]
    bench = labelled.get(f"/setups/{labelled.setup_id}/bench")
    assert bench["waiting"], "what waits until it is dry stands in the margin"
    labelled.clock.wait(hours=7)
    again = labelled.post(f"/setups/{labelled.setup_id}/wet-tests?step=temperature", {"pops": 0}).json()["wet_test"]
    assert again["wet"], "one silent strand takes no pops back"
    dried = {"kind": "dried", "number": "6", "second": "50"}
    assert labelled.post(f"/spools/{made.json()['id']}/entries", dried).status_code == 201
    assert labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")["wet_test"] is None
    labelled.clock.wait(days=9)
    assert labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")["wet_test"] is not None


def test_a_side_once_taken_is_remembered_for_the_person(labelled: Person) -> None:
    """Both sides stay in sight; another person is not bound by it."""
    before = labelled.get(f"/setups/{labelled.setup_id}/starts/temperature")["schools"]
    assert {row["key"]: row["side"] for row in before} == {"label": "usual", "err_hot": "usual"}
    assert all(row["one"] and row["other"] and row["test"] for row in before)
    answer = labelled.client.put("/api/v1/schools/err_hot", json={"side": "one"}, headers=labelled.headers())
    assert answer.status_code == 200, answer.text
    mine = labelled.client.get(
        f"/api/v1/setups/{labelled.setup_id}/starts/temperature", headers=labelled.headers()
    ).json()
    assert {row["key"]: row["side"] for row in mine["schools"]}["err_hot"] == "one"

    def proposed() -> tuple[float, list[float]]:
        """What is proposed, and all that will do: the bond wants heat, the strings do not."""
        run = rate_all(labelled, begin(labelled).json(), "stringing", (4, 4, 4, 4, 3, 3, 2))
        run = rate_all(labelled, run, "bond", (1, 2, 3, 4, 4, 4, 4))
        inside = [float(band["text"]) for band in run["body"]["tower"]["bands"] if band["inside"]]
        assert labelled.post(f"/runs/{run['id']}/leave", version=run["version"]).status_code == 201
        return float(run["result"]["proposal"]), inside

    hot, inside = proposed()
    assert hot == max(inside), "err hot: the hottest of what will do"
    labelled.client.put("/api/v1/schools/err_hot", json={"side": "usual"}, headers=labelled.headers())
    usual, inside = proposed()
    assert usual in inside
    assert usual < hot, "the best is not the hottest that will do"
    assert (
        labelled.client.put("/api/v1/schools/none", json={"side": "one"}, headers=labelled.headers()).status_code == 404
    )


def test_a_click_vetoes_its_distance_and_all_longer_ones(labelled: Person) -> None:
    """The least that is good enough is picked; once it clicks, nothing is."""
    run = begin(labelled, "retraction", "retraction").json()
    count = len(run["body"]["tower"]["bands"])
    assert value_of(run, count - 1) == 7.0, "never beyond the cap of a rigid strand in a tube"
    run = rate_all(labelled, run, "strings", (0, 0, 1, 3, 4, 4, 4, 4))
    run = rate_all(labelled, run, "gap", (4, 4, 4, 4, 4, 3, 3, 3))
    assert run["result"]["verdict"] == "apply"
    picked = float(run["result"]["proposal"])
    assert picked == value_of(run, 3)
    clicked = rated(labelled, run, 3, "clicks", 1)
    assert clicked["result"]["verdict"] == "repeat"
    assert not clicked["result"]["can_apply"]
    assert all(band["out"] for band in clicked["body"]["tower"]["bands"] if float(band["text"]) >= picked)


def test_strings_that_do_not_respond_send_to_the_dryer(labelled: Person) -> None:
    """It is not the retraction: dry first, then cooler."""
    run = rate_all(labelled, begin(labelled, "retraction", "retraction").json(), "strings", (1, 1, 2, 1, 1, 2, 1, 1))
    assert run["result"]["title"] == "Retraction is not the cause"
    assert "dry" in run["result"]["sentence"]
    assert not run["result"]["can_apply"]


@pytest.mark.parametrize(
    ("strings", "gap", "words"),
    [
        ((4, 4, 4, 4, 4, 4, 4, 4), None, "Strings never were a problem here"),
        ((0, 0, 0, 0, 1, 1, 2, 2), None, "and more is not safe"),
        ((0, 0, 0, 1, 2, 3, 4, 4), (4, 4, 4, 3, 2, 1, 0, 0), "also starves the line after"),
    ],
)
def test_ratings_of_a_retraction_tower_end_in_what_to_do(
    labelled: Person, strings: tuple[int, ...], gap: tuple[int, ...] | None, words: str
) -> None:
    """Nothing to cure, nothing more to be had inside the cap, or a cure that costs the next line."""
    run = rate_all(labelled, begin(labelled, "retraction", "retraction").json(), "strings", strings)
    if gap:
        run = rate_all(labelled, run, "gap", gap)
    assert words in run["result"]["sentence"], run["result"]
    assert run["result"]["can_apply"] == ("never" in words)


def test_the_pull_in_use_stays_where_it_is_the_least_that_will_do(labelled: Person) -> None:
    """Kept without a question; a rating that does not go with the other bands is named and kept."""
    assert type_in(labelled, {"retraction": "3.1"}).status_code == 201
    run = begin(labelled, "retraction", "retraction").json()
    run = rate_all(labelled, run, "strings", (0, 0, 1, 3, 4, 4, 4, 4))
    assert (run["result"]["verdict"], run["result"]["can_apply"]) == ("keep", False), run["result"]
    assert labelled.decide(run, "keep").status_code == 201
    again = begin(labelled, "retraction", "retraction").json()
    again = rate_all(labelled, again, "strings", (4, 0, 0, 1, 3, 4, 4, 4))
    assert again["finding"].startswith("strings at 0.2: unlikely"), again["finding"]


def test_a_tower_that_ends_below_the_cap_is_gone_on_with(labelled: Person) -> None:
    """Still strings at its end, or perhaps good enough there: the next one is offered. Where all click, none is."""
    short = begin(labelled, "retraction", "retraction", longest="4").json()
    run = rate_all(labelled, short, "strings", (0, 0, 0, 0, 0, 1, 1, 2))
    assert "print one that goes on to 7" in run["result"]["sentence"], run["result"]
    for band in range(8):
        run = rated(labelled, run, band, "clicks", 1)
    assert "look at the extruder" in run["result"]["sentence"]


def test_strings_can_be_counted(labelled: Person) -> None:
    """Counts go up to the crossings of a band."""
    run = begin(labelled, "retraction", "retraction", strings="counted").json()
    assert run["body"]["tower"]["scales"][0]["most"] == 25
    assert codes(rate(labelled, run, 0, "strings", 26)) == {"rating": "no_such_rating"}
    run = rate_all(labelled, run, "strings", (24, 20, 6, 1, 0, 0, 0, 0))
    assert run["result"]["can_apply"]


def test_a_speed_is_the_slowest_that_is_as_good_as_the_fastest(labelled: Person) -> None:
    """It is kept as a speed; where speed makes no difference, the slowest is taken, and what is in use stays."""
    run = begin(labelled, "retraction", "retraction_speed", distance="3").json()
    text = labelled.client.get(f"/api/v1/runs/{run['id']}/files/piece").text
    assert "E-3" in text or "-3." in text
    count = len(run["body"]["tower"]["bands"])
    run = rate_all(labelled, run, "strings", (0, 1, 3, 4, 4, 4, 4, 4)[:count])
    assert (run["result"]["unit_text"], run["result"]["can_apply"]) == ("mm/s", True)
    values = [float(band["text"]) for band in reversed(run["body"]["tower"]["bands"])]
    assert float(run["result"]["proposal"]) in values[2:4]
    assert labelled.decide(run, "apply").status_code == 201
    bench = labelled.get(f"/setups/{labelled.setup_id}/bench")
    line = next(row for row in bench["tonight"] if row["kind"] == "retraction_speed")
    assert line["text"] == run["result"]["proposal"]
    again = rate_all(labelled, begin(labelled, "retraction", "retraction_speed").json(), "strings", (4,) * count)
    assert "no difference" in again["result"]["sentence"]
    assert again["result"]["verdict"] == "keep"


def test_a_speed_at_which_it_clicks_is_never_offered(labelled: Person) -> None:
    """It and all faster ones are out, however clean they are."""
    run = begin(labelled, "retraction", "retraction_speed", distance="3").json()
    count = len(run["body"]["tower"]["bands"])
    run = rate_all(labelled, run, "strings", (0, 1, 2, 2, 3, 4, 4, 4)[:count])
    run = rated(labelled, run, 3, "clicks", 1)
    slowest = [float(band["text"]) for band in reversed(run["body"]["tower"]["bands"])][:3]
    assert not run["result"]["proposal"] or float(run["result"]["proposal"]) in slowest
    assert codes(begin(labelled, "retraction", "retraction_speed", distance="30")) == {"distance": "out_of_range"}


@pytest.mark.parametrize(
    ("typed", "field", "code"),
    [
        ({"longest": "9"}, "longest", "out_of_range"),
        ({"shortest": "3", "longest": "2"}, "longest", "upside_down"),
        ({"count": "1"}, "count", "too_few"),
        ({"shortest": "1", "longest": "1.3", "count": "8"}, "count", "too_many"),
    ],
)
def test_a_pull_beyond_its_cap_is_refused(labelled: Person, typed: dict[str, str], field: str, code: str) -> None:
    """No file retracts farther than feed path and stiffness allow."""
    assert codes(begin(labelled, "retraction", "retraction", **typed)) == {field: code}


PEAK = (0.48, 0.52, 0.57, 0.6, 0.58, 0.53, 0.47)
"""Walls of foam from 200 to 230 °C, widest at 215."""


def foam(labelled: Person, widths: tuple[float, ...] = PEAK) -> Any:
    """A foaming run, all bands measured, from 200 °C on."""
    assert edit(labelled, "filament", 1, family="foaming_pla", label="200-230").status_code == 200
    run = begin(labelled, "temperature", "foaming", flow="70").json()
    while run["entry"]["place"] and run["body"]["tower"]["waiting"]:
        celsius = value_of(run, run["body"]["tower"]["waiting"][0]["band"])
        answer = labelled.read(run["id"], f"{widths[round(celsius - 200) // 5]:.2f}")
        assert answer.status_code == 201, answer.text
        run = answer.json()
    return run


def test_foam_is_measured_to_its_peak_and_gives_temperature_and_flow(labelled: Person) -> None:
    """Three arms of each band; the peak, and the flow that makes a wall as wide as its line."""
    run = foam(labelled)
    assert len(run["readings"]) == 21
    assert run["result"]["verdict"] == "apply", run["result"]
    assert abs(float(run["result"]["proposal"]) - 215) <= 3
    decided = labelled.decide(run, "apply")
    assert decided.status_code == 201
    bench = labelled.get(f"/setups/{labelled.setup_id}/bench")
    crib = {row["kind"]: row["text"] for row in bench["tonight"]}
    assert crib["nozzle"] == run["result"]["proposal"]
    (flow,) = decided.json()["decision"]["values"][1:]
    assert (flow["kind"], flow["setting"]) == ("flow", crib["flow"])
    assert 40 < float(crib["flow"]) < 60
    assert len([row for row in labelled.get("/runs")["ended"] if row["id"] == run["id"]]) == 1


def test_dark_drops_take_a_band_and_all_hotter_ones_out(labelled: Person) -> None:
    """Spoiled at 215: what is offered lies below."""
    run = foam(labelled)
    spoiled = band_at(run, 215)["index"]
    run = rated(labelled, run, spoiled, "drops", 1)
    assert all(band["out"] for band in run["body"]["tower"]["bands"] if float(band["text"]) >= 215)
    assert float(run["result"]["proposal"]) <= 210


@pytest.mark.parametrize(
    ("widths", "verdict", "words"),
    [
        (PEAK, "apply", "It foams most at 215"),
        ((0.5, 0.58, 0.57, 0.6, 0.58, 0.57, 0.57), "apply", "Equally foamed from"),
        ((0.44, 0.46, 0.48, 0.5, 0.53, 0.56, 0.6), "repeat", "Walls still grow at 230"),
        ((0.6, 0.58, 0.55, 0.52, 0.5, 0.48, 0.46), "repeat", "Walls are widest at 200"),
        ((0.5,) * 7, "repeat", "no foaming seen"),
    ],
)
def test_walls_of_foam_say_where_it_foams_most(
    labelled: Person, widths: tuple[float, ...], verdict: str, words: str
) -> None:
    """A peak, a plateau, the best beyond either end, or nothing at all, each in its sentence; a spoiled end sends colder."""
    run = foam(labelled, widths)
    assert (run["result"]["verdict"], words in run["result"]["sentence"]) == (verdict, True), run["result"]
    assert run["result"]["can_apply"] == (verdict == "apply")
    spoiled = rated(labelled, run, band_at(run, 200)["index"], "drops", 1)
    assert "print a cooler tower" in spoiled["result"]["sentence"]
    assert not spoiled["result"]["can_apply"]


@pytest.mark.parametrize(
    ("typed", "code", "words", "suggested"),
    [
        ("5.7", "unit_slip", "Did you mean 0.57 mm?", "0.57"),
        ("2.9", "impossible", "cannot be one line", None),
        ("0", "impossible", "A width is above 0", None),
    ],
)
def test_a_wall_of_foam_is_asked_about_beside_the_last_one(
    labelled: Person, typed: str, code: str, words: str, suggested: str | None
) -> None:
    """Foam is wider than its line: 5.7 is a slip where walls read 0.55, although the line is 0.44."""
    assert edit(labelled, "filament", 1, family="foaming_pla", label="200-230").status_code == 200
    run = begin(labelled, "temperature", "foaming", flow="70").json()
    run = read_all(labelled, run, "0.55")
    answer = labelled.read(run["id"], typed)
    (problem,) = answer.json()["fields"]
    assert (problem["code"], problem["suggested"], words in problem["message"]) == (code, suggested, True)
    assert problem["confirmable"] == (typed != "0")


def picture(form: str, size: tuple[int, int] = (3000, 2000), **more: Any) -> bytes:
    """A photograph as a camera writes it: lying on its side, with a place in it."""
    image = Image.new("RGB", size, (120, 90, 60))
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010F] = "Camera of the workshop"
    out = io.BytesIO()
    image.save(out, form, exif=exif, **more)
    return out.getvalue()


def attach(person: Person, run_id: int, content: bytes, query: str = "") -> Any:
    """The response to a photograph."""
    headers = person.headers() | {"Content-Type": "application/octet-stream"}
    return person.client.post(f"/api/v1/runs/{run_id}/photos{query}", content=content, headers=headers)


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_a_photo_is_kept_upright_small_and_without_what_the_camera_wrote(labelled: Person, form: str) -> None:
    """On a band; beside it the last run's; in the backup."""
    before = begin(labelled).json()
    assert attach(labelled, before["id"], picture(form)).status_code == 201
    version = labelled.get(f"/runs/{before['id']}")["version"]
    assert labelled.post(f"/runs/{before['id']}/leave", version=version).status_code == 201
    run = begin(labelled).json()
    answer = attach(labelled, run["id"], picture(form), "?band=2&note=underside")
    assert answer.status_code == 201, answer.text
    (photo,) = answer.json()["photos"]
    assert (photo["band"], photo["band_text"], photo["note"]) == (2, "220", "underside")
    assert answer.json()["before_run_id"] == before["id"]
    assert len(answer.json()["before"]) == 1
    kept = labelled.client.get(f"/api/v1/photos/{photo['id']}").content
    with Image.open(io.BytesIO(kept)) as image:
        assert image.format == "JPEG"
        assert image.size == (1067, 1600), "turned upright, 1600 points at most"
        assert not image.getexif()
    assert b"Camera" not in kept
    assert labelled.get(f"/runs/{run['id']}")["body"]["tower"]["bands"][4]["photos"] == 1
    off = labelled.post(f"/photos/{photo['id']}/removal").json()
    assert off["photos"] == []
    assert labelled.client.get(f"/api/v1/photos/{photo['id']}").status_code == 404


@pytest.mark.parametrize(
    ("content", "code"),
    [
        (b"G1 X1 Y2\n" * 200, "not_a_photo"),
        (b"", "not_a_photo"),
        (picture("JPEG")[:4000], "not_a_photo"),
        (b"\xff\xd8" + b"0" * 40_000_000, "too_large"),
    ],
)
def test_what_is_no_photo_is_refused_with_its_reason(labelled: Person, content: bytes, code: str) -> None:
    """G-code, nothing, a photo cut off, 40 MB of something."""
    run = begin(labelled).json()
    answer = attach(labelled, run["id"], content)
    assert codes(answer) == {"photo": code}
    assert labelled.get(f"/runs/{run['id']}/photos")["photos"] == []


def test_a_photo_of_a_band_that_is_not_there_is_refused(labelled: Person) -> None:
    """Seven bands; there is no ninth."""
    run = begin(labelled).json()
    assert codes(attach(labelled, run["id"], picture("JPEG"), "?band=8")) == {"band": "no_such_band"}
