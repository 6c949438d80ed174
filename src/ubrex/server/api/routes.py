"""All routes, room by room. Each one: wire to use case, call, answer."""

from ubrex.server.api import of_attempts, of_faults, of_profile, of_runs, of_workshop
from ubrex.server.api.router import router

__all__ = ["of_attempts", "of_faults", "of_profile", "of_runs", "of_workshop", "router"]
