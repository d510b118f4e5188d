"""What runs out when, what to buy from whom within what money, and which cartons are worth keeping (buying)."""
