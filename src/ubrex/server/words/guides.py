"""Guides through work at the machine, step by step: cautions first, temperatures worked out for what is on it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

from ubrex.core.chain import Change
from ubrex.core.waits import HOTEND_COOLS_S, PIECE_COOLS_S
from ubrex.server.words.numbers import NBSP


@dataclass(frozen=True, slots=True)
class Ask:
    """An answer to a step's question, and the step that comes then; ``to`` empty: the guide ends with ``said``."""

    text: str
    to: str
    said: str = ""


@dataclass(frozen=True, slots=True)
class Step:
    """One step: what to do, what can hurt (keys of cautions), how long to wait at it [s], and what is asked at its end.

    ``{use}``, ``{warm}`` and ``{most}`` stand for temperatures: in use, ten degrees more, and the strictest limit;
    ``{latest}`` for how far the spool reaches, ``{let_go}`` for how parts came off here. ``name``: so that others lead here.
    """

    do: str
    cautions: tuple[str, ...] = ()
    wait_s: float = 0.0
    asks: tuple[Ask, ...] = ()
    name: str = ""


@dataclass(frozen=True, slots=True)
class Guide:
    """A guide: its steps, and the work it is logged as; ``lined``: for hotends with a liner alone, or for those without."""

    name: str
    words: str
    steps: tuple[Step, ...]
    work: Change | None = None
    lined: bool | None = None


_HOME = Step("Home the machine and make room under the head.", ("pinch",))
_COOL = Step(
    "Let it cool below 50 °C with the power on; the fan of the heat sink keeps turning.", ("cool_down",), HOTEND_COOLS_S
)

