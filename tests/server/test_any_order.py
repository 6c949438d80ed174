"""Whatever order things happen in: readings, strikes, tools, decisions, going back. Nothing is lost, nothing disagrees."""

from __future__ import annotations

from typing import Any

from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule, run_state_machine_as_test

from tests.server.conftest import Person
from tests.strategies import examples


class Bench(RuleBasedStateMachine):
    """A bench used at random, beside a list of what must be true of it."""

    ines: Person

    def __init__(self) -> None:
        super().__init__()
        self.run: Any = None
        self.taken: list[str] = []
        self.struck: set[int] = set()
        self.ended: dict[int, tuple[str, list[str]]] = {}
        self.setting = "412.60"
        for line in self.ines.get("/runs")["open"]:
            self.ines.post(f"/runs/{line['id']}/leave", version=self.ines.get(f"/runs/{line['id']}")["version"])
        step = self.ines.get(f"/setups/{self.ines.setup_id}/bench")["steps"][1]
        self.recorded = step["value"] is not None
        if self.recorded:
            self.setting = step["value"]["setting"]
        self.revisions = self.count_revisions()

    def count_revisions(self) -> int:
        """Revisions of the setup now."""
        return len(self.ines.get(f"/setups/{self.ines.setup_id}/history")["revisions"])

    @precondition(lambda self: self.run is None)
    @rule()
    def start(self) -> None:
        """A run at the setting on record."""
        self.run = self.ines.start(self.setting)
        self.taken, self.struck = [], set()
        assert self.run["state"] == "open"

    @precondition(lambda self: self.run is not None)
    @rule(hundredths=st.integers(9700, 10300))
    def read(self, hundredths: int) -> None:
        """A length near what was commanded."""
        answer = self.ines.read(self.run["id"], f"{hundredths / 100:.2f}")
        assert answer.status_code == 201, answer.text
        self.run = answer.json()
        self.taken.append(f"{hundredths / 100:.2f}")

    @precondition(lambda self: len(self.taken) > len(self.struck))
    @rule(pick=st.integers(0, 20))
    def strike(self, pick: int) -> None:
        """Any reading that counts."""
        live = [index for index in range(len(self.taken)) if index not in self.struck]
        index = live[pick % len(live)]
        reading = self.run["readings"][index]
        answer = self.ines.post(f"/runs/{self.run['id']}/readings/{reading['id']}/strike", {"reason": "slipped cut"})
        assert answer.status_code == 201, answer.text
        self.run = answer.json()
        self.struck.add(index)

    @precondition(lambda self: len(self.taken) > len(self.struck))
    @rule()
    def take_back(self) -> None:
        """The last that counts."""
        self.run = self.ines.post(f"/runs/{self.run['id']}/taken-back").json()
        self.struck.add(max(index for index in range(len(self.taken)) if index not in self.struck))

    @precondition(lambda self: self.run is not None)
    @rule(action=st.sampled_from(["apply", "keep"]))
    def decide(self, action: str) -> None:
        """On whatever is there; refused without readings or where they cannot be true."""
        before = self.run
        answer = self.ines.decide(before, action, before_proof=True)
        if len(self.taken) == len(self.struck):
            assert answer.status_code == 409
            return
        if answer.status_code == 409:
            assert answer.json()["code"] == "refused"
            return
        assert answer.status_code == 201, answer.text
        decided = answer.json()
        if action == "apply":
            self.setting = decided["decision"]["values"][0]["setting"]
        if action == "apply" or not self.recorded:
            self.revisions += 1
        self.recorded = True
        self.end("decided")

    @precondition(lambda self: self.run is not None)
    @rule()
    def leave(self) -> None:
        """Undecided."""
        assert self.ines.post(f"/runs/{self.run['id']}/leave", version=self.run["version"]).status_code == 201
        self.end("left")

    @precondition(lambda self: self.run is not None)
    @rule()
    def decide_on_an_old_copy(self) -> None:
        """Refused, and nothing moves."""
        stale = self.run | {"version": self.run["version"] - 1}
        assert self.ines.decide(stale, "apply", before_proof=True).status_code in {409, 412}

    @precondition(lambda self: self.ended)
    @rule(pick=st.integers(0, 20))
    def read_into_an_ended_run(self, pick: int) -> None:
        """Refused for ever."""
        run_id = sorted(self.ended)[pick % len(self.ended)]
        assert self.ines.read(run_id, "98.4").status_code == 409

    def end(self, state: str) -> None:
        """The run is over; what it holds must stay."""
        self.ended[self.run["id"]] = (state, list(self.taken))
        self.run, self.taken, self.struck = None, [], set()

    @invariant()
    def every_reading_is_there_in_its_order(self) -> None:
        """Struck ones too."""
        if self.run is not None:
            seen = self.ines.get(f"/runs/{self.run['id']}")
            assert [row["text"] for row in seen["readings"]] == self.taken
            assert {
                index for index, row in enumerate(seen["readings"]) if row["struck"] or row["taken_back"]
            } == self.struck
            assert seen["version"] == self.run["version"]
        for run_id, (state, taken) in self.ended.items():
            kept = self.ines.get(f"/runs/{run_id}")
            assert (kept["state"], [row["text"] for row in kept["readings"]]) == (state, taken)

    @invariant()
    def the_bench_shows_what_was_decided_last(self) -> None:
        """One value, the newest revision, and one open run at most."""
        bench = self.ines.get(f"/setups/{self.ines.setup_id}/bench")
        value = bench["steps"][1]["value"]
        assert (value is not None) is self.recorded
        if self.recorded:
            assert value["setting"] == self.setting
        assert self.count_revisions() == self.revisions
        assert [row["id"] for row in self.ines.get("/runs")["open"]] == ([] if self.run is None else [self.run["id"]])


def test_no_order_of_events_loses_a_reading_or_shows_what_was_not_decided(ines: Person) -> None:
    """A few benches of up to twenty-five events each."""

    class OfInes(Bench):
        pass

    OfInes.ines = ines
    run_state_machine_as_test(
        OfInes,
        settings=settings(max_examples=examples(3), stateful_step_count=25, suppress_health_check=list(HealthCheck)),
    )
