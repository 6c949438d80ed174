"""Test pieces for a setup: how hot, how fast and how large its machine may print, and the file that says so."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from pydantic import BaseModel, ConfigDict

from ubrex.core.bead import Bead
from ubrex.core.chain import KINDS, Kind
from ubrex.core.gcode import (
    USUAL_ACCELERATION_MM_S2,
    USUAL_SPEED_MM_S,
    Dialect,
    Gcode,
    Heat,
    HeatCap,
    Job,
    MachineLimits,
    Manner,
    OwnManner,
    Volume,
    careful_manner,
    read_gcode,
    write_gcode,
)
from ubrex.core.gcode.pieces import Piece, feed_ladder, feed_test, line_for
from ubrex.core.materials import Hazard, Stiffness, caution, density_of, family, feeds_from
from ubrex.server.desk import Clash
from ubrex.server.profile import Tuned, diameter_of, limit_on, off_said_on, usual_on
from ubrex.server.store.records import Setup
from ubrex.server.views.base import CautionOut
from ubrex.server.views.pieces import (
    FileViewOut,
    LayerOut,
    OutlineOut,
    PieceBandOut,
    PieceOut,
    PointOut,
)
from ubrex.server.words import pieces as words
from ubrex.server.words.judgement import LIMITS
from ubrex.server.words.numbers import plain
from ubrex.server.workshop import setup_title

DRAWN_ON_MM: Final = 300.0
"""Room for a piece that another program places, or whose machine has no size."""

MOST_LINES: Final = 120_000
"""Lines of a drawing beyond which layers are left out."""


class PrintedOn(BaseModel):
    """What a piece was drawn for; a run keeps it, so that it can be looked at whatever is entered of its machine later."""

    model_config = ConfigDict(frozen=True)

    bore_mm: float
    width_mm: float
    depth_mm: float
    height_mm: float
    centred: bool = False

    @property
    def volume(self) -> Volume:
        """Where it stands."""
        return Volume(width_mm=self.width_mm, depth_mm=self.depth_mm, height_mm=self.height_mm, centred=self.centred)


def printed_on(tuned: Tuned) -> PrintedOn:
    """The nozzle of a setup and the room above its bed; as much as anybody has where nobody entered it."""
    machine = tuned.setup.toolhead.machine
    return PrintedOn(
        bore_mm=tuned.setup.nozzle.bore_mm,
        width_mm=machine.width_mm or DRAWN_ON_MM,
        depth_mm=machine.depth_mm or DRAWN_ON_MM,
        height_mm=machine.height_mm or DRAWN_ON_MM,
        centred=machine.centred,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Printing:
    """How a piece is to be printed, as a person decided; ``pressure``: the line by which its machine takes compensation."""

    heat: Heat
    fan_pct: float
    flow: float
    pressure: str = ""


def machine_limits(tuned: Tuned, *, still: bool = False) -> MachineLimits:
    """Everything a file for this setup is held to; ``still``: for one that only feeds, the size does not matter.

    Raises
    ------
    Clash
        If nobody entered how large the machine prints.
    """
    setup = tuned.setup
    machine = setup.toolhead.machine
    size = (machine.width_mm, machine.depth_mm, machine.height_mm)
    if None in size and not still:
        raise Clash(words.size_unknown_said(machine.name), code="size_unknown")
    row, parts = family(setup.filament.family), tuned.parts
    top, usual = tuned.values.get(Kind.TOP_FLOW), usual_on(tuned, Kind.NOZZLE)
    return MachineLimits(
        volume=Volume(
            width_mm=machine.width_mm or 0.0,
            depth_mm=machine.depth_mm or 0.0,
            height_mm=machine.height_mm or 0.0,
            centred=machine.centred,
        ),
        nozzle=_cap(tuned, Kind.NOZZLE),
        bed=_cap(tuned, Kind.BED),
        feeds_from_c=feeds_from(None if usual is None else usual.window.low),
        melt_mm3_s=row.melt.low if top is None else top.number,
        retraction_mm=parts.cap.distance_mm,
        retraction_mm_s=parts.cap.speed_mm_s,
        speed_mm_s=machine.max_speed_mm_s or USUAL_SPEED_MM_S,
        speed_stated=machine.max_speed_mm_s is not None,
        acceleration_mm_s2=machine.acceleration_mm_s2 or USUAL_ACCELERATION_MM_S2,
        safe=not tuned.held,
    )


def _cap(tuned: Tuned, kind: Kind) -> HeatCap:
    limit = limit_on(tuned, kind)
    assert limit is not None, f"{KINDS[kind].name} has no limit"
    return HeatCap(max_c=limit.max_c, why=LIMITS[limit.of])


def manner_of(tuned: Tuned, bead: Bead, flow: float, held: MachineLimits, *, speed_mm_s: float | None = None) -> Manner:
    """Speeds and retraction for a piece of such lines: the setup's own where it has them, careful ones where not.

    ``speed_mm_s``: the speed wanted, where it is not the setup's own; the melt rate and the machine limit it all the same.
    """
    own = {kind: value.number for kind, value in tuned.values.items()}
    return careful_manner(
        OwnManner(
            speed_mm_s=speed_mm_s or own.get(Kind.SPEED_OUTER),
            retraction_mm=own.get(Kind.RETRACTION),
            retraction_speed_mm_s=own.get(Kind.RETRACTION_SPEED),
            hop_mm=own.get(Kind.Z_HOP),
        ),
        held,
        bead=bead,
        flow=flow,
        filament_mm=diameter_of(tuned.setup, tuned.values.get(Kind.DIAMETER)),
        direct=tuned.parts.direct,
        rigid=tuned.parts.stiffness is Stiffness.RIGID,
    )


def write_piece(
    tuned: Tuned,
    piece: Piece,
    printing: Printing,
    manner: Manner,
    head: Sequence[tuple[str, str]],
    *,
    revision: int | None,
) -> str:
    """The file for a piece on a setup as it is now; see ``write_gcode`` for what is refused.

    Raises
    ------
    OutOfRange
        If its nozzle lays no such lines.
    """
    setup, held, heat = tuned.setup, machine_limits(tuned), printing.heat
    # Only what it raises is wanted here.
    line_for(setup.nozzle.bore_mm, piece.bead.width_mm, piece.bead.height_mm)
    machine = setup.toolhead.machine
    # What somebody finds at the top of the file in a year: of what it was made, and within which limits.
    said = [
        ("setup", setup_title(setup)),
        ("profile revision", words.NO_REVISION if revision is None else str(revision)),
        ("nozzle", _heat_said(heat.nozzle_c, heat.first.nozzle_c, held.nozzle)),
        *_display_said(tuned),
        ("bed", _heat_said(heat.bed_c, heat.first.bed_c, held.bed)),
        ("flow", f"{plain(round(100 * printing.flow, 2))} %"),
        (
            "line",
            words.line_said(piece.bead.width_mm, piece.bead.height_mm, piece.spacing_mm),
        ),
        ("melt rate limit", f"{plain(held.melt_mm3_s)} mm³/s"),
        ("speed limit", f"{plain(held.speed_mm_s)} mm/s"),
        *head,
    ]
    job = Job(
        name=words.written_said(piece.name),
        moves=piece.moves,
        heat=heat,
        manner=manner,
        bead=piece.bead,
        head=said,
        cautions=[f"{row.lead} {row.text}" for row in printing_cautions(setup)],
    )
    dialect = Dialect(
        relative_feed=machine.relative_feed,
        start=tuple(machine.start_block.splitlines()),
        end=tuple(machine.end_block.splitlines()),
        pressure=printing.pressure,
    )
    return write_gcode(job, limits=held, dialect=dialect)


def _heat_said(rest_c: float | None, first_c: float | None, cap: HeatCap) -> str:
    """A temperature with its limit, and that of the first layer, where it is another."""
    rest, first = (f"{plain(celsius)} °C" if celsius else words.NOT_HEATED_AT_ALL for celsius in (rest_c, first_c))
    return rest if rest == first == words.NOT_HEATED_AT_ALL else words.heat_said(rest, first, cap.max_c, cap.why)


def _display_said(tuned: Tuned) -> list[tuple[str, str]]:
    off = off_said_on(tuned)
    return [(words.DISPLAY, off)] if off else []


def write_feed(
    tuned: Tuned, length_mm: float, nozzle_c: float, said: Sequence[CautionOut], *, speed_mm_s: float
) -> str:
    """The file that heats, feeds once, and switches off; nothing moves but filament."""
    setup, held = tuned.setup, machine_limits(tuned, still=True)
    job = Job(
        name=words.written_said(words.FEED_TEST),
        moves=feed_test(length_mm, speed_mm_s),
        heat=Heat(nozzle_c=nozzle_c),
        manner=Manner(filament_mm=diameter_of(setup, tuned.values.get(Kind.DIAMETER))),
        head=[
            ("setup", setup_title(setup)),
            ("nozzle", _heat_said(nozzle_c, nozzle_c, held.nozzle)),
            *_display_said(tuned),
            ("feeds", words.feeds_said(length_mm, speed_mm_s)),
        ],
        cautions=[f"{row.lead} {row.text}" for row in said],
        still=True,
    )
    return write_gcode(job, limits=held, dialect=Dialect(relative_feed=setup.toolhead.machine.relative_feed))


TRIED_SHARE: Final = 1.5
"""A ladder feeds up to so many times what hotends usually melt of a family: there it has long begun to lose."""


def most_tried(tuned: Tuned) -> float:
    """The fastest that a ladder feeds to find out what this hotend melts [mm³/s]."""
    return TRIED_SHARE * family(tuned.setup.filament.family).melt.high


def write_feed_ladder(
    tuned: Tuned, flows_mm3_s: Sequence[float], volume_mm3: float, nozzle_c: float, said: Sequence[CautionOut]
) -> str:
    """The file that feeds the same volume step by step faster; nothing moves but filament.

    What is safe to melt is what it finds out: it is held to what hotends melt at all instead.
    """
    setup, held = tuned.setup, machine_limits(tuned, still=True)
    held = replace(held, melt_mm3_s=max(held.melt_mm3_s, most_tried(tuned)))
    filament = diameter_of(setup, tuned.values.get(Kind.DIAMETER))
    job = Job(
        name=words.written_said(words.FEED_LADDER),
        moves=feed_ladder(flows_mm3_s, volume_mm3, filament),
        heat=Heat(nozzle_c=nozzle_c),
        manner=Manner(filament_mm=filament),
        head=[
            ("setup", setup_title(setup)),
            ("nozzle", _heat_said(nozzle_c, nozzle_c, held.nozzle)),
            *_display_said(tuned),
            ("steps", ", ".join(plain(flow) for flow in flows_mm3_s) + " mm³/s"),
        ],
        cautions=[f"{row.lead} {row.text}" for row in said],
        still=True,
    )
    return write_gcode(job, limits=held, dialect=Dialect(relative_feed=setup.toolhead.machine.relative_feed))


def printing_cautions(setup: Setup) -> list[CautionOut]:
    """What can hurt when a piece is printed on this setup."""
    hazards = [Hazard.HEAT, Hazard.FIRE, Hazard.FUMES, Hazard.PINCH, Hazard.BLADES]
    if {"filled", "abrasive"} & set(setup.filament.flags):
        hazards.append(Hazard.FIBRE_DUST)
    if setup.surface is not None and setup.surface.kind == "glass":
        hazards.append(Hazard.GLASS)
    return [CautionOut(lead=row.lead, text=row.text) for row in map(caution, hazards)]


def piece_out(piece: Piece, tuned: Tuned, manner: Manner, remarks: Sequence[str]) -> PieceOut:
    """A piece as a screen draws it."""
    plan = piece.plan
    density = density_of(tuned.setup.filament.family, tuned.setup.filament.density_g_cm3)
    machine = tuned.setup.toolhead.machine
    minutes = piece.minutes(machine.acceleration_mm_s2 or USUAL_ACCELERATION_MM_S2)
    return PieceOut(
        name=piece.name,
        outlines=[
            OutlineOut(points=[PointOut(x=x, y=y) for x, y in outline.points], bold=outline.bold)
            for outline in plan.outlines
        ],
        width_mm=plan.width_mm,
        depth_mm=plan.depth_mm,
        height_mm=plan.height_mm,
        size=f"{plan.width_mm:.0f} x {plan.depth_mm:.0f} x {plain(round(plan.height_mm, 2))} mm",
        minutes=words.minutes_said(minutes),
        grams=f"{piece.grams(manner.filament_mm, density):.1f} g",
        remarks=list(remarks),
        bands=[
            PieceBandOut(
                text=plain(band.value),
                from_mm=band.from_mm,
                to_mm=band.to_mm,
                settled="" if band.settled_mm <= band.from_mm else words.settled_said(band.settled_mm),
            )
            for band in piece.bands
        ],
        front=[round(100 * edge) for part in piece.front for edge in part] if piece.bands else [],
        jaws=any(any(place.across) for place in plan.places),
        refused="",
        field="",
    )


def no_piece(name: str, why: str, field: str) -> PieceOut:
    """A piece that cannot be written, and why; ``field``: where to change that."""
    return PieceOut(
        name=name, outlines=[], width_mm=0, depth_mm=0, height_mm=0, size="", minutes="", grams="",
        remarks=[], bands=[], front=[], jaws=False, refused=why, field=field,
    )  # fmt: skip


def layers_out(found: Gcode, volume: Volume) -> FileViewOut:
    """A file layer by layer; of a very long one every other layer, every third, and so on."""
    layers = found.layers()
    every = 1 + int(found.extruding.sum()) // MOST_LINES
    laid = found.extruding
    shown = []
    for z, begin, end in layers[::every]:
        rows = [row for row in range(max(begin, 1), end) if laid[row]]
        columns = [(found.x[row - 1], found.y[row - 1], found.x[row], found.y[row]) for row in rows]
        shown.append(
            LayerOut(z_mm=round(z, 3), lines=[round(100 * float(value)) for line in columns for value in line])
        )
    return FileViewOut(
        width_mm=volume.width_mm,
        depth_mm=volume.depth_mm,
        left_mm=volume.left,
        front_mm=volume.front,
        layers=shown,
        every=every,
    )


def layers_of_text(text: str, volume: Volume) -> FileViewOut:
    """The drawing of a file from its text."""
    return layers_out(read_gcode(text.splitlines(keepends=True)), volume)
