"""The commands as a person runs them: started, stopped, killed, started again. Nothing is lost and nothing is left."""

from __future__ import annotations

import asyncio
import os
import shutil
import signal
import socket
import sys
from collections.abc import Iterator
from pathlib import Path

import httpx2
import psycopg
import pytest

from tests.server.conftest import CALLIPER, MACHINE
from tests.serving import LOADED, Served, copied, done, done_loaded, eventually, new_folder, run, run_loaded, served
from ubrex.server.runtime.cluster import OWNER, Cluster
from ubrex.server.runtime.serve import Stopped, listen, stop_on_signals

PORT = "8460"

LET_GO = 7
"""Exit code of a loop that was stopped as it should be."""

PATIENT_S = 60.0
"""However busy the machine is: no test asserts a time."""


@pytest.fixture
def folder() -> Iterator[Path]:
    """A data folder that does not exist yet."""
    path = new_folder()
    yield path
    shutil.rmtree(path.parent)


@pytest.fixture(scope="module")
def _empty() -> Iterator[Path]:
    """A workshop that was started once and has nothing in it yet."""
    path = new_folder()
    with served("start", "--data", str(path), "--port", PORT):
        pass
    yield path
    shutil.rmtree(path.parent)


@pytest.fixture
def empty(_empty: Path) -> Iterator[Path]:
    """A workshop of its own with nothing in it yet."""
    path = copied(_empty)
    yield path
    shutil.rmtree(path.parent)


def begin(served_at: Served) -> None:
    """Give an empty workshop its first setup."""
    form = {"workshop": "Lanternfold", "setup": MACHINE, "instrument": CALLIPER, "person": {"name": "Ines"}}
    answer = httpx2.post(
        f"{served_at.address}/api/v1/first-setup",
        json=form,
        headers={"Idempotency-Key": "the-first-setup"},
        timeout=PATIENT_S,
    )
    assert answer.status_code == 201, answer.text


def setups(served_at: Served) -> list[str]:
    """Titles of the setups of a running workshop."""
    answer = httpx2.get(f"{served_at.address}/api/v1/setups", timeout=PATIENT_S)
    assert answer.status_code == 200, answer.text
    return [row["title"] for row in answer.json()]


def servers_on(folder: Path) -> list[int]:
    """Processes that work in the database folder of a workshop."""
    found = []
    for entry in Path("/proc").iterdir():
        try:
            if entry.name.isdecimal() and (entry / "cwd").readlink() == folder / "postgres":
                found.append(int(entry.name))
        except OSError:
            continue
    return found


def answers(served_at: Served) -> bool:
    """Whether the workshop answers with its database."""
    try:
        return httpx2.get(f"{served_at.address}/api/v1/health", timeout=PATIENT_S).status_code == 200
    except httpx2.TransportError:
        return False


def test_stopping_leaves_nothing_running_and_the_next_start_has_everything(folder: Path) -> None:
    """Ctrl+C, SIGTERM, a closed terminal."""
    titles: list[str] = []
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        start = run if number is signal.SIGINT else run_loaded
        with served("start", "--data", str(folder), "--port", PORT, start=start) as running:
            assert setups(running) == titles
            if not titles:
                begin(running)
                titles = ["Heron, lined hotend, 0.4 brass, Fallow PLA oat"]
            assert servers_on(folder)
            assert running.stop(number) == 0, running.said
        assert servers_on(folder) == []
    with served("start", "--data", str(folder), "--port", PORT) as last:
        assert setups(last) == titles


def stopped_as_it_begins() -> None:
    """An event loop that has begun, and does not hear signals yet, is told to stop."""

    async def begins() -> None:
        asyncio.get_running_loop().call_soon(signal.raise_signal, signal.SIGTERM)
        await asyncio.sleep(5)

    stop_on_signals()
    try:
        asyncio.run(begins())
    except Stopped:
        sys.exit(LET_GO)


def test_a_signal_while_the_web_server_begins_is_not_lost() -> None:
    """It lets go of whoever asks it to stop; in a process of its own, since that of a browser test has a loop already."""
    process = LOADED.Process(target=stopped_as_it_begins)
    process.start()
    process.join()
    assert process.exitcode == LET_GO


def test_a_second_start_says_where_the_first_is_and_leaves_it_alone(empty: Path) -> None:
    """Exit 0: what was wanted is there."""
    empty = empty
    with served("start", "--data", str(empty), "--port", PORT) as first:
        code, said = done_loaded("start", "--data", str(empty), "--port", "8470")
        assert (code, said.strip()) == (0, f"ubrex: already running at {first.address}")
        assert done_loaded("backup", "--data", str(empty), str(empty.parent / "copy.zip"))[0] == 1
        assert answers(first)


def test_a_killed_ubrex_and_what_it_left_behind_are_recovered_from(empty: Path) -> None:
    """Kill -9 leaves its database server running; the next start takes over. A pid file that lies is seen through."""
    empty = empty
    first = run("start", "--data", str(empty), "--port", PORT)
    first.wait_until_ready()
    begin(first)
    first.process.kill()
    first.process.wait()
    assert servers_on(empty)
    with served("start", "--data", str(empty), "--port", PORT) as second:
        assert len(setups(second)) == 1
    pid_file = empty / "postgres" / "postmaster.pid"
    for lie in (f"{os.getpid()}\n{empty}\n", "", "4194304\n"):
        pid_file.write_text(lie)
        with served("start", "--data", str(empty), "--port", PORT) as third:
            assert len(setups(third)) == 1


