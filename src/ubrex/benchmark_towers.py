"""Figures of towers: the files, the rule, and the time from a key to a new pick on the screen."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, Final

from playwright.sync_api import Page

from ubrex.core.calibrate import DEMANDS, Criterion, TowerSample, evaluate_tower
from ubrex.core.chain import Purpose
from ubrex.core.gcode import Manner, Volume
from ubrex.core.gcode.pieces import (
    LadderOptions,
    Piece,
    SizeOptions,
    SupportOptions,
    TowerOptions,
    fit_piece,
    foaming_tower,
    pressure_tower,
    retraction_tower,
    seam_tower,
    size_piece,
    support_piece,
    temperature_tower,
)
from ubrex.timing import Times, alternate, figure_line

BANDS: Final = 10
EVALUATIONS: Final = 200
OPTIONS: Final = TowerOptions(
    bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.2, values=tuple(240.0 - 5 * n for n in range(8))
)
COMPENSATIONS: Final = tuple(round(0.01 * n, 2) for n in range(8))
LADDER: Final = LadderOptions(
    bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.2, peg_mm=8.0,
    gaps_mm=tuple(round(0.1 + 0.05 * n, 2) for n in range(9)),
)  # fmt: skip
BAYS: Final = SupportOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.2, layers=(1, 2, 3, 4, 5))
SIZES: Final = SizeOptions(bore_mm=0.4, line_width_mm=0.45, layer_mm=0.2, first_layer_mm=0.2)
DISTANCES: Final = tuple(round(0.2 + 0.25 * n, 2) for n in range(8))

KEYS: Final = """async (figures) => {
    const shown = () => document.querySelector('[aria-label="What is on this screen"]').textContent.match(/(\\d+) in/)[1];
    const until = async (before) => {
        while (shown() === before) await new Promise((done) => requestAnimationFrame(done));
    };
    const ms = { ours: [], floor: [] };
    for (const figure of figures) {
        const before = shown();
        const started = performance.now();
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key: figure, bubbles: true }));
        await until(before);
        ms.ours.push(performance.now() - started);
        const asked = performance.now();
        await (await fetch('/floor', { method: 'POST' })).json();
        await new Promise((done) => requestAnimationFrame(done));
        ms.floor.push(performance.now() - asked);
    }
    return ms;
}"""
"""Press keys one after the other; each is done when the count of ratings that came back with a new pick is on the screen."""


def towers_written(volume: Volume, write: Callable[[Piece, Manner], str], repeats: int) -> None:
    """Towers of eight bands, a fit ladder and a size piece, made anew each time, and written."""
    manner = Manner()
    made: dict[str, Callable[[], Piece]] = {
        "temperature tower": lambda: temperature_tower.__wrapped__(OPTIONS, volume, manner),
        "foaming tower": lambda: foaming_tower.__wrapped__(OPTIONS, volume, manner),
        "retraction tower": lambda: retraction_tower.__wrapped__(replace(OPTIONS, values=DISTANCES), volume, manner),
        "pressure tower": lambda: pressure_tower.__wrapped__(
            replace(OPTIONS, values=COMPENSATIONS), volume, manner, slow_mm_s=15.0
        ),
        "two seams": lambda: seam_tower.__wrapped__(replace(OPTIONS, values=(0.0, 0.1, 0.1, 0.0) * 2), volume, manner),
        "fit ladder": lambda: fit_piece.__wrapped__(LADDER, volume, manner),
        "support ladder": lambda: support_piece.__wrapped__(BAYS, volume, manner),
        "size piece": lambda: size_piece.__wrapped__(SIZES, volume, manner),
    }
    for name, make in made.items():
        found = alternate([("ours", lambda make=make: write(make(), manner))], repeats, warm_up=2)  # type: ignore[misc]
        print(f"{name} made and written p95: {found['ours'].at(0.95):.3g} ms (aim under 300)")


def tower_evaluation() -> None:
    """The rule against a plain weighted sum of the same ratings: ten bands, every criterion."""
    ratings = {row: [(3 * band + index) % 5 for band in range(BANDS)] for index, row in enumerate(Criterion)}
    sample = TowerSample(temperatures_c=tuple(200.0 + 5 * band for band in range(BANDS)), raters=(ratings,))
    demand = DEMANDS[Purpose.EVERYDAY]

    def plain() -> int:
        sums = [sum(weight * ratings[row][band] for row, weight in demand.weights.items()) for band in range(BANDS)]
        return sums.index(max(sums))

    found = alternate([("ours", lambda: evaluate_tower(sample, demand)), ("floor", plain)], EVALUATIONS)
    print(figure_line("tower of ten bands evaluated p50", found["ours"].at(0.5), found["floor"].at(0.5)))


def rating_keys(page: Page, address: str, setup_id: int) -> None:
    """From a key press to the new pick on the screen, ten bands by seven criteria, beside one INSERT from the same page."""
    page.add_init_script("localStorage.setItem('ubrex.person', '1')")
    page.goto(f"{address}/setups/{setup_id}/measure/temperature")
    page.get_by_role("heading", name="Temperature tower").wait_for()
    page.get_by_label("Coldest band").fill("235")
    page.get_by_label("Hottest band").fill("280")
    page.get_by_role("button", name="Start").click()
    page.get_by_text("Rate the ends first").wait_for()
    figures = [str((3 * n + n // 7) % 5) for n in range(BANDS * 3)]
    ms: Any = page.evaluate(KEYS, figures)
    found = {name: Times(name, values) for name, values in ms.items()}
    for share in (0.5, 0.95):
        name = f"key to new pick on screen p{share * 100:.0f} (aim under 100 ms)"
        print(figure_line(name, found["ours"].at(share), found["floor"].at(share)))
