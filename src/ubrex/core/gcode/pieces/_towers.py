"""Towers: bands that differ in one value, each with its value standing out of its wall.

A temperature tower is looked at and snapped, a retraction tower is looked at, a foaming tower is measured.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise
from typing import Final

from ubrex.core.bead import Bead
from ubrex.core.errors import OutOfRange
from ubrex.core.gcode._machine import Volume
from ubrex.core.gcode._moves import Feed, Manner, Pause, Pen, Remark, Set, SetWhat
from ubrex.core.gcode._strokes import strokes_of
from ubrex.core.gcode.pieces._piece import (
    KEPT_PIECES,
    Band,
    Outline,
    Piece,
    Place,
    Plan,
    closed,
    filled,
    layer_heights,
    line_for,
    placed,
)

MOST_BANDS: Final = 20

DWELL_S: Final = 10.0
"""The nozzle waits beside the tower at each border for so long (rules, E, *failure modes*)."""

COOLS_C_S, HEATS_C_S = 0.7, 1.5
"""How fast a nozzle loses and gains heat while it prints [°C/s], carefully (E)."""

TEMPERATURE_BAND_MM, RETRACTION_BAND_MM, FOAM_BAND_MM = 10.0, 5.0, 6.0
"""Heights of bands."""

BASE_MM: Final = 2.0
"""Below the first band: the foot, printed at the value of the first."""

DIGIT_HIGH_MM, DIGIT_THICK_MM, DIGIT_OUT_MM = 4.0, 0.9, 0.4
"""How signs stand out of a wall."""

DIGIT_FROM_MM: Final = 0.6
"""Signs begin so far above the border of their band."""

LEAN_FROM_MM, LEAN_TO_MM = 5.0, 9.0
"""The overhangs of a band lean out between these heights."""

LEANS: Final = (1.0, 1.732)
"""Out per height of the two overhangs: 45 and 60 degrees from upright."""

TAB_MM, TAB_WIDE_MM = 6.0, 6.0
"""The tab to snap: how far it stands out, and how wide it is."""

TIP_MM, TIP_WIDE_MM = 5.0, 3.0
"""The fine tip: how far it stands out, and how wide it begins."""

GAP_MM: Final = 14.0
"""Between the posts of a temperature tower: bridged at the top of each band, and travelled across in each layer."""

TRAVEL_MM: Final = 30.0
"""Between the posts of a retraction tower."""

PRESSURE_BAND_MM, PRESSURE_LONG_MM, PRESSURE_DEEP_MM, PRESSURE_PART_MM = 5.0, 70.0, 16.0, 16.0
"""A pressure tower: height of a band, length and depth of the box, and how much of its back is slow on each side."""

LEFT_MM, RIGHT_MM, DEEP_MM = 14.0, 10.0, 10.0
"""Sizes of the posts; the left one has room for three signs."""

FOOT_MM: Final = 4.0
"""How far the foot reaches beyond the posts."""

ARM_MM: Final = 22.0
"""Length of an arm of the cross of a foaming tower: its end is free, so that jaws reach in from the side."""

ARMS: Final = ("1", "2", "3", "4")
ARM_AT_MM: Final = 13.0
"""Where an arm is measured, from the middle of the cross."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TowerOptions:
    """A tower to print. ``values``: of its bands from the bottom, °C or mm or mm/s; ``fan_pct`` from the second layer on."""

    bore_mm: float
    line_width_mm: float
    layer_mm: float
    first_layer_mm: float
    values: tuple[float, ...]
    fan_pct: float = 0.0


def band_layers(options: TowerOptions, band_mm: float) -> int:
    """Layers of one band."""
    return round(band_mm / options.layer_mm)


def tower_height(options: TowerOptions, band_mm: float) -> float:
    """Height [mm] of a tower of such bands."""
    return BASE_MM + len(options.values) * band_layers(options, band_mm) * options.layer_mm


