"""Drawing: a plan goes to Matplotlib, which is the pen and decides nothing."""
