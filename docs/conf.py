"""How Sphinx builds the documentation: ``make docs``."""

import logging
import sys
from pathlib import Path

from sphinx.search.en import SearchEnglish

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

import vantric  # noqa: E402

project = "Vantric"
author = "the Vantric authors"
copyright = "the Vantric authors"
version = release = vantric.__version__

extensions = [
    "myst_parser",
    "sphinx.ext.autodoc",
    "numpydoc",
    "sphinx_design",
    "sphinx_copybutton",
    "sphinx_gallery.gen_gallery",
    "docs.building.extension",
]
source_suffix = {".md": "markdown"}
exclude_patterns = ["_build", "screenshots", "howto/sheets", "building"]
source_suffix[".rst"] = "restructuredtext"
suppress_warnings = ["config.cache"]

myst_enable_extensions = ["colon_fence", "deflist"]
myst_heading_anchors = 3

autodoc_member_order = "groupwise"
autodoc_typehints = "none"  # the docstrings say types, and the signatures show them
numpydoc_show_class_members = False
numpydoc_xref_param_type = False

html_theme = "furo"
html_title = "Vantric"
html_static_path = ["static"]
html_css_files = ["site.css"]
html_theme_options = {
    "light_css_variables": {
        "color-brand-primary": "#164a6e",
        "color-brand-content": "#164a6e",
        "color-background-primary": "#fbf8f2",
        "color-background-secondary": "#f3ede2",
        "color-background-border": "#ddd2bf",
        "color-foreground-primary": "#211a16",
        "font-stack": "system-ui, sans-serif",
    },
    "dark_css_variables": {
        "color-brand-primary": "#8fc1e6",
        "color-brand-content": "#8fc1e6",
        "color-background-primary": "#1e1a17",
        "color-background-secondary": "#26211d",
        "color-background-border": "#40382f",
        "color-foreground-primary": "#ece5da",
        "font-stack": "system-ui, sans-serif",
    },
}
html_show_sourcelink = False
copybutton_prompt_text = "$ "
copybutton_only_copy_prompt_lines = True

linkcheck_ignore = [r"https?://"]  # the build needs no network: links inside the site are checked
logging.getLogger("fontTools").setLevel(logging.WARNING)
#: Words that the search would pass over, and that people ask for here.
SearchEnglish.stopwords = frozenset(SearchEnglish.stopwords) - {
    "before",
    "after",
    "below",
    "above",
    "all",
    "other",
    "over",
}

sphinx_gallery_conf = {
    "examples_dirs": "../examples/gallery",
    "gallery_dirs": "gallery",
    "within_subsection_order": "FileNameSortKey",
    "filename_pattern": r"\.py$",
    "image_scrapers": ("docs.building.pictures.scraper",),
    "reset_modules": (),
    "capture_repr": (),
    "min_reported_time": 1e6,
    "show_memory": False,
    "download_all_examples": False,
    "remove_config_comments": True,
    "plot_gallery": "True",
    "abort_on_example_error": True,
    "write_computation_times": False,
    "thumbnail_size": (480, 300),
}