GUIDES: Final[Mapping[str, Guide]] = {
    "blockage": Guide(
        "Free a clogged nozzle",
        "clog jam blocked nothing comes out",
        (
            _HOME,
            Step(
                "Heat to {warm}, open the grip, and push by hand. Does it run?",
                ("burn", "back_face"),
                180,
                (Ask("It runs", "feed"), Ask("It does not", "cleaning")),
            ),
            Step(
                "Push cleaning filament at the heat its label says, never above {most}. How does the strand come?",
                ("burn", "limit"),
                asks=(Ask("Straight", "feed"), Ask("Curled or thin", "pull"), Ask("Nothing comes", "needle")),
                name="cleaning",
            ),
            Step(
                "From below, hot, held with pliers, a needle of the bore's size, gently, twice a minute, pushing "
                "between. Does it run now?",
                ("burn", "back_face", "eyes"),
                asks=(Ask("Straight", "feed"), Ask("Still not", "pull")),
                name="needle",
            ),
            Step(
                "A cold pull, by its own guide; once more if its tip shows dirt. Is it free?",
                asks=(Ask("Free", "feed"), Ask("Not after two", "new")),
                name="pull",
            ),
            Step("Fit a new nozzle, tightened as its maker says.", ("maker",), name="new"),
            Step(
                "Feed until it is straight and clean. Then a short print, an ordinary one, and a long one; stay "
                "with the first.",
                name="feed",
            ),
            Step("What was behind it? Particles, another family before, standing hot: write it in the note."),
        ),
        Change.BLOCKAGE,
    ),
    "cold_pull_lined": Guide(
        "Cold pull, hotend with a liner",
        "cold pull clean nozzle liner",
        (
            Step(
                "The liner ends in the hot zone, or nobody said where it ends: never above {most} in this guide.",
                ("limit",),
            ),
            Step("Heat to {use}, push 30 mm through by hand.", ("burn", "back_face"), name="again"),
            Step("Set 100 °C and wait until it is there. Push lightly while it cools.", ("burn",), 240),
            Step(
                "Tug lightly by hand. It does not come: 5 °C more and again. Never yank: that pulls the liner out.",
                ("burn",),
            ),
            Step(
                "Look at the tip: dirt, and the shape of the bore. Is it clean?",
                asks=(Ask("Clean", "clean"), Ask("Dirt on it", "again")),
            ),
            replace(_COOL, name="clean"),
            Step("Look whether the liner still sits home, without a gap.", ("maker",)),
        ),
        Change.BLOCKAGE,
        lined=True,
    ),
    "cold_pull_metal": Guide(
        "Cold pull, all-metal hotend",
        "cold pull clean nozzle",
        (
            Step(
                "Heat to {use}, push 30 mm through by hand. Cleaning filament: the heat its label says, never above {most}.",
                ("burn", "back_face", "limit"),
                name="again",
            ),
            Step("Set 95 °C and wait until it is there. Push lightly while it cools.", ("burn",), 300),
            Step(
                "Pull steadily by hand. One school pulls gently at 100, another firmly at 90: begin gently.", ("burn",)
            ),
            Step(
                "Look at the tip: dirt, and the shape of the bore. Is it clean?",
                asks=(Ask("Clean", "clean"), Ask("Dirt on it", "again")),
            ),
            Step("Heat to {use} and feed until it is straight and clean.", ("burn",), name="clean"),
        ),
        Change.BLOCKAGE,
        lined=False,
    ),
    "change": Guide(
        "Change filament between prints",
        "load unload swap spool",
        (
            Step("Heat to what the old filament prints at, {use}, not to a preset.", ("burn",), 120),
            Step(
                "Draw it out. Does it come?",
                ("burn",),
                asks=(Ask("It comes", "cut"), Ask("It resists", "warmer")),
            ),
            Step(
                "5 °C more, never above {most}, wait two minutes, try again. Never force.",
                ("burn", "limit"),
                120,
                name="warmer",
            ),
            Step("Cut the new end at a slant, behind what the gear has bitten.", ("blade",), name="cut"),
            Step(
                "Push the new one in and feed at the hotter of both, never above {most}, until the colour is pure.",
                ("burn", "limit"),
            ),
            Step("Set the new filament's own heat at once."),
            Step("Put its setup on the bench: temperature, flow, retraction and fan are its own; e-steps stay."),
        ),
        Change.SPOOL_SAME,
    ),
    "change_mid": Guide(
        "Change filament in the middle of a print",
        "mid print swap colour pause",
        (
            Step(
                "Was pausing tried on this machine with a small piece?",
                asks=(
                    Ask("Yes, it goes on where it stopped", "enough"),
                    Ask(
                        "No, or nobody knows", "", "Try it on a small piece first: a pause that fails costs this part."
                    ),
                ),
            ),
            Step("{latest}", name="enough"),
            Step("Pause. Motors stay on. Nothing may move: gently.", ("pinch", "burn")),
            Step("Old filament out, new one in, feed until it is pure. A small blob may stay.", ("burn",)),
            Step(
                "Did anything move?",
                asks=(
                    Ask("Nothing moved", "on"),
                    Ask(
                        "Something moved",
                        "",
                        "The position is lost, and the part probably with it. Do not go on: measure its height, and "
                        "print what is missing as a second part.",
                    ),
                ),
            ),
            Step("Stand at the machine, not in another room, and go on.", ("pinch",), name="on"),
        ),
        Change.SPOOL_SAME,
    ),
    "leak": Guide(
        "A nozzle that leaks",
        "leak ooze above block",
        (
            Step("Stop. Heaters off.", ("burn",)),
            _COOL,
            Step("Take a photo of where it comes out."),
            Step("Warm it just until it is soft, and brush the plastic off; leave the leads alone.", ("burn",)),
            Step("Tube home, or liner seated without a gap.", ("cool_down",)),
            Step(
                "Tighten hot as the maker says, his heat and torque; hold the block, not the heat break.",
                ("maker", "burn"),
            ),
            Step("Hot for 15 min: look. Once more after an hour.", ("burn",), 900),
        ),
        Change.HOTEND,
    ),
    "blob": Guide(
        "A lump round the hotend",
        "blob death buried",
        (
            Step("Heaters off. Hands off: the leads of sensor and heater are in there.", ("burn",)),
            Step("Take a photo."),
            Step(
                "The maker's way first. Without one: warm it softly in small steps, watching the shown heat. It "
                "jumps or goes: off, and stop here.",
                ("maker", "burn", "fumes"),
            ),
            Step("Peel from outside, the leads last.", ("burn",)),
            _COOL,
            Step(
                "Count what is whole: sensor, heater, clips, fan, sock, block. What is not is replaced before "
                "it heats again.",
                ("mains",),
            ),
            Step("Go through the card “Safe to tune”, then heat check, level and offset. Stay with the first print."),
        ),
        Change.CRASH,
    ),
    "removal": Guide(
        "Take a part off that sticks",
        "stuck part remove plate",
        (
            Step("{let_go}"),
            Step(
                "Let the plate cool: glass all the way; PETG and flexible filament come off warm from sheets "
                "with a release agent.",
                wait_s=PIECE_COOLS_S,
            ),
            Step("Flex the sheet. A textured sheet is flexed, never scraped."),
            Step("A blade, flat and away from your body, with eyes covered.", ("blade", "eyes")),
            Step("Still fast: cold, then warm to 60 °C, then cold again.", ("burn",)),
            Step("Say below which way let go, or what did not help: it is remembered for this pair alone."),
        ),
    ),
    "plate": Guide(
        "Clean the plate",
        "wash plate grease fingers adhesion",
        (
            Step("Let it cool.", ("burn",), PIECE_COOLS_S),
            Step("Soap and hot water, rinse, dry with paper, hold it by its edges."),
            Step("Alcohol only where the surface stands it: cold plate, no flame, aired.", ("solvent",)),
            Step("A drop of water spreads: it is clean. It stands as a bead: again."),
            Step("The plate was off: check the offset before the next print that matters."),
        ),
        Change.PLATE_WASHED,
    ),
    "adhesive": Guide(
        "Put an adhesive on the plate",
        "glue stick lacquer spray slurry hold grip release",
        (
            Step(
                "What is it for? Grip holds what warps. Release keeps PETG and flexible filament from welding to smooth "
                "sheets and glass.",
                asks=(Ask("Grip", "clean"), Ask("Release", "clean"), Ask("Neither", "", "A washed plate needs none.")),
            ),
            Step("A clean, cold plate. What was on it before comes off with warm water.", name="clean"),
            Step(
                "Thin and even, away from the machine: rods, belts and fans stay clean. Nothing that sprays goes near a "
                "hot plate.",
                ("solvent", "fumes"),
            ),
            Step("Let it dry as its maker says, at least five minutes, before anything heats.", ("solvent",), 300),
            Step("Warm the plate with the door open, and air the room.", ("fumes",)),
            Step("Enter it at the surface under Machines, with what it is for: limits and pieces go by that."),
        ),
    ),
    "gear": Guide(
        "Clean the gear, set its tension",
        "gear grinding notch teeth",
        (
            Step("Heaters off, motors off, open the feeder.", ("idle", "pinch")),
            Step("Take the filament out and cut the bitten end off.", ("blade",)),
            Step("Brush the teeth until they are bright."),
            Step("Close it. Set the tension so that the marks of the teeth are even and not deep."),
            Step("Look again after 20 min of printing."),
        ),
        Change.GEAR_TENSION,
    ),
    "tube": Guide(
        "Seat or replace the feed tube",
        "tube bowden coupling gap",
        (
            _COOL,
            Step(
                "Take the tube out of its coupling. Look at its end: singed, askew or worn is cut off, square.",
                ("blade",),
            ),
            Step("Push it home until it stands on what is below it, then close the coupling.", ("maker",)),
            Step("Push and pull: it must not move. A loose piece of filament slides through it easily."),
            Step("A short print, an ordinary one, and a long one; stay with the first."),
        ),
        Change.FEED_TUBE,
    ),
    "belts": Guide(
        "Belts, wheels and play",
        "belt slack wheels wobble",
        (
            Step("Heaters off, motors off.", ("idle", "pinch")),
            Step("Belts by thumb: both runs alike, none slack."),
            Step("Wheels turn by hand with slight slip; rock head, carriage and bed: no play."),
            Step(
                "Frame on a flat table: it does not rock. Screws of pulleys: mark shaft and pulley, try to turn them."
            ),
            Step("Push each axis the whole way: even everywhere. Cables free in all corners."),
        ),
        Change.BELTS,
    ),
    "fan": Guide(
        "Fan of the heat sink, after it jammed",
        "fan heat sink jam",
        (
            Step("Off and cold: blow the dust out of fan and fins, look at its plug.", ("mains",)),
            Step("On: it turns at once, evenly, without noise.", ("pinch",)),
            Step(
                "Hot for ten minutes: the heat sink stays hand-warm. Measure it before and after, if you can.",
                ("burn",),
                600,
            ),
            Step("Overheat protection watches the heater, not this fan: look again in a month."),
        ),
        Change.HEAT_SINK_FAN,
    ),
    "paper": Guide(
        "Level with a sheet of paper",
        "level bed paper screws",
        (
            Step("Warm plate and nozzle as for a print, wipe the tip.", ("burn",), 300),
            Step(
                "Home. At each screw slide a sheet of paper below the nozzle: it drags a little, and alike everywhere.",
                ("pinch",),
            ),
            Step(
                "Turn the worst screw, go round again. Write the rounds down under “Check the machine”: it says "
                "when to stop."
            ),
            Step("Levelling moves the offset and does not set it: print the pad or the nine patches afterwards."),
        ),
        Change.LEVELLED_BY_HAND,
    ),
}
"""Every guide, in the order in which they are offered."""

