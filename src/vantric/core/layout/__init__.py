"""Layout: every position of a chart is worked out.

In comes a `Chart` and a text measure; out goes a `Plan`: plain arrays of rectangles, lines, points and texts in
pixels, which every renderer draws and every test reads. Start with `planner.make_plan`, which calls the steps in
order: the frame with its axes (`frame`, `value_axes`, `axis_heads`, `category_labels`, `titles`, `legend`), the marks
of the series (`marks`), then all labels inside the frame (`labels`, with `bar_labels`, `mark_labels` and the free
places of `label_places`). `text_layout` measures text and sets its sizes.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

if TYPE_CHECKING:
    from vantric.core.layout.plan import Box, Plan, TextMark
    from vantric.core.layout.planner import PanelPlan, make_panel_plan, make_plan

__getattr__ = on_first_use(
    __name__,
    {
        "plan": "Box Plan TextMark",
        "planner": "PanelPlan make_panel_plan make_plan",
    },
)
