"""What a machine may print, the test pieces it prints, and the files of others held against it."""

from ubrex.server.printing._files import compare_files, show_file_check, take_file_values
from ubrex.server.printing._pieces import (
    PrintedOn,
    Printing,
    layers_of_text,
    machine_limits,
    manner_of,
    most_tried,
    no_piece,
    piece_out,
    printed_on,
    printing_cautions,
    write_feed,
    write_feed_ladder,
    write_piece,
)
from ubrex.server.printing._start_form import Offer, StartReader, choice_field, moment_field, number_field

__all__ = [
    "Offer",
    "PrintedOn",
    "Printing",
    "StartReader",
    "choice_field",
    "compare_files",
    "layers_of_text",
    "machine_limits",
    "manner_of",
    "moment_field",
    "most_tried",
    "no_piece",
    "number_field",
    "piece_out",
    "printed_on",
    "printing_cautions",
    "show_file_check",
    "take_file_values",
    "write_feed",
    "write_feed_ladder",
    "write_piece",
]
