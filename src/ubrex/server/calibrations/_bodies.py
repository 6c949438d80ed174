"""Test pieces as solid bodies, for people who slice them themselves."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from itertools import pairwise
from typing import Any, Final

import numpy as np

from ubrex.core.gcode.pieces import Body, Slab
from ubrex.server.calibrations._case import File

LABELS: Final = {"stl": "Take it as STL", "3mf": "as 3MF"}
"""Forms of bodies that can be taken along, and what their buttons say."""


def body_files(write: Callable[[str], bytes], note: str) -> list[File]:
    """The files of a piece as bodies; ``write``: its content in a form; ``note``: what to mind where they are sliced."""
    return [
        File(key=form, label=label, ending=form, write=partial(write, form), media=f"model/{form}", note=note)
        for form, label in LABELS.items()
    ]


def written(bodies: Sequence[Body], form: str, slab: Slab | None = None) -> bytes:
    """The bodies in one file [mm]; ``form``: stl or 3mf; ``slab``: one with holes."""
    import trimesh  # Takes a second to load, and few ask for it.

    parts = [trimesh.convex.convex_hull(_corners(body)) for body in bodies]
    if slab is not None:
        vertices, faces = _faces(slab)
        parts.append(trimesh.Trimesh(vertices=vertices, faces=faces))
    mesh = trimesh.util.concatenate(parts)
    mesh.units = "mm"
    content: str | bytes = mesh.export(file_obj=None, file_type=form)
    return content.encode() if isinstance(content, str) else content


def _corners(body: Body) -> np.ndarray:
    return np.array([(x, y, z) for z in (0.0, body.height_mm) for x, y in body.outline])


def _faces(slab: Slab) -> tuple[np.ndarray, np.ndarray]:
    """Corners and triangles of a slab: below, above, and along every edge that no second polygon shares."""
    places: dict[tuple[float, float], int] = {}
    rings = [
        [places.setdefault((round(x, 4), round(y, 4)), len(places)) for x, y in polygon] for polygon in slab.polygons
    ]
    up = len(places)
    edges = {(one, other) for ring in rings for one, other in zip(ring, [*ring[1:], ring[0]], strict=True)}
    faces: list[tuple[int, int, int]] = []
    for first, *rest in rings:
        for one, other in pairwise(rest):
            faces += [(first + up, one + up, other + up), (first, other, one)]
    for one, other in edges:
        if (other, one) not in edges:
            faces += [(one, other, other + up), (one, other + up, one + up)]
    corners: Any = list(places)
    return np.array([(x, y, z) for z in (0.0, slab.height_mm) for x, y in corners]), np.array(faces)
