"""The scenario, Orrinvale Tileworks: its data, and the commands of the full example."""