@lru_cache(maxsize=KEPT_PIECES)
def temperature_tower(options: TowerOptions, volume: Volume, manner: Manner) -> Piece:
    """Two posts with, in each band, a bridge, two overhangs, a fine tip, a travel gap, a tab to snap, and its °C.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed.
    """
    tower = Tower.begun(options, volume, manner, TEMPERATURE_BAND_MM, width=LEFT_MM + GAP_MM + RIGHT_MM, depth=DEEP_MM)
    x, y = tower.x, tower.y
    right = x + LEFT_MM + GAP_MM
    pen, bead = tower.pen, tower.bead
    inset = bead.solid_mm
    for layer in tower.layers():
        up = layer.in_band_mm
        # A band leans out over its lower part and is upright again where the next begins.
        lean = max(0.0, up - LEAN_FROM_MM) if layer.band is not None and up <= LEAN_TO_MM else 0.0
        tab = min(TAB_MM, up) if layer.band is not None else 0.0
        signs = [] if layer.band is None else embossed(f"{options.values[layer.band]:.0f}", up)
        posts = (
            Post(x, y, LEFT_MM, DEEP_MM, left=lean * LEANS[0], signs=signs, tab=tab),
            Post(right, y, RIGHT_MM, DEEP_MM, right=lean * LEANS[1], tip=TIP_MM),
        )
        for post in posts:
            pen.line(closed(post.inner(inset)), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
            pen.line(closed(post.outer()), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
        if layer.from_top < 2:
            # The last two layers of a band bridge the gap.
            for at in _rows(y + 1, y + DEEP_MM - 1, inset):
                ends = [(x + LEFT_MM - inset, at), (right + inset, at)]
                pen.line(ends, layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    outlines = [
        Outline(points=tuple(closed(Post(x, y, LEFT_MM, DEEP_MM, left=LEAN_TO_MM - LEAN_FROM_MM, tab=TAB_MM).outer()))),
        Outline(
            points=tuple(
                closed(
                    Post(right, y, RIGHT_MM, DEEP_MM, right=(LEAN_TO_MM - LEAN_FROM_MM) * LEANS[1], tip=TIP_MM).outer()
                )
            )
        ),
        Outline(points=((x + LEFT_MM, y + DEEP_MM / 2), (right, y + DEEP_MM / 2)), bold=False),
    ]
    return tower.made("Temperature tower", outlines, [])


@lru_cache(maxsize=KEPT_PIECES)
def retraction_tower(options: TowerOptions, volume: Volume, manner: Manner, *, of_speed: bool = False) -> Piece:
    """Two posts with a travel between them in each layer; each band is pulled back by its own distance, or speed.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed.
    """
    tower = Tower.begun(
        options, volume, replace(manner, hop_mm=0.0), RETRACTION_BAND_MM, width=2 * LEFT_MM + TRAVEL_MM, depth=DEEP_MM
    )
    x, y = tower.x, tower.y
    pen, bead = tower.pen, tower.bead
    places = (x, x + LEFT_MM + TRAVEL_MM)
    for layer in tower.layers(heat=False):
        signs = []
        if layer.band is not None:
            value = options.values[layer.band]
            pen.manner = (
                replace(pen.manner, retraction_speed_mm_s=value)
                if of_speed
                else replace(pen.manner, retraction_mm=value)
            )
            signs = embossed(f"{value:.0f}" if of_speed else f"{value:.1f}", layer.in_band_mm)
        for at in places:
            post = Post(at, y, LEFT_MM, DEEP_MM, signs=signs)
            pen.line(closed(post.inner(bead.solid_mm)), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
            pen.line(closed(post.outer()), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    outlines = [Outline(points=tuple(closed(Post(at, y, LEFT_MM, DEEP_MM).outer()))) for at in places]
    middle = y + DEEP_MM / 2
    outlines.append(Outline(points=((places[0] + LEFT_MM, middle), (places[1], middle)), bold=False))
    return tower.made("Retraction tower", outlines, [])


@lru_cache(maxsize=KEPT_PIECES)
def pressure_tower(
    options: TowerOptions, volume: Volume, manner: Manner, *, slow_mm_s: float, after_s: float | None = None
) -> Piece:
    """A box whose sides slow down, speed up and turn: each band with its own compensation.

    Its front carries the signs; along its back it goes slow, fast, slow; all else is fast, so that each corner is one at
    which it slows down. ``after_s``: what the machine is given back at the end [s]; else it keeps that of the last band.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed.
    """
    tower = Tower.begun(
        options, volume, replace(manner, hop_mm=0.0), PRESSURE_BAND_MM, width=PRESSURE_LONG_MM, depth=PRESSURE_DEEP_MM
    )
    x, y, pen, bead = tower.x, tower.y, tower.pen, tower.bead
    for layer in tower.layers(heat=False):
        signs = []
        if layer.band is not None:
            value = options.values[layer.band]
            # Set once, on the first layer of its band.
            if round(layer.in_band_mm, 4) == options.layer_mm:
                pen.moves.append(Set(what=SetWhat.PRESSURE, number=value))
            signs = embossed(f"{value:.3f}".rstrip("0").rstrip(".") or "0", layer.in_band_mm)
        post = Post(x, y, PRESSURE_LONG_MM, PRESSURE_DEEP_MM, signs=signs)
        pen.line(closed(post.inner(bead.solid_mm)), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
        front = post.outer()
        right, left = x + PRESSURE_LONG_MM, x
        back = y + PRESSURE_DEEP_MM
        along = (right - PRESSURE_PART_MM, left + PRESSURE_PART_MM)
        # In one line round, so that the only changes of speed are those that are looked at.
        for points, speed in (
            (front[:-2], manner.speed_mm_s),
            ([(right, y), (right, back)], manner.speed_mm_s),
            ([(right, back), (along[0], back)], slow_mm_s),
            ([(along[0], back), (along[1], back)], manner.speed_mm_s),
            ([(along[1], back), (left, back)], slow_mm_s),
            ([(left, back), (left, y)], manner.speed_mm_s),
        ):
            pen.line(points, layer.top_mm, bead, speed=speed, why=Feed.PRINT)
    if after_s is not None:
        pen.moves.append(Set(what=SetWhat.PRESSURE, number=after_s))
    post = Post(x, y, PRESSURE_LONG_MM, PRESSURE_DEEP_MM)
    marks = [
        Outline(points=((at, y + PRESSURE_DEEP_MM - 2), (at, y + PRESSURE_DEEP_MM + 2)), bold=False)
        for at in (x + PRESSURE_PART_MM, x + PRESSURE_LONG_MM - PRESSURE_PART_MM)
    ]
    return tower.made("Pressure tower", [Outline(points=tuple(closed(post.outer()))), *marks], [])


@lru_cache(maxsize=KEPT_PIECES)
def foaming_tower(options: TowerOptions, volume: Volume, manner: Manner) -> Piece:
    """A cross of single walls, open at its four ends for the jaws, beside a post that says the °C of each band.

    Raises
    ------
    OutOfRange
        If line, layer, number of bands or size do not go with the bore or the bed.
    """
    side = 2 * ARM_MM
    tower = Tower.begun(options, volume, manner, FOAM_BAND_MM, width=side, depth=side, foot=False)
    x, y = tower.x + ARM_MM, tower.y + ARM_MM
    pen, bead = tower.pen, tower.bead
    strokes = [[(x - ARM_MM, y), (x + ARM_MM, y)], [(x, y - ARM_MM), (x, y + ARM_MM)]]
    label = (x + 5.0, y + 5.0)
    wide = 3.0
    # Feet, since a single wall would not hold; none lies on another.
    # The middle one reaches from arm to arm, the two others begin where it ends.
    for left, front, across, along in (
        (x - ARM_MM, y - wide, side, 2 * wide),
        (x - wide, y - ARM_MM, 2 * wide, ARM_MM - 2 * wide),
        (x - wide, y + 2 * wide, 2 * wide, ARM_MM - 2 * wide),
        (label[0] - 1, label[1] + wide - 1, LEFT_MM + 2, RIGHT_MM - wide + 2),
    ):
        filled(pen, tower.first, left, front, across, along)
    for layer in tower.layers():
        signs = [] if layer.band is None else embossed(f"{options.values[layer.band]:.0f}", layer.in_band_mm)
        post = Post(label[0], label[1] + wide, LEFT_MM, RIGHT_MM - wide, signs=signs)
        # The post first: what oozed while waiting lands there, not on a wall that is measured.
        pen.line(closed(post.outer()), layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
        for stroke in strokes:
            pen.line(stroke, layer.top_mm, bead, speed=manner.speed_mm_s, why=Feed.PRINT)
    arms = {"1": (1, 0), "2": (0, 1), "3": (-1, 0), "4": (0, -1)}
    places = [
        Place(
            name=arm,
            group=str(band),
            x=x + ARM_AT_MM * along,
            y=y + ARM_AT_MM * up,
            across=(float(up), float(along)),
        )
        for band in range(len(options.values))
        for arm, (along, up) in arms.items()
    ]
    outlines = [Outline(points=tuple(stroke)) for stroke in strokes]
    corner = Post(label[0], label[1] + wide, LEFT_MM, RIGHT_MM - wide)
    outlines.append(Outline(points=tuple(closed(corner.outer())), bold=False))
    return tower.made("Foaming tower", outlines, places)


@dataclass(frozen=True, slots=True)
class _Layer:
    """One layer of a tower: its top, the band it belongs to (None: the base), and where in the band it lies."""

    top_mm: float
    band: int | None
    in_band_mm: float
    from_top: int


@dataclass(slots=True)
class Tower:
    """A tower being drawn: where it stands, and the bands it has so far."""

    options: TowerOptions
    band_mm: float
    pen: Pen
    bead: Bead
    first: Bead
    x: float
    y: float
    width: float
    depth: float
    bands: list[Band]

    @classmethod
    def begun(
        cls,
        options: TowerOptions,
        volume: Volume,
        manner: Manner,
        band_mm: float,
        *,
        width: float,
        depth: float,
        foot: bool = True,
    ) -> Tower:
        """A tower in the middle of the bed, on its foot."""
        bead = line_for(options.bore_mm, options.line_width_mm, options.layer_mm)
        first = line_for(options.bore_mm, options.line_width_mm, options.first_layer_mm)
        if not 1 <= len(options.values) <= MOST_BANDS:
            raise OutOfRange(f"a tower has 1 to {MOST_BANDS} bands", name="bands", value=len(options.values))
        if tower_height(options, band_mm) > volume.height_mm:
            raise OutOfRange(
                f"a tower of {len(options.values)} bands is {tower_height(options, band_mm):.0f} mm high, this machine "
                f"prints {volume.height_mm:g} mm",
                name="bands",
                value=len(options.values),
            )
        around = FOOT_MM + TIP_MM + TAB_MM
        left, front = placed(volume, width + 2 * around, depth + 2 * around)
        x, y = left + around, front + around
        pen = Pen(manner=manner)
        if foot:
            filled(pen, first, x - FOOT_MM, y - TIP_MM - 1, width + 2 * FOOT_MM, depth + TIP_MM + FOOT_MM)
        return cls(options, band_mm, pen, bead, first, x, y, width, depth, [])

    def layers(self, *, heat: bool = True) -> Iterator[_Layer]:
        """Layers above the first, bottom up; at each border the new value is set, and the nozzle waits for it."""
        options, pen = self.options, self.pen
        if options.fan_pct > 0:
            pen.moves.append(Set(what=SetWhat.FAN, number=options.fan_pct))
        count = band_layers(options, self.band_mm)
        base = len(layer_heights(options.first_layer_mm, options.layer_mm, BASE_MM)) - 1
        top = options.first_layer_mm
        for number in range(base + count * len(options.values)):
            border = top
            top = round(options.first_layer_mm + (number + 1) * options.layer_mm, 4)
            band, place = divmod(number - base, count)
            if number < base:
                yield _Layer(top, None, 0.0, count)
                continue
            if place == 0:
                self._begin(band, border, count, heat=heat)
            begun = len(pen.moves)
            yield _Layer(top, band, (place + 1) * options.layer_mm, count - 1 - place)
            if heat and place == 0:
                self._settle(band, begun)

    def _begin(self, band: int, border: float, count: int, *, heat: bool) -> None:
        value = self.options.values[band]
        self.pen.moves.append(Remark(text=f"band {band + 1}: {value:g}, from {border:.2f} mm"))
        if heat and band:
            self.pen.travel(self.x - FOOT_MM - TIP_MM, self.y - TIP_MM, border)
            self.pen.moves += [Set(what=SetWhat.NOZZLE, number=value), Pause(seconds=DWELL_S)]
        self.bands.append(
            Band(
                value=value,
                from_mm=round(border, 4),
                to_mm=round(border + count * self.options.layer_mm, 4),
                settled_mm=round(border, 4),
            )
        )

    def _settle(self, band: int, begun: int) -> None:
        """From which height the nozzle has its temperature: what the dwell leaves is printed through."""
        if band == 0:
            return
        step = self.options.values[band] - self.options.values[band - 1]
        left = abs(step) / (HEATS_C_S if step > 0 else COOLS_C_S) - DWELL_S
        if left <= 0:
            return
        seconds = Piece.seconds(self.pen.moves[begun:], acceleration_mm_s2=1000)
        layers = -(-left // max(seconds, 1.0))
        here = self.bands[band]
        self.bands[band] = replace(here, settled_mm=min(here.to_mm, here.from_mm + layers * self.options.layer_mm))

    def made(self, name: str, outlines: Sequence[Outline], places: Sequence[Place]) -> Piece:
        """The piece, when all its layers are drawn."""
        plan = Plan(
            outlines=tuple(outlines),
            places=tuple(places),
            width_mm=self.width,
            depth_mm=self.depth,
            height_mm=self.bands[-1].to_mm,
        )
        return Piece(
            name=name,
            moves=tuple(self.pen.moves),
            plan=plan,
            bead=self.bead,
            spacing_mm=self.bead.solid_mm,
            bands=tuple(self.bands),
        )


@dataclass(frozen=True, slots=True)
class Post:
    """A rectangular post; its sides may lean out, its front carry signs or a tip, its back a tab [mm]."""

    x: float
    y: float
    width: float
    depth: float
    left: float = 0.0
    right: float = 0.0
    signs: Sequence[tuple[float, float]] = ()
    tip: float = 0.0
    tab: float = 0.0

    def outer(self) -> list[tuple[float, float]]:
        """Its outline, anticlockwise from the front left."""
        x0, x1, y0, y1 = self.x - self.left, self.x + self.width + self.right, self.y, self.y + self.depth
        points = [(x0, y0)]
        for begin, end in self.signs:
            out = y0 - DIGIT_OUT_MM
            points += [(self.x + begin, y0), (self.x + begin, out), (self.x + end, out), (self.x + end, y0)]
        if self.tip:
            middle = self.x + self.width / 2
            points += [(middle - TIP_WIDE_MM / 2, y0), (middle, y0 - self.tip), (middle + TIP_WIDE_MM / 2, y0)]
        points += [(x1, y0), (x1, y1)]
        if self.tab:
            middle, half = self.x + self.width / 2, TAB_WIDE_MM / 2
            out = y1 + self.tab
            points += [(middle + half, y1), (middle + half, out), (middle - half, out), (middle - half, y1)]
        return [*points, (x0, y1)]

    def inner(self, inset: float) -> list[tuple[float, float]]:
        """The line that its outline leans on."""
        x0, x1 = self.x - self.left + inset, self.x + self.width + self.right - inset
        return [
            (x0, self.y + inset),
            (x1, self.y + inset),
            (x1, self.y + self.depth - inset),
            (x0, self.y + self.depth - inset),
        ]


def embossed(text: str, up_mm: float) -> list[tuple[float, float]]:
    """Where signs stand out of a wall at a height above the border of their band: from and to [mm] along it."""
    height = up_mm - DIGIT_FROM_MM
    half = DIGIT_THICK_MM / 2
    if not -half <= height <= DIGIT_HIGH_MM + half:
        return []
    found = []
    for stroke in strokes_of(text, half + 0.5, 0.0, DIGIT_HIGH_MM):
        for (x0, z0), (x1, z1) in pairwise(stroke):
            low, high = min(z0, z1) - half, max(z0, z1) + half
            if low <= height <= high:
                at = [x0, x1] if z0 == z1 else [x0 + (x1 - x0) * min(1.0, max(0.0, (height - z0) / (z1 - z0)))]
                found.append((min(at) - half, max(at) + half))
    return _merged(sorted(found))


def _merged(spans: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    merged: list[tuple[float, float]] = []
    for begin, end in spans:
        if merged and begin <= merged[-1][1] + DIGIT_OUT_MM:
            merged[-1] = (merged[-1][0], max(end, merged[-1][1]))
        else:
            merged.append((begin, end))
    return merged


def _rows(low: float, high: float, step: float) -> list[float]:
    return [low + index * step for index in range(int((high - low) / step) + 1)]
