"""What the inputs of ``ubrex calc`` are made of."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from ubrex.core.errors import UbrexError

Json = Any
"""What JSON can say."""


class UnusableInput(UbrexError, ValueError):
    """The input is not what the rule takes; the message is one line."""

    code = "unusable_input"


Number = Annotated[float, Field(allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
