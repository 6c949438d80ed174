"""Readings typed one by one while server and database are killed at any moment, as by a plug pulled out."""

from __future__ import annotations

import http.client
import json
import os
import random
import shutil
import signal
import socket
import time
from collections import Counter
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from threading import Thread
from typing import Any, Final

import pytest

from tests.server.conftest import CALLIPER, MACHINE
from tests.server.test_older_workshops import OLDER, shown_then
from tests.server.test_printed_runs import BOX
from tests.serving import Served, done, new_folder, run

KILLS: Final = int(os.environ.get("UBREX_KILLS", "1000"))
READY_WITHIN_S: Final = 10.0
BEGINNINGS: Final = int(os.environ.get("UBREX_BEGINNINGS", "40"))
BACKUP: Final = OLDER / "workshop-2ae4bdd.zip"
SETUPS: Final = shown_then()["setups"]

with socket.socket() as _probe:
    _probe.bind(("127.0.0.1", 0))
    _PORT: Final[int] = _probe.getsockname()[1]
"""A port of its own: while it is down, no server of another test may answer for it."""


@dataclass
class Bench:
    """Somebody who types, and sends again until it is taken, as a browser does."""

    folder: Path
    served: Served
    taken: dict[int, dict[str, str]] = field(default_factory=dict)
    decided: dict[int, str] = field(default_factory=dict)
    waits: list[float] = field(default_factory=list)
    fell: float = 0.0
    keys: int = 0
    flow: str = "100"

    def send(self, method: str, path: str, body: Any = None, version: int | None = None) -> Any:
        """The answer to one request, however often it has to be sent."""
        self.keys += 1
        headers = {
            "Content-Type": "application/json",
            "Idempotency-Key": f"killed-key-{self.keys}",
            "Ubrex-Person": "1",
        }
        if version is not None:
            headers["If-Match"] = f'"{version}"'
        begun, failed = time.monotonic(), False
        while True:
            connection = http.client.HTTPConnection("127.0.0.1", self.served.port, timeout=20)
            try:
                connection.request(method, f"/api/v1{path}", json.dumps(body), headers)
                answer = connection.getresponse()
                content = json.loads(answer.read())
            except (OSError, http.client.HTTPException, ValueError):
                answer, content = None, None
            finally:
                connection.close()
            if answer is not None and answer.status < 500:
                if failed:
                    # Killed again while it starts, it begins anew: what counts is how long it takes when it is left alone.
                    self.waits.append(time.monotonic() - max(begun, self.fell))
                assert answer.status in {200, 201}, content
                return content
            failed = True
            if self.served.process.poll() is not None:
                self.served = started(self.folder)
            time.sleep(0.02)

    def measure_a_box(self, chance: random.Random) -> None:
        """One run from its start to its decision."""
        made = self.send("POST", "/runs", {
            "setup_id": 1, "step": "flow", "method": "box", "instrument_id": 1, "values": BOX | {"current": self.flow},
        })  # fmt: skip
        number, read = made["id"], self.taken.setdefault(made["id"], {})
        while made["entry"]["ahead"] and len(read) < 8:
            asked = made["entry"]["ahead"][0]
            typed = f"0.{chance.randint(440, 470)}"
            body = {"typed": typed, "place": asked["place"], "taken_at": "2026-11-29T12:00:00Z"}
            made = self.send("POST", f"/runs/{number}/readings", body)
            read[asked["label"]] = typed
        result = made["result"]
        # The walls do not answer to what is applied: flow must not wander off.
        near = result["can_apply"] and 95 <= float(result["proposal"]) <= 105
        ways = [way for way, can in (("apply", near), ("keep", result["can_keep"])) if can]
        action = chance.choice([*ways, "leave"])
        self.decided[number] = action
        if action == "leave":
            self.send("POST", f"/runs/{number}/leave", version=made["version"])
        else:
            self.send(
                "POST", f"/runs/{number}/decision", {"action": action, "before_proof": True}, version=made["version"]
            )
            self.flow = result["proposal"] if action == "apply" else self.flow


def started(folder: Path) -> Served:
    """The command, ready; killed while it starts, it says so in a sentence and is started again, as a person would."""
    for _ in range(20):
        served = run("start", "--data", str(folder), "--port", str(_PORT))
        while served.process.poll() is None and not any("http://" in line for line in served.said):
            time.sleep(0.02)
        if served.process.poll() is None:
            return served
        assert not any("Traceback" in line for line in served.said), served.said
    raise AssertionError(served.said)


