"""Debian's headless Chromium, for the browser tests and for measuring the first load."""

from __future__ import annotations

import shutil
from typing import Final

CHROMIUM_FLAGS: Final = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
"""Flags under which it neither needs a screen nor asks the network for anything of its own."""


def chromium_path() -> str:
    """Where Chromium is installed.

    Raises
    ------
    FileNotFoundError
        If it is not.
    """
    found = shutil.which("chromium")
    if found is None:
        raise FileNotFoundError("Chromium is not installed: sudo apt-get install chromium")
    return found
