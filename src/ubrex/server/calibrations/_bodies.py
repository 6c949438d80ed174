"""Test pieces as solid bodies, for people who slice them themselves."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ubrex.core.gcode.pieces import Body


def written(bodies: Sequence[Body], form: str) -> bytes:
    """The bodies in one file [mm]; ``form``: stl or 3mf."""
    import trimesh  # Takes a second to load, and few ask for it.

    mesh = trimesh.util.concatenate([trimesh.convex.convex_hull(_corners(body)) for body in bodies])
    mesh.units = "mm"
    content: str | bytes = mesh.export(file_obj=None, file_type=form)
    return content.encode() if isinstance(content, str) else content


def _corners(body: Body) -> np.ndarray:
    return np.array([(x, y, z) for z in (0.0, body.height_mm) for x, y in body.outline])
