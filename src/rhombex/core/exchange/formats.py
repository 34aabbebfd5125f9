"""Which formats of parts a package can hold."""

from __future__ import annotations

from typing import Literal, get_args

Format = Literal["3mf", "stl", "step", "glb", "drawings"]
FORMATS: tuple[Format, ...] = get_args(Format)
