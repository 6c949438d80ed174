"""``ubrex bench``: each figure beside a floor that was measured in the same run, one line a figure."""

from __future__ import annotations

import gzip
import http.client
import json
import math
import re
import shutil
import statistics
import tempfile
import threading
import time
import tracemalloc
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any, Final

import psycopg
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Browser

from ubrex.benchmark_towers import rating_keys, tower_evaluation, towers_written
from ubrex.browser import chromium
from ubrex.core.calibrate import EStepsMethod, EStepsSample, evaluate_esteps
from ubrex.core.gcode import (
    Dialect,
    Go,
    Heat,
    HeatCap,
    Job,
    MachineLimits,
    Manner,
    Volume,
    check_file,
    facts_of,
    read_gcode,
    write_gcode,
)
from ubrex.core.gcode.pieces import BoxOptions, PadOptions, Piece, hollow_box, live_pad, nine_patches
from ubrex.core.quantity import Tool
from ubrex.demo import load_demo
from ubrex.server.api.app import AppSettings, create_app
from ubrex.server.desk import utc_now
from ubrex.server.profile import standings_of
from ubrex.server.runtime.cluster import APP, OWNER, Cluster
from ubrex.server.runtime.folder import Folder
from ubrex.server.runtime.serve import WEB, listen, settle_memory
from ubrex.server.runtime.workshop import prepare
from ubrex.server.store import database as store
from ubrex.server.store.records import Machine, Setup, Spool
from ubrex.server.workshop import setups_in_use
from ubrex.timing import Times, alternate, figure_line

FIRST_PORT: Final = 8700
FEW: Final = 200
GETS: Final = 300
POSTS: Final = 150
ATTEMPTS, COMPARISONS = 200, 30
READINGS_A_RUN: Final = 6
EVALUATIONS: Final = 2000

FILL = """
WITH made AS (
    INSERT INTO run (setup_id, step, state, method, instrument_id, inputs, person_id, started_at, ended_at)
    SELECT s.id, 'e_steps', 'decided', 'open_air', 1,
           jsonb_build_object('current', 410.0, 'unit', 'steps/mm', 'places', 2, 'asked', 3, 'commanded_mm', 100.0),
           1, now() - interval '2 years' + n * interval '1 minute', now() - interval '2 years' + n * interval '1 minute'
    FROM generate_series(1, %(runs)s) AS n
    JOIN LATERAL (SELECT id FROM setup ORDER BY id OFFSET n %% (SELECT count(*) FROM setup) LIMIT 1) AS s ON true
    RETURNING id, started_at
), decided AS (
    INSERT INTO decision (run_id, action, verdict, reason, figures, rule_version, before_proof, note, person_id, at)
    SELECT id, 'keep', 'keep', 'within_tolerance', '{}', 'e-steps/1', false, '', 1, started_at FROM made
)
INSERT INTO reading (run_id, position, typed, number, unit, instrument_id, resolution, max_permissible_error,
                     person_id, taken_at, received_at)
SELECT id, p, '99.5', 99.5 + random(), 'mm', 1, 0.01, 0.03, 1, started_at, started_at
FROM made, generate_series(1, 4) AS p
"""
"""Runs of four readings, spread over all setups, older than everything in the sample workshop."""


