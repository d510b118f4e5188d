"""At the packing bench: the steps of a parcel, and what the scale says about it."""
