"""What arrived and how: rates of damage, where it breaks, what to change, trials, what the bench taught, claims."""