WORKSHOP = """
INSERT INTO machine (name, feed_path, keeps_setting, setting_places, runaway)
    SELECT 'Machine ' || n, 'direct', 'command_pair', 2, 'tested' FROM generate_series(1, 9) n;
INSERT INTO hotend (name, liner, max_c) SELECT 'Hotend ' || n, 'all_metal', 285 FROM generate_series(1, 9) n;
INSERT INTO toolhead (machine_id, hotend_id)
    SELECT m.id, h.id FROM machine m JOIN hotend h ON h.name = replace(m.name, 'Machine', 'Hotend');
INSERT INTO nozzle (bore_mm, material, toolhead_id)
    SELECT b.bore, 'brass', t.id FROM toolhead t CROSS JOIN (VALUES (0.4), (0.6)) b(bore);
INSERT INTO surface (machine_id, name, kind) SELECT id, 'Sheet', 'spring_sheet' FROM machine;
INSERT INTO filament (name, family) SELECT 'Filament ' || n, 'pla' FROM generate_series(1, 55) n;
INSERT INTO spool (filament_id, name, full_g) SELECT id, '1', 1000 FROM filament ON CONFLICT DO NOTHING;
INSERT INTO setup (toolhead_id, nozzle_id, filament_id, surface_id, created_at)
    SELECT t.id, n.id, f.id, s.id, now() - interval '5 years'
    FROM toolhead t JOIN nozzle n ON n.toolhead_id = t.id JOIN surface s ON s.machine_id = t.machine_id
    CROSS JOIN filament f ORDER BY f.id, n.id LIMIT 394 ON CONFLICT DO NOTHING;
INSERT INTO tuned_value (kind, toolhead_id, nozzle_id, filament_id, number, unit, origin, person_id, at)
    SELECT v.kind, s.toolhead_id, s.nozzle_id, s.filament_id, v.number, v.unit, 'measured', 1,
        now() - interval '5 years' + y * interval '1 year'
    FROM setup s CROSS JOIN generate_series(0, 4) y
    CROSS JOIN (VALUES ('nozzle', 210, '°C'), ('flow', 98, '%'), ('retraction', 1, 'mm'), ('fan', 80, '%'),
        ('top_flow', 9, 'mm³/s')) v(kind, number, unit);
INSERT INTO tuned_value (kind, toolhead_id, number, unit, origin, person_id, at)
    SELECT 'e_steps', t.id, 400 + y, 'steps/mm', 'typed', 1, now() - interval '5 years' + y * interval '1 year'
    FROM toolhead t CROSS JOIN generate_series(0, 3) y WHERE t.id > 3;
INSERT INTO change (machine_id, kind, note, happened_at, person_id, logged_at)
    SELECT m.id, k.kind, '', now() - n * interval '60 days', 1, now()
    FROM machine m CROSS JOIN generate_series(1, 30) n
    CROSS JOIN (VALUES ('belts'), ('gear_tension'), ('heat_sink_fan')) k(kind);
INSERT INTO change (filament_id, kind, note, happened_at, person_id, logged_at)
    SELECT id, 'dried', '', now() - n * interval '90 days', 1, now() FROM filament CROSS JOIN generate_series(1, 20) n;
INSERT INTO print (setup_id, machine_id, nozzle_id, surface_id, abrasive, what, hours, grams, outcome, note, happened_at,
        person_id, logged_at)
    SELECT s.id, t.machine_id, s.nozzle_id, s.surface_id, false, 'joint', 3, 40, 'good', '',
        now() - n * interval '60 days', 1, now()
    FROM setup s JOIN toolhead t ON t.id = s.toolhead_id CROSS JOIN generate_series(1, 30) n;
"""
"""Twelve machines, sixty spools and four hundred setups, with five years of values, changes and prints."""

STANDINGS: Final = 12

ASA_SETUP: Final = 3
"""A setup of the sample workshop whose hotend may be as hot as ten bands go."""


def run_benchmark(readings: int) -> int:
    """Measure and print; the exit code says only whether it could be measured."""
    path = Path(tempfile.mkdtemp(prefix="ubrex-bench-"))
    path.chmod(0o755)
    folder = Folder(path)
    folder.make()
    cluster = Cluster(folder)
    try:
        cluster.start()
        few = _measure(cluster, "few", FEW)
        many = _measure(cluster, "many", readings)
        for name, times in many.items():
            if not name.startswith("floor"):
                before = few[name]
                for share in (0.5, 0.95):
                    grown = f"{name} p{share * 100:.0f}, {readings} readings against {FEW}"
                    print(figure_line(grown, times.at(share), before.at(share)))
        _evaluation()
        tower_evaluation()
        _files()
        _first_load(cluster)
    finally:
        cluster.stop()
        shutil.rmtree(path)
    return 0


