"""What happens when something fails in the middle: the database, the carrier, the clock, a process."""
