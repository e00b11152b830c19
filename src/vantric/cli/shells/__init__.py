"""What shells run to complete a command line: one script a shell, asking the program itself.

In come the names of the program; out go scripts. A script hands over the line up to the cursor and gets lines of kind,
value and help, with tabs between them. Start with `vantric.cli.completing`.
"""