def _measure(cluster: Cluster, name: str, readings: int) -> dict[str, Times]:
    """Bench view and stored reading against their floors, in a workshop with that many readings."""
    with psycopg.connect(cluster.url(OWNER, "postgres"), autocommit=True) as owner:
        owner.execute(f"CREATE DATABASE {name}")
    prepare(cluster.url(OWNER, name), APP, cluster.folder.path, print)
    store.connect_to(cluster.url(APP, name))
    load_demo(utc_now())
    with psycopg.connect(cluster.url(OWNER, name), autocommit=True) as owner:
        if readings > FEW:
            owner.execute(WORKSHOP)
        owner.execute(FILL, {"runs": readings // 4})
        owner.execute(
            "CREATE TABLE floor (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, number double precision)"
        )
        owner.execute(f"GRANT INSERT ON floor TO {APP}")
        owner.execute("ANALYZE")
        kept = owner.execute(
            "SELECT count(*), current_setting('fsync'), current_setting('synchronous_commit') FROM reading"
        ).fetchone()
    print("-- {} machines, {} spools, {} setups".format(*_counted()))
    print("-- {} readings; fsync {}, synchronous_commit {}".format(*kept or ()))
    with _serving() as port:
        times = _requests(port)
    for ours, floor in (
        ("Bench view opened again (GET)", "floor: SELECT 1 (GET)"),
        ("Bench view after a write (GET)", "floor: SELECT 1 (GET)"),
        ("reading stored (POST)", "floor: INSERT (POST)"),
        ("attempt stored (POST)", "floor: INSERT (POST)"),
        ("200 attempts compared (GET)", "floor: SELECT 1 again (GET)"),
        ("case of a fault opened (GET)", "floor: SELECT 1 again (GET)"),
    ):
        for share in (0.5, 0.95):
            print(figure_line(f"{ours} p{share * 100:.0f}", times[ours].at(share), times[floor].at(share)))
    if readings > FEW:
        _standings()
    store.database.close_all()
    return times


def _counted() -> list[int]:
    with store.unit_of_work():
        return [kind.select().count() for kind in (Machine, Spool, Setup)]


def _standings() -> None:
    """Where all setups stand, against the one SELECT that only says which there are."""

    def judged() -> None:
        with store.unit_of_work():
            standings_of(setups_in_use(), utc_now())

    def read() -> None:
        with store.unit_of_work():
            setups_in_use()

    found = {"ours": Times("ours", []), "floor": Times("floor", [])}
    for _ in range(STANDINGS):
        for name, act in (("floor", read), ("ours", judged)):
            started = time.perf_counter()
            act()
            found[name].ms.append(1000 * (time.perf_counter() - started))
    print(figure_line("standing of all setups p50", found["ours"].at(0.5), found["floor"].at(0.5)))


def _requests(port: int) -> dict[str, Times]:
    connection = http.client.HTTPConnection("127.0.0.1", port)
    person = {"Ubrex-Person": "1", "Content-Type": "application/json"}
    taken = iter(range(10**9))
    run: dict[str, Any] = {}

    def send(method: str, path: str, body: Any = None, **headers: str) -> Any:
        connection.request(method, path, json.dumps(body) if body is not None else None, person | headers)
        answer = connection.getresponse()
        content = answer.read()
        if answer.status not in {200, 201}:
            raise RuntimeError(f"{method} {path}: {answer.status} {content[:200]!r}")
        return content

    def key() -> dict[str, str]:
        return {"Idempotency-Key": f"bench-{next(taken):08}"}

    def write(path: str, body: Any = None, **headers: str) -> Any:
        return json.loads(send("POST", f"/api/v1{path}", body, **key() | headers))

    def new_run() -> None:
        if run:
            now = json.loads(send("GET", f"/api/v1/runs/{run['id']}"))
            write(f"/runs/{now['id']}/leave", **{"If-Match": f'"{now["version"]}"'})
        form = {"setup_id": 1, "step": "e_steps", "method": "open_air", "instrument_id": 1}
        run.update(write("/runs", form | {"values": {"current": "410.45", "commanded": "100"}}))

    def stored() -> None:
        body = {"typed": "98.4", "taken_at": utc_now().isoformat()}
        send("POST", f"/api/v1/runs/{run['id']}/readings", body, **key())

    gets: list[tuple[str, Callable[[], Any]]] = [
        ("floor: SELECT 1 (GET)", lambda: send("GET", "/floor")),
        ("floor: write elsewhere (POST)", lambda: send("POST", "/floor")),
        ("Bench view after a write (GET)", lambda: send("GET", "/api/v1/setups/1/bench")),
        ("Bench view opened again (GET)", lambda: send("GET", "/api/v1/setups/1/bench")),
    ]

    def attempt(place: int) -> None:
        trial = {"kind": "nozzle", "typed": str(195 + place % 5 * 5), "reach": "all", "from_mm": ""}
        form = {"what": "bench part", "outcome": "good", "signs": {"stringing": place % 5}, "trials": [trial]}
        write("/setups/1/prints", form)

    places = iter(range(10**9))
    posts: list[tuple[str, Callable[[], Any]]] = [
        ("floor: INSERT (POST)", lambda: send("POST", "/floor")),
        ("reading stored (POST)", stored),
        ("attempt stored (POST)", lambda: attempt(next(places))),
    ]
    new_run()
    found = alternate(gets, GETS) | alternate(posts, POSTS, every=(READINGS_A_RUN, new_run))
    for place in range(ATTEMPTS - POSTS):
        attempt(place)
    part = json.loads(send("GET", "/api/v1/setups/1/attempts-now"))["part"]["print_id"]
    case = write("/faults", {"setup_id": 1, "complaint": "c_stopped"})["id"]
    write(f"/faults/{case}/answers", {"kind": "finding", "key": "sink_touch", "answer": "hot"})
    compared: list[tuple[str, Callable[[], Any]]] = [
        ("floor: SELECT 1 again (GET)", lambda: send("GET", "/floor")),
        ("200 attempts compared (GET)", lambda: send("GET", f"/api/v1/prints/{part}/part")),
        ("case of a fault opened (GET)", lambda: send("GET", f"/api/v1/faults/{case}")),
    ]
    found |= alternate(compared, COMPARISONS)
    connection.close()
    return found


@contextmanager
def _serving() -> Iterator[int]:
    """The application on a free port, with the two floors beside its routes."""
    app = create_app(AppSettings(web=WEB))
    _add_floors(app)
    server = uvicorn.Server(uvicorn.Config(app, log_level="warning", access_log=False))
    with listen("127.0.0.1", FIRST_PORT, print) as listening:
        settle_memory()
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]})
        thread.start()
        while not server.started:
            time.sleep(0.01)
        try:
            yield listening.getsockname()[1]
        finally:
            server.should_exit = True
            thread.join()


