"""What is kept in the Workroom under a name of its own."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field


class Named(BaseModel):
    """A name, by which it is kept and found again, and a note."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    name: str = Field(min_length=1, max_length=80)
    note: str = Field(default="", max_length=2000)
