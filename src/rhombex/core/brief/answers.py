"""What follows from each answer of the brief, in plain words. Common practice."""

from __future__ import annotations

from rhombex.core.design import Brief

_FOLLOWS: dict[str, dict[str | int, str]] = {
    "opened": {
        "once": "Screws straight into plastic will do; they are cheap and need no iron.",
        "yearly": "Screws into plastic bear this if they are started by hand; inserts are safer.",
        "monthly": "Threads in plastic wear out within months. Inserts hold.",
        "weekly": "Inserts, and as few screws as the lid allows.",
    },
    "stands": {
        "desk": "Rubber feet keep it quiet, and open a gap for air below.",
        "shelf": "Leave a hand’s width above vents that look up.",
        "wall": "Fix it into structure with a safety margin, follow the wall’s and the local rules; keep weight off plasterboard.",
        "carried": "Bosses and walls take knocks: more perimeters before more infill.",
    },
    "sun": {
        "none": "Then the room and the components inside set how warm the walls get.",
        "window": "A dark case behind a window gets warmer than its room: the easy filament sags.",
        "outdoors": "Sun heats it and makes some kinds brittle: take one that stands it.",
    },
    "skill": {
        1: "Kinds that print at the first try come first.",
        2: "Kinds that ask for tuning are open too.",
        3: "Kinds that ask for a dry, hot machine are open too.",
    },
}


def follows(brief: Brief) -> dict[str, str]:
    """What follows from the answers as they are, by the brief's field."""
    return {field: said[getattr(brief, field)] for field, said in _FOLLOWS.items()}
