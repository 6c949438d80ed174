"""The core stays pure: a closed list of imports, no I/O, no clock, and doors that list what they show."""

from __future__ import annotations

import ast
import importlib
import inspect
from pathlib import Path

import pytest

import ubrex.core

CORE = Path(ubrex.core.__file__).parent
MODULES = sorted(CORE.rglob("*.py"))
PACKAGES = ["quantity", "calibrate", "chain", "gcode", "materials"]
ALLOWED = {
    "__future__", "array", "collections", "dataclasses", "decimal", "enum", "functools", "itertools", "math", "re",
    "numpy", "scipy", "statistics", "typing", "ubrex",
}  # fmt: skip
FORBIDDEN_CALLS = {"open", "print", "input", "eval", "exec", "__import__"}
FORBIDDEN_ATTRIBUTES = {"now", "today", "utcnow"}


@pytest.mark.parametrize("path", MODULES, ids=lambda path: str(path.relative_to(CORE)))
def test_core_module_imports_and_calls_only_what_is_allowed(path: Path) -> None:
    """A deny-list leaks (tempfile, shutil, urllib, importlib); this list is short and closed."""
    nodes = list(ast.walk(ast.parse(path.read_text())))
    imported = {alias.name.split(".")[0] for node in nodes if isinstance(node, ast.Import) for alias in node.names}
    imported |= {(node.module or "").split(".")[0] for node in nodes if isinstance(node, ast.ImportFrom)}
    called = {node.func.id for node in nodes if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}
    asked = {node.attr for node in nodes if isinstance(node, ast.Attribute)}
    assert imported <= ALLOWED
    assert called.isdisjoint(FORBIDDEN_CALLS)
    assert asked.isdisjoint(FORBIDDEN_ATTRIBUTES)


@pytest.mark.parametrize("package", PACKAGES)
def test_package_exports_exactly_what_it_lists(package: str) -> None:
    """Nothing leaves a core package by accident, and nothing it lists is missing."""
    door = importlib.import_module(f"ubrex.core.{package}")
    public = {name for name, value in vars(door).items() if not name.startswith("_") and not inspect.ismodule(value)}
    assert public == set(door.__all__)
