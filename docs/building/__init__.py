"""How the documentation is built: its commands and code are run, its pictures and its reference pages are made.

Start with `running` (the blocks of a page are run, what they show is compared), then `extension` (what Sphinx calls).
"""
