"""calibrations."""
