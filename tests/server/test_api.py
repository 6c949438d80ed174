"""The door: who may ask, what may be repeated, how problems look, and what every answer carries."""

from __future__ import annotations

import base64
import hashlib
import inspect
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from tests.server.conftest import Clock, Person
from ubrex.core.errors import UbrexError
from ubrex.server.api.app import AppSettings, create_app
from ubrex.server.api.problems import STATUS
from ubrex.server.desk import hash_passphrase
from ubrex.server.store.database import database


def _subclasses(kind: type[UbrexError]) -> set[type[UbrexError]]:
    return {kind for child in kind.__subclasses__() for kind in (child, *_subclasses(child))}


def test_every_error_has_a_status() -> None:
    """A new error cannot be forgotten. Errors of the runtime never meet a request."""
    asked = {kind for kind in _subclasses(UbrexError) if not kind.__module__.startswith("ubrex.server.runtime")}
    assert set(STATUS) == asked


def test_health_says_whether_the_database_answers(nobody: Person) -> None:
    """A phone that cannot store wants to know why."""
    assert nobody.get("/health")["database"] is True


def test_a_repeated_create_is_done_once_and_answered_alike(ines: Person) -> None:
    """A browser that lost the answer sends again: one reading, one number."""
    run = ines.start()
    body = {"typed": "98.4", "taken_at": ines.clock.now.isoformat()}
    first = ines.post(f"/runs/{run['id']}/readings", body, key="phone-key-1")
    second = ines.post(f"/runs/{run['id']}/readings", body, key="phone-key-1")
    assert first.json() == second.json()
    assert len(ines.get(f"/runs/{run['id']}")["readings"]) == 1


def test_a_key_that_comes_back_with_another_body_is_refused(ines: Person) -> None:
    """Otherwise the second reading would vanish behind the first one's answer."""
    run = ines.start()
    body = {"typed": "98.4", "taken_at": ines.clock.now.isoformat()}
    ines.post(f"/runs/{run['id']}/readings", body, key="phone-key-1")
    other = ines.post(f"/runs/{run['id']}/readings", body | {"typed": "98.1"}, key="phone-key-1")
    assert (other.status_code, other.json()["code"]) == (422, "key_reused")


def test_a_refused_create_may_come_again_corrected_with_its_key(ines: Person) -> None:
    """A refusal keeps nothing, not even the key."""
    run = ines.start()
    body = {"typed": "984", "taken_at": ines.clock.now.isoformat()}
    assert ines.post(f"/runs/{run['id']}/readings", body, key="phone-key-1").status_code == 422
    assert ines.post(f"/runs/{run['id']}/readings", body | {"typed": "98.4"}, key="phone-key-1").status_code == 201


def test_a_create_without_a_key_and_an_edit_without_a_version_are_refused(ines: Person) -> None:
    """Both are part of the contract, and said so in words."""
    missing = ines.client.post("/api/v1/people", json={"name": "Wim"}).json()
    assert missing["fields"][0]["field"] == "Idempotency-Key"
    blind = ines.client.patch("/api/v1/runs/1", json={}, headers={"Ubrex-Person": "1"}).json()
    assert blind["fields"][0]["field"] == "If-Match"


def test_a_write_without_a_name_asks_who_it_is(ines: Person) -> None:
    """Every entry carries a name."""
    run = ines.start()
    ines.id = 999
    answer = ines.read(run["id"], "98.4")
    assert answer.json()["fields"][0]["code"] == "who_is_it"


@pytest.mark.parametrize(
    ("headers", "status", "code"),
    [
        ({"Host": "elsewhere.test"}, 421, "unknown_host"),
        ({"Origin": "http://elsewhere.test"}, 403, "foreign_origin"),
        ({"Origin": "null"}, 403, "foreign_origin"),
        ({"Sec-Fetch-Site": "cross-site"}, 403, "foreign_origin"),
        ({"Content-Length": "2000000"}, 413, "too_large"),
    ],
)
def test_requests_from_elsewhere_and_too_large_ones_are_refused(
    ines: Person, headers: dict[str, str], status: int, code: str
) -> None:
    """A page in another tab must not write, and a name bound to us from outside must not read."""
    answer = ines.client.post("/api/v1/people", json={"name": "Mallory"}, headers=ines.headers() | headers)
    assert (answer.status_code, answer.json()["code"]) == (status, code)
    assert [row["name"] for row in ines.get("/workshop")["people"]] == ["Ines"]


def test_a_body_that_grows_past_the_limit_while_it_is_read_is_cut_off(ines: Person) -> None:
    """A length that was not announced is counted."""
    chunks = (b"x" * 100_000 for _ in range(20))
    answer = ines.client.post("/api/v1/people", content=chunks, headers=ines.headers())
    assert answer.status_code == 413


def test_every_answer_carries_the_headers_that_keep_browsers_safe(nobody: Person) -> None:
    """Also a refusal."""
    for answer in (nobody.client.get("/api/v1/health"), nobody.client.get("/", headers={"Host": "elsewhere.test"})):
        assert "script-src 'self'" in answer.headers["content-security-policy"]
        assert "unsafe" not in answer.headers["content-security-policy"]
        assert answer.headers["x-content-type-options"] == "nosniff"


