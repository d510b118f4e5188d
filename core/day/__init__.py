"""The day: hand-overs, what is due at them, the order of packing, waves, what to prepare ahead (rules 20.1)."""
