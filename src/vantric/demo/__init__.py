"""The demo: the data of the scenario, the script that makes them, and the full example.

In comes nothing but a folder; out go the data files (`example.data_file`) and one of every output. Start with
`example`; tools/demo made the files that ship beside it, from a fixed seed.
"""
