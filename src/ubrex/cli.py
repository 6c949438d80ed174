"""The commands and their options. Standard library only: help and mistakes need no installation."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Final

DEFAULT_PORT: Final = 8317


def parser() -> argparse.ArgumentParser:
    """Parser of ``./ubrex``."""
    top = argparse.ArgumentParser(prog="ubrex", description="Tune 3D printers: measure, correct, keep the record.")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND")

    demo = commands.add_parser("demo", help="open the sample workshop", description="Open the sample workshop.")
    _serving(demo)
    demo.add_argument("--reset", action="store_true", help="put the sample workshop back as it was first")

    start = commands.add_parser("start", help="open your own workshop", description="Open your own workshop.")
    _serving(start)

    test = commands.add_parser(
        "test", help="check everything", description="Run every check; what follows is given to pytest."
    )
    test.add_argument("--slow", action="store_true", help="also run the long simulations")
    test.add_argument("pytest_args", nargs="*", metavar="ARGS", help="given to pytest as they are")

    calc = commands.add_parser(
        "calc",
        help="work out one rule from JSON",
        description="Read a rule's inputs as JSON on standard input, print its result as JSON. Bad input: exit 2.",
    )
    calc.add_argument("rule", nargs="?", help="name of the rule, for example e-steps")
    calc.add_argument("--list", action="store_true", help="print the names of all rules")
    calc.add_argument(
        "--lines", action="store_true", help='one case a line, one result a line; a bad case gives {"error": ...}'
    )

    for name, what in (
        ("backup", "write the workshop to one file"),
        ("restore", "put a backup into an empty workshop"),
    ):
        command = commands.add_parser(name, help=what, description=what.capitalize() + ".")
        command.add_argument("file", type=Path, metavar="FILE")
        _data(command)
        command.add_argument("--demo", action="store_true", help="the sample workshop instead of your own")

    passphrase = commands.add_parser(
        "passphrase",
        help="set the passphrase that other devices sign in with",
        description="Ask twice for the passphrase that phones and other machines sign in with.",
    )
    _data(passphrase)
    passphrase.add_argument("--demo", action="store_true", help="the sample workshop instead of your own")

    bench = commands.add_parser("bench", help="measure how fast it is", description="Measure how fast Ubrex is.")
    bench.add_argument("--readings", type=int, default=200_000, help="readings in the large database (200000)")
    return top


def parse(arguments: list[str]) -> argparse.Namespace:
    """Options of a command line; what ``test`` does not know goes to pytest."""
    options, rest = parser().parse_known_args(arguments)
    if rest and options.command != "test":
        parser().error(f"unrecognized arguments: {' '.join(rest)}")
    if options.command == "test":
        options.pytest_args = [*options.pytest_args, *rest]
    return options


def _serving(command: argparse.ArgumentParser) -> None:
    command.add_argument("--port", type=_port, default=DEFAULT_PORT, help=f"port ({DEFAULT_PORT}; a busy one moves on)")
    command.add_argument("--host", default="127.0.0.1", help="address to listen on (127.0.0.1: this machine only)")
    command.add_argument(
        "--allow-host", action="append", default=[], metavar="NAME", help="another name this machine is asked for by"
    )
    _data(command)


def _data(command: argparse.ArgumentParser) -> None:
    command.add_argument("--data", type=Path, metavar="DIR", help="folder of the workshop's data")


def _port(text: str) -> int:
    port = int(text) if text.isdecimal() else 0
    if not 1 <= port <= 65535:
        raise argparse.ArgumentTypeError("a port is a number from 1 to 65535")
    return port
