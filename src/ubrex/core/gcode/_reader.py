"""Text that a machine reads, back into moves: streaming, tolerant, whatever it does not know kept and counted.

Absolute and relative places and filament, inches, arcs, line numbers, checksums, remarks, Windows line ends, and a last line
that is cut off.
"""

from __future__ import annotations

import math
import re
from array import array
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from itertools import islice
from typing import Any, Final

import numpy as np

from ubrex.core.gcode._commands import QUIET, Act, Deed, act_of

MM_PER_INCH: Final = 25.4

ARC_OFF_MM: Final = 0.02
"""Arcs become chords that leave them by this much at most: what files are judged by is ten times as coarse."""

SAME_MM: Final = 1e-4
"""Places that differ by no more than this are one: files round them to more than that."""

MOST_CHORDS: Final = 1_000_000
"""Chords of all arcs of a file; further arcs are read coarsely, ``FEWEST_CHORDS`` of a circle."""

MOST_OF_AN_ARC: Final = 720
FEWEST_CHORDS: Final = 8

MOST_NUMBER: Final = 1e7
"""No place, length, speed or temperature of a machine is larger: such a word is not read."""

MOST_SETTINGS: Final = 2000
"""Settings kept from remarks; more than this are noise."""

COLUMNS: Final = 8
CHUNK: Final = 50_000 * COLUMNS
"""Numbers gathered before they become columns."""

BLOCK: Final = 4000
"""Lines looked at together."""

SHORT_RUN: Final = 6
"""So few moves are read sooner one by one than as columns."""

_SETTING: Final = re.compile(r"^\s*([A-Za-z][\w .,/()\-]{0,60}?)\s*[=:]\s*(.{1,200}?)\s*$")


@dataclass(frozen=True, slots=True, kw_only=True)
class HeatLine:
    """A temperature that is asked for: of the nozzle or the bed, on which line, at which height."""

    what: str
    celsius: float
    line: int
    z_mm: float
    wait: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FanLine:
    """A fan setting [%]."""

    percent: float
    line: int
    z_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PressureLine:
    """Pressure compensation [s] from a line on."""

    seconds: float
    line: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Gcode:
    """What a file says. Columns have one entry a move: line number, end place [mm], filament [mm], speed [mm/s].

    ``known``: bits 1, 2, 4 where x, y, z had been said by then. ``program``: the first remark without its numbers, by which
    files of one program are known. ``settings``: what remarks of the form name = value say, in order. ``unknown``: commands
    that were not understood, counted. ``cut_off``: the last line has no end. ``override_pct``: the highest that speeds are
    driven at; it is in them. ``fed_pct``: the share of what the file says that is fed, furthest from all of it; it is in the
    column. ``pulls``: how far filament was pulled back in all each time before it was fed again [mm].
    """

    line: Any
    x: Any
    y: Any
    z: Any
    feed: Any
    speed: Any
    nozzle: Any
    known: Any
    heats: tuple[HeatLine, ...] = ()
    fans: tuple[FanLine, ...] = ()
    pressures: tuple[PressureLine, ...] = ()
    acts: tuple[Act, ...] = ()
    program: str = ""
    settings: dict[str, str] = field(default_factory=dict)
    unknown: Counter[str] = field(default_factory=Counter)
    lines: int = 0
    homed_at: int | None = None
    first_move_at: int | None = None
    ends_off: bool = False
    cut_off: bool = False
    taken_back: float = 0.0
    override_pct: float = 100.0
    fed_pct: float = 100.0
    pulls: Any = ()
    fastest_pull_mm_s: float = 0.0
    longest_retraction_mm: float = 0.0

    @property
    def count(self) -> int:
        """Number of moves."""
        return len(self.x)

    @property
    def extruding(self) -> Any:
        """Which moves lay down a line: filament forward, and a way in the plane."""
        return (self.feed > 0) & (self.lengths > 1e-6)

    @property
    def lengths(self) -> Any:
        """Length of each move [mm]; the first starts where it ends."""
        steps = [np.diff(column, prepend=column[:1]) for column in (self.x, self.y, self.z)]
        return np.sqrt(sum(step.astype(float) ** 2 for step in steps))

    def places(self) -> Iterator[tuple[float, float, float]]:
        """End of each move."""
        for x, y, z in zip(self.x, self.y, self.z, strict=True):
            yield float(x), float(y), float(z)

    def known_places(self) -> Iterator[tuple[bool, bool, bool]]:
        """Which axes of each end had been said."""
        for bits in self.known:
            yield bool(bits & 1), bool(bits & 2), bool(bits & 4)

    def layers(self) -> list[tuple[float, int, int]]:
        """Height [mm] and the range of moves of each layer: runs of printing at one height, hops between them left out."""
        rows = np.flatnonzero(self.extruding)
        if not len(rows):
            return []
        heights = np.round(self.z[rows].astype(float), 3)
        starts = np.flatnonzero(np.diff(heights, prepend=heights[0] - 1))
        ends = np.append(starts[1:], len(rows))
        return [
            (float(heights[start]), int(rows[start]), int(rows[end - 1]) + 1)
            for start, end in zip(starts, ends, strict=True)
        ]

    def seconds(self, acceleration_mm_s2: float) -> float:
        """Time of all moves [s]: each speeds up and slows down to nothing, which is on the long side for smooth paths."""
        lengths = np.where(self.lengths > 0, self.lengths, np.abs(self.feed))
        speed = np.where(self.speed > 0, self.speed, 1.0).astype(float)
        ramp = speed**2 / acceleration_mm_s2
        whole = lengths / speed + speed / acceleration_mm_s2
        short = 2 * np.sqrt(lengths / acceleration_mm_s2)
        return float(np.where(lengths >= ramp, whole, short).sum())


