"""Runs, whatever they measure: started, read or rated, decided, listed, with their files and photographs."""

from ubrex.server.runs._decide import decide, leave
from ubrex.server.runs._export import export_readings
from ubrex.server.runs._files import Written, file_of, layers_of
from ubrex.server.runs._lists import PAGE, list_runs, recent_lines
from ubrex.server.runs._photos import add_photo, list_photos, remove_photo, show_photo
from ubrex.server.runs._rate import rate
from ubrex.server.runs._records import get_run, load_case, select_runs
from ubrex.server.runs._start import note_wet_test, show_piece, start_form, start_reprint, start_run
from ubrex.server.runs._take import (
    edit_run,
    preview_list,
    strike_reading,
    take_back,
    take_list,
    take_offset_over,
    take_reading,
    tick,
)
from ubrex.server.runs._view import show_method, show_run

__all__ = [
    "PAGE",
    "Written",
    "add_photo",
    "decide",
    "edit_run",
    "export_readings",
    "file_of",
    "get_run",
    "layers_of",
    "leave",
    "list_photos",
    "list_runs",
    "load_case",
    "note_wet_test",
    "preview_list",
    "rate",
    "recent_lines",
    "remove_photo",
    "select_runs",
    "show_method",
    "show_photo",
    "show_piece",
    "show_run",
    "start_form",
    "start_reprint",
    "start_run",
    "strike_reading",
    "take_back",
    "take_list",
    "take_offset_over",
    "take_reading",
    "tick",
]
