"""From a fresh clone: what is missing is named, what is done is skipped."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from ubrex import bootstrap

ROOT = Path(__file__).parents[2]


def test_without_rights_one_line_says_what_to_have_installed(monkeypatch: pytest.MonkeyPatch) -> None:
    """An ordinary user on a fresh machine; nothing is run that would ask for a password."""
    monkeypatch.setattr(bootstrap, "_missing_packages", lambda _: ["postgresql", "chromium"])
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    monkeypatch.setattr(shutil, "which", lambda _: None)
    with pytest.raises(bootstrap.SetupFailed) as failure:
        bootstrap._install_packages("test")
    assert str(failure.value).splitlines() == [
        "Some Debian packages are missing. Have them installed, then start again: "
        "sudo apt-get install postgresql chromium"
    ]


def test_either_chromium_will_do_and_the_one_without_windows_is_installed(monkeypatch: pytest.MonkeyPatch) -> None:
    """It costs a test less; whoever has the other keeps it."""
    for there, missing in (([], ["chromium-headless-shell"]), (["chromium"], []), (["chromium-headless-shell"], [])):
        monkeypatch.setattr(shutil, "which", lambda name, there=there: name if name in [*there, "initdb"] else None)
        assert bootstrap._missing_packages("test") == missing


def test_a_step_that_fails_says_which_and_shows_the_end_of_its_output(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What failed, why, what to do; the whole output stays in a log."""
    monkeypatch.setattr(bootstrap, "SETUP_LOG", tmp_path / "setup.log")
    talk = "import sys; [print('line', n, flush=True) for n in range(200)]; sys.exit('no network')"
    with pytest.raises(bootstrap.SetupFailed) as failure:
        bootstrap._run([sys.executable, "-c", talk], "Installing the hat", hint="Is the network there?")
    said = str(failure.value)
    assert said.startswith("Installing the hat failed.")
    assert "no network" in said
    assert "line 10\n" not in said
    assert said.endswith("Is the network there?")


def test_the_command_skips_what_is_done_and_becomes_its_python() -> None:
    """From another folder, by another name; nothing is set up again and its output is its own."""
    given = '{"method": "open_air"}'
    script = ROOT / "ubrex"
    environment = {name: value for name, value in os.environ.items() if name not in {"VIRTUAL_ENV", "PYTHONPATH"}}
    process = subprocess.run(
        [script, "calc", "e-steps"], input=given, capture_output=True, text=True, cwd="/", env=environment
    )
    assert process.returncode == 2
    assert process.stdout == ""
    (line,) = process.stderr.splitlines()
    assert line.startswith("ubrex calc: ")
