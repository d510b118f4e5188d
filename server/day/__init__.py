"""The day: hours, hand-overs, closures, what is prepared, gathered and sent off. It comes after the bench."""
