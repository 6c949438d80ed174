"""All rows of the standing judge, as text for a person and for ``docs/methods/evidence.md``."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tests.simulated import boxes, chain, feeds, joined, towers
from tests.simulated.chain import ChainRow
from tests.simulated.tally import HEADS, Row, cells, table
from tests.simulated.towers import TowerRow


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What was seen: one evening, whole loops, towers, and the rest of the chain."""

    evenings: Sequence[Row]
    loops: Sequence[Row]
    towers: Sequence[TowerRow]
    chain: Sequence[ChainRow]

    def tables(self) -> str:
        """Four tables in Markdown, under their headings."""
        return "\n\n".join(
            [
                "## One evening",
                table(HEADS, map(cells, self.evenings)),
                "## Until settled",
                table([*HEADS, "feeds or prints"], ([*cells(one), f"{one.prints:.2f}"] for one in self.loops)),
                "## Towers",
                table(towers.HEADS, map(towers.cells, self.towers)),
                "## The rest of the chain",
                table(chain.HEADS, map(chain.cells, self.chain)),
            ]
        )


def gather(trials: int) -> Evidence:
    """Everything, with so many trials a row; half of that for a tower."""
    return Evidence(
        evenings=[*feeds.rows(trials), *boxes.rows(trials)],
        loops=[*feeds.loops(trials), *boxes.loops(trials), *joined.loops(trials)],
        towers=list(towers.rows(trials // 2)),
        chain=list(chain.rows(trials // 2)),
    )
