"""Tables of the trade and what is read of a file stay as they are: one number changed anywhere in them shows here."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.fingerprints import Fingerprint, assert_unchanged
from ubrex.core.chain import AGEING, COSTS, KINDS, WEAR
from ubrex.core.checks import DRAG_MM, DRAG_STD_MM
from ubrex.core.diagnose import knowledge
from ubrex.core.gcode import read_gcode
from ubrex.core.materials import FAMILIES

FILE = """
G21
G90
M82
M104 S210
M140 S60
G28
G1 X20 Y30 Z0.24 F6000
G1 E3 F300
G1 X80.5 Y31 E5.2 F1200
G2 X90 Y41 I0 J10 E5.8
G3 X70 Y61 R20 E7.1
G3 X60 Y71 I-10 J0 E7.4
G1 F2400
G91
G1 X5 Y-3 E0.2
G1 Z0.2
G90
G92 E0
G1 E-4 F1800
G0 X10 Y12
G1 E0
G20
G1 X1.5 Y1.25 E0.05 F20
G21
M106 S128
M83
G1 X55 Y44 E0.7
G1 E-0.8 F2100
G1 X10 Y90 F7200
M104 S0
"""


def read() -> object:
    """Everything that a reader makes of a file with arcs, both units, all modes."""
    return read_gcode([f"{line}\n" for line in FILE.strip().splitlines()])


TABLES: dict[str, Callable[[], object]] = {
    "families": lambda: FAMILIES, "kinds": lambda: KINDS, "costs": lambda: COSTS, "ageing": lambda: AGEING,
    "wear": lambda: WEAR, "drag": lambda: (DRAG_MM, DRAG_STD_MM), "file": read, "faults": knowledge,
}  # fmt: skip

ARE: dict[str, Fingerprint] = {
    "families": (221, 1121989976, 23.183097491919877, 4.836859817800013),
    "kinds": (535, 3207052983, 21.455923923850367, -8.173320779655818),
    "costs": (39, 1663170201, 0.0, 0.0),
    "ageing": (34, 1399654203, 0.0, 0.0),
    "drag": (11, 4284056878, 9.536720449620606, -1.7043973887065107),
    "wear": (36, 1475439411, 0.0, 0.0),
    "faults": (4751, 1712279190, 181.4992072346449, -33.8930947882913),
    "file": (678, 424547775, 257.30280389081355, -41.206438280121596),
}


@pytest.mark.parametrize("name", TABLES)
def test_a_table_is_as_it_was(name: str) -> None:
    """Whoever corrects a row corrects its fingerprint in the same change, and says why."""
    assert_unchanged(TABLES[name](), ARE[name])
