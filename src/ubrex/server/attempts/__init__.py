"""Attempts at real parts: written down, compared, planned, photographed, looked at again."""

from ubrex.server.attempts._begun import begin, change_done, end_begun, list_begun
from ubrex.server.attempts._checked import differs_from_file
from ubrex.server.attempts._later import look, look_again
from ubrex.server.attempts._log import (
    both_of,
    list_prints,
    log_print,
    out_said,
    read_place,
    show_attempt_form,
    signs_said,
    withdraw_print,
)
from ubrex.server.attempts._part import plan_part, set_part_facts, show_margin_attempts, show_part
from ubrex.server.attempts._photos import ALBUM, add_print_photo, remove_print_photo, show_print_photo
from ubrex.server.attempts._plans import drop_plan
from ubrex.server.attempts._printed import export_prints
from ubrex.server.attempts._since import show_since
from ubrex.server.attempts._trials import end_trial, trials_now

__all__ = [
    "ALBUM",
    "add_print_photo",
    "begin",
    "both_of",
    "change_done",
    "differs_from_file",
    "drop_plan",
    "end_begun",
    "end_trial",
    "export_prints",
    "list_begun",
    "list_prints",
    "log_print",
    "look",
    "look_again",
    "out_said",
    "plan_part",
    "read_place",
    "remove_print_photo",
    "set_part_facts",
    "show_attempt_form",
    "show_margin_attempts",
    "show_part",
    "show_print_photo",
    "show_since",
    "signs_said",
    "trials_now",
    "withdraw_print",
]
