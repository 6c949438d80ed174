"""Cases for rules whose inputs are the arguments of one function: many made-up evenings each, the same every time."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator, Mapping
from typing import Any, Final

Case = dict[str, Any]
Rnd = random.Random


def _words(rnd: Rnd, count: int, low: int, high: int, unsaid: float = 0.1) -> list[int | None]:
    return [None if rnd.random() < unsaid else rnd.randint(low, high) for _ in range(count)]


def _trend(rnd: Rnd, count: int, first: float, last: float, scatter: float = 0.7) -> list[int]:
    """Words that go from one end of a scale to the other, with scatter."""
    low, high = sorted((first, last))
    line = (first + (last - first) * place / (count - 1) for place in range(count))
    return [int(max(low, min(high, round(at + rnd.gauss(0, scatter))))) for at in line]


def _heat_probe(rnd: Rnd) -> Case:
    off, scatter = rnd.uniform(-12, 12), rnd.choice([0.3, 1.0, 1.4])
    if rnd.random() < 0.15:
        off = rnd.choice([-1, 1]) * rnd.uniform(36, 46)
    slope = rnd.choice([0, 0, 0.03, 0.06, 0.09])
    sets = rnd.sample([150.0, 172.0, 183.0, 200.0, 228.0, 250.0], rnd.randint(1, 4))
    points = []
    for celsius in sets:
        pairs = range(rnd.randint(2, 5))
        probe = [round(celsius + off + slope * (celsius - 200) + rnd.gauss(0, scatter), 1) for _ in pairs]
        points.append({"shown_c": [celsius for _ in pairs], "probe_c": probe})
    return {
        "points": points, "probe_accuracy_c": rnd.choice([0.5, 1.0, 2.5]), "contact_pct": rnd.choice([2.0, 4.0, 8.0]),
        "cold_shown_c": rnd.choice([None, None, 22.0, 27.0, 28.5, 30.0]),
    }  # fmt: skip


def _heat_push(rnd: Rnd) -> Case:
    count = rnd.randint(4, 9)
    answers = _trend(rnd, count, 0, 2, 0.4) if rnd.random() < 0.85 else _words(rnd, count, 0, 2, 0)
    return {
        "temperatures_c": [170.0 + 5 * step for step in range(count)], "answers": answers,
        "reference_knee_c": rnd.choice([None, 165.0, 190.0, 200.0, 230.0]),
    }  # fmt: skip


def _heat_confirm(rnd: Rnd) -> Case:
    def one(bias: float) -> Case:
        return {
            "method": rnd.choice(["probe", "probe", "push"]), "bias_c": bias + rnd.gauss(0, 2),
            "std_uncertainty_c": rnd.uniform(0.6, 5), "dof": rnd.choice([None, 10.0]),
            "common_std_uncertainty_c": rnd.uniform(0.1, 0.5),
        }  # fmt: skip

    bias = rnd.uniform(-9, 9)
    return {"first": one(bias), "second": one(bias), "same_probe": rnd.random() < 0.5, "reseated": rnd.random() < 0.8}


def _heat_use(rnd: Rnd) -> Case:
    return {
        "wanted_true_c": rnd.choice([rnd.uniform(185, 225), 189.4, 220.6, 219.5]),
        "bias_c": rnd.choice([0.0, rnd.uniform(-12, 12)]), "confirmed": rnd.random() < 0.5,
        "limit_c": rnd.choice([None, 215.0]), "label_low_c": 190.0, "label_high_c": 220.0,
        "slope_per_c": rnd.choice([0.0, 0.02]),
    }  # fmt: skip


def _heat_log(rnd: Rnd) -> Case:
    count, target = rnd.randint(25, 320), rnd.choice([200.0, 250.0])
    tau, end = rnd.uniform(5, 90), target + rnd.choice([0, 0, 0, -1.2, -2.5, -5, 3])
    swing, over = rnd.choice([0.3, 1, 2, 3, 3.6, 4.4, 6]), rnd.choice([0, 0, 6, 9, 12])
    times = [2.0 * step for step in range(count)]

    def at(time: float) -> float:
        warm = 22 + (end - 22) * (1 - math.exp(-time / tau)) + over * math.exp(-(((time - 5 * tau) / 20) ** 2))
        spike = rnd.choice([0, 0, 7, 9, 30]) if rnd.random() < 0.02 else 0
        return round(warm + swing / 2 * math.sin(time / 7) + rnd.gauss(0, 0.1) + spike, 1)

    level = rnd.choice([0.6, 0.95, 0.98, 1.0])
    return {
        "times_s": times, "shown_c": [at(time) for time in times], "target_c": target,
        "duty": rnd.choice([None, [level for _ in times]]),
    }  # fmt: skip


def _heat_margin(rnd: Rnd) -> Case:
    if rnd.random() < 0.5:
        level = rnd.uniform(0.6, 0.98)
        duty = [min(1.0, level + rnd.gauss(0, 0.01)) for _ in range(rnd.randint(1, 6))]
        return {"top_c": 260.0, "duty_at_c": 250.0, "duty": duty, "room_c": 21.0}
    count, end, tau = rnd.randint(50, 200), rnd.uniform(230, 500), rnd.uniform(60, 260)
    times = [2.0 * step for step in range(count)]
    shown = [22 + (end - 22) * (1 - math.exp(-time / tau)) + rnd.gauss(0, 0.3) for time in times]
    return {"top_c": rnd.choice([240.0, 280.0]), "times_s": times, "shown_c": shown}


def _pressure(rnd: Rnd) -> Case:
    count = rnd.randint(4, 9)
    start = rnd.choice([0.0, 0.2])
    turn = rnd.choice([1, 1, 1, 1, -1])
    first, last = rnd.choice([(2, -2), (2, -1), (1, -2), (2, 1), (-1, -2), (0, 0), (1, 1)])
    slow = _trend(rnd, count, turn * first, turn * last, 0.6)
    up = [max(-2, min(2, word + rnd.choice([-1, 0, 0, 0, 1]) + rnd.choice([0, 0, 2]))) for word in slow]
    unsaid = [None if rnd.random() < 0.1 else word for word in slow]
    return {
        "compensation_s": [round(start + 0.1 * step, 3) for step in range(count)], "slow_down": unsaid,
        "speed_up": rnd.choice([None, up]), "in_use_s": rnd.choice([None, 0.3]),
    }  # fmt: skip


def _retraction_speed(rnd: Rnd) -> Case:
    count = rnd.randint(3, 7)
    first, last = rnd.choice([(0, 4), (1, 4), (2, 3), (0, 2), (3, 4), (1, 1)])
    strings = [None if rnd.random() < 0.1 else word for word in _trend(rnd, count, first, last)]
    ground = rnd.choice([count, count, count - 1, 1, 0])
    return {
        "speeds_mm_s": [10.0 * (step + 1) for step in range(count)], "strings": strings,
        "vetoed": [place >= ground for place in range(count)], "feed": rnd.choice(["direct", "bowden"]),
        "material": rnd.choice(["rigid", "semi", "flexible"]),
    }  # fmt: skip


def _compare_two(rnd: Rnd) -> Case:
    base = rnd.uniform(0, 3)

    def rated(quality: float) -> list[float]:
        return [float(max(0, min(4, round(quality + rnd.gauss(0, 0.5))))) for _ in range(rnd.randint(1, 8))]

    return {
        "a": rated(base), "b": rated(base + rnd.choice([0, 0.1, 0.6, 1.5])), "repeat_sd": rnd.choice([None, 0.2, 0.6]),
        "repeat_dof": rnd.choice([0.0, 9.0, 60.0]), "cheaper": rnd.choice([None, "a", "b"]),
    }  # fmt: skip


def _fit_ladder(rnd: Rnd) -> Case:
    count = rnd.randint(3, 8)
    ends = rnd.choice([(0, 3), (0, 3), (1, 3), (0, 2), (2, 3), (0, 1), (3, 3), (2, 2)])
    words = _trend(rnd, count, *ends, rnd.choice([0.3, 0.8]))
    answers = [rnd.choice([[word], [word, max(0, min(3, word + rnd.randint(-1, 1)))]]) for word in words]
    step = rnd.choice([0.03, 0.05, 0.1])
    return {
        "gaps_mm": [round(step * (place + 1), 2) for place in range(count)], "answers": answers,
        "purpose": rnd.choice(["snug", "free"]),
    }  # fmt: skip


def _fit_combine(rnd: Rnd) -> Case:
    return {
        "ladder_gap_mm": 0.3, "ladder_half_width_mm": 0.05, "outer_offset_mm": rnd.choice([rnd.uniform(-0.2, 0.2), 0.63]),
        "inner_offset_mm": rnd.uniform(-0.2, 0.1), "outer_half_width_mm": 0.03, "inner_half_width_mm": 0.05,
    }  # fmt: skip


def _support_gap(rnd: Rnd) -> Case:
    count = rnd.randint(4, 7)
    release = _trend(rnd, count, *rnd.choice([(0, 3), (1, 3), (2, 3), (0, 1)]), 0.5)
    below = [4 - word for word in _trend(rnd, count, *rnd.choice([(0, 4), (1, 4), (0, 2), (2, 4), (3, 4)]))]
    return {
        "gaps_mm": [round(0.05 * (place + 1), 2) for place in range(count)], "release": release, "underside": below,
        "purpose": rnd.choice(["easy", "clean", "hidden"]),
    }  # fmt: skip


def _speed_limit(rnd: Rnd) -> Case:
    line = {
        "name": "outer", "width_mm": 0.45, "layer_height_mm": 0.2, "wanted_mm_s": rnd.choice([None, 60.0, 110.0, 150.0]),
        "acceleration_mm_s2": rnd.choice([None, 500.0]), "length_mm": rnd.choice([None, 10.0]),
        "flow": rnd.choice([None, 0.95]),
    }  # fmt: skip
    return {
        "safe_mm3_s": rnd.uniform(4, 15), "lines": [line], "temperature_c": rnd.choice([None, 205.0]),
        "window_high_c": rnd.choice([None, 220.0, 240.0]), "limit_c": rnd.choice([None, 235.0]),
    }  # fmt: skip


def _melt_gain(rnd: Rnd) -> Case:
    loss, wide = rnd.uniform(7.5, 10), rnd.uniform(0.01, 0.1)
    return {
        "first": {
            "temperature_c": 205.0, "loss_flow_mm3_s": 8.0, "low_mm3_s": 8 * (1 - wide), "high_mm3_s": 8 * (1 + wide),
        },
        "second": {
            "temperature_c": 205.0 + rnd.choice([5, 9, 20]), "loss_flow_mm3_s": loss, "low_mm3_s": loss * (1 - wide),
            "high_mm3_s": loss * (1 + wide),
        },
    }  # fmt: skip


def _width_readings(rnd: Rnd) -> Case:
    return {
        "width_mm": rnd.uniform(0.3, 0.9), "layer_height_mm": rnd.uniform(0.1, 0.35),
        "resolution_mm": rnd.choice([0.01, 0.001]),
    }  # fmt: skip


def _attempt(rnd: Rnd) -> Case:
    return {
        "nozzle_c": rnd.choice([210, 220]), "fan_pct": rnd.choice([30, 60]), "brim": rnd.choice(["none", "outer", "both"]),
        "bed_c": rnd.choice([60, 60, 65]), "speed": rnd.choice([40, 60]), "hop": rnd.choice([0.0, 0.2]),
        "seam": rnd.choice("ab"),
    }  # fmt: skip


def _series(rnd: Rnd) -> Case:
    attempts = [_attempt(rnd) for _ in range(rnd.randint(2, 14))]
    if rnd.random() < 0.5:
        # Two settings that went together, but once.
        for one in attempts[1:]:
            one["fan_pct"] = 60 if one["nozzle_c"] == 220 else 30
    return {
        "attempts": attempts,
        "ratings": [
            None if rnd.random() < 0.1 else max(0, min(4, (2 if one["nozzle_c"] == 220 else 0) + rnd.randint(0, 2)))
            for one in attempts
        ],
    }  # fmt: skip


def _blame(rnd: Rnd) -> Case:
    before = _attempt(rnd)
    changed = rnd.sample(sorted(before), rnd.randint(0, 7))
    after = {name: f"other {value}" if name in changed else value for name, value in before.items()}
    return {"before": before, "after": after, "rating_before": rnd.randint(0, 4), "rating_after": rnd.randint(0, 4)}


def _qualified(rnd: Rnd) -> Case:
    prints = rnd.randint(0, 30)
    return {"prints": prints, "failures": rnd.choice([0, 0, rnd.randint(0, max(0, prints))])}


def _before_after(rnd: Rnd) -> Case:
    kind = rnd.choice(["noise_db", "time_min", "mass_g", "power_w", "heat_sink_c"])
    size = {"noise_db": 1.0, "time_min": 0.5, "mass_g": 0.1, "power_w": 2.5, "heat_sink_c": 1.5}[kind]
    off = rnd.choice([0, 1, 2, 4]) * size

    def read(middle: float) -> list[float]:
        return [round(middle + rnd.gauss(0, size / 3), 3) for _ in range(rnd.randint(1, 9))]

    return {"kind": kind, "before": read(40), "after": read(40 + off), "resolution": 0.01}


def _mesh(rnd: Rnd) -> Case:
    down, across = rnd.randint(2, 6), rnd.randint(2, 6)
    tilt, bowl = rnd.choice([0, 0.05, 0.1, 0.3]), rnd.choice([0, 0.1, 0.3])
    rough = rnd.choice([0.01, 0.05, 0.2])

    def height(row: int, column: int) -> float:
        y, x = row / max(1, down - 1) - 0.5, column / max(1, across - 1) - 0.5
        return round(tilt * x + bowl * (1 - 2 * (x * x + y * y)) + rnd.gauss(0, rough), 3)

    return {"rows_mm": [[height(row, column) for column in range(across)] for row in range(down)]}


def _repeatability(rnd: Rnd) -> Case:
    count, std = rnd.randint(2, 34), rnd.choice([0.002, 0.004, 0.007, 0.012, 0.02])
    walk, lone, off = rnd.choice([0, 0, 0.001, 0.004]), rnd.randint(0, 40), rnd.uniform(3, 14) * std
    step = rnd.choice([0.001, 0.001, 0.0125])
    readings = [rnd.gauss(0, std) + place * walk + (off if place == lone else 0) for place in range(count)]
    return {"readings": [round(round(value / step) * step, 4) for value in readings], "resolution": step}


def _two_state(rnd: Rnd) -> Case:
    expected = [rnd.random() < 0.5 for _ in range(rnd.randint(1, 9))]
    way = rnd.choice(["right", "misses", "inverted", "stuck"])
    read = {
        "right": expected, "misses": [one if rnd.random() < 0.8 else not one for one in expected],
        "inverted": [not one for one in expected], "stuck": [True for _ in expected],
    }[way]  # fmt: skip
    return {"expected": expected, "read": read}


def _levelling(rnd: Rnd) -> Case:
    size, shrinks = rnd.choice([0.05, 0.1, 0.2]), rnd.choice([0.4, 0.7, 0.9, 1.3])
    screws, uneven = rnd.choice([2, 3, 4, 4, 4, 4]), rnd.random() < 0.1
    rounds = [[rnd.gauss(0, size * shrinks**turn) for _ in range(screws)] for turn in range(rnd.randint(1, 4))]
    return {"rounds_mm": [*rounds, [*rounds[-1], 0.01]] if uneven else rounds}


def _top_flow(rnd: Rnd) -> Case:
    count, knee = rnd.randint(5, 21), rnd.uniform(4, 40)
    flows = [2.0 * (step + 2) for step in range(count)]
    steep, scatter = rnd.choice([0.005, 0.02, 0.1]), rnd.choice([0.003, 0.01, 0.03])
    return {
        "flow_mm3_s": flows,
        "delivered": [3 - max(0.0, flow - knee) * steep * (flow / 20) ** 2 + rnd.gauss(0, scatter) for flow in flows],
    }  # fmt: skip


def _size(rnd: Rnd) -> Case:
    scale = rnd.choice([0, 0.0009, 0.0015, 0.003, 0.031]) * rnd.choice([-1, 1])
    out, hole = rnd.choice([0, 0.05, 0.09, 0.2, 0.65]), -rnd.choice([0, 0.05, 0.1, 0.2])

    def read(nominals: list[float], offset: float, scatter: float) -> list[tuple[float, float]]:
        return [(size, round(size * (1 + scale) + offset + rnd.gauss(0, scatter), 2)) for size in nominals]

    scatter = rnd.choice([0.005, 0.02, 0.05])
    outer = read([10.0, 20.0, 32.0, 80.0, 120.0][: rnd.randint(2, 5)], out, scatter)
    inner = read([5.0, 12.0, 20.0, 40.0][: rnd.randint(0, 4)], hole, scatter)
    return {"outer_mm": outer, "inner_mm": inner}


def _size_axes(rnd: Rnd) -> Case:
    def axis() -> Case:
        return {"scale_pct": rnd.gauss(-0.3, 0.08), "scale_std_uncertainty_pct": 0.03, "scale_dof": 8.0}

    return {"x": axis(), "y": axis()}


def _drift(rnd: Rnd) -> Case:
    count, moves = rnd.randint(1, 20), rnd.choice([0, 0.5, 1.5, 6])
    return {"values": [1 + 0.01 * (rnd.gauss(0, 1) + (moves if place > 8 else 0)) for place in range(count)]}


def _factorial(rnd: Rnd) -> Case:
    design = rnd.choice(["3in4", "3in8", "4in8", "7in8"])
    results = [rnd.gauss(8, 1) for _ in range(4 if design == "3in4" else 8)]
    return {"design": design, "results": results, "repeat_sd": rnd.choice([None, 0.5])}


MAKERS: Final[Mapping[str, Callable[[Rnd], Case]]] = {
    "mesh-shape": _mesh,
    "before-after": _before_after, "blame": _blame, "compare-two": _compare_two, "drift": _drift, "factorial": _factorial,
    "factorial-best": _factorial, "fit-combine": _fit_combine, "fit-ladder": _fit_ladder, "heat-confirm": _heat_confirm,
    "heat-log": _heat_log, "heat-margin": _heat_margin, "heat-probe": _heat_probe, "heat-push": _heat_push,
    "heat-use": _heat_use, "levelling-rounds": _levelling, "melt-gain": _melt_gain, "pressure-tower": _pressure,
    "qualified": _qualified, "repeatability": _repeatability, "retraction-speed": _retraction_speed, "series": _series,
    "size": _size, "size-axes": _size_axes, "speed-limit": _speed_limit, "support-gap": _support_gap,
    "top-flow": _top_flow, "two-state": _two_state, "width-readings": _width_readings,
}  # fmt: skip


def cases(rule: str, count: int) -> Iterator[Case]:
    """So many cases of a rule; those of a smaller count are the first of a larger one."""
    rnd = Rnd(f"{rule}, the same every time")
    for _ in range(count):
        yield MAKERS[rule](rnd)