def test_a_database_that_is_killed_comes_back_by_itself(empty: Path) -> None:
    """While Ubrex runs; what was stored is there."""
    empty = empty
    with served("start", "--data", str(empty), "--port", PORT) as running:
        begin(running)
        pid = int((empty / "postgres" / "postmaster.pid").read_text().split()[0])
        os.kill(pid, signal.SIGKILL)
        assert eventually(lambda: any("starting it again" in line for line in running.said))
        assert eventually(lambda: answers(running))
        assert len(setups(running)) == 1
    assert servers_on(empty) == []


def test_a_busy_port_moves_on_and_says_so(empty: Path) -> None:
    """The next free one."""
    with (
        socket.create_server(("127.0.0.1", int(PORT))),
        served("start", "--data", str(empty), "--port", PORT) as moved,
    ):
        assert moved.port > int(PORT)
        assert f"ubrex: port {PORT} is busy, using {moved.port}" in moved.said
        assert answers(moved)


def test_answers_do_not_wait_for_the_acknowledgement_of_their_head() -> None:
    """Otherwise every one takes 40 ms longer."""
    with listen("127.0.0.1", int(PORT), print) as listening:
        with socket.create_connection(listening.getsockname()), listening.accept()[0] as accepted:
            assert accepted.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY)


def test_other_devices_are_let_in_only_with_a_passphrase(folder: Path) -> None:
    """Refused with the way to set one; with one, only by signing in."""
    code, said = done_loaded("start", "--data", str(folder), "--host", "0.0.0.0", "--port", PORT)
    assert code == 1
    assert "./ubrex passphrase" in said
    assert not folder.exists()
    assert done("passphrase", "--data", str(folder), typed="short\nshort\n")[0] == 1
    assert done("passphrase", "--data", str(folder), typed="owl head lamp\nowl head lamb\n")[0] == 1
    code, said = done("passphrase", "--data", str(folder), typed="owl head lamp\nowl head lamp\n")
    assert code == 0, said
    assert "owl head lamp" not in (folder / "passphrase").read_text()
    with served("start", "--data", str(folder), "--host", "0.0.0.0", "--port", PORT) as beyond:
        address = f"http://127.0.0.1:{beyond.port}/api/v1"
        assert httpx2.get(f"{address}/workshop", timeout=PATIENT_S).status_code == 401
        with httpx2.Client(timeout=PATIENT_S) as phone:
            assert phone.post(f"{address}/session", json={"passphrase": "owl head"}).status_code == 401
            assert phone.post(f"{address}/session", json={"passphrase": "owl head lamp"}).status_code == 200
            assert phone.get(f"{address}/workshop").status_code == 200


def test_a_backup_of_the_sample_workshop_restores_into_an_empty_one(sample_folder: Path, empty: Path) -> None:
    """By the commands; a workshop that holds something is not written over, and a reset puts the sample back."""
    folder, other, file = copied(sample_folder), empty, empty.parent / "lanternfold.zip"
    with served("demo", "--data", str(folder), "--port", PORT) as demo:
        shown = setups(demo)
        runs = httpx2.get(f"{demo.address}/api/v1/runs", timeout=PATIENT_S).json()
        assert runs["open"]
    code, said = done_loaded("backup", "--demo", "--data", str(folder), str(file))
    assert code == 0, said
    code, said = done_loaded("restore", "--data", str(other), str(file))
    assert code == 0, said
    code, said = done_loaded("restore", "--data", str(folder), str(file))
    assert code == 1
    assert "not empty" in said
    with served("start", "--data", str(other), "--port", PORT) as restored:
        assert setups(restored) == shown
        assert httpx2.get(f"{restored.address}/api/v1/runs", timeout=PATIENT_S).json() == runs
    (folder / "postgres" / "PG_VERSION").write_text("1\n")
    with served("demo", "--reset", "--data", str(folder), "--port", PORT) as again:
        assert setups(again) == shown
    shutil.rmtree(folder.parent)


def test_another_server_is_used_where_the_environment_names_one(folder: Path, cluster: Cluster) -> None:
    """Nothing private is made, and stopping does not stop it."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as owner:
        owner.execute("CREATE DATABASE elsewhere")
    environment = {"DATABASE_URL": cluster.url(OWNER, "elsewhere")}
    with served("start", "--data", str(folder), "--port", PORT, environment=environment) as running:
        begin(running)
    assert not (folder / "postgres").exists()
    with psycopg.connect(cluster.url(OWNER, "elsewhere"), autocommit=True) as owner:
        assert owner.execute("SELECT count(*) FROM setup").fetchone() == (1,)
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as owner:
        owner.execute("DROP DATABASE elsewhere")


def test_a_folder_that_holds_something_else_is_left_alone(folder: Path) -> None:
    """A slip in --data must not fill somebody's photos with a database."""
    folder.mkdir()
    (folder / "photo.png").write_bytes(b"")
    code, said = done_loaded("start", "--data", str(folder))
    assert code == 1
    assert "holds other files" in said
    assert [path.name for path in folder.iterdir()] == ["photo.png"]


@pytest.mark.parametrize("command", ["demo", "start", "test", "calc", "backup", "restore", "passphrase", "bench"])
def test_every_command_explains_itself(command: str) -> None:
    """Without doing anything."""
    code, said = done(command, "--help")
    assert code == 0
    assert said.startswith(f"usage: ubrex {command}")


def test_a_mistyped_command_or_port_is_an_error() -> None:
    """Exit 2, and what would have been right."""
    for arguments in (["demmo"], ["start", "--port", "0"], ["start", "--prot", "8000"]):
        code, said = done(*arguments)
        assert code == 2, arguments
        assert "error:" in said
