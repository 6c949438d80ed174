"""Test pieces as solid bodies, for people who slice them themselves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np

from ubrex.core.gcode.pieces import Body, box_bodies
from ubrex.server.calibrations import cases, walls
from ubrex.server.desk import Clash, Work
from ubrex.server.profile import tuned_of
from ubrex.server.runs import runs

Form = Literal["stl", "3mf"]


def body_of(_work: Work, run_id: int, form: Form) -> tuple[str, bytes]:
    """Name and content of the box of a run as a solid body [mm].

    Raises
    ------
    Clash
        If the run has no box.
    """
    run = runs.get_run(run_id)
    if not cases.sliced_elsewhere(run):
        raise Clash("Only a box that is sliced elsewhere is there as a body.", code="no_file")
    options = walls.options_of(tuned_of(run.setup), walls.WallInputs.model_validate(run.inputs))
    name = runs.file_name(run).removesuffix("gcode") + form
    return name, written(box_bodies(options), form)


def written(bodies: Sequence[Body], form: Form) -> bytes:
    """The bodies in one file."""
    import trimesh  # Takes a second to load, and few ask for it.

    mesh = trimesh.util.concatenate([trimesh.convex.convex_hull(_corners(body)) for body in bodies])
    mesh.units = "mm"
    content = mesh.export(file_obj=None, file_type=form)
    return content.encode() if isinstance(content, str) else content


def _corners(body: Body) -> np.ndarray:
    return np.array([(x, y, z) for z in (0.0, body.height_mm) for x, y in body.outline])
