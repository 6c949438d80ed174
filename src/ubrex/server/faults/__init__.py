"""What is wrong, found by evidence: cases, the record's answers, the sheet."""

from ubrex.server.faults._calc import calc_diagnosis
from ubrex.server.faults._cases import (
    answer_fault,
    close_fault,
    list_faults,
    open_fault,
    reopen_fault,
    show_fault,
    take_back_answer,
)
from ubrex.server.faults._guides import show_guides

__all__ = [
    "answer_fault",
    "calc_diagnosis",
    "close_fault",
    "list_faults",
    "open_fault",
    "reopen_fault",
    "show_fault",
    "show_guides",
    "take_back_answer",
]
