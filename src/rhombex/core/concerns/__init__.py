"""What Rhombex says beforehand. Importing this package registers every rule, in the order of the work."""

from rhombex.core.concerns import document, brief, gone_ports, figures, stacks, cooling, power  # noqa: F401, I001
from rhombex.core.concerns import bench, walls, riders, shell, brackets, standing, sags  # noqa: F401
from rhombex.core.concerns import openings, webs, cut_nothing, air, cuts, glue, unite  # noqa: F401
from rhombex.core.concerns import hardware, reach, bolts, magnets, process  # noqa: F401
from rhombex.core.concerns import printing, colours, made, together, snaps, open_frame  # noqa: F401
from rhombex.core.concerns import panels, ribs, bent, panes, handle, hinge, feet, slides  # noqa: F401
from rhombex.core.concerns import sheet_floor, stance, fan_slots, glass, texts  # noqa: F401
from rhombex.core.concerns.registry import RULES, Finding, Remedy, judge, judge_bare, with_remedies

__all__ = ["RULES", "Finding", "Remedy", "judge", "judge_bare", "with_remedies"]
