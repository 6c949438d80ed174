"""What is said of faults: what people see, what may be behind it, how to look, and what mends it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final, NamedTuple

from ubrex.core.attempts import Qualified
from ubrex.core.chain import KINDS, Kind, Step
from ubrex.server.words.numbers import NBSP, plain
from ubrex.server.words.standing import STEP_NAMES

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

QUESTIONS: Final[Mapping[str, str]] = {
    "f_profile": "Are these the settings for the spool that is in it, in the sliced file too?",
    "f_follows": "Where does the fault go along: with the machine, the spool, the file, the plate?",
    "t_spool": "Another spool on this machine: does it print well?",
    "t_file": "Another file, sliced here: does it print well?",
    "t_plate": "On another plate or another corner: does it hold?",
    "t_machine": "This spool on another machine: does it print well?",
    "when": "When did it begin?",
    "onset": "Did it come at once, slowly, or was it always there?",
    "often": "How often does it happen?",
    "pattern": "How is it spread over the part?",
    "onset_fan": "Does it begin where fan or speed reach their full value?",
    "gap": "Seen from the side: is there air between nozzle and plate?",
    "skirt": "How does the very first line lie?",
    "later": "Does plastic come by itself after a while?",
    "level_said": "Did somebody level the plate?",
    "waited_hot": "Did it stand hot for more than five minutes first?",
    "push": "Hot and by hand: how does it go through?",
    "notch": "What does the filament look like where the gear held it?",
    "teeth": "What do the teeth of the gear look like?",
    "tension": "Pulled by hand at the gear, cold: does it hold?",
    "tip": "Pulled out hot: what is its end like?",
    "went_back": "Could it pull the filament back out by itself?",
    "drip": "Is there a drop on top of the unfinished part?",
    "clicks": "Does the feed motor click or jump back?",
    "sink_touch": "How warm is the heat sink?",
    "sink_look": "How does the fan of the heat sink turn?",
    "coupling": "Can the tube be moved in its coupling?",
    "tube_end": "Cold and taken out: what is the end of the tube like?",
    "tube_slide": "A loose piece of filament in the tube: how does it slide?",
    "door": "Was the door shut, with a filament that softens early?",
    "true_temp": "A probe against the display: what does it say?",
    "hotter": "Five to ten degrees more: what changed?",
    "cooler": "Ten degrees less: what changed?",
    "slower": "At half the speed: is it better?",
    "fan_trial": "With half the wind: what changed?",
    "sock": "Is the sock on, and does no wind hit the block?",
    "ripple": "With a steady target, how does the shown heat behave?",
    "power": "How hard does the heater work to stay there?",
    "strand": "Fed into the air: what does it look like?",
    "feed100": "100 mm asked for in open air: how much went in?",
    "wall": "Wall of a hollow box, measured?",
    "diam": "Filament measured at three places?",
    "spiral": "One wall in one unbroken spiral: is it clean?",
    "dried": "After drying: is it better?",
    "retract": "Pulled back a little more: is it better?",
    "retract_less": "Pulled back a little less: is it better?",
    "over_walls": "Are there scars or strings along the ways it travels?",
    "pressure_try": "In bands of pressure: is another value better?",
    "seam_try": "With a smaller seam gap: is it better?",
    "back_program": "With the old program's numbers in the new one: what follows?",
    "file_check": "What did the file check say?",
    "file_size": "How large is the file, for such a part?",
    "layer_view": "Drawn layer by layer: is that height whole?",
    "same_height": "Printed again: where did it happen?",
    "mark": "Is there a struck edge or a scrape at that place?",
    "axis": "Along which axis?",
    "belt_feel": "Pressed with a thumb: how are the belts?",
    "grub_look": "Shaft marked, pulley held: does the screw hold?",
    "rock": "Rocked by hand: is there play in head or carriage?",
    "slide": "Motors off, pushed along: does it run evenly?",
    "twin_look": "Are both sides of the bridge equally high?",
    "cable_look": "In all corners and at the top: are cables and tube free?",
    "frame_look": "On a flat table: does it rock, do screws turn?",
    "driver_touch": "Right after the fault: is a driver or a motor too hot?",
    "accel_try": "With half the acceleration: is it gone?",
    "small_fine": "Are small parts good, and only large ones come up?",
    "one_side": "Does it come up on the side of a door or window?",
    "water": "A drop of water on the cold plate: what does it do?",
    "wash_try": "After washing: does it hold?",
    "bed_true": "Soaked through: how warm is the plate really?",
    "bed_try": "Five degrees more on the plate: does it hold?",
    "squish_try": "Offset lower by 0.02, twice: does it hold?",
    "raise_try": "Offset higher by 0.02, up to three times: is it better?",
    "patches": "Nine patches: how do they compare?",
    "shield": "With the door shut or a screen: does it hold?",
    "brim_try": "With a brim: does it hold?",
    "hop_look": "Is the hop lower than half a layer, or are ways led round?",
    "top_feel": "Under a finger: does the top stand out?",
    "bottom_edge": "Is it wider at the bottom than above?",
    "probe_rep": "The probe ten times at one place: how far apart?",
    "probe_look": "Worked by a finger: does probe or switch answer each time?",
    "stack": "Is the plate as thick as on record, and well seated?",
    "runout_test": "With and without filament: is the sensor right?",
    "spool_turn": "Does the spool turn easily, with nothing crossed?",
    "spool_left": "Is it the last quarter of the spool?",
    "end_there": "Is there filament all the way to the gears?",
    "bend": "A piece bent round a finger: what does it do?",
    "above": "Is there plastic above the nozzle?",
    "touch": "Does tube or cable touch the block, or look singed?",
    "wire_look": "Unplugged: is a plug brown, a wire stretched or twisted?",
    "bore": "Under a lens: is the bore round and its size?",
    "support_try": "With more gap: does the support come off?",
    "removal": "Was it taken off as this pair likes it?",
    "r_nozzle": "Was nozzle or hotend worked on since?",
    "r_tube": "Was tube or coupling touched since?",
    "r_gear": "Was extruder, gear or tension touched since?",
    "r_plate": "Was the plate changed, touched, or washed with something new?",
    "r_wash": "More prints since its wash than the plate takes?",
    "r_firmware": "Was firmware flashed, or settings reset?",
    "r_program": "Was the slicing program or profile changed?",
    "r_spool": "Is it a new spool since it was good?",
    "r_speed": "Was speed or acceleration raised?",
    "r_moved": "Was it moved, bumped, or were screws turned?",
    "r_room": "Is the room cold, draughty, or another season?",
    "r_dry": "Is it longer since drying than this family stands?",
    "r_wear": "Is the nozzle past its grams?",
    "r_hours": "Are tube, belts or fan past their hours?",
    "r_melt": "Does the file ask for more than was measured here?",
    "r_residue": "Was a family before it that wants it much hotter?",
    "r_filled": "Did particles go through this nozzle lately?",
    "r_jams": "Is it the third stop in two weeks?",
    "r_pull": "Is it pulled back farther than this feed path takes?",
    "r_zstale": "Is the Z-offset stale or never measured?",
    "r_flow": "How old is the flow on record?",
    "r_fan": "Is the fan outside what this family likes?",
    "r_bed": "Is the plate cooler than label or family say?",
    "r_temp": "How does the nozzle's heat stand to label and family?",
    "r_tall": "Is it a tall part on a small foot?",
    "r_heat": "How old is the heat check?",
}

ANSWERS: Final[Mapping[str, str]] = {
    "no pattern": "no rule to it",
    "minutes in": "after some minutes",
    "after an hour or more": "after an hour or later",
    "always at one height": "at one height each time",
    "creeping": "slowly worse",
    "since the setup was made": "always, since it was set up",
    "some prints": "now and then",
    "once": "one time",
    "everywhere alike": "the same all over",
    "comes and goes": "now more, now less",
    "repeats at a pitch": "again and again, evenly spaced",
    "at stops and starts": "where lines begin and end",
    "one direction only": "in one direction",
    "only near the plate": "near the plate only",
    "in fast places": "where it is fast",
    "flat and joined": "flat, side by side",
    "blank, then blobs and waves": "nothing, then lumps",
    "ploughed or see-through": "scratched or see-through",
    "round and loose": "round, not held",
    "differs by place": "different by place",
    "nothing at all": "nothing",
    "after a few cm": "after a few centimetres",
    "from a certain layer on": "from some layer on",
    "runs freely": "easily",
    "hard, or thin": "hard, or only a thread",
    "not at all": "not at all",
    "even tooth marks": "even marks of teeth",
    "notch or powder": "a notch, or powder",
    "folded or wrapped": "folded or wound up",
    "full of dust": "full of dust",
    "thin and clean": "drawn thin, clean",
    "fat or mushroomed": "thick, like a mushroom",
    "bitten": "bitten into",
    "will not come": "does not come out",
    "broken off above": "broken off higher up",
    "hand-warm": "hand-warm at most",
    "blows well": "it blows well",
    "slow, noisy or blocked": "slow, loud or clogged",
    "square and home": "cut square, all the way in",
    "gap, burnt or askew": "gap, singed or askew",
    "really cooler": "really cooler than shown",
    "really hotter": "really hotter than shown",
    "swings slowly": "up and down slowly",
    "falls short": "does not get there",
    "has room": "it has some left",
    "always full": "always at full power",
    "straight and even": "straight, even",
    "curls to one side": "curls away",
    "bubbles or pops": "bubbles, pops",
    "off or uneven": "off, or uneven",
    "no, it stays with the new program": "the fault stays",
    "yes, it follows the values": "it goes with the numbers",
    "broken: cut off, jump or empty band": "damaged: cut off, a jump, an empty band",
    "settings that do not fit": "settings that do not fit here",
    "hole or jump": "a hole or a jump",
    "another height": "somewhere else",
    "no one axis": "no axis in particular",
    "the axis that moves the bed": "the one that moves the plate",
    "the other": "the other one",
    "firm and alike": "firm, both alike",
    "slack or worn": "slack or worn",
    "stiff places": "stiff in places",
    "out": "not equal",
    "firm": "firm",
    "spreads": "it spreads",
    "beads": "it stands as a bead",
    "thicker or not seated": "thicker, or not seated",
    "broken piece": "a broken piece",
    "worn or oval": "worn, or not round",
    "fresh": "fresh",
    "stale or never measured": "stale or never measured",
    "inside": "within",
    "below": "too cool",
    "above": "too hot",
}
"""Answers as they are read, where their key says it in other words."""

CHECKS: Final[Mapping[str, str]] = {
    "k_profile": "Hold spool, settings and sliced file side by side",
    "k_follows": "Think what the fault goes along with",
    "k_record": "Ask the record what changed",
    "k_when": "Say when it began",
    "k_pattern": "See how it is spread over the part, in slanting light",
    "k_gap": "Look from the side while the first line is laid",
    "k_skirt": "Look at the first line",
    "k_later": "Wait a little: does plastic come by itself?",
    "k_level": "Say whether somebody levelled it",
    "k_push": "Heat it, open the grip, and push by hand",
    "k_notch": "Open the feeder and look at filament and teeth",
    "k_grip": "Pull at the filament by hand, cold",
    "k_tip": "Heat it, pull the filament out, look at its end",
    "k_back": "Say whether it came out by itself",
    "k_drip": "Look for a drop on top of the part",
    "k_clicks": "Listen at the feed motor",
    "k_sink": "Feel how warm the heat sink is, or hold a probe to it",
    "k_sinkfan": "Watch the fan of the heat sink turn",
    "k_coupling": "Push and pull the tube in its coupling",
    "k_tubeend": "Let it cool, take the tube out, look at its end",
    "k_tubeslide": "Push a loose piece of filament through the tube",
    "k_door": "Say whether the door was shut",
    "k_truetemp": "Hold a probe in the nozzle against the display",
    "k_hotter": "Print a small piece five degrees hotter",
    "k_cooler": "Print a small piece ten degrees cooler",
    "k_slower": "Print a small piece at half the speed",
    "k_fan": "Print a small piece with half the wind",
    "k_sock": "See whether the sock is on and no wind hits the block",
    "k_ripple": "Watch the shown heat for two minutes",
    "k_air": "Feed 50 mm into the air and look at it",
    "k_feed100": "Mark 120 mm, feed 100, measure what is left",
    "k_wall": "Print a hollow box and measure its wall",
    "k_diam": "Measure the filament at three places",
    "k_spiral": "Print one wall as an unbroken spiral",
    "k_dry": "Dry it, then print the small piece again",
    "k_retract": "Print two posts, pulled back a little more",
    "k_retractless": "Print two posts, pulled back a little less",
    "k_ways": "Look along the ways between parts",
    "k_pressure": "Print a tower with bands of pressure",
    "k_seam": "Print a ring with a smaller seam gap",
    "k_program": "Carry the old numbers over and print",
    "k_file": "Run the file check",
    "k_size": "Hold the size of the file against its like",
    "k_view": "Look at that height, drawn layer by layer",
    "k_again": "Print it once more and watch that height",
    "k_mark": "Look for a struck edge at that place",
    "k_axis": "Say which way it went",
    "k_belt": "Press the belts with a thumb",
    "k_grub": "Mark shaft and pulley, turn by hand",
    "k_rock": "Rock head and carriage by hand",
    "k_slide": "Motors off, push each axis the whole way",
    "k_twin": "Measure both sides of the bridge",
    "k_cable": "Drive to all corners and the top, watch cables and tube",
    "k_frame": "Press on the corners, try the screws",
    "k_driver": "Measure driver and motor right after the fault",
    "k_accel": "Print it with half the acceleration",
    "k_small": "Say whether small parts are good",
    "k_side": "See which side comes up",
    "k_water": "Put a drop of water on the cold plate",
    "k_wash": "Wash the plate, print the first layers",
    "k_bedtrue": "Hold a probe on the plate after twenty minutes",
    "k_bed": "Print the first layers with five degrees more on the plate",
    "k_squish": "Lower the offset by 0.02 at a time on a wide pad",
    "k_raise": "Raise the offset by 0.02 at a time on a wide pad",
    "k_patches": "Print nine patches and compare them",
    "k_shield": "Shut the door or put up a screen, print again",
    "k_brim": "Print it again with a brim",
    "k_top": "Feel the top with a finger, cold",
    "k_edge": "Measure the part at the bottom edge and above",
    "k_probe": "Probe ten times at one place",
    "k_switch": "Work probe or switch by a finger",
    "k_stack": "Measure the plate, look how it sits",
    "k_runout": "Try the filament sensor with and without",
    "k_spool": "Turn the spool by hand, look at the windings",
    "k_end": "Look whether filament reaches the gears",
    "k_bend": "Bend a piece round a finger",
    "k_above": "Look above the nozzle",
    "k_touch": "Look where tube and cables run",
    "k_wire": "Unplugged and cold: look at plugs and wires",
    "k_bore": "Let it cool, look at the bore through a lens",
    "k_support": "Print a small piece with more gap below the support",
    "k_otherspool": "Print with a spool that is known to be good",
    "k_otherfile": "Slice a small part yourself and print it",
    "k_otherplate": "Print on another plate, or in another corner",
    "k_othermachine": "Print from this spool on another machine",
    "k_strip": "Let it cool, take the hotend apart as its maker says",
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

STATES: Final = {
    "as_it_stands": "as it stands",
    "cold": "cold",
    "hot": "hot",
    "prints": "prints something",
    "dry": "hours in the dryer",
    "record": "from the record",
}

WHERE: Final = "Where on the part"
MENDED: Final = "mended"


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

FIELDS: Final = ((0.03, "set aside"), (0.20, "possible"), (0.55, "likely"), (0.85, "most likely"), (2.0, "nearly sure"))
"""Odds in words, up to which share."""

NOTHING_YET: Final = "usual for this, nothing looked at yet"
NOTHING_TOLD: Final = "nothing that was looked at says much of it"
OFF_LIST: Final = "None of these fits well. Show somebody what is known; a photo of what you see helps most."
CLOSED: Final = "Closed."
NO_SUCH: Final = "There is no such answer."
NOT_OPEN: Final = "This case is closed. Open it again first."
EMPTY_CAUSE: Final = "Say what it was."
RESULTS: Final = {"no change": "no change", "better": "better, not gone", "gone": "gone"}


def answer_text(answer: str) -> str:
    """An answer as it is read."""
    return ANSWERS.get(answer, answer)


def field_said(share: float) -> str:
    """Odds in words."""
    return next(word for most, word in FIELDS if share < most)


def place_of(share: float) -> float:
    """Where odds stand on a scale whose fields are as wide as each other: 0 to 1; *nearly sure* ends the last one."""
    limits = [0.0, *(most for most, _ in FIELDS[:3]), 1.0]
    at = next(place for place in range(4) if share <= limits[place + 1])
    return (at + (share - limits[at]) / (limits[at + 1] - limits[at])) / 4


def tenths_said(share: float) -> str:
    """Odds in tenths, never as a bare per cent."""
    tenths = round(10 * share)
    return {0: "less than 1 in 10", 10: "more than 9 in 10"}.get(tenths, f"about {tenths} in 10")


def reason_said(what: str, answer: str) -> str:
    """A finding, or a remedy that was tried, as a reason."""
    if what in REMEDIES:
        return f"{REMEDIES[what][0].lower()}: {RESULTS[answer]}"
    return f"{QUESTIONS[what].rstrip('?').lower()}: {answer_text(answer)}"


def because_said(pro: Sequence[str], con: Sequence[str], *, looked: bool) -> str:
    """Why a cause stands where it stands; ``looked``: whether anything was found at all."""
    if not pro and not con:
        return NOTHING_TOLD if looked else NOTHING_YET
    parts = [f"because {'; '.join(pro)}"] if pro else []
    parts += [f"speaks against it: {'; '.join(con)}"] if con else []
    return ". ".join(parts)


def check_verdict(first: str, second: str, minutes: float) -> str:
    """Look once more, and what that would tell apart."""
    return f"Look once more: {plain(minutes)}{NBSP}min would tell “{first}” from “{second}”."


def try_verdict(remedy: str, share: float, *, unsure: bool) -> str:
    """What to try."""
    if unsure:
        return f"Not sure, but cheap: {remedy}."
    return f"Try this: {remedy}. That it is this, {tenths_said(share)}."


def then_said(seen: str) -> str:
    """What must be seen before it counts."""
    return f"Only then: {seen}."


def reopened_said(closed: str, again: str, cause: str, note: str) -> str:
    """A case that came again, with what was noted then."""
    noted = f": “{note}”" if note else ""
    return f"Closed on {closed} as “{cause}”; it came again on {again}{noted}. What was gone was not cured."


def closed_before_said(closed: str, cause: str) -> str:
    """The same on a machine with another setup."""
    return f"The same on this machine was closed on {closed} as “{cause}”, with another setup."


def mended_said(cause: str) -> str:
    """A case that was closed, on the timeline of its machine."""
    return f"Fault: {CAUSES[cause].lower()}"


def cure_note(remedy: str | None, note: str) -> str:
    """What mended it, and what was noted."""
    return ". ".join(part for part in (mend_said(remedy), note) if part)


def mend_said(remedy: str | None) -> str:
    """What mends something that was found."""
    return "" if remedy is None else REMEDIES[remedy][0]


def found_said(key: str, *, mended: bool) -> str:
    """Something found on the way, as an answer."""
    return f"{'Mended' if mended else 'Found on the way'}: {FOUND[key].text.lower()}"


def hold_found_said(text: str) -> str:
    """What was found and holds the next job."""
    return f"{text}: found on this machine and not mended. Nothing heats before it is."


def dry_said(*, dry: bool) -> str:
    """Whether the spool counts as dry."""
    return (
        "The spool counts as dry" if dry else "Longer since drying than this family stands, or it was heard to be wet"
    )


def left_said(left: str, full: str) -> str:
    """What is left on a spool."""
    return f"About {left} of {full}{NBSP}g left on the spool"


def filled_said(filament: str, when: str) -> str:
    """Particles went through the nozzle."""
    return f"{filament} went through this nozzle, {when}"


def before_said(filament: str, when: str) -> str:
    """What was printed before."""
    return f"{filament} was printed through it before, {when}"


def same_there_said(machine: str, when: str) -> str:
    """The same trouble with the same spool elsewhere."""
    return f"{machine} has the same trouble with this spool, {when}"


def good_there_said(machine: str, when: str) -> str:
    """The same spool prints well elsewhere."""
    return f"This spool printed well on {machine}, {when}"


def file_said(name: str, differs: Sequence[str]) -> str:
    """What the checked file of the attempt says."""
    return f"{name}: {'; '.join(differs)}" if differs else f"{name} says tonight's numbers"


def melt_said(asked: str, most: str) -> str:
    """The fastest line that is set, against what was measured."""
    return f"The fastest line asks for {asked} of {most}{NBSP}mm³/s"


def pull_said(number: str, *, far: bool) -> str:
    """How far it is pulled back."""
    return f"Retraction {number}{NBSP}mm: {'farther than' if far else 'within what'} this feed path takes"


def title_said(complaint: str, machine: str) -> str:
    """A case in a list."""
    return f"{machine}: {COMPLAINTS[complaint][0].lower()}"


def unchanged_said(finding: str, since: str) -> str:
    """Nothing of a kind was written down since it was good."""
    return f"{QUESTIONS[finding].rstrip('?')}: nothing written down since {since}"


def jams_said(count: int) -> str:
    """Stops within two weeks."""
    return f"{count} blockages written down in the two weeks before"


def stands_said(step: Step, *, is_sound: bool) -> str:
    """How a row of the chain stands."""
    return f"{STEP_NAMES[step]} {'was measured and stands' if is_sound else 'is stale or was never measured'}"


def within_said(kind: Kind, number: str) -> str:
    """A value that is usual."""
    return f"{KINDS[kind].name} {number}: within what is usual"


def outside_said(kind: Kind, number: str, low: str, high: str) -> str:
    """A value that is not."""
    return f"{KINDS[kind].name} {number}: outside {low} to {high}"


def room_said(celsius: str, *, draught: bool, when: str) -> str:
    """The room as it was read last."""
    return f"Room {celsius}{NBSP}°C{', in a draught' if draught else ''}, {when}"


def work_note(remedy: str, complaint: str) -> str:
    """Why work was done, in its log."""
    return f"{remedy}. Because: {complaint[0].lower()}{complaint[1:]}."


def watch_said(found: Qualified, prints: int, failed: int) -> str:
    """Gone is not cured: how often it may still come, by the prints since."""
    if found.upper_95 is None:
        return "Gone, and not proven yet: watch it through the next prints, and stay with the first."
    if failed:
        return f"{failed} of {prints} prints since did not work: look whether it is the same."
    said = (
        f"Not seen for {prints} {'print' if prints == 1 else 'prints'}: {tenths_said(found.upper_95)} may still fail."
    )
    return said if found.verdict == "qualified" else f"{said} Watch it."
