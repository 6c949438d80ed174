"""What stands in the workshop and who works in it: machines and their parts, filaments, tools, people, setups."""

from ubrex.server.workshop._albums import Album
from ubrex.server.workshop._assembly import Pickable, assemble_setup, list_picks
from ubrex.server.workshop._backup import UnusableBackup, backup_bytes, read_backup, restore_bytes, write_backup
from ubrex.server.workshop._drying import dried_that_count, drying_asked
from ubrex.server.workshop._find import find_all
from ubrex.server.workshop._form_tables import screw_places
from ubrex.server.workshop._forms import keep_size, read_size, safety_fields, size_fields
from ubrex.server.workshop._instruments import (
    add_instrument,
    all_instruments,
    check_zero,
    instrument_out,
    length_tools,
    scale_on_record,
    zero_at,
)
from ubrex.server.workshop._inventory import (
    add_record,
    edit_record,
    list_filaments,
    list_machines,
    list_tools,
    retire_record,
    show_form,
)
from ubrex.server.workshop._people import add_person
from ubrex.server.workshop._pictures import read_photo
from ubrex.server.workshop._room import read_room, room_at, room_before, rooms_read, show_room
from ubrex.server.workshop._schools import Side, list_schools, schools_out, sides_of, take_side
from ubrex.server.workshop._scopes import owners, scope_keys
from ubrex.server.workshop._setups import (
    bounds_of,
    create_setup,
    feed_said,
    first_setup,
    get_setup,
    list_setups,
    nozzle_text,
    places_of,
    remove_setup,
    select_setups,
    setup_out,
    setup_title,
    setups_in_use,
    show_first_setup,
    show_setup,
    show_workshop,
    unit_of,
    unit_of_setting,
    usable_setup,
)
from ubrex.server.workshop._spool_log import add_spool_entry
from ubrex.server.workshop._wear import (
    PLATE_COUNTER,
    list_limits,
    set_limit,
    show_counters,
)

__all__ = [
    "PLATE_COUNTER",
    "Album",
    "Pickable",
    "Side",
    "UnusableBackup",
    "add_instrument",
    "add_person",
    "add_record",
    "add_spool_entry",
    "all_instruments",
    "assemble_setup",
    "backup_bytes",
    "bounds_of",
    "check_zero",
    "create_setup",
    "dried_that_count",
    "drying_asked",
    "edit_record",
    "feed_said",
    "find_all",
    "first_setup",
    "get_setup",
    "instrument_out",
    "keep_size",
    "length_tools",
    "list_filaments",
    "list_limits",
    "list_machines",
    "list_picks",
    "list_schools",
    "list_setups",
    "list_tools",
    "nozzle_text",
    "owners",
    "places_of",
    "read_backup",
    "read_photo",
    "read_room",
    "read_size",
    "remove_setup",
    "restore_bytes",
    "retire_record",
    "room_at",
    "room_before",
    "rooms_read",
    "safety_fields",
    "scale_on_record",
    "schools_out",
    "scope_keys",
    "screw_places",
    "select_setups",
    "set_limit",
    "setup_out",
    "setup_title",
    "setups_in_use",
    "show_counters",
    "show_first_setup",
    "show_form",
    "show_room",
    "show_setup",
    "show_workshop",
    "sides_of",
    "size_fields",
    "take_side",
    "unit_of",
    "unit_of_setting",
    "usable_setup",
    "write_backup",
    "zero_at",
]
