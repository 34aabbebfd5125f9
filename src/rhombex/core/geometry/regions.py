"""Regions of the plane that another library worked out, as profiles."""

from __future__ import annotations

from shapely import Polygon, get_parts
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from rhombex.core.geometry.recipe import Loop, Profile, profile, snap


def profile_of(area: BaseGeometry) -> Profile:
    """Polygons and their holes as loops of straight sides."""
    outers: list[Loop] = []
    holes: list[Loop] = []
    for part in get_parts(area):
        outer, *inner = (orient(Polygon(ring)).exterior.coords[:-1] for ring in (part.exterior, *part.interiors))
        outers.append(tuple((snap(x), snap(y), 0.0) for x, y in outer))
        holes += [tuple((snap(x), snap(y), 0.0) for x, y in ring) for ring in inner]
    return profile(outers, holes)
