"""Ubrex: measurements in, corrections with a stated uncertainty out, and a record that is never erased."""

__version__ = "0.1.0"
