"""What Rhombex says beforehand. Importing this package registers every rule, in the order of the work."""

from rhombex.core.concerns import (
    document,
    brief,
    gone_ports,
    stacks,
    cooling,
    power,
    bench,
    walls,
    riders,
    shell,
    brackets,
)  # noqa: F401, I001
from rhombex.core.concerns import standing, sags, openings, webs, cut_nothing, air, cuts, glue, unite  # noqa: F401
from rhombex.core.concerns import hardware, reach, bolts, magnets, process  # noqa: F401
from rhombex.core.concerns import printing, colours, made, together, snaps, open_frame, panels, ribs, bent  # noqa: F401
from rhombex.core.concerns import panes, handle, hinge, feet, slides, sheet_floor, stance, fan_slots, glass, texts  # noqa: F401
from rhombex.core.concerns.registry import RULES, Finding, Remedy, judge, judge_bare, with_remedies

__all__ = ["RULES", "Finding", "Remedy", "judge", "judge_bare", "with_remedies"]
