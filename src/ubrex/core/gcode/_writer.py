"""Moves into the text that a machine reads, held to every limit on the way.

Order of every file: remarks; heat asked for; homing; heat waited for; the owner's start block; a prime line; the piece,
with the heat of the other layers set behind its first; heaters and fan off; the owner's end block, or a lift and a step
back. The same job gives the same text.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from ubrex.core.bead import Bead
from ubrex.core.gcode._commands import HARMFUL_DEEDS, Deed
from ubrex.core.gcode._machine import Breach, Dialect, MachineLimits, RefusedFile
from ubrex.core.gcode._moves import CIRCLE, Feed, Go, Manner, Move, Pause, Pen, Push, Remark, Set, SetWhat
from ubrex.core.gcode._reader import Gcode, read_gcode

LONGEST_REMARK: Final = 200
VALUE: Final = "{value}"
"""Where the value stands in the line by which a machine takes its pressure compensation."""

MOST_PRESSURE_S: Final = 2.0
PRIME_LENGTH_MM: Final = 60.0
PRIME_FROM_EDGE_MM: Final = 3.0
LIFT_MM: Final = 10.0

SAYING: Final = frozenset({"M117", "M118"})
"""Commands with a text behind them."""

_REMARK: Final = re.compile(r";.*|\([^)]*\)")
_FIRST: Final = re.compile(r"\s*(?:N\d+\s*)?([GMT])\s*0*(\d+)", re.I)
_FURTHER: Final = re.compile(r"(?<![A-Z])[GM]\s*\d", re.I)

_LETTERS: Final = re.compile(r"[A-Z]")
_HEATS: Final = frozenset({"M104", "M109", "M140", "M190"})
_PLAIN: Final = re.compile(r"(?:\s*[A-Z]\s*[-+]?(?:\d+\.?\d*|\.\d+)(?![.EX]))+\s*(?:\*\d+)?\s*", re.I)
"""Letters with plain numbers: 3e2 is 3 to some machines and 300 to others, and so is 0x12C 0 or 300."""

_PLACEHOLDER: Final = re.compile(r"\{([^{}]*)\}")


@dataclass(frozen=True, slots=True, kw_only=True)
class Heat:
    """Temperatures of a print [°C]; ``bed_c`` None: the bed is not heated. ``first_``: of the first layer, if its own."""

    nozzle_c: float
    bed_c: float | None = None
    first_nozzle_c: float | None = None
    first_bed_c: float | None = None

    @property
    def first(self) -> Heat:
        """Heat of the first layer."""
        nozzle = self.nozzle_c if self.first_nozzle_c is None else self.first_nozzle_c
        return Heat(nozzle_c=nozzle, bed_c=self.bed_c if self.first_bed_c is None else self.first_bed_c)

    @property
    def moves(self) -> list[Set]:
        """What is asked for, without waiting for it."""
        nozzle = Set(what=SetWhat.NOZZLE, number=self.nozzle_c)
        return [nozzle, Set(what=SetWhat.BED, number=self.bed_c)] if self.bed_c else [nozzle]

    @property
    def after_first(self) -> list[Set]:
        """What is set once the first layer lies, where the others are printed at another heat."""
        first, changed = self.first, []
        if first.nozzle_c != self.nozzle_c:
            changed.append(Set(what=SetWhat.NOZZLE, number=self.nozzle_c))
        if (first.bed_c or 0.0) != (self.bed_c or 0.0):
            changed.append(Set(what=SetWhat.BED, number=self.bed_c or 0.0))
        return changed


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """A piece to be written: its moves, how hot, how it is printed, and what stands at the head of the file, in order.

    ``still``: only filament moves, so nothing is homed and nothing primed.
    """

    name: str
    moves: Sequence[Move]
    heat: Heat
    manner: Manner
    bead: Bead | None = None
    head: Sequence[tuple[str, str]] = ()
    cautions: Sequence[str] = ()
    still: bool = False


def write_gcode(job: Job, *, limits: MachineLimits, dialect: Dialect) -> str:
    """Text of a job.

    Raises
    ------
    RefusedFile
        If anything in it would pass a limit, or what makes the machine safe is not known; naming which.
    """
    if not limits.safe:
        raise RefusedFile(Breach.NOT_SAFE, "it is not known whether this machine is safe to heat")
    heat = job.heat.first.moves
    waited = [Set(what=move.what, number=move.number, wait=True) for move in reversed(heat)]
    first = next((move.z for move in job.moves if isinstance(move, Go) and move.feed_mm > 0), None)
    primed = [] if job.still or job.bead is None or first is None else _prime(job.manner, job.bead, first, limits)
    moves = [*primed, *_then(job.moves, job.heat.after_first)]
    _check([*heat, *waited, *moves], job.manner, limits)
    if any(isinstance(move, Set) and move.what is SetWhat.PRESSURE for move in moves):
        check_pressure_line(dialect.pressure, limits)
    start, end = (fill_block(block, job.heat.first, limits) for block in (dialect.start, dialect.end))
    if not read_gcode(end).ends_off:
        raise RefusedFile(Breach.BLOCK, "the end block of this machine heats: whatever ends with it would be left hot")
    lines = [f"; {_plain(job.name)}"]
    lines += [f"; {_plain(name)}: {_plain(said)}" for name, said in job.head]
    lines += [f"; caution: {_plain(said)}" for said in job.cautions]
    lines += ["G21", "G90", *_lines(heat, dialect)]
    if not job.still:
        lines.append("G28")
    lines += _lines(waited, dialect)
    if start:
        lines += ["; start block of this machine", *start]
    # What the owner's block did to modes, shares and filament is not known, nor what was turned at the machine while it
    # printed last: they are set after it.
    lines += ["G21", "G90", "M83" if dialect.relative_feed else "M82", "M220 S100", "M221 S100", "G92 E0"]
    lines += _lines(moves, dialect)
    lines += ["M104 S0", "M140 S0", "M107"]
    if end:
        lines += ["; end block of this machine", *end]
    elif not job.still:
        lines += _lines(_step_back(moves, job.manner, limits), dialect)
    return "\n".join([*lines, "; end of file"]) + "\n"


def _then(moves: Sequence[Move], heat: Sequence[Set]) -> list[Move]:
    """Moves of a piece, with the heat of its other layers set behind its first; a piece of one layer has no others."""
    laid = [(place, move.z) for place, move in enumerate(moves) if isinstance(move, Go) and move.feed_mm > 0]
    higher = next((row for row, (_, z) in enumerate(laid) if z > laid[0][1]), None)
    if not heat or higher is None:
        return list(moves)
    behind = laid[higher - 1][0] + 1
    return [*moves[:behind], *heat, *moves[behind:]]


def _prime(manner: Manner, line: Bead, first_mm: float, limits: MachineLimits) -> list[Move]:
    """A line along the front edge, as high as the first layer, that fills the nozzle; none of it is part of the piece."""
    bead = Bead(width_mm=max(line.width_mm, first_mm), height_mm=first_mm)
    volume = limits.volume
    length = min(PRIME_LENGTH_MM, volume.width_mm / 2)
    x, y = volume.left + PRIME_FROM_EDGE_MM, volume.front + PRIME_FROM_EDGE_MM
    pen = Pen(manner=manner)
    pen.moves.append(Remark(text="prime line"))
    pen.move(x, y, bead.height_mm)
    pen.line([(x, y), (x + length, y)], bead.height_mm, bead, speed=manner.first_speed_mm_s, why=Feed.PRIME)
    return pen.moves


def _step_back(moves: Sequence[Move], manner: Manner, limits: MachineLimits) -> list[Move]:
    """Up and away from the piece, so that it can be taken off."""
    last = next((move for move in reversed(moves) if isinstance(move, Go)), None)
    if last is None:
        return []
    volume = limits.volume
    pen = Pen(manner=manner, x=last.x, y=last.y, z=last.z, started=True)
    up = min(last.z + LIFT_MM, volume.height_mm)
    pen.move(last.x, last.y, up)
    pen.move(last.x, volume.front + volume.depth_mm - PRIME_FROM_EDGE_MM, up)
    return pen.moves


def _check(moves: Iterable[Move], manner: Manner, limits: MachineLimits) -> None:
    """Hold moves to every limit. Whatever stands still or heats only later is judged by what it was told last.

    A tower has twenty thousand moves: most pass without a call, and what does not pass is said by the functions below.
    """
    strand = CIRCLE * manner.filament_mm**2
    left, right, front, back, low, high = limits.volume.reach()
    fastest, melts, feeds_from = limits.speed_mm_s, limits.melt_mm3_s, limits.feeds_from_c
    at: tuple[float, float, float] | None = None
    hot = 0.0
    for move in moves:
        if isinstance(move, Go):
            x, y, z, speed, feed, _ = move
            if not (left <= x <= right and front <= y <= back and low <= z <= high and speed <= fastest):
                _check_place(move, limits)
            if feed:
                length = 0.0 if at is None else math.dist(at, (x, y, z))
                if length == 0:
                    raise RefusedFile(Breach.VOLUME, "a line without a length")
                if hot < feeds_from or feed * strand * speed > melts * length:
                    _check_hot(hot, limits)
                    _check_melt(feed * strand / length * speed, limits)
            at = (x, y, z)
        elif isinstance(move, Push):
            _check_hot(hot, limits)
            if move.why is Feed.RETRACT and abs(move.feed_mm) > limits.retraction_mm + 1e-9:
                said = f"{abs(move.feed_mm):g} mm is pulled back; at most {limits.retraction_mm:g} mm is allowed here"
                raise RefusedFile(Breach.RETRACTION, said)
            if move.why is Feed.RETRACT and move.speed_mm_s > limits.retraction_mm_s + 1e-9:
                said = f"{move.speed_mm_s:g} mm/s is pulled at; at most {limits.retraction_mm_s:g} mm/s is allowed here"
                raise RefusedFile(Breach.RETRACTION, said)
            if move.why is not Feed.RETRACT:
                _check_melt(move.speed_mm_s * strand, limits)
        elif isinstance(move, Set):
            _check_heat(move, limits)
            if move.what is SetWhat.NOZZLE:
                hot = move.number


def check_pressure_line(line: str, limits: MachineLimits) -> None:
    """Hold the line by which a machine takes its pressure compensation to what any line of its owner is held to.

    Raises
    ------
    RefusedFile
        If the value has no place in it, or it does something else than take a value.
    """
    if line.count(VALUE) != 1 or len(line.splitlines()) != 1:
        raise RefusedFile(Breach.BLOCK, f"the value stands once in one line, as {VALUE}: M900 K{VALUE}")
    said = line.replace(VALUE, "0.1")
    fill_block([said], Heat(nozzle_c=0), limits)
    found = read_gcode([said])
    if found.heats or any(found.places()):
        raise RefusedFile(Breach.BLOCK, "that line heats or moves: it is not the one that takes the value")


def _check_heat(move: Set, limits: MachineLimits) -> None:
    if move.what is SetWhat.FAN:
        return
    if move.what is SetWhat.PRESSURE:
        if not 0 <= move.number <= MOST_PRESSURE_S:
            raise RefusedFile(Breach.BLOCK, f"{move.number:g} s is no pressure compensation: 0 to {MOST_PRESSURE_S:g}")
        return
    nozzle = move.what is SetWhat.NOZZLE
    cap = limits.nozzle if nozzle else limits.bed
    if not cap.allows(move.number):
        said = f"{move.number:g} °C for the {move.what.value} is hotter than {cap.max_c:g} °C, {cap.why}"
        raise RefusedFile(Breach.NOZZLE_HEAT if nozzle else Breach.BED_HEAT, said)


def _check_hot(celsius: float, limits: MachineLimits) -> None:
    if celsius < limits.feeds_from_c:
        said = f"{celsius:g} °C is too cold to feed; from {limits.feeds_from_c:g} °C on"
        raise RefusedFile(Breach.COLD, said)


def _check_place(move: Go, limits: MachineLimits) -> None:
    if not limits.volume.holds(move.x, move.y, move.z):
        said = f"x {move.x:.1f}, y {move.y:.1f}, z {move.z:.1f} mm lies outside what this machine reaches"
        raise RefusedFile(Breach.VOLUME, said)
    if move.speed_mm_s > limits.speed_mm_s + 1e-9:
        raise RefusedFile(Breach.SPEED, f"{move.speed_mm_s:g} mm/s is faster than {limits.speed_mm_s:g} mm/s")


def _check_melt(rate: float, limits: MachineLimits) -> None:
    if rate > limits.melt_mm3_s + 1e-9:
        raise RefusedFile(Breach.MELT_RATE, f"{rate:.1f} mm³/s is more than the {limits.melt_mm3_s:g} mm³/s allowed")


def fill_block(block: Sequence[str], heat: Heat, limits: MachineLimits) -> list[str]:
    """An owner's lines with their placeholders filled in, held to the same limits as our own.

    Raises
    ------
    RefusedFile
        If a placeholder is not known, a line holds what no machine reads, heats too far or leaves the volume.
    """
    known = {
        "nozzle_c": heat.nozzle_c,
        "bed_c": heat.bed_c or 0.0,
        "width_mm": limits.volume.width_mm,
        "depth_mm": limits.volume.depth_mm,
        "height_mm": limits.volume.height_mm,
    }

    def filled(match: re.Match[str]) -> str:
        name = match[1]
        if name not in known:
            raise RefusedFile(Breach.BLOCK, f"{{{name}}} is no placeholder; there is {', '.join(sorted(known))}")
        return f"{known[name]:g}"

    lines = [_PLACEHOLDER.sub(filled, line).rstrip() for line in block]
    lines = [line for line in lines if line]
    if any(not line.isprintable() for line in lines):
        raise RefusedFile(Breach.BLOCK, "a block of this machine holds characters that no machine reads")
    for line in lines:
        _check_command(line)
    found = read_gcode(lines)
    _check_block(found, limits)
    return lines


def _check_command(line: str) -> None:
    """Refuse what machines read in more than one way: two commands on a line, two places of one axis, odd numbers."""
    code = _REMARK.sub("", line)
    first = _FIRST.match(code)
    name = "" if first is None else f"{first[1].upper()}{first[2]}"
    if first is not None and name not in SAYING and _FURTHER.search(code, first.end()):
        raise RefusedFile(Breach.BLOCK, f"a block of this machine has a second command on a line: {code.strip()[:40]}")
    letters = _LETTERS.findall(code.upper(), 0 if first is None else first.end())
    if name.startswith("G") and len(set(letters)) < len(letters):
        raise RefusedFile(Breach.BLOCK, f"a block of this machine says one letter twice: {code.strip()[:40]}")
    if name in _HEATS and not _PLAIN.fullmatch(code):
        raise RefusedFile(
            Breach.BLOCK, f"a block of this machine heats to what is no plain number: {code.strip()[:40]}"
        )


def _check_block(found: Gcode, limits: MachineLimits) -> None:
    lasting = next((act for act in found.acts if act.deed in HARMFUL_DEEDS), None)
    if lasting is not None:
        what = (
            "heats or forgets by itself"
            if lasting.deed in {Deed.HEATS_ITSELF, Deed.FORGETS}
            else "changes what it keeps"
        )
        raise RefusedFile(Breach.BLOCK, f"a block of this machine must not hold {lasting.name}: it {what}")
    for what, cap, breach in (
        ("nozzle", limits.nozzle, Breach.NOZZLE_HEAT),
        ("bed", limits.bed, Breach.BED_HEAT),
    ):
        hottest = max((heat.celsius for heat in found.heats if heat.what == what), default=0.0)
        if not cap.allows(hottest):
            raise RefusedFile(
                breach, f"a block of this machine heats to {hottest:g} °C; at most {cap.max_c:g} °C, {cap.why}"
            )
    for place, known in zip(found.places(), found.known_places(), strict=True):
        x, y, z = (value if said else 0.0 for value, said in zip(place, known, strict=True))
        middle = limits.volume.middle
        if not limits.volume.holds(x if known[0] else middle[0], y if known[1] else middle[1], z):
            raise RefusedFile(Breach.BLOCK, f"a block of this machine leaves its volume: {x:g}, {y:g}, {z:g} mm")


def _plain(text: str) -> str:
    """A remark that stays on its line."""
    return " ".join(text.split())[:LONGEST_REMARK]


def _lines(moves: Iterable[Move], dialect: Dialect) -> Iterator[str]:
    """One line a move; the speed only where it changes. The text of a height is made once for all moves at it."""
    relative = dialect.relative_feed
    fed, speed, height, height_text = 0.0, -1.0, math.nan, ""
    for move in moves:
        if isinstance(move, Go):
            x, y, z, wanted, feed, _ = move
            if z != height:
                height, height_text = z, f"{z:.3f}"
            if feed:
                fed = feed if relative else fed + feed
                line = f"G1 X{x:.3f} Y{y:.3f} Z{height_text} E{fed:.5f}"
            else:
                line = f"G0 X{x:.3f} Y{y:.3f} Z{height_text}"
        elif isinstance(move, Push):
            wanted = move.speed_mm_s
            fed = move.feed_mm if relative else fed + move.feed_mm
            line = f"G1 E{fed:.5f}"
        else:
            yield _said(move, dialect)
            continue
        if wanted != speed:
            speed = wanted
            line += f" F{60 * speed:.0f}"
        yield line


def _fan_of_255(percent: float) -> int:
    """The number of a fan. Never 1, which is all of it where a machine counts to 1: none, or the next."""
    exact = 2.55 * percent
    return round(exact) if exact >= 2 else 2 * round(exact / 2)


def _said(move: Set | Pause | Remark, dialect: Dialect) -> str:
    """What moves nothing."""
    match move:
        case Set(what=SetWhat.PRESSURE):
            return dialect.pressure.replace(VALUE, f"{move.number:g}")
        case Set(what=SetWhat.FAN):
            return f"M106 S{turns}" if (turns := _fan_of_255(move.number)) else "M107"
        case Set():
            nozzle = move.what is SetWhat.NOZZLE
            ask, wait = ("M104", "M109") if nozzle else ("M140", "M190")
            return f"{wait if move.wait else ask} S{move.number:g}"
        case Pause():
            return f"G4 P{round(1000 * move.seconds)}"
        case Remark():
            return f"; {_plain(move.text)}"
