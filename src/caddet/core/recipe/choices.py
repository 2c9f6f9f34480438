"""What the user chooses besides the recipe: cloth, laying, allowances. Lengths in mm."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from caddet.core.recipe.values import Ref


class Cloth(BaseModel):
    """A cloth: usable width without the selvedges, and how it behaves."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    name: str = Field(min_length=1, max_length=80)
    width: float = Field(gt=100, le=6000)
    kind: Literal["woven", "knit"] = "woven"
    weight: Literal["light", "medium", "heavy"] = "medium"
    drape: Literal["soft", "middling", "stiff"] = "middling"
    stretch: float = Field(default=0.0, ge=0, le=3, description="across, as a share: 10 cm to 13 cm is 0.3")
    stretch_along: float = Field(default=0.0, ge=0, le=3, description="along the grain, as a share")
    recovers: bool = Field(default=True, description="goes back to its length after the stretch test")
    nap: bool = False
    repeat: float = Field(default=0.0, ge=0, le=3000, description="of the print, along the cloth")
    frays: bool = False
    slippery: bool = False
    lining: bool = Field(default=False, description="wants to be lined")
    owned: float = Field(default=0.0, ge=0, le=1_000_000, description="length that lies in the cupboard")
    shrinkage: float = Field(default=0.03, ge=0, lt=0.5, description="share lost in the first wash")
    price: float = Field(default=0.0, ge=0, le=100_000, description="for one metre")


# what a role is cut from while no cloth is chosen for it; widths from memory of common practice
USUAL = {
    "interfacing": Cloth(name="Interfacing", width=900.0, shrinkage=0.0),
    "lining": Cloth(name="Lining", width=1400.0, weight="light", drape="soft"),
    "rib": Cloth(name="Rib", width=800.0, kind="knit", stretch=0.6, stretch_along=0.2),
}


class LayChoices(BaseModel):
    """How the cloth is laid, the gap between pieces, and what is bought over."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    fold: Literal["open", "folded", "better"] = "better"
    gap: float = Field(default=3.0, ge=0, le=100)
    extra: float = Field(default=200.0, ge=0, le=3000, description="for mistakes, after shrinkage")


Allowance = Annotated[float, Field(ge=0, le=150)]


class Finishing(BaseModel):
    """Allowances: the usual ones, and exceptions by edge reference (``front.side``)."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    seam: Allowance = 15.0
    hem: Allowance = 40.0
    opening: Allowance = 20.0
    slit: Allowance = 40.0
    edge: Allowance = 10.0
    exceptions: dict[Ref, Allowance] = {}
    notches: Literal["slit", "t", "inside"] = "slit"
