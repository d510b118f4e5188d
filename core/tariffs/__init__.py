"""What a carrier charges: zones, limits, billable weight, surcharges, quotes and price steps."""