def _add_floors(app: FastAPI) -> None:
    """Routes that do one statement each, before the mount that answers every other address with the page."""
    mounted = app.router.routes.pop()

    @app.get("/floor")
    def select() -> dict[str, int]:
        with store.unit_of_work():
            return {"one": store.database.execute_sql("SELECT 1").fetchone()[0]}

    @app.post("/floor")
    def insert() -> dict[str, int]:
        with store.unit_of_work():
            store.database.execute_sql("INSERT INTO floor (number) VALUES (98.4)")
        return {"one": 1}

    app.router.routes.append(mounted)


def _evaluation() -> None:
    """The rule against the plain arithmetic of its mean and interval on the same numbers."""
    readings = (98.4, 98.1, 98.6, 98.3, 98.5)
    tool = Tool(resolution=0.01, max_permissible_error=0.03)
    sample = EStepsSample(method=EStepsMethod.OPEN_AIR, commanded_mm=100.0, readings=readings, tool=tool)

    def plain() -> float:
        mean = statistics.fmean(readings)
        scatter = statistics.stdev(readings, mean) / math.sqrt(len(readings)) / mean
        return 100 / mean * 2.776 * math.hypot(scatter, 0.0176 / mean)

    found = alternate([("ours", lambda: evaluate_esteps(sample)), ("floor", plain)], EVALUATIONS)
    print(figure_line("e-steps evaluated p50", found["ours"].at(0.5), found["floor"].at(0.5)))


