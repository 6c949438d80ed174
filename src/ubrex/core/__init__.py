"""The rules of the job: pure functions on frozen records.

No I/O, clock, randomness, web or database in here; time and identity come in as arguments. Each package below has one
door, its ``__init__``; modules that start with ``_`` are private to it.
"""
