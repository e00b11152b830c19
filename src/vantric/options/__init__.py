"""Options: one option is one line, and everything else about it is derived from that line.

    class RankSettings(Options, section="How categories are ranked"):
        keep: int | None = option(None, "How many categories keep their names.", metavar="N", least=1)

The line gives the name, the type, the default and the help. From it come the flag of the command line, the keyword in
the signature and the docstring of every function that takes it, its `TypedDict` for type checkers, its key in the JSON
Schema of chart files, and its row on the options page of the docs. Values are checked against the type and the range
wherever an instance is made: by a function, a command or a chart file.

Start with `declaration` (what an option is), then `option_classes` (the classes that hold options) and `option_types`
(what a type takes). `signatures` shows options in functions; `migrations` holds what people call an option that has
another name here.
"""

from vantric.options.declaration import NOTHING, Option, option
from vantric.options.option_classes import Options, known_options, split_options
from vantric.options.option_types import plain_value

__all__ = ["NOTHING", "Option", "Options", "known_options", "option", "plain_value", "split_options"]
