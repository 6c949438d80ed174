"""The bench: tonight's numbers, what they are good enough for, where each row stands, what is next, and why."""

from ubrex.server.bench._bench import add_note, show_bench
from ubrex.server.bench._overview import show_setups
from ubrex.server.bench._preflight import show_preflight

__all__ = ["add_note", "show_bench", "show_preflight", "show_setups"]
