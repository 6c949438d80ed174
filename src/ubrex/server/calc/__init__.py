"""calc."""
