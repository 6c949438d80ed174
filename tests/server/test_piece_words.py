"""Every verdict on a piece, every reprint and every flaw of a file has its sentence, with nothing left to be filled in."""

from __future__ import annotations

import re

import pytest

from ubrex.core.bead import Bead
from ubrex.core.calibrate import (
    DiameterSample,
    FlowReason,
    PatchSample,
    Reprint,
    Tilt,
    WallSample,
    evaluate_diameter,
    evaluate_first_layer,
    evaluate_flow,
)
from ubrex.core.gcode import Deed, FileFinding, Flaw, read_gcode
from ubrex.core.quantity import Reason, Tool, ToolKind, Verdict
from ubrex.server.calibrations.diameter import _words as diameter
from ubrex.server.calibrations.first_layer import _words as first_layer
from ubrex.server.calibrations.flow import _words as walls
from ubrex.server.words import files, readings

TOOL = Tool(resolution=0.01, max_permissible_error=0.01)
WALLS = evaluate_flow(
    WallSample(readings=((0.46, 0.47), (0.47, 0.47)), bead=Bead(width_mm=0.45, height_mm=0.2), tool=TOOL)
).figures
STRAND = evaluate_diameter(
    DiameterSample(widest=(1.78, 1.77, 1.79), across=(1.70, 1.71, 1.70), nominal_mm=1.75, tool=TOOL)
).figures
LAYER = evaluate_first_layer(
    PatchSample(
        x_mm=(0, 80, 160), y_mm=(0, 80, 160), thickness=((0.3, 0.22, 0.14),) * 3, commanded_mm=0.2, offset_mm=-1.4,
        screws_mm=((0, 0), (160, 0), (80, 160)), pitch_mm=0.7, tool=TOOL,
    )
).figures  # fmt: skip


def assert_said(text: str) -> None:
    """A sentence: it begins large, ends, and holds no place left open."""
    assert text[:1].isupper() or text[:1].isdigit() or text[:1] in "+\N{MINUS SIGN}"
    assert text.endswith((".", "?"))
    assert "{" not in text
    assert "nan" not in text


def verdict_of(reason: Reason | FlowReason) -> Verdict:
    """The verdict that goes with a reason."""
    usual: dict[Reason | FlowReason, Verdict] = {
        Reason.OUTSIDE_TOLERANCE: Verdict.APPLY,
        Reason.PROBABLY_REAL: Verdict.TRY,
        Reason.WITHIN_TOLERANCE: Verdict.KEEP,
        Reason.NO_ERROR_FOUND: Verdict.KEEP,
        Reason.TOO_SMALL: Verdict.KEEP,
        Reason.BEST_GUESS: Verdict.TRY,
        Reason.MORE_REPEATS: Verdict.REPEAT,
        Reason.CHANGE_METHOD: Verdict.REPEAT,
    }
    return usual.get(reason, Verdict.REFUSE)


@pytest.mark.parametrize("reason", [*Reason, *FlowReason])
@pytest.mark.parametrize("more", [4, None])
def test_every_verdict_on_walls_is_said(reason: Reason | FlowReason, more: int | None) -> None:
    """With and without readings that would help."""
    assert WALLS is not None
    verdict = verdict_of(reason)
    said = walls.flow_said(
        verdict, reason, WALLS, wanted_mm=0.46, tolerance_pct=2, proposal="97.4", half_width_pct=2.4, low="95.0",
        high="99.8", more=more, finer=walls.finer_said(ToolKind.CALLIPER, zero_checked=False, lines=1, fusing=False),
    )  # fmt: skip
    assert_said(said)
    assert readings.title_said(verdict, reason, "97.4", more)
    if verdict is Verdict.APPLY:
        assert "97.4" in said
    asked = [readings.before_proof_said(verdict, "97.4", less_known=less_known) for less_known in (False, True)]
    proven = verdict in {Verdict.APPLY, Verdict.REFUSE}
    assert [one is None for one in asked] == [proven or verdict is Verdict.TRY, proven]


@pytest.mark.parametrize(
    "reason",
    [
        Reason.OUTSIDE_TOLERANCE, Reason.PROBABLY_REAL, Reason.WITHIN_TOLERANCE, Reason.NO_ERROR_FOUND,
        Reason.TOO_SMALL, Reason.BEST_GUESS,
        Reason.MORE_REPEATS, Reason.CHANGE_METHOD, Reason.IMPLAUSIBLE, Reason.INVALID_READING,
    ],
)  # fmt: skip
def test_every_verdict_on_filament_and_on_the_first_layer_is_said(reason: Reason) -> None:
    """And a diameter never without the word that a flow on record moves with it."""
    assert LAYER is not None
    for kind in (ToolKind.CALLIPER, ToolKind.MICROMETER):
        finer = diameter.finer_said(kind, zero_checked=True)
        said = diameter.diameter_said(reason, STRAND, "1.738", "1.75", 3, finer)
        assert_said(said)
        finer = first_layer.finer_said(kind, zero_checked=False)
        assert_said(first_layer.offset_said(reason, LAYER, "\N{MINUS SIGN}1.480", finer))
        if reason is Reason.OUTSIDE_TOLERANCE:
            assert "A flow on record is moved with it" in said


