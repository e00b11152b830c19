"""
Ordinal answers in their order
==============================

No ranking, and so no cutoff; the line says where the middle is.
"""

from importlib.resources import files

import vantric as vt

survey = files("vantric.demo") / "data" / "survey.csv"
scale = ["Strongly disagree", "Disagree", "Neither", "Agree", "Strongly agree"]
chart = vt.pareto_chart(vt.pareto(survey, by="answer", order=scale))
chart.save("plot_13_answers.png")
