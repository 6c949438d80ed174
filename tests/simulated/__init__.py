"""Truths of our own and what the rules make of them: the standing judge behind ``docs/methods/evidence.md``."""
