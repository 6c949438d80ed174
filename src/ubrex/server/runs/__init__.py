"""runs."""
