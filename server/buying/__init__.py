"""What runs out when, what to buy, and which cartons to keep: over supplies, plans and the day."""
