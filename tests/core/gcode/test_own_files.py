"""Whatever a setup's own forms allow is written within every limit, and our own check of it finds nothing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from ubrex.core.bead import NARROWEST, THICKEST, THINNEST, WIDEST, Bead
from ubrex.core.calibrate import retraction_bands, speed_bands
from ubrex.core.chain import Heats
from ubrex.core.gcode import (
    Dialect,
    Heat,
    HeatCap,
    Job,
    MachineLimits,
    Manner,
    OwnManner,
    Volume,
    careful_manner,
    check_file,
    read_gcode,
    write_gcode,
)
from ubrex.core.gcode.pieces import (
    BoxOptions,
    PadOptions,
    Piece,
    SizeOptions,
    TowerOptions,
    foaming_tower,
    hollow_box,
    nine_patches,
    pressure_tower,
    retraction_tower,
    size_piece,
    temperature_tower,
)
from ubrex.core.judge import Parts
from ubrex.core.materials import FAMILIES, Hardness, Shore, Stiffness, feeds_from

VOLUME = Volume(width_mm=300, depth_mm=300, height_mm=300)


@dataclass(frozen=True)
class Setup:
    """A setup, a line that its form allows, and what its profile has of retraction and speed."""

    parts: Parts
    width_mm: float
    layer_mm: float
    own: OwnManner
    relative: bool

    @property
    def limits(self) -> MachineLimits:
        """All that its files are held to."""
        nozzle, bed = self.parts.limit_of(Heats.NOZZLE), self.parts.limit_of(Heats.BED)
        assert nozzle is not None
        assert bed is not None
        return MachineLimits(
            volume=VOLUME, nozzle=HeatCap(max_c=nozzle.max_c, why=""), bed=HeatCap(max_c=bed.max_c, why=""),
            feeds_from_c=feeds_from(self.parts.filament.nozzle_low_c), melt_mm3_s=self.parts.filament.melt.low,
            retraction_mm=self.parts.cap.distance_mm, retraction_mm_s=self.parts.cap.speed_mm_s,
        )  # fmt: skip

    @property
    def manner(self) -> Manner:
        """How its pieces are printed."""
        return careful_manner(
            self.own, self.limits, bead=Bead(width_mm=self.width_mm, height_mm=self.layer_mm), flow=1.0, filament_mm=1.75,
            direct=self.parts.direct, rigid=self.parts.stiffness is Stiffness.RIGID,
        )  # fmt: skip

    def piece(self, name: str) -> Piece:
        """A piece as its form would have it."""
        line: dict[str, Any] = {
            "bore_mm": self.parts.bore_mm,
            "line_width_mm": self.width_mm,
            "layer_mm": self.layer_mm,
        }
        cap = self.parts.cap
        heat = self.limits.nozzle.max_c
        match name:
            case "box":
                return hollow_box(BoxOptions(**line, first_layer_mm=self.layer_mm, fan_pct=60), VOLUME, self.manner)
            case "sizes":
                return size_piece(SizeOptions(**line, first_layer_mm=self.layer_mm, fan_pct=60), VOLUME, self.manner)
            case "patches":
                return nine_patches(PadOptions(**line), VOLUME, self.manner)
            case "distance":
                values = retraction_bands(cap.distance_mm, from_zero=True)
                tower = TowerOptions(**line, first_layer_mm=self.layer_mm, values=values)
                return retraction_tower(tower, VOLUME, self.manner)
            case "pressure":
                tower = TowerOptions(**line, first_layer_mm=self.layer_mm, values=(0.0, 0.05, 0.1))
                return pressure_tower(tower, VOLUME, self.manner, slow_mm_s=min(10.0, self.manner.speed_mm_s))
            case "speed":
                tower = TowerOptions(**line, first_layer_mm=self.layer_mm, values=speed_bands(cap.speed_mm_s))
                return retraction_tower(tower, VOLUME, self.manner, of_speed=True)
        tower = TowerOptions(**line, first_layer_mm=self.layer_mm, values=(heat, heat - 5, heat - 10))
        return (temperature_tower if name == "temperature" else foaming_tower)(tower, VOLUME, self.manner)


@st.composite
def setups(draw: st.DrawFn) -> Setup:
    """Every family, both feed paths, soft and hard, with and without anything on record."""
    bore = draw(st.sampled_from((0.25, 0.4, 0.6, 0.8)))
    return Setup(
        parts=Parts(
            filament=draw(st.sampled_from(FAMILIES)), bore_mm=bore, direct=draw(st.booleans()), hotend_max_c=300,
            bed_max_c=110, hardness=draw(st.none() | st.sampled_from((Hardness(85, Shore.A), Hardness(98, Shore.A)))),
        ),
        width_mm=bore * draw(st.floats(NARROWEST, WIDEST)),
        layer_mm=bore * draw(st.floats(THINNEST, THICKEST)),
        own=OwnManner(
            speed_mm_s=draw(st.none() | st.floats(5, 300)),
            retraction_mm=draw(st.none() | st.floats(0, 9)),
            retraction_speed_mm_s=draw(st.none() | st.floats(1, 90)),
            hop_mm=draw(st.none() | st.floats(0, 3)),
        ),
        relative=draw(st.booleans()),
    )  # fmt: skip


@given(
    setup=setups(),
    name=st.sampled_from(("box", "sizes", "patches", "distance", "speed", "pressure", "temperature", "foaming")),
)
@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_own_pieces_pass_their_own_check_whatever_the_setup(setup: Setup, name: str) -> None:
    """At every line the form allows, with any profile; soft filament with nothing on record is pulled by 0.2 mm at most."""
    piece, limits = setup.piece(name), setup.limits
    job = Job(
        name=piece.name, moves=piece.moves, heat=Heat(nozzle_c=limits.nozzle.max_c, bed_c=60), manner=setup.manner,
        bead=piece.bead, head=[], cautions=[],
    )  # fmt: skip
    text = write_gcode(job, limits=limits, dialect=Dialect(relative_feed=setup.relative, pressure="M900 K{value}"))
    found = read_gcode(text.splitlines(keepends=True))
    assert check_file(found, limits, bore_mm=setup.parts.bore_mm, filament_mm=1.75) == []
    soft = setup.parts.stiffness is not Stiffness.RIGID
    if soft and setup.own.retraction_mm is None and name in {"box", "patches", "temperature", "foaming"}:
        assert found.longest_retraction_mm <= 0.2 + 1e-6
