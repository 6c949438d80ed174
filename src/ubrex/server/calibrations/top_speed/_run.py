"""A feed ladder: the mass of what came at each step, and from where on less comes than was commanded."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Final

from ubrex.core.calibrate import MeltResult, MeltVerdict, SpeedLimit, SpeedLine, shortest_line_mm, speed_limit, top_flow
from ubrex.core.chain import Kind
from ubrex.core.gcode import MachineLimits
from ubrex.core.materials import density_of
from ubrex.core.quantity import Reason, Unit, Verdict, decimal_text
from ubrex.server.calibrations._calibration import RunInputs
from ubrex.server.calibrations._case import File
from ubrex.server.calibrations._measured import Answer, Doubt, Gauge, Measured
from ubrex.server.calibrations.top_speed import _words as words
from ubrex.server.printing import machine_limits, write_feed_ladder
from ubrex.server.profile import NewValue, usual_on
from ubrex.server.store.records import Decision
from ubrex.server.views.base import CellOut
from ubrex.server.views.runs import CurveMarkOut, CurveOut, CurvePointOut, CurveSeriesOut
from ubrex.server.words.numbers import plain, step_places

FEWEST: Final = 6
"""Steps from which anything can be told (rules, H)."""

WORTH_MM3_S: Final = 0.5
"""A limit is changed where it moves by more than this, or is beyond what is safe."""


class LadderInputs(RunInputs):
    """What a ladder keeps besides its readings; ``current``: what is recorded as the most it melts [mm³/s]."""

    current: float | None
    unit: Unit = Unit.MM3_PER_S
    places: int = 1
    asked: int
    flows: list[float]
    volume_mm3: float
    nozzle_c: float


@dataclass(frozen=True)
class LadderCase(Measured[LadderInputs]):
    """A feed ladder with its readings."""

    inputs_type = LadderInputs
    unit = Unit.G
    noun = "mass"
    edits = ("skip",)

    @property
    def walk(self) -> Sequence[str]:
        """Each step, slowest first."""
        return [plain(flow) for flow in self.inputs.flows]

    def reads(self) -> str:
        """What is read next."""
        place = self.next_place()
        return self.calibration.words.reads if place is None else words.reads_said(float(place))

    @property
    def _usual_g(self) -> float:
        filament = self.run.setup.filament
        return self.inputs.volume_mm3 * (density_of(filament.family, filament.density_g_cm3) or 1.2) / 1000

    @cached_property
    def evaluated(self) -> MeltResult | None:
        """What the masses say, in order of how fast they were fed; None before six are in."""
        came = {float(row.place): row.number for row in self.readings if row.place}
        if len(came) < FEWEST:
            return None
        flows = sorted(came)
        return top_flow(flows, [came[flow] for flow in flows])

    def doubt(self) -> Doubt:
        """What was fed, by its usual density."""
        usual = self._usual_g
        return Doubt(
            noun="mass", usual=usual, low=usual / 5, high=usual * 3, impossible=words.NO_MASS, far=words.far_said,
            of_value=lambda mass: usual + (mass - usual) / 4,
        )  # fmt: skip

    def cells(self) -> list[CellOut]:
        """Steps, heat, and what is recorded."""
        inputs = self.inputs
        now = "nothing" if inputs.current is None else f"{decimal_text(inputs.current, 1)} mm³/s"
        return [
            CellOut(label="Fed", value=words.bands_said(inputs.flows), detail=f"{plain(inputs.volume_mm3)} mm³ each"),
            CellOut(label="At most, now", value=now, detail=f"nozzle {plain(inputs.nozzle_c)} °C"),
        ]

    @property
    def proposal(self) -> float:
        """Melt rate to set [mm³/s]: rounded down, so that it stays safe."""
        found = self.evaluated
        safe = None if found is None else found.safe_mm3_s
        return (self.inputs.current or 0.0) if safe is None else int(10 * safe) / 10

    @property
    def _keeps(self) -> bool:
        """Whether what is recorded is as good: safe, and not much less than could be."""
        current = self.inputs.current
        return current is not None and 0 <= self.proposal - current <= WORTH_MM3_S

    @property
    def _speeds(self) -> SpeedLimit:
        """How fast each kind of line of tonight's numbers may go with it."""
        held = {kind: value.number for kind, value in self.tuned.values.items()}
        bore = self.run.setup.nozzle.bore_mm
        width, height = held.get(Kind.LINE_WIDTH, 1.1 * bore), held.get(Kind.LAYER, bore / 2)
        kinds = (Kind.SPEED_OUTER, Kind.SPEED_INNER, Kind.SPEED_FILL)
        lines = [
            SpeedLine(
                name=name, width_mm=width, layer_height_mm=height, wanted_mm_s=held.get(kind),
                flow=held.get(Kind.FLOW, 100.0) / 100,
            )
            for name, kind in zip(words.LINE_KINDS, kinds, strict=True)
        ]  # fmt: skip
        usual = usual_on(self.tuned, Kind.NOZZLE)
        return speed_limit(
            max(0.1, self.proposal), lines, temperature_c=self.inputs.nozzle_c, limit_c=self._held.nozzle.max_c,
            window_high_c=None if usual is None else usual.window.high,
        )  # fmt: skip

    @cached_property
    def _held(self) -> MachineLimits:
        return machine_limits(self.tuned, still=True)

    @property
    def _meaning(self) -> list[str]:
        """What the melt rate means for the lines of tonight: how fast, what more would take, where it is not heat."""
        limit, held = self._speeds, self._held
        fastest = min(held.speed_mm_s, max(row.speed_mm_s for row in limit.lines))
        slows = self.run.setup.toolhead.machine.acceleration_mm_s2
        said = [words.speeds_said(limit, held.speed_mm_s), words.hotter_said(limit)]
        if slows is not None:
            said.append(words.short_lines_said(fastest, shortest_line_mm(fastest, slows)))
        return [sentence for sentence in said if sentence]

    def answer(self) -> Answer | None:
        """The melt rate that is safe."""
        found = self.evaluated
        if found is None:
            return None
        told = found.verdict in {MeltVerdict.KNEE, MeltVerdict.NO_KNEE_SEEN}
        verdict = Verdict.REPEAT if not told else Verdict.KEEP if self._keeps else Verdict.APPLY
        half = None
        if found.loss_flow_low_mm3_s is not None and found.loss_flow_high_mm3_s is not None and told:
            half = max(0.1, (found.loss_flow_high_mm3_s - found.loss_flow_low_mm3_s) / 2)
        reason = {Verdict.APPLY: Reason.OUTSIDE_TOLERANCE, Verdict.KEEP: Reason.WITHIN_TOLERANCE}
        return Answer(
            verdict=verdict, reason=reason.get(verdict, Reason.CHANGE_METHOD),
            title=words.title_said(found, self.proposal, keeps=self._keeps),
            sentence=words.melt_said(found, self.proposal, self.inputs.flows[-1]),
            number=self.proposal, half_width=half, limited_by=words.LIMIT, refused=not told,
            remarks=self._meaning if told else [],
        )  # fmt: skip

    def gauge(self) -> Gauge | None:
        """The masses against that of the easy steps."""
        found = self.evaluated
        if found is None or found.plateau is None:
            return None
        places = step_places(self.tool.resolution)
        plateau = found.plateau
        return Gauge(
            target=plateau, low=0.98 * plateau, high=1.02 * plateau, mean=plateau, half_width=0.005 * plateau,
            step=self.tool.resolution, places=places, at=lambda row: row.number, taken=self.readings, rows=self.rows,
            mean_note=f"{decimal_text(plateau, 3)} g where nothing is lost", move_note="",
            proposal_name="At most, mm³/s", measured_name="mass, g", reading_places=places, unit="g",
            sentence=words.strip_said(len(self.readings), found),
        )  # fmt: skip

    def curve(self) -> CurveOut | None:
        """Masses over what was fed, the loss that is a limit, and what is safe."""
        found = self.evaluated
        if found is None or found.plateau is None:
            return None
        came = {float(row.place): row.number for row in self.readings if row.place}
        points = [
            CurvePointOut(x=flow, y=came[flow], spread=0.0, text=f"{plain(flow)}: {plain(came[flow])} g")
            for flow in sorted(came)
        ]
        marks = [] if found.safe_mm3_s is None else [CurveMarkOut(x=self.proposal, text=words.SAFE, offered=True)]
        if found.loss_flow_mm3_s is not None:
            marks.append(CurveMarkOut(x=found.loss_flow_mm3_s, text=words.LOSES, offered=False))
        return CurveOut(
            x_name="mm³/s", y_name=words.CAME, series=[CurveSeriesOut(name="", points=points)], marks=marks,
            low=found.loss_flow_low_mm3_s, high=found.loss_flow_high_mm3_s, level=found.plateau, level_text=words.ALL_OF_IT,
        )  # fmt: skip

    def files(self) -> list[File]:
        """The file that feeds it."""
        return [self.piece_file(self._file)]

    def _file(self) -> str:
        inputs = self.inputs
        return write_feed_ladder(self.tuned, inputs.flows, inputs.volume_mm3, inputs.nozzle_c, self.cautions())

    def figures(self) -> dict[str, Any]:
        """The numbers a decision is kept with."""
        found = self.evaluated
        if found is None:
            return {"count": len(self.readings)}
        return {
            "count": len(self.readings), "said": found.verdict.value, "loss_flow_mm3_s": found.loss_flow_mm3_s,
            "loss_flow_low_mm3_s": found.loss_flow_low_mm3_s, "safe_mm3_s": found.safe_mm3_s,
            "nozzle_c": self.inputs.nozzle_c,
        }  # fmt: skip

    def decided(self, decision: Decision) -> list[NewValue]:
        """The melt rate, applied or kept."""
        number = self.proposal if decision.action == "apply" else self.inputs.current
        found = self.answer()
        if number is None:
            return []
        half = None if found is None else found.half_width
        return [self.new_value(Kind.TOP_FLOW, number, half, decision, Unit.MM3_PER_S)]