FILE_LIMITS: Final = MachineLimits(
    volume=Volume(width_mm=220, depth_mm=220, height_mm=250),
    nozzle=HeatCap(max_c=240, why="the limit of its liner"),
    bed=HeatCap(max_c=100, why="the stated maximum of the bed"),
    feeds_from_c=170,
    melt_mm3_s=20,
    retraction_mm=6,
)
READ_MB: Final = 50
READ_ROUNDS: Final = 3
CHECKED_MB: Final = 5
PIECE_REPEATS: Final = 20
_WORD: Final = re.compile(r"([A-Z])([-+]?[0-9]*\.?[0-9]+)")


def _files() -> None:
    """Pieces written, the writer against plain formatting, the reader against a bare loop and one regular expression."""
    settle_memory()
    manner = Manner()
    box = BoxOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.2, walls="both")
    pads = PadOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2)
    volume = FILE_LIMITS.volume
    made: dict[str, Callable[[], Piece]] = {
        "hollow box": lambda: hollow_box.__wrapped__(box, volume, manner),
        "nine patches": lambda: nine_patches.__wrapped__(pads, volume, manner),
        "pad": lambda: live_pad(pads, volume, manner),
    }
    for name, make in made.items():
        found = alternate([("ours", lambda make=make: _write(make(), manner))], PIECE_REPEATS)  # type: ignore[misc]
        print(f"{name} made and written p95: {found['ours'].at(0.95):.3g} ms (aim under 150)")
    towers_written(volume, _write, PIECE_REPEATS)
    piece = hollow_box(replace(box, height_mm=60, side_mm=60), volume, manner)
    text = _write(piece, manner)
    moves = [move for move in piece.moves if isinstance(move, Go)]
    found = alternate([("ours", lambda: _write(piece, manner)), ("floor", lambda: _formatted(moves))], PIECE_REPEATS)
    ours = found["ours"].at(0.5) / text.count("\n")
    floor = found["floor"].at(0.5) / len(moves)
    print(
        f"writer, a line: {1000 * ours:.3g} us / {1000 * floor:.3g} us of plain formatting = {ours / floor:.2f} (aim 3)"
    )
    _read_large(text)


def _write(piece: Piece, manner: Manner) -> str:
    job = Job(
        name=piece.name, moves=piece.moves, heat=Heat(nozzle_c=240, bed_c=60), manner=manner, bead=piece.bead,
    )  # fmt: skip
    return write_gcode(job, limits=FILE_LIMITS, dialect=Dialect(pressure="M900 K{value}"))


def _formatted(moves: Sequence[Go]) -> str:
    lines = [f"G1 X{m.x:.3f} Y{m.y:.3f} Z{m.z:.3f} E{m.feed_mm:.5f} F{60 * m.speed_mm_s:.0f}" for m in moves]
    return "\n".join(lines)


