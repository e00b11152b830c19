"""What is made from the code and committed: stubs of options, the schema of chart files, the options page."""
