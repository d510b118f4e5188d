"""How parcels arrived, where they broke, trials, what was learned, claims (way of a parcel: arrivals)."""