NO_SURFACE: Final = "This setup has no surface: put one in first."
EMPTY_WAY: Final = "Say how it came off, or what did not help."
NOTHING_REMEMBERED: Final = (
    "Nothing is remembered yet for this family on this surface: go on, and say at the end what let go."
)
LEFT_UNKNOWN: Final = (
    "Weigh the spool: nobody wrote down how much is left. What is left over must last until you pause."
)


def remembered_said(worked: Sequence[str], failed: Sequence[str]) -> str:
    """How parts of a family came off a surface before."""
    parts = [f"Here it let go before: {'; '.join(worked)}."] if worked else []
    parts += [f"Without success: {'; '.join(failed)}."] if failed else []
    return " ".join(parts)


def enough_said(left: str, file: str, need: str) -> str:
    """A spool that lasts."""
    return f"About {left}{NBSP}g are left and {file} needs {need}{NBSP}g: there is enough, pause where you like."


def latest_said(left: str, file: str, need: str, where: str) -> str:
    """A spool that does not last: until where it may print."""
    return f"About {left}{NBSP}g are left and {file} needs {need}{NBSP}g. Pause at {where} at the latest (an estimate)."


def left_said(left: str) -> str:
    """A spool, where no file says what it needs."""
    return f"About {left}{NBSP}g are left. Check the file, and it says here until where that lasts."
