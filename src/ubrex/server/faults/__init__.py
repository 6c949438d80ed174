"""What is wrong, found by evidence: cases, the record's answers, the sheet, guides, and the page for somebody elsewhere."""

from ubrex.server.faults._calc import calc_diagnosis
from ubrex.server.faults._cases import (
    answer_fault,
    close_fault,
    list_faults,
    open_fault,
    reopen_fault,
    take_back_answer,
)
from ubrex.server.faults._found import holds_of
from ubrex.server.faults._guides import show_guides
from ubrex.server.faults._help import help_file, show_help
from ubrex.server.faults._let_go import remember_let_go
from ubrex.server.faults._photos import add_fault_photo, remove_fault_photo, show_fault_photo
from ubrex.server.faults._sheet import show_fault

__all__ = [
    "add_fault_photo",
    "answer_fault",
    "calc_diagnosis",
    "close_fault",
    "help_file",
    "holds_of",
    "list_faults",
    "open_fault",
    "remember_let_go",
    "remove_fault_photo",
    "reopen_fault",
    "show_fault",
    "show_fault_photo",
    "show_guides",
    "show_help",
    "take_back_answer",
]