def read_gcode(lines: Iterable[str]) -> Gcode:
    """Everything a file says, in one pass."""
    return _Reader().read(lines)


class _Reader:
    """State of a machine while it reads."""

    def __init__(self) -> None:
        self.rows = array("d")
        self.kept: list[Any] = []
        self.numbers: list[Any] = []
        self.bits_kept: list[Any] = []
        self.heats: list[HeatLine] = []
        self.fans: dict[int, list[FanLine]] = defaultdict(list)
        self.pressures: list[PressureLine] = []
        self.acts: list[Act] = []
        self.settings: dict[str, str] = {}
        self.program = ""
        self.unknown: Counter[str] = Counter()
        self.homed_at: int | None = None
        self.first_move_at: int | None = None
        self.at = {"X": 0.0, "Y": 0.0, "Z": 0.0}
        self.bits = 0
        self.e = self.f = self.hot = self.bed = 0.0
        self.scale, self.absolute, self.absolute_e = 1.0, True, True
        self.plain = True
        self.retracted = self.longest_retraction = self.taken_back = self.fastest_pull = 0.0
        self.override = self.highest_override = 1.0
        self.fed = self.oddest_fed = 1.0
        self.pulls = array("d")
        self.pull_peak = 0.0
        self.chords = 0

    def read(self, lines: Iterable[str]) -> Gcode:
        """All lines, some thousands at a time: moves in plain millimetres, by far the commonest, are read in one go."""
        rest, number, last = iter(lines), 0, "\n"
        while block := list(islice(rest, BLOCK)):
            text, place, end = "".join(block), 0, 0
            while place < len(block):
                run = self._run_at(text, end)
                count = run.count("\n")
                if count < SHORT_RUN or not self._take_run(number + place + 1, run):
                    for line in block[place : place + max(1, count)]:
                        place, end = place + 1, end + len(line)
                        self._line(number + place, line)
                else:
                    place, end = place + count, end + len(run)
            number, last = number + len(block), block[-1]
        return Gcode(
            **self._columns(), heats=tuple(self.heats), fans=tuple(self._part_fan()), settings=self.settings,
            program=self.program, unknown=self.unknown, lines=number, homed_at=self.homed_at,
            first_move_at=self.first_move_at, ends_off=self.hot == 0 and self.bed == 0, cut_off=not last.endswith("\n"),
            taken_back=self.taken_back, longest_retraction_mm=self.longest_retraction, fed_pct=100 * self.oddest_fed,
            override_pct=100 * self.highest_override, pulls=np.array(self.pulls), fastest_pull_mm_s=self.fastest_pull,
            pressures=tuple(self.pressures), acts=tuple(self.acts),
        )  # fmt: skip

    def _part_fan(self) -> list[FanLine]:
        """Settings of the part's fan: of several that blow, the one with the lowest number; others are not understood."""
        blow = [fan for fan, rows in self.fans.items() if any(row.percent > 0 for row in rows)]
        own = min(blow, default=0)
        for fan, rows in self.fans.items():
            if fan != own and fan in blow:
                self.unknown[f"M106 P{fan}"] += len(rows)
        return self.fans.get(own, [])

    def _run_at(self, text: str, start: int) -> str:
        """Moves from here on in plain millimetres; empty where there are none."""
        if not self.plain or self.first_move_at is None or self.override != 1.0 or self.fed != 1.0:
            return ""
        found = _RUN.match(text, start)
        return "" if found is None else found[0]

    def _take_run(self, first: int, run: str) -> bool:
        """Read such moves as columns; False if a line says one letter twice, and they have to be read one by one."""
        plain = run.encode("ascii")
        lines = plain.translate(None, _ALL_BUT_LETTERS).split(b"\n")[:-1]
        known = {one: index for index, one in enumerate(dict.fromkeys(lines))}
        shape = np.fromiter(map(known.__getitem__, lines), np.intp, len(lines))
        letters = [one.decode() for one in known]
        if any(len(set(one)) < len(one) for one in letters):
            return False
        # Each letter has one number, and there is nothing else: where a line begins among them follows from its shape.
        numbers = np.fromstring(plain.translate(_LETTERS_AWAY), sep=" ")
        sizes = np.array([len(one) for one in letters])[shape]
        begins = np.cumsum(sizes) - sizes
        said = {letter: np.full(len(shape), np.nan) for letter in "XYZEF"}
        for index, one in enumerate(letters):
            rows = np.flatnonzero(shape == index)
            for place, letter in enumerate(one[1:], 1):
                said[letter][rows] = numbers[begins[rows] + place]
        e = said["E"]
        if self.absolute_e:
            # A line that says no E leaves it where it was.
            held = _held(e, self.e)
            feed, self.e = np.diff(held, prepend=self.e), float(held[-1])
        else:
            feed = np.nan_to_num(e)
            self.e += float(feed.sum())
        columns = [np.arange(first, first + len(shape)), *(_held(said[axis], self.at[axis]) for axis in "XYZ"), feed]
        speed = _held(said["F"] / 60, self.f)
        bits = np.full(len(shape), self.bits)
        # An axis is where it says from the first line on that names it; before, it may be anywhere.
        for axis, bit in _BIT.items():
            bits |= bit * np.logical_or.accumulate(~np.isnan(said[axis]))
        hot = np.full(len(shape), self.hot)
        moved = ~np.all([np.isnan(said[letter]) for letter in "XYZE"], axis=0)
        self.rows.frombytes(np.column_stack([*columns, speed, hot, bits])[moved].tobytes())
        self.at = {axis: float(column[-1]) for axis, column in zip("XYZ", columns[1:4], strict=True)}
        self.f, self.bits = float(speed[-1]), int(bits[-1])
        self._pulls(feed[feed != 0])
        back = speed[feed < 0]
        if len(back):
            self.fastest_pull = max(self.fastest_pull, float(back.max()))
        if len(self.rows) > CHUNK:
            self._keep()
        return True

    def _line(self, number: int, text: str) -> None:
        code, remark, said = text.partition(";")
        if remark and len(self.settings) < MOST_SETTINGS:
            self.program = self.program or _NUMBERS.sub(" ", said).strip()[:80].strip()
            found = _SETTING.match(said)
            if found:
                self.settings.setdefault(found[1], found[2])
        words = code.split()
        if not words:
            return
        if words[0][0] in "Nn" and words[0][1:].isdigit():
            words = words[1:]
            if not words:
                return
        name = words[0]
        if name in _MOVES:
            self._move(number, words)
            return
        if not _COMMAND.fullmatch(name):
            # No spaces, or spaces in odd places, or a remark in brackets.
            bare = _BRACKETS.sub("", code)
            if not bare.strip():
                return
            words = [letter + value for letter, value in _LETTERED.findall(bare)]
            if words and words[0][0] in "Nn":
                words = words[1:]
            if not words or not _COMMAND.fullmatch(words[0]):
                self.unknown[name[:20]] += 1
                return
        self._other(number, words[0][0].upper() + (words[0][1:].lstrip("0") or "0"), words, code)

    def _move(self, number: int, words: list[str]) -> None:
        """G0 and G1 in any mode."""
        scale, at, feed, moved = self.scale, self.at, 0.0, False
        for word in words[1:]:
            letter = word[0]
            try:
                value = float(word[1:])
            except ValueError:
                if letter == "*":
                    break
                try:
                    value = float(word[1:].partition("*")[0].partition("(")[0])
                except ValueError:
                    value = math.nan
            if not abs(value) < MOST_NUMBER:
                self.unknown["unreadable word"] += 1
                continue
            if letter == "E":
                value *= scale
                feed = value - self.e if self.absolute_e else value
                self.e = value if self.absolute_e else self.e + value
                moved = True
            elif letter == "F":
                self.f = value * scale / 60
            elif letter in at:
                at[letter] = value * scale if self.absolute else at[letter] + value * scale
                self.bits |= _BIT[letter]
                moved = True
            elif letter.upper() in "XYZEF":
                self._other(number, words[0].upper(), [one.upper() for one in words], "")
                return
            else:
                self.unknown[f"{words[0]} {letter}"] += 1
        if moved:
            self._append(number, feed)

    def _append(self, number: int, feed: float) -> None:
        at = self.at
        if self.first_move_at is None and (self.bits or at["X"] or at["Y"]):
            self.first_move_at = number
        speed = self.f * self.override
        self.highest_override = max(self.highest_override, self.override)
        feed *= self.fed
        if feed > 0 and abs(math.log(self.fed)) > abs(math.log(self.oddest_fed)):
            self.oddest_fed = self.fed
        self.rows.extend((number, at["X"], at["Y"], at["Z"], feed, speed, self.hot, self.bits))
        if feed < 0:
            self.fastest_pull = max(self.fastest_pull, speed)
        if len(self.rows) > CHUNK:
            self._keep()
        self._pull(feed)

    def _pull(self, feed: float) -> None:
        """How far filament is pulled back, after so much more of it was fed."""
        if feed < 0:
            self.retracted -= feed
            self.taken_back -= feed
            self.longest_retraction = max(self.longest_retraction, self.retracted)
            self.pull_peak = max(self.pull_peak, self.retracted)
        elif feed > 0 and self.retracted > 0:
            if self.pull_peak:
                self.pulls.append(self.pull_peak)
                self.pull_peak = 0.0
            self.retracted = max(0.0, self.retracted - feed)

    def _pulls(self, feeds: Any) -> None:
        """The same for many moves: walked through only from a retraction until all of it is fed again."""
        moved, place = feeds.tolist(), 0
        for back in [*np.flatnonzero(feeds < 0).tolist(), len(moved)]:
            while self.retracted > 0 and place < back:
                self._pull(moved[place])
                place += 1
            if back < len(moved):
                self._pull(moved[back])
                place = back + 1

    def _keep(self) -> None:
        """Turn the rows gathered so far into columns of half their size."""
        if self.rows:
            whole = np.frombuffer(self.rows).reshape(-1, COLUMNS)
            self.kept.append(whole[:, 1:7].astype(np.float32))
            self.numbers.append(whole[:, 0].astype(np.int32))
            self.bits_kept.append(whole[:, 7].astype(np.int8))
            self.rows = array("d")

    def _columns(self) -> dict[str, Any]:
        self._keep()
        names = ("x", "y", "z", "feed", "speed", "nozzle")
        if not self.kept:
            empty = np.zeros(0, np.float32)
            return dict.fromkeys(names, empty) | {"line": empty.astype(np.int32), "known": empty.astype(np.int8)}
        columns = {name: np.concatenate([part[:, index] for part in self.kept]) for index, name in enumerate(names)}
        return columns | {"line": np.concatenate(self.numbers), "known": np.concatenate(self.bits_kept)}

    def _other(self, number: int, name: str, words: list[str], code: str) -> None:
        values = _values(words)
        act = act_of(name, values, number, self.at["Z"])
        if act is not None:
            self.acts.append(act)
            return
        if name in _MOVES:
            self._move(number, ["G1", *(f"{letter}{value!r}" for letter, value in values.items())])
            return
        match name:
            case "G2" | "G3":
                self._arc(number, values, clockwise=name[-1] == "2")
            case "G20":
                self.scale, self.plain = MM_PER_INCH, False
            case "G21":
                self.scale, self.plain = 1.0, self.absolute
            case "G28":
                self.homed_at = self.homed_at or number
                for letter in [one for one in "XYZ" if one in values or f" {one}" in code] or "XYZ":
                    self.at[letter] = 0.0
            case "G90" | "G91":
                self.absolute = self.absolute_e = name == "G90"
                self.plain = self.absolute and self.scale == 1.0
            case "M82" | "M83":
                self.absolute_e = name == "M82"
            case "G92":
                self.e = values.get("E", 0.0 if not values else self.e / self.scale) * self.scale
                said = {letter: values[letter] * self.scale for letter in self.at if letter in values}
                if any(abs(place - self.at[letter]) > SAME_MM for letter, place in said.items()):
                    self.acts.append(Act(Deed.SETS_MACHINE, name, number, self.at["Z"]))
                self.at |= said
            case "M104" | "M109" | "M140" | "M190":
                self._heat(number, name, values)
            case "M106" | "M107":
                percent = 0.0 if name == "M107" else min(100.0, values.get("S", 255.0) / 2.55)
                row = FanLine(percent=percent, line=number, z_mm=self.at["Z"])
                self.fans[int(values.get("P", 0))].append(row)
            case "M220":
                self.override = values.get("S", 100 * self.override) / 100
            case "M221":
                # Nothing at all and less is no share of anything: the machine goes on as it was.
                share = values.get("S", 100 * self.fed) / 100
                self.fed = share if share > 0 else self.fed
            case "M900" if "K" in values:
                self.pressures.append(PressureLine(seconds=values["K"], line=number))
            case _ if name not in QUIET:
                self.unknown[name] += 1

    def _heat(self, number: int, name: str, values: dict[str, float]) -> None:
        said = [values[letter] for letter in "SR" if letter in values]
        if not said:
            return
        celsius = max(said)
        nozzle = name in {"M104", "M109"}
        if nozzle:
            self.hot = celsius
        else:
            self.bed = celsius
        self.heats.append(
            HeatLine(
                what="nozzle" if nozzle else "bed", celsius=celsius, line=number, z_mm=self.at["Z"],
                wait=name in {"M109", "M190"},
            )
        )  # fmt: skip

    def _arc(self, number: int, values: dict[str, float], *, clockwise: bool) -> None:
        """An arc as chords; its filament is spread evenly along them."""
        scale, at = self.scale, self.at
        x0, y0, z0 = at["X"], at["Y"], at["Z"]
        end = {
            letter: (values[letter] * scale + (0.0 if self.absolute else at[letter]))
            if letter in values
            else at[letter]
            for letter in at
        }
        if "F" in values:
            self.f = values["F"] * scale / 60
        feed = 0.0
        if "E" in values:
            value = values["E"] * scale
            feed = value - self.e if self.absolute_e else value
            self.e = value if self.absolute_e else self.e + value
        for letter in values:
            self.bits |= _BIT.get(letter, 0)
        centre = _centre((x0, y0), (end["X"], end["Y"]), values, scale, clockwise=clockwise)
        chords = 1
        if centre is not None:
            radius = math.hypot(x0 - centre[0], y0 - centre[1])
            begin = math.atan2(y0 - centre[1], x0 - centre[0])
            sweep = math.atan2(end["Y"] - centre[1], end["X"] - centre[0]) - begin
            if clockwise and sweep >= -1e-9:
                sweep -= 2 * math.pi
            elif not clockwise and sweep <= 1e-9:
                sweep += 2 * math.pi
            chords = self._chords(radius, abs(sweep))
            for step in range(1, chords):
                angle = begin + sweep * step / chords
                at["X"] = centre[0] + radius * math.cos(angle)
                at["Y"] = centre[1] + radius * math.sin(angle)
                at["Z"] = z0 + (end["Z"] - z0) * step / chords
                self._append(number, feed / chords)
        at.update(end)
        self._append(number, feed / chords)

    def _chords(self, radius: float, sweep: float) -> int:
        """Chords of an arc of this radius [mm] and angle [rad]: as many as its roundness needs, while there are any left."""
        widest = 2 * math.acos(max(0.0, 1 - ARC_OFF_MM / max(radius, ARC_OFF_MM)))
        if self.chords > MOST_CHORDS:
            widest = 2 * math.pi / FEWEST_CHORDS
        chords = max(1, min(MOST_OF_AN_ARC, math.ceil(sweep / widest)))
        self.chords += chords
        return chords