def _read_large(text: str) -> None:
    """Read a file of 50 MB, line by line from the disk, and check one of 5 MB."""
    body = "".join(line + "\n" for line in text.splitlines() if line.startswith("G1 X"))
    with tempfile.TemporaryFile("w+", encoding="utf-8") as file:
        file.write(text.partition("G1 X")[0])
        for _ in range(READ_MB * 1_000_000 // len(body)):
            file.write(body)

        def whole(act: Callable[[Iterator[str]], object]) -> Callable[[], None]:
            def read() -> None:
                file.seek(0)
                act(iter(file))

            return read

        size = file.tell() / 1e6
        file.seek(0)
        lines = sum(1 for _ in file)
        ways = [("bare", whole(_bare)), ("ours", whole(read_gcode)), ("plain", whole(_one_expression))]
        found = alternate(ways, READ_ROUNDS, warm_up=0)
        bare, ours, plain = (found[name].at(0.5) / 1000 for name, _ in ways)
        print(
            f"reader, {size:.0f} MB: {lines / ours / 1000:.0f} 000 lines/s, {size / ours:.1f} MB/s; {ours:.2f} s / "
            f"{bare:.2f} s of a bare split = {ours / bare:.2f} (aim 15), of one expression {ours / plain:.2f} (aim 1)"
        )
        tracemalloc.start()
        file.seek(0)
        read_gcode(iter(file))
        print(f"reader, peak memory: {tracemalloc.get_traced_memory()[1] / 1e6:.0f} MB (aim under 200)")
        tracemalloc.stop()
    small = text.partition("G1 X")[0] + body * (CHECKED_MB * 1_000_000 // len(body))
    started = time.perf_counter()
    read = read_gcode(small.splitlines(keepends=True))
    check_file(read, FILE_LIMITS, bore_mm=0.4, filament_mm=1.75)
    facts_of(read, 1000)
    print(
        f"file of {CHECKED_MB} MB read and checked: {time.perf_counter() - started:.2f} s (aim about 2, drawing included)"
    )


def _bare(lines: Iterator[str]) -> int:
    return sum(len(line.split()) for line in lines)


def _one_expression(lines: Iterator[str]) -> int:
    """The plain parser: one regular expression a line, every word a number."""
    count = 0
    for line in lines:
        words = {letter: float(number) for letter, number in _WORD.findall(line)}
        count += len(words)
    return count


_SCRIPT: Final = re.compile(r'"/([^"]+\.js)"')
"""What the page names is what is asked for before it can be used; everything else is fetched after that, or when shown."""


def _first_load(cluster: Cluster) -> None:
    """Script sent for the first page, and the time until the bench can be used, against an empty page."""
    store.connect_to(cluster.url(APP, "few"))
    asked = {WEB / path for path in _SCRIPT.findall((WEB / "index.html").read_text("utf-8"))}
    rest = {*(WEB / "assets").glob("*.js")} - asked
    first, later = (sum(len(gzip.compress(path.read_bytes(), 5)) for path in paths) for paths in (asked, rest))
    print(f"script of the first load, gzip: {first / 1000:.0f} kB / 200 kB = {first / 200_000:.2f}")
    print(f"script fetched once the first screen stands, gzip: {later / 1000:.0f} kB in {len(rest)} parts")
    with _serving() as port, chromium() as browser:
        found = _pages(browser, f"http://127.0.0.1:{port}")
        rating_keys(browser.new_page(), f"http://127.0.0.1:{port}", ASA_SETUP)
    store.database.close_all()
    print(figure_line("bench usable, first load p50", found["ours"].at(0.5), found["floor"].at(0.5)))


FIRST_LOADS: Final = 15

AT_REST_MS: Final = 1000
"""How long a new window is left alone [ms]: the browser draws what is round the page first, by 400 scripts of its own."""


def _pages(browser: Browser, address: str) -> dict[str, Times]:
    """First loads of the bench in browsers that have never seen it, beside those of an answer without a script."""
    found = {"ours": Times("ours", []), "floor": Times("floor", [])}
    for _ in range(FIRST_LOADS):
        for name, path, ready in (("floor", "/api/v1/health", "body"), ("ours", "/", "section a.button-main")):
            context = browser.new_context()
            page = context.new_page()
            page.wait_for_timeout(AT_REST_MS)
            started = time.perf_counter()
            page.goto(address + path)
            page.wait_for_selector(ready)
            found[name].ms.append(1000 * (time.perf_counter() - started))
            context.close()
    return found