@pytest.mark.parametrize("lines", [1, 2])
@pytest.mark.parametrize("checked", [True, False])
@pytest.mark.parametrize("tool", [ToolKind.CALLIPER, ToolKind.MICROMETER])
def test_advice_names_only_what_was_not_done(tool: ToolKind, checked: bool, lines: int) -> None:
    """No zero check that was made, no micrometer in the hand already, no double wall that was measured."""
    said = walls.finer_said(tool, zero_checked=checked, lines=lines, fusing=False)
    assert_said(said)
    assert ("zero" in said) == (tool is ToolKind.CALLIPER and not checked)
    assert ("micrometer" in said) == (tool is ToolKind.CALLIPER)
    assert ("two lines" in said) == (lines == 1)
    assert "one line would tell" in walls.finer_said(tool, zero_checked=checked, lines=2, fusing=True)


def test_screws_are_told_up_or_down_in_sixteenths_and_a_bent_plate_names_its_shape() -> None:
    """Never a direction of turning, which differs from machine to machine."""
    assert LAYER is not None
    said = first_layer.tilt_said(Tilt.ADJUST, LAYER)
    assert "screw 1 up 1/8 turn" in said
    assert "clockwise" not in said
    for tilt in (Tilt.LEVEL, Tilt.NOT_DISTINGUISHABLE, Tilt.REPEAT):
        assert_said(first_layer.tilt_said(tilt, LAYER))
    assert first_layer.tilt_said(None, LAYER) == ""


def test_oval_filament_and_every_reprint_are_said() -> None:
    """Three outcomes of a reprint, each a word of its own."""
    assert STRAND is not None
    assert_said(diameter.oval_said(STRAND))
    words = [walls.reprint_said(outcome).split(":")[0] for outcome in Reprint]
    assert words == ["Confirmed", "Consistent", "Contradicted"]
    assert walls.reprint_said(None) == ""


@pytest.mark.parametrize("flaw", Flaw)
def test_every_flaw_of_a_file_has_a_first_word_and_a_sentence(flaw: Flaw) -> None:
    """With its numbers in it, and its place."""
    finding = FileFinding(flaw=flaw, command="M851", line=412, z_mm=3.2, found=255.0, allowed=240.0)
    lead, text = files.flaw_said(finding, "the limit of its liner")
    assert lead.endswith(".")
    assert_said(text)
    assert files.where_said(finding).startswith("line 412, 3.2")
    assert files.where_said(FileFinding(flaw=flaw)) == ""


def test_every_command_that_does_more_than_it_shows_is_named_with_what_it_does() -> None:
    """Each command there is, with each letter that may make the difference."""
    lines = [f"M{number}{said}\n" for number in range(1000) for said in ("", " Z1", " X1", " E1", " S0")]
    acts = {(act.deed, act.name): act for act in read_gcode([*lines, "G1 Z5\n", "G92 Z1\n"]).acts}
    assert (Deed.SETS_MACHINE, "G92") in acts
    assert {deed for deed, _ in acts} == set(Deed)
    for act in acts.values():
        _, text = files.flaw_said(FileFinding(flaw=Flaw(act.deed.value), command=act.name), "")
        assert_said(text)
        assert act.deed is Deed.SETS_E_STEPS or text.startswith(f"{act.name} ")
        assert not re.search(r"changes :|machine \.", text), "what it changes, and what it lets the machine do"


def test_the_check_of_a_file_ends_in_the_worst_that_was_found() -> None:
    """Harm, a look, another number than tonight's, nothing to hold it against, and only then nothing wrong."""
    ends = [
        (True, 2, ["Fan"], ["Bed"], ["Retraction"], ["M999"]),
        (False, 1, ["Fan"], ["Bed"], ["Retraction"], ["M999"]),
        (False, 0, ["Fan"], ["Bed"], ["Retraction"], ["M999"]),
        (False, 0, [], ["Bed"], ["Retraction"], []),
        (False, 0, [], [], ["Retraction"], []),
        (False, 0, [], [], [], ["M999", "M998"]),
        (False, 0, [], [], [], []),
    ]
    said = [
        files.verdict_said(harmful=harmful, count=count, differs=differs, unset=unset, unsaid=unsaid, unknown=unknown)
        for harmful, count, differs, unset, unsaid, unknown in ends
    ]
    assert said == [
        ("harm", "Do not print this here"), ("look", "Look at this before you print"),
        ("look", "It does not match tonight’s numbers: Fan"),
        ("untold", "Nothing harmful found; not set here, so not compared: Bed, and not in the file: Retraction"),
        ("untold", "Nothing harmful found; not in the file: Retraction"),
        ("untold", "Nothing harmful found; not understood, so not judged: M999; M998"),
        ("fine", "Nothing wrong for this setup"),
    ]  # fmt: skip