_NUMBERS: Final = re.compile(r"[\d.:_\-]+")
_MOVES: Final = frozenset({"G0", "G1"})
_RUN: Final = re.compile(r"(?>G[01](?> [XYZEF]-?(?>[0-9]{1,7}+\.?[0-9]*+|\.[0-9]++))++\r?\n)++")
_ALL_BUT_LETTERS: Final = b"0123456789.- \r"
_LETTERS_AWAY: Final = bytes.maketrans(b"GXYZEF", b"      ")
_COMMAND: Final = re.compile(r"[GMTgmt]\d{1,4}(?:\.\d+)?")
_BRACKETS: Final = re.compile(r"\([^)]*\)")
_BIT: Final = {"X": 1, "Y": 2, "Z": 4}
_LETTERED: Final = re.compile(r"([A-Za-z])\s*([-+]?(?:\d+\.?\d*|\.\d+))")


def _held(said: Any, before: float) -> Any:
    """What holds on each line: what was said last, or ``before``; nothing said is NaN."""
    last = np.maximum.accumulate(np.where(np.isnan(said), -1, np.arange(len(said))))
    return np.where(last < 0, before, said[last])


def _values(words: list[str]) -> dict[str, float]:
    """Letters with their numbers, however they are spaced; a checksum and what stands in brackets are left out.

    Of a letter that stands twice the larger number holds: a machine may take either, and limits are upper ones.
    """
    text = _BRACKETS.sub(" ", " ".join(words[1:])).partition("*")[0]
    read: dict[str, float] = {}
    for letter, said in _LETTERED.findall(text):
        number = float(said)
        if abs(number) < MOST_NUMBER:
            read[letter.upper()] = max(number, read.get(letter.upper(), number))
    return read


def _centre(
    begin: tuple[float, float], end: tuple[float, float], values: dict[str, float], scale: float, *, clockwise: bool
) -> tuple[float, float] | None:
    """Centre of an arc, from its offset or its radius; None where there is no arc."""
    if "I" in values or "J" in values:
        return begin[0] + values.get("I", 0.0) * scale, begin[1] + values.get("J", 0.0) * scale
    radius = values.get("R", 0.0) * scale
    across, along = end[0] - begin[0], end[1] - begin[1]
    chord = math.hypot(across, along)
    if radius == 0 or chord == 0 or abs(radius) < chord / 2:
        return None
    height = math.sqrt(radius**2 - chord**2 / 4) * (1 if (radius > 0) == clockwise else -1)
    return (begin[0] + end[0]) / 2 + height * along / chord, (begin[1] + end[1]) / 2 - height * across / chord
