"""The packing bench: a parcel from the first step to the closed ledger."""
