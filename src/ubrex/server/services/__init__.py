"""Use cases: one function for each thing a person does. Each takes a ``Work`` and runs inside one transaction."""
