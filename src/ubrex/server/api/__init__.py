"""The web API under /api/v1: translates requests into use cases and their answers into JSON. Nothing else."""
