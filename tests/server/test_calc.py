"""``ubrex calc``: the public vectors pass, and bad input gets exit 2 and one clear line."""

from __future__ import annotations

import io
import json
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

import pytest

from ubrex.commands import main
from ubrex.server.calc import calc

VECTORS = [
    (path.stem, case)
    for path in sorted((Path(__file__).parents[1] / "data" / "vectors").glob("*.json"))
    for case in json.loads(path.read_text())
]
GOOD: dict[str, Any] = {
    "method": "open_air", "commanded_mm": 100, "current_steps_per_mm": 412.6, "readings": [98.4, 98.1, 98.6],
    "resolution": 0.01, "max_permissible_error": 0.03,
}  # fmt: skip


@pytest.mark.parametrize(("rule", "case"), VECTORS, ids=[case["id"] for _, case in VECTORS])
def test_a_public_vector_is_met(rule: str, case: dict[str, Any]) -> None:
    """Outputs are given to 6 significant digits; null is infinite or not available."""
    _assert_met(json.loads(calc(rule, json.dumps(case["inputs"]))), case["expected"], "")


def _assert_met(found: Any, expected: Any, where: str) -> None:
    match expected:
        case dict():
            for key, value in expected.items():
                _assert_met(found[key], value, f"{where}.{key}")
        case list():
            assert len(found) == len(expected), where
            for place, value in enumerate(expected):
                _assert_met(found[place], value, f"{where}[{place}]")
        case float():
            assert found == pytest.approx(expected, rel=1e-5, abs=1e-9), where
        case _:
            assert found == expected, where


class Ran(NamedTuple):
    """How the command ended, and what it said."""

    code: int
    out: str
    err: str


Run = Callable[..., Ran]


@pytest.fixture
def run(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> Run:
    """The command as it is run by its arguments and what is piped into it, without a process of its own."""

    def run_it(rule: str, text: str, *flags: str) -> Ran:
        monkeypatch.setattr(sys, "argv", ["ubrex", "calc", rule, *flags])
        monkeypatch.setattr(sys, "stdin", io.StringIO(text))
        with pytest.raises(SystemExit) as left:
            main()
        return Ran(int(left.value.code or 0), *capsys.readouterr())

    return run_it


def test_the_command_prints_one_json_object() -> None:
    """So that a script can pipe it on."""
    command = [sys.executable, "-m", "ubrex", "calc", "e-steps"]
    done = subprocess.run(command, input=json.dumps(GOOD), capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 0
    assert json.loads(done.stdout)["new_steps_per_mm"] == pytest.approx(412.6 * 100 / 98.366667)


def test_many_cases_take_one_start(run: Run) -> None:
    """One line in, one line out, in order; a bad one says so in its place and stops nothing."""
    cases = [GOOD | {"readings": [reading] * 3} for reading in (98.4, 99.0, 99.9)]
    text = "\n".join([*map(json.dumps, cases), "{", json.dumps(GOOD), ""])
    done = run("e-steps", text, "--lines")
    answers = [json.loads(line) for line in done.out.splitlines()]
    assert (done.code, len(answers)) == (0, 5)
    assert answers[:3] == [json.loads(calc("e-steps", json.dumps(case))) for case in cases]
    assert "not JSON" in answers[3]["error"]
    assert answers[4]["verdict"] == "apply"
    assert run("e-step", text, "--lines").code == 2


def test_every_rule_is_named(run: Run) -> None:
    """Each name of the list is a rule, and no name at all says which there are."""
    names = run("--list", "").out.split()
    assert "flow-wall" in names
    assert all(run(name, "{}").code == 2 for name in names[:2])
    said = run("--lines", "").err
    assert all(name in said for name in names)


@pytest.mark.parametrize(
    ("rule", "text", "said"),
    [
        ("e-steps", "", "not JSON"),
        ("e-steps", "[1, 2]", "input"),
        ("e-steps", json.dumps(GOOD | {"readings": [98.4, float("nan")]}), "NaN"),
        ("e-steps", json.dumps(GOOD | {"readings": "98.4"}), "readings"),
        ("e-steps", json.dumps(GOOD | {"commanded_mm": "100"}), "commanded_mm"),
        ("e-steps", json.dumps({key: value for key, value in GOOD.items() if key != "method"}), "method"),
        ("e-steps", json.dumps(GOOD | {"method": "by_eye"}), "method"),
        ("e-steps", json.dumps(GOOD | {"colour": "oat"}), "colour"),
        ("e-steps", json.dumps(GOOD | {"method": "marked"}), "mark_at_mm"),
        ("e-steps", json.dumps(GOOD | {"method": "weighed"}), "strand"),
        ("e-step", json.dumps(GOOD), "e-steps"),
    ],
)
def test_bad_input_gets_exit_2_and_one_line(run: Run, rule: str, text: str, said: str) -> None:
    """A script sees that it failed, a person sees why."""
    done = run(rule, text)
    assert (done.code, done.out) == (2, "")
    assert said in done.err
    assert len(done.err.strip().splitlines()) == 1


def test_numbers_that_cannot_be_true_are_an_answer_not_an_error(run: Run) -> None:
    """Well-formed: exit 0 and the verdict refuse."""
    done = run("e-steps", json.dumps(GOOD | {"readings": [-3.0]}))
    assert (done.code, json.loads(done.out)["verdict"]) == (0, "refuse")
