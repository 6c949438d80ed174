"""The scales on which what is printed is looked at, on a tower as on a real part: a word and a sentence for each figure."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from ubrex.core.calibrate import Criterion


@dataclass(frozen=True, slots=True, kw_only=True)
class Scale:
    """What is rated: its name, and for each of 0 to 4 a word and a sentence; 4 is best."""

    name: str
    look: str
    words: tuple[str, str, str, str, str]
    sentences: tuple[str, str, str, str, str]


_STRINGS: Final = Scale(
    name="Strings",
    look="between the two posts",
    words=("beard", "many", "some", "hairs", "none"),
    sentences=(
        "The gap is grown over.",
        "Strings in nearly every layer, some thick.",
        "A few strings; they come off with a fingernail.",
        "Single hairs; a breath of warm air takes them off.",
        "Nothing between the posts.",
    ),
)

BREAK: Final = "break"
"""The face of a tab that was snapped: what strict and mild raters see alike."""

SCALES: Final[Mapping[str, Scale]] = {
    Criterion.STRINGING.value: _STRINGS,
    Criterion.OVERHANG.value: Scale(
        name="Overhangs",
        look="the two sides that lean out",
        words=("torn", "curled", "rough", "dull", "clean"),
        sentences=(
            "Lines hang loose, or are missing.",
            "The edge has curled up; the nozzle knocked on it.",
            "Rough on the steep side, whole on the other.",
            "Both whole, the steep one without gloss.",
            "Both as smooth as an upright wall.",
        ),
    ),
    Criterion.BRIDGING.value: Scale(
        name="Bridge",
        look="the underside between the posts",
        words=("fallen", "loops", "sags", "slack", "taut"),
        sentences=(
            "Lines did not hold on the other side.",
            "Loops hang down by more than 2 mm.",
            "It sags by about 1 mm.",
            "Straight, some lines apart from the rest.",
            "Straight, all lines side by side.",
        ),
    ),
    Criterion.SURFACE.value: Scale(
        name="Surface",
        look="the walls, in slanting light",
        words=("holes", "patchy", "uneven", "even", "perfect"),
        sentences=(
            "Lines are missing.",
            "Gloss and matt change within a band, or lines stand proud.",
            "Layers can be told apart by eye.",
            "Layers can be felt, hardly seen.",
            "One even skin.",
        ),
    ),
    Criterion.BLOBS.value: Scale(
        name="Blobs",
        look="corners, and where a line begins",
        words=("lumps", "many", "some", "dots", "none"),
        sentences=(
            "Lumps that change the size.",
            "A blob in nearly every layer.",
            "Some blobs; a file takes them off.",
            "Small dots along the seam only.",
            "No blobs.",
        ),
    ),
    Criterion.DETAIL.value: Scale(
        name="Tip",
        look="the thin point at the front",
        words=("gone", "melted", "blunt", "rounded", "sharp"),
        sentences=(
            "The tip is not there.",
            "Melted over: no point left.",
            "Blunt, its shape can still be told.",
            "A little rounded.",
            "As sharp as a nozzle can draw.",
        ),
    ),
    Criterion.BOND.value: Scale(
        name="Bond",
        look="snap the tab at the back, last of all",
        words=("falls off", "splits", "snaps clean", "tears", "whole"),
        sentences=(
            "It came off when touched.",
            "Splits along a layer with two fingers.",
            "Snaps along a layer, with some force.",
            "Tears across layers.",
            "Bends, or breaks like solid plastic.",
        ),
    ),
    BREAK: Scale(
        name="Break",
        look="the face where the tab broke, in slanting light",
        words=("along a layer", "across layers", "", "", ""),
        sentences=(
            "Smooth and even: the break follows one layer from side to side.",
            "Torn: it steps from layer to layer, or threads and white stress stand out of it.",
            "",
            "",
            "",
        ),
    ),
    "strings": _STRINGS,
    "gap": Scale(
        name="Gap after travel",
        look="where the line begins on the second post",
        words=("missing", "thin", "dent", "dimple", "full"),
        sentences=(
            "The line begins late: a hole through the wall.",
            "The first millimetres are starved.",
            "A dent that can be felt.",
            "A dimple that can only be seen.",
            "The line is full from its first point.",
        ),
    ),
    "slow_down": Scale(
        name="Corners, slowing down",
        look="the corners, and where fast turns slow",
        words=("starved", "rounded", "even", "fat", "bulges"),
        sentences=(
            "Starved, or a gap after the corner: far too much compensation.",
            "A little rounded: somewhat too much.",
            "As wide as the line: right.",
            "A little fat: somewhat too little.",
            "Bulges strongly: far too little compensation.",
        ),
    ),
    "speed_up": Scale(
        name="Speeding up",
        look="where slow turns fast, along the back",
        words=("blob", "fat", "even", "thin", "gap"),
        sentences=(
            "A blob where it gets fast: far too much compensation.",
            "A little fat: somewhat too much.",
            "Even: right.",
            "Thin where it gets fast: somewhat too little.",
            "A gap where it gets fast: far too little compensation.",
        ),
    ),
    "seam": Scale(
        name="Seam",
        look="where the line closes, at the front",
        words=("bad", "rough", "seen", "felt", "gone"),
        sentences=(
            "A gap one sees through, or a ridge that catches.",
            "A clear gap, or a clear ridge, in most layers.",
            "Seen at once, in slanting light.",
            "Hardly seen; a fingernail finds it.",
            "Neither seen nor felt.",
        ),
    ),
    "marks": Scale(
        name="Marks and strings",
        look="on the posts and between them",
        words=("torn", "scarred", "some", "few", "none"),
        sentences=(
            "The nozzle tore a post, or moved it.",
            "Scars or strings in most layers.",
            "A few scars or strings.",
            "One or two, hardly seen.",
            "Neither scars nor strings.",
        ),
    ),
    "cooling": Scale(
        name="Cooled in time",
        look="the tip, and the side that leans out",
        words=("melted", "curled", "soft", "rounded", "crisp"),
        sentences=(
            "The tip is a lump, or layers ran into each other.",
            "The edge has curled up; the nozzle knocked on it.",
            "Soft: bulges and blobs on the tip.",
            "A little rounded, no curl.",
            "Tip and edge as crisp as the rest.",
        ),
    ),
    "lift": Scale(
        name="Corners",
        look="corners, and the edge on the plate",
        words=("came off", "high", "lifted", "a hair", "flat"),
        sentences=(
            "The part came off, or was stopped for it.",
            "Corners stand up by millimetres.",
            "A corner lifted by less than a millimetre.",
            "A sheet of paper goes under a corner.",
            "Flat all round.",
        ),
    ),
    "foot": Scale(
        name="Foot",
        look="the first millimetre above the plate",
        words=("flange", "thick", "felt", "seen", "none"),
        sentences=(
            "A flange that has to be cut off.",
            "Clearly wider than the part above.",
            "A fingernail catches on it.",
            "Seen, hardly felt.",
            "As upright as the rest.",
        ),
    ),
    "runs": Scale(
        name="How it runs",
        look="filament pushed by hand",
        words=("does not run", "with force", "runs freely", "", ""),
        sentences=(
            "It does not run, however you push.",
            "It runs, but you have to push.",
            "It runs by a light push, as smooth as it ever does.",
            "",
            "",
        ),
    ),
    "release": Scale(
        name="How it comes off",
        look="the support under its bay",
        words=("fused", "with a tool", "by hand", "falls off", ""),
        sentences=(
            "It does not come off, or takes the roof with it.",
            "It comes off with pliers or a blade.",
            "Fingers take it off in one go.",
            "It lies loose, or fell out on the way.",
            "",
        ),
    ),
    "underside": Scale(
        name="Underside",
        look="the roof where the support was",
        words=("torn", "loops", "rough", "even", "smooth"),
        sentences=(
            "Holes, or pieces of the support left in it.",
            "Lines hang down between the supports.",
            "Each line can be felt, none hangs.",
            "Even, a little dull.",
            "Nearly as smooth as the top.",
        ),
    ),
    "fit": Scale(
        name="How it goes",
        look="the peg in its hole",
        words=("does not go", "needs filing", "snug", "runs free", ""),
        sentences=(
            "It does not go in by hand.",
            "It would go after filing or forcing.",
            "It goes in by hand and stays where it is.",
            "It falls in, or turns by itself.",
            "",
        ),
    ),
}  # fmt: skip
"""Scales by criterion; under every figure stands its word, so that a 4 is never read as many."""

SIGNS: Final[Mapping[str, str]] = {
    "stringing": "between walls",
    "blobs": "corners and seams",
    "surface": "walls, in slanting light",
    "seam": "where lines begin",
    "overhang": "steep undersides",
    "bridging": "undersides of spans",
    "bond": "where it broke, or was bent",
    "lift": "corners on the plate",
    "foot": "the first millimetre",
}
"""What is looked at on a real part, and where."""
