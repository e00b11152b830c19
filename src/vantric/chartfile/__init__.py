"""A chart kept as a file: its data source and every option, as TOML or JSON."""
