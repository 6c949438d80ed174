"""Examples in docstrings are true."""

from __future__ import annotations

import doctest
import importlib
import pkgutil
from collections.abc import Iterator
from types import ModuleType

import ubrex.core
import ubrex.server.words


def modules() -> Iterator[ModuleType]:
    """Everything of the core, and the words."""
    for package in (ubrex.core, ubrex.server.words):
        for found in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
            yield importlib.import_module(found.name)


def test_every_example_in_a_docstring_says_what_comes_out() -> None:
    """Whoever reads one may rely on it."""
    results = {module.__name__: doctest.testmod(module) for module in modules()}
    assert {name for name, result in results.items() if result.failed} == set()
    assert sum(result.attempted for result in results.values()) >= 8
