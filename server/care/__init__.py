"""Heat and cold day by day: forecasts heard, plans that must change, consent, what is in the freezer (care)."""