def test_of_scripts_in_the_page_only_its_own_first_lines_run(workshop_url: str, tmp_path: Path) -> None:
    """They are named by their hash, also where a browser is told that it has the page; other answers name none."""
    assert workshop_url
    (tmp_path / "index.html").write_text("<script>let owl = 1;</script><p>Ubrex</p>")
    with TestClient(create_app(AppSettings(web=tmp_path)), base_url="http://localhost") as client:
        known = {"If-None-Match": client.get("/").headers["etag"]}
        answers = [client.get(path) for path in ("/", "/runs/7", "/api/v1/health")]
        answers.insert(2, client.get("/", headers=known))
    assert [answer.status_code for answer in answers] == [200, 200, 304, 200]
    policies = [answer.headers["content-security-policy"] for answer in answers]
    digest = base64.b64encode(hashlib.sha256(b"let owl = 1;").digest()).decode()
    assert [f"script-src 'self' 'sha256-{digest}';" in policy for policy in policies] == [True, True, True, False]
    assert all("unsafe" not in policy for policy in policies)


def test_unknown_things_are_problems_of_the_one_form(ines: Person) -> None:
    """No address answers in a form of its own."""
    for path in ("/api/v1/runs/999", "/api/v1/setups/999/bench", "/api/v1/nothing", "/api/v1/runs/abc"):
        answer = ines.client.get(path)
        assert answer.headers["content-type"] == "application/problem+json"
        assert set(answer.json()) == {"type", "title", "status", "detail", "code", "fields"}


def test_signing_in_is_asked_for_where_others_can_reach_the_workshop(workshop_url: str, clock: Clock) -> None:
    """Nothing is shown before; five wrong tries a minute are enough; the cookie is for this site alone."""
    assert workshop_url
    settings = AppSettings(passphrase_hash=hash_passphrase("owl head lamp bracket"), clock=clock)
    with TestClient(create_app(settings), base_url="http://localhost") as client:
        assert client.get("/api/v1/workshop").status_code == 401
        assert client.get("/api/v1/session").json() == {"needed": True, "signed_in": False}
        right = {"passphrase": "owl head lamp bracket"}
        wrong = [client.post("/api/v1/session", json={"passphrase": "guess"}).status_code for _ in range(6)]
        assert wrong == [401] * 5 + [429]
        assert client.post("/api/v1/session", json=right).status_code == 429
        clock.wait(minutes=2)
        signed_in = client.post("/api/v1/session", json=right)
        cookie = signed_in.headers["set-cookie"].lower()
        assert "httponly" in cookie
        assert "samesite=strict" in cookie
        assert "secure" not in cookie
        assert client.get("/api/v1/workshop").status_code == 200
        clock.wait(days=31)
        assert client.get("/api/v1/workshop").status_code == 401


def test_two_hundred_requests_from_forty_threads_leave_no_connection_in_use(ines: Person) -> None:
    """A connection is opened and closed inside the call that uses it, in its own thread."""
    ines.applied("98.4", "98.1", "98.6")
    path = f"/api/v1/setups/{ines.setup_id}/bench"
    with ThreadPoolExecutor(40) as threads:
        codes = list(threads.map(lambda _: ines.client.get(path).status_code, range(200)))
    assert set(codes) == {200}
    assert not database.obj._in_use


def test_two_readings_at_the_same_moment_both_find_their_place(ines: Person) -> None:
    """Laptop and phone at once: one waits for the other, none is lost."""
    run = ines.start()
    body = {"taken_at": ines.clock.now.isoformat()}
    requests = [(body | {"typed": f"98.{digit}"}, ines.headers()) for digit in range(8)]
    with ThreadPoolExecutor(8) as threads:
        answers = list(
            threads.map(
                lambda pair: ines.client.post(f"/api/v1/runs/{run['id']}/readings", json=pair[0], headers=pair[1]),
                requests,
            )
        )
    assert {answer.status_code for answer in answers} == {201}
    assert [row["position"] for row in ines.get(f"/runs/{run['id']}")["readings"]] == list(range(1, 9))


def test_routes_translate_and_nothing_else() -> None:
    """No query, no formula, no branch on a value in a router: each use case is one call."""
    from ubrex.server.api import of_attempts, of_faults, of_profile, of_runs, of_workshop

    source = "".join(inspect.getsource(one) for one in (of_workshop, of_profile, of_attempts, of_faults, of_runs))
    assert ".select(" not in source
    assert ".where(" not in source


def test_scripts_go_packed_and_nothing_beside_them(workshop_url: str, tmp_path: Path) -> None:
    """As they are, kept for ever under their name; whoever cannot unpack gets them plain; what lies outside stays there."""
    assert workshop_url
    web = tmp_path / "web"
    (web / "assets").mkdir(parents=True)
    (web / "index.html").write_text("<p>Ubrex</p>")
    (web / "assets" / "a.js").write_text("let owl = 1;" * 200)
    (tmp_path / "secret.js").write_text("no")
    with TestClient(create_app(AppSettings(web=web)), base_url="http://localhost") as client:
        packed = client.get("/assets/a.js")
        assert (packed.headers["content-encoding"], packed.text) == ("gzip", "let owl = 1;" * 200)
        assert "immutable" in packed.headers["cache-control"]
        plain = client.get("/assets/a.js", headers={"Accept-Encoding": "identity"})
        assert "content-encoding" not in plain.headers
        assert plain.text == packed.text
        for outside in ("/assets/../../secret.js", "/assets/%2e%2e/%2e%2e/secret.js"):
            assert client.get(outside).text != "no"