def victim(bench: Bench, chance: random.Random) -> int:
    """The process that dies: the server, the database, or one of its backends."""
    postmaster = int((bench.folder / "postgres" / "postmaster.pid").read_text().split()[0])
    children = Path(f"/proc/{postmaster}/task/{postmaster}/children").read_text().split()
    return chance.choice([bench.served.process.pid, postmaster, int(chance.choice(children))])


@pytest.mark.slow
def test_a_first_start_and_a_restore_that_are_killed_can_be_begun_again(capsys: pytest.CaptureFixture[str]) -> None:
    """At any moment of either: no half of a database, and either nothing of the backup or all of it."""
    chance, whole = random.Random(11), 0
    for _ in range(BEGINNINGS):
        folder = new_folder()
        for command in (("start", "--port", str(_PORT)), ("restore", str(BACKUP))):
            name, *rest = command
            begun = run(name, "--data", str(folder), *rest)
            time.sleep(chance.uniform(0.1, 5.0))
            begun.process.kill()
            begun.process.wait()
        code, said = done("restore", "--data", str(folder), str(BACKUP))
        assert code == 0 or "not empty" in said, said
        whole += code != 0
        again = started(folder)
        with closing(http.client.HTTPConnection("127.0.0.1", again.port, timeout=20)) as connection:
            connection.request("GET", "/api/v1/setups")
            assert len(json.loads(connection.getresponse().read())) == len(SETUPS)
        assert again.stop() == 0
        shutil.rmtree(folder.parent)
    with capsys.disabled():
        print(
            f"\n{BEGINNINGS} first starts and restores killed: every folder opens, {whole} had the whole backup already"
        )


@pytest.mark.slow
def test_no_kill_loses_doubles_or_misplaces_a_reading_or_halves_a_decision() -> None:
    """Every reading that was taken is there once, at the place it was asked for; every decision with its value."""
    chance = random.Random(7)
    folder = new_folder()
    bench = Bench(folder, started(folder))
    kills, over = Counter[str](), False

    def kill() -> None:
        while kills.total() < KILLS:
            time.sleep(chance.uniform(0.0, 0.6))
            try:
                pid = victim(bench, chance)
                os.kill(pid, signal.SIGKILL)
            except (OSError, ValueError, IndexError):
                continue
            bench.fell = time.monotonic()
            kills["server" if pid == bench.served.process.pid else "database"] += 1
            time.sleep(0.8)

    try:
        bench.send("POST", "/first-setup", {
            "workshop": "Lanternfold", "setup": MACHINE, "instrument": CALLIPER, "person": {"name": "Ines"},
        })  # fmt: skip
        form = bench.send("GET", "/records/machine/1")
        values = {row["name"]: row["value"] for row in form["fields"]}
        values |= {"width_mm": "220", "depth_mm": "220", "height_mm": "250", "bed_max_c": "80"}
        bench.send("PUT", "/records/machine/1", {"values": values}, version=form["version"])
        killer = Thread(target=kill, daemon=True)
        killer.start()
        while killer.is_alive():
            bench.measure_a_box(chance)
        for number, read in bench.taken.items():
            shown = bench.send("GET", f"/runs/{number}")
            assert {row["place"]: row["number"] for row in shown["readings"]} == {
                place: float(typed) for place, typed in read.items()
            }
            assert len(shown["readings"]) == len(read)
            decision = shown["decision"]
            assert (shown["state"], None if decision is None else decision["action"]) == {
                "leave": ("left", None), "keep": ("decided", "keep"), "apply": ("decided", "apply"),
            }[bench.decided[number]]  # fmt: skip
            if decision is not None and decision["action"] == "apply":
                assert len(decision["values"]) >= 1
        over = bench.served.stop() == 0
    finally:
        if bench.served.process.poll() is None:
            bench.served.stop(signal.SIGKILL)
        shutil.rmtree(folder.parent, ignore_errors=True)
    assert over
    readings = sum(map(len, bench.taken.values()))
    waits = sorted(bench.waits)
    print(
        f"\n{kills.total()} kills ({kills['server']} of the server, {kills['database']} of the database or a part of it): "
        f"{readings} readings of {len(bench.taken)} runs there once and in place; after the last fall ready again in "
        f"{median(waits):.1f} s, at worst {waits[-1]:.1f} s"
    )
    assert waits[-1] < READY_WITHIN_S
