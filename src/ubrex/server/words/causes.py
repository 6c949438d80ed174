"""What people see, what may be behind it, what mends it, and what stops everything."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final, NamedTuple

COMPLAINTS: Final[Mapping[str, tuple[str, str]]] = {
    "c_nothing_start": ("No plastic comes when it starts", "nothing empty air printing no extrusion blank"),
    "c_first_missing": ("The first layers are missing, the rest is there", "starts late blank first layer"),
    "c_stopped": ("It stopped feeding half way", "stops mid print clicking no more plastic air jam"),
    "c_thin": ("Lines are thin, walls spongy, layers come apart", "weak brittle sponge starved underextrusion"),
    "c_split": ("It split along a layer, higher up", "crack cracked delaminated split"),
    "c_strings": ("Strings between parts", "hair cobweb stringing ooze whiskers"),
    "c_pops": ("It pops and bubbles, the skin is rough", "crackle steam hiss foam wet"),
    "c_corner_lift": ("A corner came up", "warp warping curl lifted corner"),
    "c_no_stick": ("It does not stick to the plate at all", "spaghetti slides loose adhesion nest"),
    "c_first_uneven": ("The first layer is different from place to place", "uneven bed level patchy"),
    "c_knocked": ("The part was knocked off", "spaghetti knocked loose came off fell"),
    "c_foot": ("The bottom edge stands out", "elephant flare squashed wide base"),
    "c_stuck": ("It will not come off the plate", "stuck welded glued bed"),
    "c_blobs_low": ("Blobs near the plate", "lumps bottom"),
    "c_blobs": ("Blobs and warts on the walls", "zits lumps pimples"),
    "c_corners": ("Corners are too fat, or hollow", "bulge rounded corners"),
    "c_top_proud": ("The top is too full, the nozzle scrapes", "knocking scraping overfull"),
    "c_top_gaps": ("The top has gaps", "holes in top pillowing open"),
    "c_curl": ("Overhangs curl up or hang down", "droop sag bridging underside"),
    "c_seam": ("A gap or a scar where lines begin", "zipper line scar seam"),
    "c_shift": ("Layers are shifted sideways", "offset step slipped moved"),
    "c_echo": ("Ripples beside corners", "ringing ghost waves vibration"),
    "c_air": ("From one height on it printed in the air", "floating gap nothing height"),
    "c_wavy": ("Upright walls are wavy", "banding ripples wobble ribs"),
    "c_uneven": ("Lines are thick here and thin there", "irregular inconsistent"),
    "c_holes": ("Holes, or foam that is not even", "pits pores"),
    "c_scatter": ("Some prints start too high, some too low", "sometimes random start height"),
    "c_crash": ("It runs into something when it homes", "crash homing grinding bang"),
    "c_temp": ("It does not reach its heat, or swings", "temperature heat error thermal"),
    "c_above": ("Plastic comes out above the nozzle", "leak oozing block"),
    "c_blob": ("A lump of plastic sits round the hotend", "blob death swallowed buried"),
    "c_smell": ("It smells burnt, or smokes", "smoke burning fire smell hot plastic"),
    "c_runout": ("The filament sensor says the wrong thing", "sensor runout false pause"),
    "c_overload": ("The feeder pulls too hard", "grinding straining skipping motor clicking"),
    "c_noload": ("Filament does not go in, or does not come out", "load unload stuck change"),
    "c_support": ("Support does not come off", "support stuck welded fused"),
    "c_tight": ("Parts fit too tight", "tight does not fit jam assembly"),
    "c_specks": ("Dark specks in the plastic", "burnt black bits dirt"),
}
"""What people see, and everyday words by which it is found."""

CAUSES: Final[Mapping[str, str]] = {
    "wrong_profile": "Settings of another spool",
    "foreign_file": "A file made for another machine",
    "bad_file": "A damaged file or card",
    "too_low": "Nozzle too close to the plate",
    "too_high": "Nozzle too far from the plate",
    "bed_uneven": "Plate tilted or bent",
    "empty_melt": "The hotend was empty when it began",
    "nozzle_blocked": "Nozzle clogged",
    "nozzle_partly": "Nozzle half clogged",
    "gear_slip": "The gear slips on the filament",
    "gear_jam": "Filament jammed in the gears",
    "sink_fan": "The heat sink is not cooled",
    "warm_air": "Too warm round the hotend",
    "tube_gap": "A gap where the tube ends",
    "tube_worn": "Tube or liner worn or tight",
    "too_cold": "Not hot enough for this speed",
    "too_hot": "Too hot for this filament",
    "fan_strong": "Too much wind on the part",
    "fan_weak": "Too little wind on the part",
    "sensor_high": "Display shows more than there is",
    "heater_limit": "The heater has nothing left",
    "heat_control": "Heat not held steady, or no sock",
    "sensor_loose": "A loose lead of sensor or heater",
    "motor_weak": "The feed motor gives too little",
    "spool_drag": "The spool holds the filament back",
    "ran_out": "The spool is empty",
    "snapped": "The filament broke on its way",
    "wet": "Wet filament",
    "retract_short": "Pulled back too little",
    "retract_long": "Pulled back too far",
    "travel": "Ways that lead over the part",
    "pressure": "Pressure compensation wrong",
    "seam": "Seam settings that do not fit",
    "over_feed": "Too much plastic",
    "under_feed": "Too little plastic",
    "diameter": "Filament of uneven thickness",
    "nozzle_worn": "Nozzle worn out",
    "plate_dirty": "Dirty plate",
    "surface_wrong": "The wrong surface for this filament",
    "bed_cool": "Plate too cool",
    "bed_hot": "Plate too hot near the bottom",
    "draught": "Cold air on the part",
    "shrink": "It shrinks harder than it holds",
    "weak_contact": "Too little of it touches the plate",
    "curl_hit": "The nozzle hit something that stood up",
    "belt": "A slack or worn belt",
    "grub": "A loose screw on a pulley",
    "play": "Play in head, carriage or wheels",
    "binding": "An axis that runs hard",
    "twin": "Two sides of the bridge out of step",
    "driver_hot": "A motor driver that overheats",
    "accel": "Too much jolt for its weight",
    "snag": "A cable or tube that catches",
    "frame": "Loose frame screws",
    "probe_scatter": "A probe that does not repeat",
    "probe_fault": "A broken probe or switch",
    "stack_thick": "The plate is thicker than on record",
    "runout_stuck": "The filament sensor is stuck",
    "leak": "The nozzle leaks",
    "hot_touch": "Tube or cable on something hot",
    "wiring": "A damaged or overheated wire",
    "blob": "A lump has closed round the hotend",
    "support": "Support too close",
    "foam_past": "Foam past its peak",
    "part_stuck": "It holds too well",
    "other": "Something that is not on this list",
}

REMEDIES: Final[Mapping[str, tuple[str, str]]] = {
    "m_profile": ("Take the settings of this spool and slice again", "the file says the numbers of the profile"),
    "m_reslice": (
        "Slice again for this machine, onto a freshly formatted card",
        "the file check finds nothing, and that place prints whole",
    ),
    "m_raise": (
        "Raise the offset by 0.02 at a time, watching a wide pad",
        "a flat pad without ridges, at three starts in a row",
    ),
    "m_lower": (
        "Lower the offset by 0.02 at a time, watching a wide pad",
        "lines that touch, at three starts in a row",
    ),
    "m_level": ("Tighten what is loose, level, then set the offset", "nine patches that are alike"),
    "m_prime": (
        "Begin with more loops round the part and no long wait hot",
        "a first loop that is whole from its start",
    ),
    "m_clear": (
        "Free the nozzle, the mildest step first",
        "a straight strand into the air, then a short, an ordinary and a long print",
    ),
    "m_nozzle": ("Fit a new nozzle, tightened as its maker says", "a straight strand, and the wall that flow gives"),
    "m_gear": ("Cut the bitten end off, clean the teeth, set the tension", "even marks of teeth after 20 min"),
    "m_jam": ("Free the tube, cut the filament, take it out of the gears", "in and out three times without help"),
    "m_sinkfan": (
        "Clean the fan of the heat sink and its plug; a slow one is replaced",
        "a heat sink that is hand-warm after an hour, and a clean long print",
    ),
    "m_door": (
        "Open the door with filament that softens early",
        "a heat sink that stays hand-warm through the longest print",
    ),
    "m_tubehome": (
        "Cut the tube square, push it home, set the coupling",
        "no movement at the coupling, then a short, an ordinary and a long print",
    ),
    "m_tube": ("Fit a new tube or liner", "a loose piece slides through, and pushing is easy"),
    "m_hotter": ("Five degrees hotter inside every limit, or slower", "layers that hold where it is fastest"),
    "m_cooler": ("Cooler by five degrees at a time", "fewer strings, layers that still hold"),
    "m_fanless": ("Wind down to what the family likes, rising slowly", "the height where it began prints whole"),
    "m_fanmore": ("More wind, or more time for a layer", "the same place comes out clean"),
    "m_heatcheck": ("Do a heat check, and set what gives the true heat", "pushing is easy at the heat that is set"),
    "m_heater": (
        "Ask for less heat, shield the block, or fit a stronger heater",
        "it holds its heat for ten minutes with the fan on",
    ),
    "m_control": ("Fit the sock, turn the wind away, tune the heater anew", "within 2 °C for ten minutes"),
    "m_sensor": (
        "Off, unplugged and cold: seat or replace lead and plug",
        "no jump while the head goes everywhere; stay with the first print",
    ),
    "m_motor": (
        "Cool the motor first; its current last, within what its maker states",
        "no clicks where it is fastest",
    ),
    "m_spool": (
        "Free the coil, cut a taped end, straighten the way in",
        "it turns with one finger, and the last windings print",
    ),
    "m_load": ("Put the next spool on, and weigh it", "more on it than the print needs"),
    "m_path": ("Take the piece out, cut back to where it bends, dry it", "a piece that bends without breaking"),
    "m_dry": ("Dry it as its family wants, and keep it closed", "no pops when it is fed into the air"),
    "m_retract": ("Pull back a little more, step by step", "clean posts, no clicks"),
    "m_unretract": ("Pull back less, down to the least that is good enough", "no bites after 200 pulls"),
    "m_travel": ("Let it travel straight, and hop above what stands up", "no scars along the ways"),
    "m_pressure": ("Find the pressure value, then look at retraction and seam again", "corners like the walls"),
    "m_seam": ("Less seam gap, step by step, one setting a print", "a ring without gap or wart"),
    "m_flow": ("Check the e-steps, then the flow", "a wall inside its band, an even top"),
    "m_sort": ("Measure, enter the diameter, or put the spool aside", "an even wall over five metres"),
    "m_wash": ("Wash the plate, dry it, keep fingers off", "the drop spreads, and the next first layer holds"),
    "m_surface": (
        "Choose a surface for this filament, and note how it lets go",
        "it holds to the end and lets go as noted",
    ),
    "m_bedup": ("Plate warmer by five degrees at a time, soaked through", "corners that are down at the end"),
    "m_beddown": ("Plate cooler by five degrees after the first layers", "a straight edge that still holds"),
    "m_shield": ("Shut the door, put up a screen, warm the room", "no split and no lift in the same part"),
    "m_brim": ("A brim, rounder corners, slower first layers", "corners that stay within what the part allows"),
    "m_hop": ("More cooling, flow checked, a higher and quicker hop", "no scrape in the next tall part"),
    "m_belt": ("Tension the belts, or replace them", "both runs alike, and no shift in two tall parts"),
    "m_grub": ("Tighten the screw on the flat of the shaft", "the mark stands where it was after the next print"),
    "m_play": (
        "Set wheels and guides so that play is only just gone",
        "nothing rocks, and an upright wall is straight",
    ),
    "m_bind": ("Clean, grease and square the guide", "it runs evenly by hand the whole way"),
    "m_twin": ("Square both sides against the frame", "both sides equal after ten ways up and down"),
    "m_driver": ("Give the driver air; its current within what its maker states", "cool after the print that failed"),
    "m_accel": ("Less acceleration for tall parts", "two tall parts without a shift"),
    "m_snag": (
        "Off and cold: clip cables and tube clear, replace what is singed",
        "free in all corners; stay with the first print",
    ),
    "m_frame": ("Tighten the frame on a flat table", "it does not rock, and patches are alike"),
    "m_probe": ("Clean and tighten probe and holder, and let it be cool", "ten touches within the limit, twice"),
    "m_probefix": ("Off: replace lead, pin or switch", "ten right answers; a hand on the switch at the first homing"),
    "m_stack": (
        "Seat the plate, write its thickness down, move the offset",
        "it homes with a gap, and the pad is right",
    ),
    "m_runout": ("Free the lever and try it with and without filament", "right three times each"),
    "m_leak": ("Stop, let cool, clean, tighten as its maker says", "no plastic above after an hour hot"),
    "m_wire": (
        "Leave it off; somebody licensed mends it where that is the rule",
        "cool plugs under load; stay with the first print",
    ),
    "m_blob": (
        "Heaters off; then warm it softly in small steps, leads last",
        "the card safe to tune first, then heat, level and offset",
    ),
    "m_support": ("More gap, an even roof, no wall line round it", "it comes off as it should"),
}
"""What mends, and what must be seen afterwards."""

STOP: Final[Mapping[str, tuple[str, tuple[str, ...]]]] = {
    "off_at_switch": ("Off at the switch, now", (
        "Off at the switch. If the switch is not safe to reach, pull the plug.",
        "Flames: everybody out, then call for help. Nobody goes back for a machine.",
        "Air the room and leave it until it is clear; birds out first. Do not sniff for where it comes from.",
        "Cold and unplugged: look where tube and cables run.",
        "Not on again before what touched is clipped away and what is singed is replaced.",
    )),
    "heaters_off": ("Heaters off", (
        "Heaters off. If it still rises: off at the switch.",
        "Stay with it until it shows less than 50 °C.",
        "No second try before sensor, heater and their leads were looked at, cold and unplugged.",
    )),
    "heaters_off_do_not_tear": ("Heaters off, hands off", (
        "Stop the print. Heaters off.",
        "Do not pull at it: the leads of sensor and heater are in there.",
        "Take a photo. Then warm it softly in small steps, as its maker says.",
    )),
    "stop_let_cool": ("Stop and let it cool", (
        "Stop the print. Heaters off; the fan of the heat sink stays on until it shows less than 50 °C.",
        "Take a photo of where the plastic comes out.",
        "Cold: clean it, and tighten the nozzle as its maker says.",
    )),
    "leave_off": ("Leave it off", (
        "Leave it off and unplugged.",
        "Work on the mains side belongs to somebody licensed, where local rules say so.",
    )),
}  # fmt: skip
"""What stops everything: a title, and its steps in order."""

STOPS_SEEN: Final[Mapping[str, str]] = {
    "off_at_switch": "It smells burnt, smokes or burns",
    "heaters_off": "The heat runs away, or jumps",
    "stop_let_cool": "Plastic comes out above the nozzle",
    "heaters_off_do_not_tear": "A lump sits round the hotend",
    "leave_off": "A wire or a plug is damaged",
}
"""What is seen, for each that stops everything; the worst first."""

CAUTIONS: Final[Mapping[str, str]] = {
    "burn": "Hot: nozzle and plastic burn. Tools, not fingers.",
    "back_face": "Face back: it can spit when it is pushed.",
    "pinch": "Moving: fingers out of axes and gears.",
    "idle": "Heaters off, nothing running, motors off before you touch it.",
    "blade": "Blade: cut away from your hand.",
    "cool_down": "Leave the power on until it shows less than 50 °C: heat climbs.",
    "mains": "Mains: switched off, unplugged, cold. The supply side is for somebody licensed.",
    "fumes": "Fumes: air the room.",
    "limit": "Never beyond the strictest limit of hotend, liner, plate and surface.",
    "jam": "Stop at the first click or grind.",
    "solvent": "Solvents: a cold plate only, away from the machine, no flame, aired.",
    "fire": "Fire: nothing that burns near hot parts; electronics need air.",
    "eyes": "Eyes: a brittle piece flies.",
    "maker": "The maker's order, heat and torque come first.",
}


class Found(NamedTuple):
    """Something that is found on the way: what it is, what mends it, and whether it is unsafe."""

    text: str
    remedy: str | None
    unsafe: bool = False


FOUND: Final[Mapping[str, Found]] = {
    "wire": Found("A wire is chafed or loose", "m_wire", unsafe=True),
    "plug": Found("A plug is brown or loose", "m_wire", unsafe=True),
    "above": Found("Plastic above the nozzle", "m_leak", unsafe=True),
    "touch": Found("Tube or cable comes near heat", "m_snag", unsafe=True),
    "sock": Found("The sock is torn or missing", "m_control"),
    "dust": Found("Dust in the fan of the heat sink", "m_sinkfan"),
    "fibre": Found("Fibre or glitter went through a soft nozzle", "m_nozzle"),
    "worn": Found("The bore of the nozzle is worn", "m_nozzle"),
    "tube": Found("The end of the tube is singed or askew", "m_tube"),
    "teeth": Found("The teeth of the gear are full", "m_gear"),
    "play": Found("Something has play", "m_play"),
    "belt": Found("A belt is slack or frayed", "m_belt"),
    "screw": Found("A screw was loose", "m_grub"),
    "plate": Found("The plate is greasy", "m_wash"),
}
"""What people find while they look for something else."""
